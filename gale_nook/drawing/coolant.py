"""The loop on the board: hoses hot and cold, parts with what is in them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.catalogue.coolant import LoopPartKind
from gale_nook.core.geometry.frames import Vec3, add, scale, sub, unit
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import (
    End,
    HoseRun,
    elbows,
    end_direction,
    end_name,
    hose_runs,
    loop_parts,
)
from gale_nook.core.loop.state import LoopState, loop_state
from gale_nook.core.plan.coolant import LoopPart
from gale_nook.drawing.line_grips import (
    LineOnPaper,
    along_line,
    bend_grips,
    movable,
    straight_grips,
)
from gale_nook.drawing.scene import Circle, Group, Line, Node, Point, Project, Text

ELBOW_MM = 26.0
STRETCHES = {"guard": "sleeve", "flex": "flexible stretch"}
RADIUS_MM, HOSE_PX, LEAST_PX = 60.0, 3.4, 9.0
NAMED = {"matrix", "calorifier", "floor", "header", "engine", "plate", "mixer", "pump", "coil"}
ARROW_PX, ARROW_FLOW_L_MIN = 5.0, 0.05


@dataclass(frozen=True)
class Seen:
    """One of the two drawings.

    Attributes:
        board: "plan" or "side".
        editable: grips are drawn too.
    """

    job: Job
    project: Project
    board: str
    editable: bool


def coolant_nodes(seen: Seen) -> Iterator[Node]:
    """Yield hoses, then parts over them."""
    if not seen.job.plan.coolant.parts:
        return
    state = loop_state(seen.job)
    for run in hose_runs(seen.job):
        yield from _hose(seen, run, state)
    for part, kind in loop_parts(seen.job):
        yield _part(seen, part, kind)
    for run, end, angle in elbows(seen.job):
        yield _elbow(seen, run, end, angle)


def _elbow(seen: Seen, run: HoseRun, end: End, angle_deg: float) -> Node:
    """An elbow: a little of the way in which its end points, and of the hose's."""
    line, way = run.geometry.points, end_direction(seen.job, end)
    first = end == (run.hose.from_part, run.hose.from_end)
    at, onward = (line[0], line[1]) if first else (line[-1], line[-2])
    away = scale(unit(sub(onward, at)), ELBOW_MM)
    legs = [add(at, scale(way, -ELBOW_MM)) if way is not None else at, at, add(at, away)]
    title = f"elbow of {angle_deg:.0f}° at the {end_name(seen.job, end)}"
    return Line([seen.project(point) for point in legs], "loop-elbow", width=HOSE_PX, title=title)


def _hose(seen: Seen, run: HoseRun, state: LoopState | None) -> Iterator[Node]:
    line = [seen.project(point) for point in run.geometry.centre_line]
    found = state.branches.get(run.hose.id) if state is not None else None
    heater = state.heater if state is not None else None
    warm = (
        found is not None and heater is not None and _is_hot(found.in_c, heater.in_c, heater.out_c)
    )
    cls = "loop-hose loop-hot" if warm else "loop-hose loop-cold"
    title = run.name
    if found is not None:
        title = f"{run.name}: {abs(found.flow_l_min):.1f} l/min, {found.in_c:.0f} °C"
    body: list[Node] = [Line(line, cls, width=HOSE_PX, title=title)]
    if found is not None and abs(found.flow_l_min) > ARROW_FLOW_L_MIN:
        body += _arrow(seen, run, forward=found.flow_l_min > 0)
    name = f"line-{seen.board}-coolant-{run.hose.id}"
    yield (
        Group(body, along_line(run.geometry, seen.project, name)) if seen.editable else Group(body)
    )
    for part in run.hose.of_kind("guard", "flex"):
        ends = (min(part.at_mm, run.length_mm), min(part.at_mm + part.length_mm, run.length_mm))
        stretch = [seen.project(point) for point in run.geometry.stretch(*ends)]
        title = f"{STRETCHES[part.kind]} of the {run.name}"
        yield Line(stretch, f"loop-stretch loop-{part.kind}", width=HOSE_PX + 3, title=title)
    for part in run.hose.of_kind("clip", "hole"):
        at = seen.project(run.geometry.point_at(min(part.at_mm, run.length_mm)))
        size = 1.8 if part.kind == "clip" else 4.5
        mark = Circle(at, size, f"loop-on loop-{part.kind}")
        yield Group([mark], {"class": "part"}, title=f"{part.kind} of the {run.name}")
    if not seen.editable:
        return
    collection = f"coolant.hoses.{run.hose.id}.nodes"
    short = f"coolant-{run.hose.id}"
    pulled = LineOnPaper(short, collection, seen.board, seen.project, HOSE_PX, RADIUS_MM)
    yield from straight_grips(run.geometry, run.hose.nodes, pulled)
    yield from bend_grips(run.geometry, run.hose.nodes, pulled, run.name, "loop-node")


def _is_hot(celsius: float, back_c: float, flow_c: float) -> bool:
    return celsius >= (back_c + flow_c) / 2


def _arrow(seen: Seen, run: HoseRun, *, forward: bool) -> list[Node]:
    middle, ahead = run.length_mm / 2, 30.0 if forward else -30.0
    a = seen.project(run.geometry.point_at(max(middle - ahead, 0.0)))
    b = seen.project(run.geometry.point_at(min(max(middle + ahead, 0.0), run.length_mm)))
    (dx, dy), size = (b[0] - a[0], b[1] - a[1]), ARROW_PX
    length = (dx**2 + dy**2) ** 0.5
    if length < 1.0:
        return []
    ux, uy = dx / length, dy / length
    tip: Point = ((a[0] + b[0]) / 2 + ux * size, (a[1] + b[1]) / 2 + uy * size)
    left = (tip[0] - 2 * ux * size - uy * size, tip[1] - 2 * uy * size + ux * size)
    right = (tip[0] - 2 * ux * size + uy * size, tip[1] - 2 * uy * size - ux * size)
    return [Line([tip, left, right], "loop-arrow", closed=True)]


def _part(seen: Seen, part: LoopPart, kind: LoopPartKind) -> Node:
    size = kind.size_mm
    if part.yaw_deg % 180:
        size = (size[1], size[0], size[2])
    low: Vec3 = (part.x_mm - size[0] / 2, part.y_mm - size[1] / 2, part.z_mm - size[2] / 2)
    high: Vec3 = (low[0] + size[0], low[1] + size[1], low[2] + size[2])
    a, b = seen.project(low), seen.project(high)
    left, top = min(a[0], b[0]), min(a[1], b[1])
    width, height = max(abs(a[0] - b[0]), LEAST_PX), max(abs(a[1] - b[1]), LEAST_PX)
    ring = [(left, top), (left + width, top), (left + width, top + height), (left, top + height)]
    marks: list[Node] = [Line(ring, f"loop-part loop-{kind.kind}", closed=True)]
    if kind.kind in NAMED:
        marks.append(Text((left + width / 2, top - 3), part.name, "label", "middle"))
    if not seen.editable:
        return Group(marks, {"class": "part"}, title=part.name)
    grip = {
        "class": "part grip grip-node",
        "data-drag": f"coolant-{part.id}",
        "data-place": f"coolant.parts.{part.id}",
        "data-board": seen.board,
        "tabindex": "0",
        "role": "button",
        "aria-label": movable(part.name),
        "id": f"grip-{seen.board}-coolant-{part.id}",
    }
    return Group(marks, grip, title=part.name)
