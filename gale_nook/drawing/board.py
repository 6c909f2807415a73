"""The twin board: plan above, side elevation below, one tape between them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from gale_nook.core.checking import Check
from gale_nook.core.findings.finding import Finding
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.spot.floor_map import floor_grid, map_step_mm
from gale_nook.core.spot.transfer import transfer_of
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.drawing import (
    air,
    cold,
    coolant,
    features,
    fuel,
    leaks,
    pipes,
    power,
    spray,
    survey,
    wishes,
    work,
)
from gale_nook.drawing.finding_marks import mark_numbers, marks
from gale_nook.drawing.mapping import PAPER_WIDTH, TAPE_HEIGHT, BoardView, Mapping, board_mapping
from gale_nook.drawing.placing import Box, Paper, placed
from gale_nook.drawing.scene import (
    Clip,
    Group,
    Line,
    Node,
    Picture,
    Project,
    Rect,
    Scene,
    Strokes,
    Text,
)
from gale_nook.drawing.units import unit_nodes

TUBES: tuple[Tube, ...] = ("exhaust", "intake")


@dataclass(frozen=True, slots=True)
class LaidPhoto:
    """A photo to scale that lies under the plan.

    Attributes:
        href: its address, as the plan is seen.
        corners_mm: low x, low y, high x, high y of what it shows.
    """

    href: str
    corners_mm: tuple[float, float, float, float]


@dataclass(frozen=True, slots=True)
class BoardOptions:
    """How the board is shown.

    Attributes:
        station: whose findings are dimensioned, and whose parts can be dragged.
        selected: id of the chosen solid.
        editable: grips are drawn.
        floor_picture: address of the clear-spot map, laid over the floor; empty for none.
        tube: the burner pipe that is worked on.
        photos: that lie under the plan.
        tag: put before the drawing's ids, where a page carries several boards.
    """

    view: BoardView = field(default_factory=BoardView)
    station: str = "vehicle"
    selected: str = ""
    system: UnitSystem = UnitSystem.METRIC
    editable: bool = True
    floor_picture: str = ""
    tag: str = ""
    tube: Tube = "exhaust"
    photos: tuple[LaidPhoto, ...] = ()


def board(check: Check, options: BoardOptions) -> Scene:
    """Return the whole board."""
    job, view, tag = check.job, options.view, options.tag
    m = board_mapping(job.plan.vehicle.shell, view)
    words = _told(m, options)
    drawn, _ = _survey(job, m, words, options)
    static: list[Node] = [
        Clip(f"{tag}clip-plan", (0, m.plan_top), (PAPER_WIDTH, m.plan_height)),
        Clip(f"{tag}clip-side", (0, m.side_top), (PAPER_WIDTH, m.side_height)),
        *drawn,
    ]
    if options.photos:
        laid = [_photo(photo, m) for photo in options.photos]
        static.append(_sheet("plan", laid, tag))
    if options.floor_picture:
        mount = chosen_mount(job)
        place = mount.place if mount is not None else "inside"
        picture = _floor_picture(job.plan.vehicle, m, options.floor_picture, place)
        static.append(_sheet("plan", [picture], tag))
    name = (
        f"{'Plan from below, mirrored' if view.below else 'Plan from above'}, and the "
        f"{view.side} side, of {job.plan.name}"
    )
    nodes: list[Node] = [
        Group(static, {"id": f"{tag}survey"}),
        Group(overlay(check, m, options), {"id": f"{tag}overlay"}),
        Group(
            [Group(list(_tape(m, options.system)), {"class": "tape-sheet"})], {"id": f"{tag}tape"}
        ),
        *words,
    ]
    return Scene(
        name,
        (PAPER_WIDTH, m.height),
        nodes,
        {
            "id": f"{tag}board-drawing",
            "class": "drawing",
            "role": "group" if options.editable else "img",
            **_map_data(m),
        },
    )


def _sheet(on: str, nodes: Sequence[Node], tag: str) -> Group:
    """One drawing, cut off at its edge; a script moves what is in it while one looks round."""
    return Group([Group(nodes, {"class": f"{on}-sheet"})], {"clip-path": f"url(#{tag}clip-{on})"})


def _told(m: Mapping, options: BoardOptions) -> tuple[Text, ...]:
    """What either drawing shows."""
    view = options.view
    side = f"{view.side} side" + (", mirrored to the tape" if view.side == "right" else "")
    seen = "from below, mirrored" if view.below else "from above"
    left, right, middle = 8.0, PAPER_WIDTH - 8.0, PAPER_WIDTH / 2
    top, bottom = ("LEFT", "RIGHT") if view.below else ("RIGHT", "LEFT")
    plan_middle, side_middle = m.plan_height / 2, m.side_top + m.side_height / 2
    plan_bottom, side_bottom = m.plan_top + m.plan_height - 7, m.side_top + m.side_height - 7
    return (
        Text((left, 16), seen, "view-name"),
        Text((left, side_bottom), side, "view-name"),
        Text((middle, 16), top, "towards", "middle", halo=True),
        Text((middle, plan_bottom), bottom, "towards", "middle", halo=True),
        Text((middle, m.side_top + 16), "UP", "towards", "middle", halo=True),
        *(
            text
            for at in (plan_middle, side_middle)
            for text in (
                Text((left, at), "FRONT", "towards", halo=True),
                Text((right, at), "REAR", "towards", "end", halo=True),
            )
        ),
    )


@fact
def _survey(
    job: Job, m: Mapping, words: tuple[Text, ...], options: BoardOptions
) -> tuple[tuple[Node, ...], tuple[Box, ...]]:
    """The survey on both drawings with its names placed, and what words and names take."""
    view, tag, paper = options.view, options.tag, Paper()
    placed(words, m, paper)
    groups = [
        _sheet("plan", list(survey.plan_nodes(job, m, view, options.selected)), tag),
        _sheet("side", list(survey.elevation_nodes(job, m, view, options.selected)), tag),
    ]
    return tuple(placed(groups, m, paper)), tuple(paper.boxes)


def _photo(photo: LaidPhoto, m: Mapping) -> Picture:
    low_x, low_y, high_x, high_y = photo.corners_mm
    (u0, v0), (u1, v1) = m.plan(low_x, low_y), m.plan(high_x, high_y)
    return Picture(photo.href, (u0, min(v0, v1)), (u1 - u0, abs(v1 - v0)), "photo")


def _floor_picture(vehicle: Vehicle, m: Mapping, href: str, place: str) -> Picture:
    """The map's cells stand on multiples of its step; each is drawn from half a step before it to
    half a step after.
    """
    grid = floor_grid(vehicle, place=place)
    half = map_step_mm(vehicle, place) / 2
    (u0, v0), (u1, v1) = (
        m.plan(grid.x_mm[0] - half, grid.y_mm[0] - half),
        m.plan(grid.x_mm[-1] + half, grid.y_mm[-1] + half),
    )
    return Picture(href, (u0, min(v0, v1)), (u1 - u0, abs(v1 - v0)), "floor-map")


def overlay(check: Check, m: Mapping, options: BoardOptions) -> list[Node]:
    """Return what changes while something is dragged: heater, exhaust and dimensions, on both
    drawings, with figures and names placed beside those of the survey.
    """
    _, taken = _survey(check.job, m, _told(m, options), options)
    return placed(list(_overlay(check, m, options)), m, Paper(list(taken)))


def _overlay(check: Check, m: Mapping, options: BoardOptions) -> Iterator[Node]:
    job = check.job
    tag = options.tag
    numbers = mark_numbers(check.of(options.station))
    findings: Sequence[Finding] = [f for f in check.of(options.station) if _of_the_tube(f, options)]
    spot_grip = options.editable and options.station == "spot"
    plan, side = work.in_plan(m), work.in_elevation(m)
    if options.station == "heat":
        in_plan, in_side = cold.cold_marks(job, m, options.system)
        yield _sheet("plan", [*leaks.plan_arrows(job, m, options.system), *in_plan], tag)
        yield _sheet("side", [*leaks.side_arrows(job, m, options.system), *in_side], tag)
        return
    transfer = transfer_of(job.plan) if options.station == "spot" else None
    wished = wishes.area_nodes(job, m) if options.station == "planner" else ()
    upper = [
        *wished,
        *features.feature_nodes(job.plan, m, options.view.below, options.station == "vehicle"),
        *features.old_opening_nodes(job, plan, "plan"),
        *unit_nodes(job, m, plan),
        *(features.pilot_nodes(job.plan, m) if options.station in {"spot", "build"} else ()),
        *work.heater_in_plan(job, m, spot_grip),
        *solid_grip(job, plan, "plan", options),
        *_runs(job, m, plan, "plan", options),
        *(features.transfer_nodes(transfer, m) if transfer is not None else ()),
        *marks(findings, numbers, plan, options.system),
    ]
    lower = [
        *features.old_opening_nodes(job, side, "side"),
        *unit_nodes(job, m, side),
        *work.heater_in_elevation(job, m, spot_grip),
        *solid_grip(job, side, "side", options),
        *_runs(job, m, side, "side", options),
        *marks((f for f in findings if _upright(f)), numbers, side, options.system),
    ]
    yield _sheet("plan", upper, tag)
    yield _sheet("side", lower, tag)


def _runs(job: Job, m: Mapping, project: Project, on: str, options: BoardOptions) -> Iterator[Node]:
    """Pipes, fuel line and ducts; those of the station that is looked at lie on top."""
    runs: dict[str, Iterator[Node]] = {
        "pipes": _pipes(job, m, project, on, options),
        "fuel": fuel.fuel_nodes(_seen(job, project, on, options), m),
        "air": air.air_nodes(_seen_air(job, project, on, options), m),
        "coolant": coolant.coolant_nodes(
            coolant.Seen(job, project, on, options.editable and options.station == "coolant")
        ),
        "power": power.power_nodes(
            power.Seen(job, project, on, options.editable and options.station == "power")
        ),
    }
    for word in sorted(runs, key=lambda word: word == options.station):
        yield from runs[word]


def _seen(job: Job, project: Project, on: str, options: BoardOptions) -> fuel.Seen:
    return fuel.Seen(
        job, project, on, options.editable and options.station == "fuel", options.system
    )


def _seen_air(job: Job, project: Project, on: str, options: BoardOptions) -> air.Seen:
    return air.Seen(job, project, on, options.editable and options.station == "air", options.system)


def _of_the_tube(finding: Finding, options: BoardOptions) -> bool:
    """Whether a finding is about the pipe that is worked on; at other stations all are."""
    return finding.station != "pipes" or options.tube in finding.runs


def _pipes(
    job: Job, m: Mapping, project: Project, on: str, options: BoardOptions
) -> Iterator[Node]:
    """The burner's pipes; at their own station the one that is worked on lies on top and carries
    the grips.
    """
    here = options.editable and options.station == "pipes"
    if here:
        yield from spray.spray_nodes(job, project, on)
    for tube in TUBES if options.tube == "intake" else reversed(TUBES):
        how = {"board": on, "system": options.system, "editable": here and tube == options.tube}
        pipe = pipes.drawn(job, m, project, tube, **how)
        yield from pipes.run_nodes(pipe) if pipe is not None else ()


def solid_grip(job: Job, place: Project, on: str, options: BoardOptions) -> Iterator[Node]:
    """Yield a grip over the chosen box or cylinder, to be dragged and nudged at the vehicle
    station.
    """
    if options.station != "vehicle" or not options.editable:
        return
    for solid, _, shape in surveyed_parts(job):
        if solid.id == options.selected and isinstance(solid, BoxSolid | CylinderSolid):
            b = shape.bounds
            ends = [place((x, y, z)) for x, y, z in ((b[0], b[1], b[2]), (b[3], b[4], b[5]))]
            (u0, v0), (u1, v1) = ends
            ring = Line([(u0, v0), (u1, v0), (u1, v1), (u0, v1)], "solid-grip", closed=True)
            grip = {
                "class": "grip",
                "id": f"grip-{on}-solid-{solid.id}",
                "tabindex": "0",
                "role": "button",
                "data-board": on,
                "data-drag": f"solid-{solid.id}",
                "data-place": f"vehicle.solids.{solid.id}",
                "aria-label": f"move {solid.name}",
            }
            yield Group([ring], grip)


def _upright(finding: Finding) -> bool:
    """Whether a finding's dimension shows something in the elevation."""
    return any(
        abs(mark.start[2] - mark.end[2]) > 1 or mark.start == mark.end for mark in finding.marks
    )


