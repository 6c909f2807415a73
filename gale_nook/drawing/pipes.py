"""The burner's pipes on the board: their runs with all that sits on them, falls, standing water,
warmth, and grips.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.job import Job
from gale_nook.core.pipes.gas import exhaust_gas
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.supports import hangs_from
from gale_nook.core.pipes.tilt import attitudes_against, standing_water
from gale_nook.core.pipes.tubes import drained_corners
from gale_nook.core.plan.pipes import Fitting, Route, Tube
from gale_nook.core.plan.words import FITTING_WORDS, TUBE_WORDS
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.lean import lean_of
from gale_nook.drawing.arrows import arrow_head
from gale_nook.drawing.line_grips import (
    HANDLE,
    LineOnPaper,
    along_line,
    movable,
    near,
    straight_grips,
)
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Circle, Group, Line, Node, Point, Project, Strokes, Text

WEDGE_PX = 34.0  # a straight that is shorter on paper carries no wedge
STEEP_DEG = 60.0
END_ON_PX = 0.05
TICK_MM = 100.0
TICK_PX_PER_K = 1 / 22.0


@dataclass(frozen=True)
class Drawn:
    """One pipe on one of the two drawings.

    Attributes:
        board: "plan" or "side".
        width: of the pipe on paper.
        editable: falls, warmth and grips are drawn too.
    """

    job: Job
    tube: Tube
    run: RouteGeometry
    route: Route
    project: Project
    board: str
    width: float
    layer_px: float
    system: UnitSystem
    editable: bool

    def stretch(self, fitting: Fitting) -> list[Point]:
        end = min(fitting.end_mm, self.run.passed_mm[-1])
        return [self.project(point) for point in self.run.stretch(fitting.at_mm, end)]


def drawn(job: Job, m: Mapping, project: Project, tube: Tube, **how: Any) -> Drawn | None:
    """Return what is needed to draw a pipe; None where it has no run. `how` gives board, system and
    editable.
    """
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    if run is None or route is None:
        return None
    width = max(m.px(heater_port(job, tube).diameter_mm), 2.6)
    return Drawn(
        job,
        tube,
        run,
        route,
        project,
        width=width,
        layer_px=m.px(job.catalogue.pipe_physics.lagging_mm),
        **how,
    )


def run_nodes(pipe: Drawn) -> Iterator[Node]:
    """Yield one pipe: covers, pipe, what sits on it, its mouth's arrow; when editable also falls,
    warmth and grips.
    """
    job, run = pipe.job, pipe.run
    line = [pipe.project(point) for point in run.centre_line]
    yield from _covers(pipe)
    body = Line(line, pipe.tube, width=pipe.width, title=TUBE_WORDS[pipe.tube])
    yield (
        Group([body], along_line(pipe.run, pipe.project, _line_id(pipe))) if pipe.editable else body
    )
    yield from _gas_arrow(line, pipe.tube)
    drained = drained_corners(job, pipe.tube)
    for parked in attitudes_against(run, lean_of(job)):
        for water in standing_water(run, drained, parked.down):
            yield Line(
                [pipe.project(water.start), pipe.project(water.end)],
                "standing-water",
                title=f"water stands here, {parked.name}",
            )
    if pipe.editable:
        pulled = LineOnPaper(
            pipe.tube, f"pipes.{pipe.tube}.nodes", pipe.board, pipe.project, pipe.width, 60.0
        )
        yield from straight_grips(run, pipe.route.nodes, pulled)
    for fitting in sorted(
        pipe.route.fittings, key=lambda f: f.kind != "clamp"
    ):  # clamps lie under what they hold
        yield from _fitting(pipe, fitting)
    if pipe.editable:
        yield from _wedges(pipe)
        if pipe.tube == "exhaust":
            yield from _warmth(pipe)
    yield from _corners(pipe)


def _gas_arrow(line: list[Point], tube: Tube) -> Iterator[Node]:
    """Out of the exhaust's mouth, into the combustion air's."""
    if len(line) < 2 or math.dist(line[-2], line[-1]) <= 1:
        return
    angle = math.atan2(line[-1][1] - line[-2][1], line[-1][0] - line[-2][0])
    tip = (line[-1][0] + 12 * math.cos(angle), line[-1][1] + 12 * math.sin(angle))
    start, end = (line[-1], tip) if tube == "exhaust" else (tip, line[-1])
    yield Line([start, end], f"{tube}-gas")
    yield Line(arrow_head(start, end), f"{tube}-gas-head", closed=True)


def _covers(pipe: Drawn) -> Iterator[Node]:
    for fitting in pipe.route.of_kind("lagging", "shield"):
        points = pipe.stretch(fitting)
        if fitting.kind == "lagging":
            extra = max(2 * fitting.layers * pipe.layer_px, 3.0 * fitting.layers)
            layers = "once" if fitting.layers == 1 else f"{fitting.layers} times"
            yield Line(points, "lagging", width=pipe.width + extra, title=f"lagged {layers}")
        else:
            yield Line(points, "shield", width=pipe.width + 10, title="shielded")
            yield Line(points, "shield-gap", width=pipe.width + 7)


def _fitting(pipe: Drawn, fitting: Fitting) -> Iterator[Node]:
    name = FITTING_WORDS[fitting.kind][0]
    at = pipe.project(pipe.run.point_at(fitting.at_mm))
    marks = _MARKS.get(fitting.kind, _no_marks)(pipe, fitting, at)
    if not pipe.editable:
        if marks:
            yield Group(marks, {"class": "part"}, title=name)
        return
    grip = {
        "class": "part grip grip-fitting",
        "tabindex": "0",
        "role": "button",
        "id": f"grip-{pipe.board}-fitting-{pipe.tube}-{fitting.id}",
        "aria-label": f"{name} of the {TUBE_WORDS[pipe.tube]}: arrow keys move it along",
        "data-along": f"pipes.{pipe.tube}.fittings.{fitting.id}.at_mm",
        "data-on": _line_id(pipe),
    }
    if fitting.kind != "clamp":  # taken hold of by its screw, so that it does not cover the pipe
        marks.append(Circle(at, 4.5, "fitting-grip"))
    yield Group(marks, grip, title=name)


def _no_marks(_pipe: Drawn, _fitting: Fitting, _at: Point) -> list[Node]:
    return []


def _thick_marks(pipe: Drawn, fitting: Fitting, _at: Point) -> list[Node]:
    """Silencer or filter; in the elevation the silencer's drain."""
    marks: list[Node] = [
        Line(pipe.stretch(fitting), fitting.kind, width=max(pipe.width * 1.9, 8.0))
    ]
    if fitting.kind == "silencer" and pipe.board == "side":
        middle = pipe.project(pipe.run.point_at(fitting.at_mm + fitting.length_mm / 2))
        marks.append(
            Line([middle, (middle[0], middle[1] + (10 if fitting.drain_down else -10))], "drain")
        )
    return marks


