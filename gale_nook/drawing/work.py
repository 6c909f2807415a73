"""The work itself on the board: the heater, its holes and ports, the exhaust, and the findings' dimensions."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator

from gale_nook.core.derived import Derived, PlacedHole
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.pipes.tilt import Parked, standing_water, ways_of_standing
from gale_nook.core.quantities.length import UnitSystem, format_length
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Circle, Group, Line, Node, Point, Rect, Text

LEVEL = Parked("level", (0.0, 0.0, -1.0))
Project = Callable[[Vec3], Point]
HANDLE = 7.0
LETTER, LINE = 6.6, 14.0  # of a dimension's figure, px


def in_plan(m: Mapping) -> Project:
    return lambda p: m.plan(p[0], p[1])


def in_elevation(m: Mapping) -> Project:
    return lambda p: m.elevation(p[0], p[2])


def heater_in_plan(derived: Derived, m: Mapping, editable: bool) -> Iterator[Node]:
    """Yield the body with its ends marked, the holes and the ports."""
    spot, corners = derived.plan.spot, derived.body_low_high
    if spot is None or corners is None or derived.sheet is None:
        return
    low, high = corners
    box = [m.plan(x, y) for x, y in ((low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1]))]
    inner: list[Node] = [Line(box, "heater-body", closed=True), *_warm_end(derived, m)]
    inner += [_hole(hole, m) for hole in derived.holes]
    for name, port in (
        ("exhaust", derived.sheet.exhaust),
        ("intake", derived.sheet.intake),
        ("fuel", derived.sheet.fuel),
    ):
        x, y, _ = derived.port_point(port)
        inner.append(
            Circle(m.plan(x, y), max(m.px(port.diameter_mm / 2), 2.0), f"port port-{name}", title=f"{name} port")
        )
    inner.append(Circle(m.plan(spot.x_mm, spot.y_mm), 2.2, "mount-centre"))
    yield Group(inner, _grip("heater", f"heater {derived.sheet.label}", editable), title=f"{derived.sheet.label}")


def _hole(hole: PlacedHole, m: Mapping) -> Node:
    u, v = m.plan(hole.x_mm, hole.y_mm)
    if not hole.is_cut:
        return Circle((u, v), m.px(hole.diameter_mm / 2), "hole", title=f"{hole.name}, {hole.diameter_mm:g} mm")
    half_u, half_v = m.px(hole.half_x_mm), m.px(hole.half_y_mm)
    size = f"{2 * hole.half_x_mm:g} × {2 * hole.half_y_mm:g} mm"
    return Rect((u - half_u, v - half_v), (2 * half_u, 2 * half_v), "hole", title=f"{hole.name}, {size}")


def _warm_end(derived: Derived, m: Mapping) -> Iterator[Node]:
    """An arrow out of the warm end, and a bar at the inlet end."""
    spot, sheet = derived.plan.spot, derived.sheet
    if spot is None or sheet is None or sheet.medium != "air":
        return
    body = derived.body
    ends = []
    for sign, reach in ((1, 90.0), (-1, 0.0)):
        dx, dy = turn_xy(body.x_mm + sign * (body.length_mm / 2 + reach), 0.0, spot.yaw_deg)
        bx, by = turn_xy(body.x_mm + sign * body.length_mm / 2, 0.0, spot.yaw_deg)
        ends.append(((spot.x_mm + bx, spot.y_mm + by), (spot.x_mm + dx, spot.y_mm + dy)))
    (start, tip), (inlet, _) = ends
    yield Line([m.plan(*start), m.plan(*tip)], "warm-air")
    yield Line(_arrow_head(m.plan(*start), m.plan(*tip)), "warm-air-head", closed=True)
    wx, wy = turn_xy(0.0, body.width_mm / 2 - 8, spot.yaw_deg)
    yield Line([m.plan(inlet[0] - wx, inlet[1] - wy), m.plan(inlet[0] + wx, inlet[1] + wy)], "inlet-end")


def _arrow_head(start: Point, tip: Point, size: float = 7.0) -> list[Point]:
    angle = math.atan2(tip[1] - start[1], tip[0] - start[0])
    return [
        tip,
        *((tip[0] - size * math.cos(angle + t), tip[1] - size * math.sin(angle + t)) for t in (0.45, -0.45)),
    ]


def heater_in_elevation(derived: Derived, m: Mapping, editable: bool) -> Iterator[Node]:
    """Yield the body and the mount's collar through the floor."""
    corners = derived.body_low_high
    if corners is None or derived.sheet is None:
        return
    low, high = corners
    inner: list[Node] = [
        Rect(m.elevation(low[0], high[2]), (m.px(high[0] - low[0]), m.px(high[2] - low[2])), "heater-body")
    ]
    for hole in derived.holes:
        x, d = hole.x_mm, 2 * hole.reach_mm[0]
        depth = derived.mount_plane_z_mm - derived.underside_z_mm
        inner.append(Rect(m.elevation(x - d / 2, derived.mount_plane_z_mm), (m.px(d), m.px(depth)), "collar"))
    yield Group(
        inner,
        _grip("heater-side", f"heater {derived.sheet.label}, seen from the side", editable),
        title=derived.sheet.label,
    )