def overlay_of(check: Check, options: BoardOptions) -> list[Node]:
    """Return the overlay alone, for a preview."""
    return overlay(check, board_mapping(check.job.plan.vehicle.shell, options.view), options)


def _map_data(m: Mapping) -> dict[str, str]:
    """What the pointer script needs to turn paper back into millimetres."""
    return {
        "data-scale": f"{m.scale:.8f}",
        "data-x-offset": f"{m.x_offset:.4f}",
        "data-plan-offset": f"{m.plan_offset:.4f}",
        "data-plan-sign": str(m.plan_sign),
        "data-side-offset": f"{m.side_offset:.4f}",
        "data-tape-top": f"{m.tape_top:.2f}",
        "data-side-top": f"{m.side_top:.2f}",
    }


def _tape(m: Mapping, system: UnitSystem) -> Iterator[Node]:
    """Yield the tape: ticks and figures from the datum, in mm or inches."""
    yield Rect((0, m.tape_top), (PAPER_WIDTH, TAPE_HEIGHT), "tape")
    unit_mm = 25.4 if system is UnitSystem.IMPERIAL else 1.0
    steps = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)
    major = next((s for s in steps if m.px(s * unit_mm) >= 58), steps[-1])
    minor = next((s for s in steps if m.px(s * unit_mm) >= 5 and major % s == 0), major)
    first = int(-m.x_offset / m.scale / unit_mm // minor) * minor
    last = int((PAPER_WIDTH - m.x_offset) / m.scale / unit_mm) + 1
    ticks: list[tuple[tuple[float, float], tuple[float, float]]] = []
    for value in range(first, last + 1, minor):
        u = m.u(value * unit_mm)
        if not 0 <= u <= PAPER_WIDTH:
            continue
        is_major = value % major == 0
        ticks.append(((u, m.tape_top), (u, m.tape_top + (11 if is_major else 6))))
        if is_major and 16 < u < PAPER_WIDTH - 16:
            text = f"{value}".replace("-", "−") + ('"' if system is UnitSystem.IMPERIAL else "")
            yield Text((u, m.tape_top + 24), text if value else "datum", "tape-figure", "middle")
    yield Strokes(ticks, "tape-tick")