def _support_marks(pipe: Drawn, fitting: Fitting, at: Point) -> list[Node]:
    hung = pipe.project(hangs_from(pipe.job, fitting, pipe.run.point_at(fitting.at_mm)))
    marks: list[Node] = [
        Line([at, hung], "support"),
        *_across(pipe, fitting.at_mm, pipe.width / 2 + 4, "support-bar"),
    ]
    return [*marks, Circle(hung, 3.0, "support-fixing")] if fitting.feature is not None else marks


def _ring_marks(pipe: Drawn, fitting: Fitting, _at: Point) -> list[Node]:
    return _across(pipe, fitting.at_mm, pipe.width / 2 + 3, f"{fitting.kind}-ring")


def _clamp_marks(pipe: Drawn, fitting: Fitting, at: Point) -> list[Node]:
    """A band with its screw."""
    bar = _across(pipe, fitting.at_mm, pipe.width / 2 + 2, "clamp-band")
    ends = [node.points[0] for node in bar if isinstance(node, Line)]
    return [*bar, *(Circle(end, 2.0, "clamp-screw") for end in ends or [at])]


def _bulkhead_marks(pipe: Drawn, fitting: Fitting, _at: Point) -> list[Node]:
    """A sleeve with a flange at both ends."""
    sleeve: list[Node] = [Line(pipe.stretch(fitting), "bulkhead", width=pipe.width + 6)]
    half = pipe.width / 2 + 8
    return [
        *sleeve,
        *_across(pipe, fitting.at_mm, half, "bulkhead-flange"),
        *_across(pipe, fitting.end_mm, half, "bulkhead-flange"),
    ]


def _box_marks(pipe: Drawn, fitting: Fitting, _at: Point) -> list[Node]:
    """The box round a stretch inside."""
    return [Line(pipe.stretch(fitting), "pipe-box", width=pipe.width + 16)]


_MARKS: dict[str, Callable[[Drawn, Fitting, Point], list[Node]]] = {
    "silencer": _thick_marks,
    "filter": _thick_marks,
    "support": _support_marks,
    "joint": _ring_marks,
    "cap": _ring_marks,
    "clamp": _clamp_marks,
    "bulkhead": _bulkhead_marks,
    "box": _box_marks,
    "hatch": _ring_marks,
}


