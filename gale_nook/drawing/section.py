"""The close-up: a section through what the mount passes, to scale, with its clearances as
dimensions.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.quantities.length import UnitSystem, format_length
from gale_nook.core.spot.hole_rules import drilled_at_heater, metal_left_mm
from gale_nook.core.spot.obstacles import Obstacle
from gale_nook.core.spot.placement import (
    PlacedHole,
    body_corners,
    face_holes,
    facing_wall,
    floor_holes,
    floor_stack_mm,
    heater_finish_z_mm,
    heater_floor,
    heater_port,
    heater_underside_z_mm,
    mount_plane_top_mm,
    mount_plane_z_mm,
    mount_stack_mm,
    port_point,
)
from gale_nook.drawing.scene import Circle, Line, Node, Point, Rect, Scene, Text

WIDTH = 300.0
MIDDLE = 92.0
RIGHT = 184.0  # where the words begin
FLANGE_PX = 12.0
SHOWN_MM = 130.0  # beside the hole, within which a part below is drawn
TOP = 58.0
LINE_PX = 13.0


def section(job: Job, system: UnitSystem) -> Scene | None:
    """Return the section through the mount's largest hole; None without a place, a mount, or a
    hole.
    """
    mount, spot = chosen_mount(job), job.plan.spot
    if mount is None or spot is None or not mount.holes:
        return None
    return _floor(job, system) if mount.through == "floor" else _wall(job, system)


# --- through the floor ---


@dataclass(frozen=True)
class _Floor:
    """The section's scale: hole in the middle, heights downwards from the floor's finish."""

    job: Job
    hole: PlacedHole
    scale: float
    system: UnitSystem

    @property
    def half(self) -> float:
        return max(self.hole.reach_mm) * self.scale

    def v(self, z_mm: float) -> float:
        return TOP + (mount_plane_top_mm(self.job) - z_mm) * self.scale

    def words(self, mm: float) -> str:
        return format_length(mm, self.system)


def _floor(job: Job, system: UnitSystem) -> Scene:
    hole = max(floor_holes(job), key=lambda hole: max(hole.reach_mm))
    tall = mount_plane_top_mm(job) - heater_underside_z_mm(job) + 110
    cut = _Floor(job, hole, min(0.9, 84 / (2 * max(hole.reach_mm)), 150 / tall), system)
    nodes: list[Node] = [
        Text((4, 14), f"Section: {cut.words(floor_stack_mm(job))} to pass", "section-title")
    ]
    advice = _advice(job, system)
    nodes += [Text((4, 28), advice, "section-text strong")] if advice else []
    nodes += _spaced([*_layers(cut), *_below(cut), *_mount(cut), *_floor_dimensions(cut)])
    return Scene(
        "Section of the floor through the mount",
        (WIDTH, _lowest(nodes) + 12),
        nodes,
        {"class": "drawing section"},
    )


def _spaced(nodes: list[Node]) -> list[Node]:
    """The same with the words on the right moved down where they would lie on one another."""
    beside = sorted(
        (node for node in nodes if isinstance(node, Text) and node.at[0] == RIGHT),
        key=lambda text: text.at[1],
    )
    moved, last = [], -LINE_PX
    for text in beside:
        last = max(text.at[1], last + LINE_PX)
        moved.append(replace(text, at=(RIGHT, last)))
    return [*(node for node in nodes if node not in beside), *moved]


def _layers(cut: _Floor) -> Iterator[Node]:
    job, z = cut.job, heater_finish_z_mm(cut.job)
    for layer in heater_floor(job).floor.layers:
        height = layer.thickness_mm * cut.scale
        for low, high in ((14.0, MIDDLE - cut.half), (MIDDLE + cut.half, 2 * MIDDLE - 4)):
            yield Rect(
                (low, cut.v(z)), (high - low, max(height, 1.2)), f"layer layer-{layer.material}"
            )
        label = job.catalogue.materials[layer.material].label
        yield Text(
            (RIGHT, cut.v(z) + height / 2 + 4),
            f"{format_length(layer.thickness_mm, cut.system, unit=False)} {label}"[:21],
            "section-text",
        )
        z -= layer.thickness_mm
    if heater_floor(job).floor.corrugation_mm:
        yield Line(
            [
                (14, cut.v(heater_underside_z_mm(job))),
                (2 * MIDDLE - 4, cut.v(heater_underside_z_mm(job))),
            ],
            "rib",
        )


def _mount(cut: _Floor) -> Iterator[Node]:
    mount, plane = chosen_mount(cut.job), cut.v(mount_plane_z_mm(cut.job))
    if mount is None or mount.place != "inside":
        return
    reach = plane + (mount.stack.maximum or 40.0) * cut.scale
    yield Rect(
        (MIDDLE - cut.half - FLANGE_PX, plane - 4), (2 * (cut.half + FLANGE_PX), 4), "flange"
    )
    yield Rect((MIDDLE - cut.half + 2, plane), (2 * cut.half - 4, reach - plane), "collar")
    yield Line([(MIDDLE - cut.half - 18, reach), (MIDDLE + cut.half + 18, reach)], "collar-end")
    past = heater_underside_z_mm(cut.job) - (
        mount_plane_z_mm(cut.job) - (mount.stack.maximum or 40.0)
    )
    words = f"{cut.words(abs(past))} {'past' if past >= 0 else 'short of'} steel"
    yield Text((RIGHT, reach + 4), words[:21], "section-text")


def _below(cut: _Floor) -> Iterator[Node]:
    """The part below that is nearest to the hole, where it is, with the floor that is left beside
    it.
    """
    near = _nearest_below(cut.job, cut.hole)
    if near is None or near[1] > SHOWN_MM:
        return
    part, gap = near
    low_z, high_z = part.shape.low_z_mm, part.shape.high_z_mm
    left = MIDDLE + cut.half + gap * cut.scale
    top = cut.v(min(high_z, heater_underside_z_mm(cut.job)))
    width = max(2 * MIDDLE + 10 - left, 8.0)
    height = max(min((high_z - low_z) * cut.scale, 46.0), 3.0)
    yield Rect((left, top), (width, height), "section-part", title=part.name)
    at = top + height + 9
    yield from _level((MIDDLE + cut.half, at), (left, at), cut.words(gap), below=True)
    yield Text((RIGHT, at + 12), part.name[:21], "section-text")


def _nearest_below(job: Job, hole: PlacedHole) -> tuple[Obstacle, float] | None:
    """The part that a drill can reach nearest to a hole, with the gap."""
    results = [
        (part, float(metal_left_mm(hole, part, hole.x_mm, hole.y_mm)))
        for part, _ in drilled_at_heater(job)
    ]
    return min(results, key=lambda part: part[1], default=None)


def _floor_dimensions(cut: _Floor) -> Iterator[Node]:
    """Across the hole, down the stack, and what the mount is packed or let in by."""
    job, spot = cut.job, cut.job.plan.spot
    at = TOP - 12
    size = 2 * max(cut.hole.reach_mm)
    yield from _level(
        (MIDDLE - cut.half, at),
        (MIDDLE + cut.half, at),
        f"{'' if cut.hole.is_cut else '⌀ '}{cut.words(size)}",
    )
    plane = (
        max(mount_plane_z_mm(job), heater_finish_z_mm(job))
        if spot is not None and not spot.rebate_mm
        else mount_plane_z_mm(job)
    )
    yield from _upright((8, cut.v(plane)), (8, cut.v(heater_underside_z_mm(job))))
    change = (spot.packing_mm - spot.rebate_mm) if spot is not None else 0.0
    if change:
        yield Text(
            (4, 40),
            f"{cut.words(abs(change))} {'packed' if change > 0 else 'let in'} under the flange",
            "section-text",
        )


def _advice(job: Job, system: UnitSystem) -> str:
    """What to pack or rebate so that the floor suits the mount; empty where it does."""
    mount, stack = chosen_mount(job), floor_stack_mm(job)
    if mount is None:
        return ""
    if mount.stack.maximum is not None and stack > mount.stack.maximum:
        return (
            f"{format_length(stack - mount.stack.maximum, system)} too thick: rebate, or "
            "take a "
            "longer collar"
        )
    if mount.stack.minimum is not None and stack < mount.stack.minimum:
        return f"{format_length(mount.stack.minimum - stack, system)} too thin: pack with a ring"
    return ""


# --- through a wall or the bulkhead ---


def _wall(job: Job, system: UnitSystem) -> Scene | None:
    """Body, wall, and the fitting through it, seen along the wall: the room's side on the left."""
    stack_mm = mount_stack_mm(job)
    wall = facing_wall(job)
    mount = chosen_mount(job)
    corners = body_corners(job)
    holes = face_holes(job)
    if mount is None or corners is None or not holes:
        return None
    shell, hole = job.plan.vehicle.shell, max(holes, key=lambda hole: hole.diameter_mm)
    thick, gap, stub = shell.firewall_mm or 0.0, 0.0, 0.0
    if wall is not None and stack_mm is not None:
        thick = (shell.outer_width_mm - shell.floor_width_mm) / 2
        gap = stack_mm - thick
        stub = abs(port_point(job, heater_port(job, "exhaust"))[1]) - shell.outer_width_mm / 2
    scale = min(0.9, 120 / max(thick + max(gap, 0.0) + max(stub, 0.0) + 40, 1.0))
    inner = 40.0 + max(gap, 0.0) * scale
    outer = inner + max(thick * scale, 1.5)
    half = hole.diameter_mm / 2 * scale
    middle = TOP + 60
    end = outer + max(stub, 6.0) * scale
    stack = format_length(stack_mm, system) if stack_mm is not None else "not measured"
    nodes: list[Node] = [
        Text((4, 14), f"Section: {stack} to pass", "section-title"),
        Rect((4, middle - 46), (36 - 4, 92), "section-part", title="the heater's body"),
        Rect((inner, TOP), (outer - inner, 60 - half), "layer"),
        Rect((inner, middle + half), (outer - inner, 60 - half), "layer"),
        Rect((36, middle - half + 2), (end - 36, 2 * half - 4), "collar"),
        Rect((inner - 4, middle - half - FLANGE_PX), (4, 2 * (half + FLANGE_PX)), "flange"),
        *_upright((end + 12, middle - half), (end + 12, middle + half)),
        Text((RIGHT, middle - 14), hole.name[:21], "section-text"),
        Text((RIGHT, middle), f"⌀ {format_length(hole.diameter_mm, system)}", "section-text"),
        Text(
            (RIGHT, middle + 14), f"{format_length(hole.z_mm, system)} above floor", "section-text"
        ),
    ]
    if wall is not None:
        nodes += _level((36, TOP - 8), (inner, TOP - 8), format_length(gap, system))
        nodes += _level(
            (inner, middle + 72), (outer, middle + 72), format_length(thick, system), below=True
        )
        nodes += _level(
            (outer, middle + 46), (end, middle + 46), format_length(stub, system), below=True
        )
    what = "bulkhead" if hole.face == "bulkhead" else "wall"
    return Scene(
        f"Section of the {what} through the mount",
        (WIDTH, _lowest(nodes) + 12),
        nodes,
        {"class": "drawing section"},
    )


# --- dimensions ---


def _level(start: Point, end: Point, words: str, below: bool = False) -> list[Node]:
    middle = ((start[0] + end[0]) / 2, start[1] + (12 if below else -4))
    return [*_ended(start, end), Text(middle, words, "section-dimension-text", "middle")]


def _upright(start: Point, end: Point) -> list[Node]:
    return _ended(start, end)


def _ended(start: Point, end: Point) -> list[Node]:
    return [
        Line([start, end], "section-dimension"),
        Circle(start, 1.6, "section-dimension-end"),
        Circle(end, 1.6, "section-dimension-end"),
    ]


def _lowest(nodes: list[Node]) -> float:
    """The lowest point that is drawn."""
    results = [TOP]
    for node in nodes:
        if isinstance(node, Rect):
            results.append(node.low[1] + node.size[1])
        elif isinstance(node, Text):
            results.append(node.at[1])
        elif isinstance(node, Line):
            results += [point[1] for point in node.points]
    return max(results)