def exhaust_nodes(derived: Derived, m: Mapping, project: Project, board: str, editable: bool) -> Iterator[Node]:
    """Yield the run with its bends rounded, the mouth's arrow, and a handle for each node."""
    run, route = derived.exhaust, derived.plan.pipes.exhaust
    if run is None or route is None or derived.sheet is None:
        return
    line = [project(point) for point in run.centre_line]
    yield Line(line, "exhaust", width=max(m.px(derived.sheet.exhaust.diameter_mm), 2.6), title="exhaust")
    if len(line) > 1 and math.dist(line[-2], line[-1]) > 1:
        angle = math.atan2(line[-1][1] - line[-2][1], line[-1][0] - line[-2][0])
        tip = (line[-1][0] + 12 * math.cos(angle), line[-1][1] + 12 * math.sin(angle))
        yield Line([line[-1], tip], "exhaust-gas")
        yield Line(_arrow_head(line[-1], tip), "exhaust-gas-head", closed=True)
    drained = frozenset(number for number, node in enumerate(route.nodes, 1) if node.drain)
    for parked in (LEVEL, *ways_of_standing(derived.plan.settings.parked_tilt_deg)):
        for start, end in standing_water(run, drained, parked.down):
            yield Line([project(start), project(end)], "standing-water", title=f"water stands here, {parked.name}")
    for number, node in enumerate(route.nodes, 1):
        at = project((node.x_mm, node.y_mm, node.z_mm))
        last = number == len(route.nodes)
        name = "mouth" if last else f"bend {number}"
        marks: list[Node] = [Circle(at, HANDLE if editable else 3.0, "node mouth" if last else "node")]
        if editable:
            marks.append(Text((at[0], at[1] + 4), "M" if last else str(number), "node-name", "middle"))
        if node.drain:
            marks.append(Line([(at[0], at[1] + 8), (at[0], at[1] + 15)], "drain"))
        yield Group(
            marks,
            _grip(f"node-{node.id}", f"{name} of the exhaust", editable, board),
            title=f"{name} of the exhaust",
        )


def _grip(name: str, label: str, editable: bool, board: str = "plan") -> dict[str, str]:
    if not editable:
        return {"class": "part"}
    where = "side" if name.endswith("-side") or board == "side" else "plan"
    target = name.removesuffix("-side")
    return {
        "class": f"part grip grip-{'node' if target.startswith('node') else 'heater'}", "data-drag": target, "data-board": where,
        "tabindex": "0", "role": "button", "aria-label": f"{label}: arrow keys move it", "id": f"grip-{where}-{target}",
    }  # fmt: skip


class Labels:
    """Keeps figures apart: each is put where it belongs, or below the ones that stand there already."""

    def __init__(self) -> None:
        self._taken: list[tuple[float, float, float]] = []

    def place(self, at: Point, text: str) -> Point:
        """Return where a figure can start, at or under the wished-for point."""
        width, (x, y) = len(text) * LETTER + 8, at
        while any(x < left + w and left < x + width and abs(y - top) < LINE for left, top, w in self._taken):
            y += LINE / 2
        self._taken.append((x, y, width))
        return (x, y)


def marks(findings: Iterable[Finding], project: Project, system: UnitSystem) -> Iterator[Node]:
    """Yield a dimension line for each finding that is not clear, with its measured value."""
    labels = Labels()
    for finding in findings:
        if finding.verdict in {Verdict.CLEAR, Verdict.UNKNOWN} or finding.measured is None:
            continue
        for mark in finding.marks:
            start, end = project(mark.start), project(mark.end)
            value = _value(finding, system)
            at = labels.place(((start[0] + end[0]) / 2 + 6, (start[1] + end[1]) / 2 - 5), value)
            lines: list[Node] = [
                Line([start, end], "dimension"),
                Circle(start, 2.2, "dimension-end"),
                Circle(end, 2.2, "dimension-end"),
            ]
            texts: list[Node] = [Text(at, value, "dimension-text halo"), Text(at, value, "dimension-text")]
            key = f"{finding.rule} {finding.subject}"
            attributes = {"class": f"mark verdict-{finding.verdict.value}", "data-finding": key}
            yield Group([*lines, *texts], attributes, title=f"{finding.title}: {value}")


def _value(finding: Finding, system: UnitSystem) -> str:
    if finding.measured is None:
        return "?"
    if finding.unit == "mm":
        return format_length(finding.measured, system)
    if finding.unit in {"deg", "W"}:
        return format_quantity(finding.measured, finding.unit.lower(), system)
    return finding.title.lower()