def _line_id(pipe: Drawn) -> str:
    return f"line-{pipe.board}-{pipe.tube}"


def _across(pipe: Drawn, at_mm: float, half_px: float, cls: str) -> list[Node]:
    """A stroke across the run on paper; a circle where it is seen end on."""
    before = pipe.project(pipe.run.point_at(at_mm - 2))
    after = pipe.project(pipe.run.point_at(at_mm + 2))
    length = math.dist(before, after)
    (u, v) = pipe.project(pipe.run.point_at(at_mm))
    if length < END_ON_PX:
        return [Circle((u, v), half_px, cls)]
    nx, ny = -(after[1] - before[1]) / length * half_px, (after[0] - before[0]) / length * half_px
    return [Line([(u - nx, v - ny), (u + nx, v + ny)], cls)]


def _wedges(pipe: Drawn) -> Iterator[Node]:
    """A small wedge with its angle on each straight that is long enough on paper,
    thick end uphill.
    """
    for straight in pipe.run.straights:
        start, end = pipe.project(straight.start), pipe.project(straight.end)
        length = math.dist(start, end)
        if length < WEDGE_PX or abs(straight.fall_deg) > STEEP_DEG:
            continue
        high, low = (start, end) if straight.fall_deg >= 0 else (end, start)
        ux, uy = (low[0] - high[0]) / length, (low[1] - high[1]) / length
        mx, my = (start[0] + end[0]) / 2 + uy * 11, (start[1] + end[1]) / 2 - ux * 11
        wedge = [
            (mx - ux * 10, my - uy * 10),
            (mx + ux * 10, my + uy * 10),
            (mx - ux * 10 + uy * 6, my - uy * 10 - ux * 6),
        ]
        yield Line(wedge, "wedge rising" if straight.fall_deg < 0 else "wedge", closed=True)
        text = format_quantity(straight.fall_deg, "deg", pipe.system)
        yield Text((mx + 6, my - 4), text, "wedge-text", halo=True)


def _warmth(pipe: Drawn) -> Iterator[Node]:
    """Ticks across the pipe, the longer the warmer the skin; figures at port, bends and mouth. As
    at the first firing.
    """
    gas = exhaust_gas(pipe.job, pipe.job.plan.pipes.firing_c)
    if gas is None:
        return
    pairs = []
    for index in range(int(pipe.run.length_mm / TICK_MM) + 1):
        at = index * TICK_MM
        half = 3.0 + max(gas.at(at).skin_c, 0.0) * TICK_PX_PER_K
        lines = (node for node in _across(pipe, at, half, "warmth") if isinstance(node, Line))
        pairs += [(line.points[0], line.points[1]) for line in lines]
    yield Strokes(pairs, "warmth")
    for name, at in pipe.run.stations_mm:
        u, v = pipe.project(pipe.run.point_at(at))
        text = format_quantity(round(gas.at(at).skin_c), "c", pipe.system)
        figure = Text((u + 10, v + 16), text, "warmth-text", halo=True)
        yield Group([figure], {}, title=f"skin at the {name}, first firing")


def _corners(pipe: Drawn) -> Iterator[Node]:
    for number, node in enumerate(pipe.route.nodes, 1):
        at = pipe.project((node.x_mm, node.y_mm, node.z_mm))
        last = number == len(pipe.route.nodes)
        name = f"{'mouth' if last else f'bend {number}'} of the {TUBE_WORDS[pipe.tube]}"
        cls = f"node {pipe.tube}-node" + (" mouth" if last else "")
        marks: list[Node] = [Circle(at, HANDLE if pipe.editable else 3.0, cls)]
        if pipe.editable:
            marks.append(
                Text((at[0], at[1] + 4), "M" if last else str(number), "node-name", "middle")
            )
        if node.drain:
            marks.append(Line([(at[0], at[1] + 8), (at[0], at[1] + 15)], "drain"))
        grip = {"class": "part"}
        if pipe.editable:
            neighbours = [
                *pipe.run.points[number - 1 : number],
                *pipe.run.points[number + 1 : number + 2],
            ]
            short = f"node-{node.id}" if pipe.tube == "exhaust" else f"air-{node.id}"
            grip = {
                "class": "part grip grip-node",
                "data-drag": short,
                "data-place": f"pipes.{pipe.tube}.nodes.{node.id}",
                "data-board": pipe.board,
                "tabindex": "0",
                "role": "button",
                "aria-label": movable(name),
                "id": f"grip-{pipe.board}-{short}",
                "data-near": near(neighbours),
            }
        yield Group(marks, grip, title=name)
