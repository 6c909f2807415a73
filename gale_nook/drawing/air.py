"""The warm air on the board: ducts with arrows as wide as their flow, what comes out of each
outlet, the openings that it comes back by, zones, and grips.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from gale_nook.core.air.bodies import duct_name, skin_mm
from gale_nook.core.air.hot import outlet_direction
from gale_nook.core.ducts.air_state import AirState, told_c
from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.ducts.places import zone_box
from gale_nook.core.ducts.returns import return_openings
from gale_nook.core.ducts.tree import DuctRun
from gale_nook.core.fitted.usable import usable
from gale_nook.core.geometry.frames import Vec3, add, scale
from gale_nook.core.job import Job
from gale_nook.core.plan.air import DuctPart
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
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
from gale_nook.drawing.scene import Circle, Group, Line, Node, Project, Text

ARROW_PX, LEAST_ARROW_PX = 9.0, 1.2  # the whole flow, and the least that is drawn
ARROW_EVERY_MM = 450.0
LEAST_PX = 3.0
BLOW_MM = 150.0
WANTED_PX = 8.0
WAYS: dict[str, Vec3] = {
    "front": (-1.0, 0.0, 0.0),
    "rear": (1.0, 0.0, 0.0),
    "left": (0.0, -1.0, 0.0),
    "right": (0.0, 1.0, 0.0),
    "down": (0.0, 0.0, -1.0),
    "up": (0.0, 0.0, 1.0),
}
PART_NAMES = {"clip": "clip", "panel": "hole", "guard": "guard", "flex": "flexible stretch"}


@dataclass(frozen=True)
class Seen:
    """One of the two drawings, and what is on it.

    Attributes:
        board: "plan" or "side".
        editable: grips and figures are drawn too.
    """

    job: Job
    project: Project
    board: str
    editable: bool
    system: UnitSystem


def air_nodes(seen: Seen, m: Mapping) -> Iterator[Node]:
    """Yield zones, ducts with their flow, outlets, openings and, when editable, grips."""
    job = seen.job
    if job.plan.heater.medium != "air" and ducted_convector(job) is None:
        return
    found = usable(job) if job.plan.air.ducts else None
    state = found.at if found is not None else None
    runs = all_runs(job)
    if seen.editable:
        yield from _zones(seen)
    for run in runs:
        yield from _duct(seen, m, run)
    for run in runs:
        yield from _flow(seen, run, state)
        for part in run.duct.parts:
            yield from _part(seen, m, run, part)
        yield from _end(seen, run)
    yield from _openings(seen)
    if not seen.editable:
        return
    yield from _wanted(seen)
    for run in runs:
        yield from _bends(seen, run)
    yield from _figures(seen, runs, state)


def _address(job: Job, run: DuctRun) -> str:
    back = job.plan.air.return_duct
    return "air.return_duct" if run.duct is back else f"air.ducts.{run.duct.id}"


def _duct(seen: Seen, m: Mapping, run: DuctRun) -> Iterator[Node]:
    line = [seen.project(point) for point in run.geometry.centre_line]
    width = max(m.px(run.kind.outer_mm), LEAST_PX)
    for part in run.duct.of_kind("lagging"):
        end = min(part.end_mm, run.length_mm)
        thick = max(m.px(skin_mm(seen.job, run, (part.at_mm + end) / 2)), width + 3)
        covered = [seen.project(p) for p in run.geometry.stretch(part.at_mm, end)]
        yield Line(covered, "duct-lagging", width=thick, title=f"lagged {part.layers} ×")
    back = " duct-back" if run.duct is seen.job.plan.air.return_duct else ""
    body = [
        Line(line, f"duct{back}", width=width, title=duct_name(run)),
        Line(line, f"duct-inside{back}", width=max(width - 2.4, 1.0)),
    ]
    if not seen.editable:
        yield Group(body, {})
        return
    name = _line_id(seen, run)
    yield Group(body, along_line(run.geometry, seen.project, name))
    pulled = LineOnPaper(
        f"air-{run.duct.id}",
        f"{_address(seen.job, run)}.nodes",
        seen.board,
        seen.project,
        width,
        run.kind.least_radius_mm,
    )
    yield from straight_grips(run.geometry, run.duct.nodes, pulled)


def _line_id(seen: Seen, run: DuctRun) -> str:
    return f"line-{seen.board}-air-{run.duct.id}"


def _flow(seen: Seen, run: DuctRun, state: AirState | None) -> Iterator[Node]:
    """Arrows along a duct, as wide as its share of the flow."""
    duct = state.duct(run.duct.id) if state is not None else None
    if duct is None or state is None or state.total_kg_s <= 0:
        return
    width = max(ARROW_PX * duct.flow_kg_s / state.total_kg_s, LEAST_ARROW_PX)
    count = max(1, round(run.length_mm / ARROW_EVERY_MM))
    half = min(60.0, run.length_mm / count / 2.5)
    for number in range(count):
        middle = run.length_mm * (number + 0.5) / count
        ends = [seen.project(run.geometry.point_at(middle + by)) for by in (-half, half)]
        if math.dist(*ends) < 6:
            continue
        yield Line(ends, "duct-flow", width=width, title=f"{_m3_h(state, duct.flow_kg_s):.0f} m³/h")
        yield Line(
            arrow_head(ends[0], ends[1], max(2.2 * width, 5.0)), "duct-flow-head", closed=True
        )


def _m3_h(state: AirState, flow_kg_s: float) -> float:
    """As drawn in by the fan."""
    return state.total_m3_h * flow_kg_s / state.total_kg_s


def _part(seen: Seen, m: Mapping, run: DuctRun, part: DuctPart) -> Iterator[Node]:
    at_mm = min(part.at_mm, run.length_mm)
    at = seen.project(run.geometry.point_at(at_mm))
    half = max(m.px(run.kind.outer_mm) / 2, 2.0)
    marks: list[Node] = []
    if part.kind in {"clip", "panel"}:
        reach = half + (3 if part.kind == "clip" else 5)
        marks += _across(seen, run, at_mm, reach, f"duct-{part.kind}")
    elif part.kind in {"guard", "flex"}:
        end = min(part.end_mm, run.length_mm)
        line = [seen.project(p) for p in run.geometry.stretch(at_mm, end)]
        marks.append(Line(line, f"duct-{part.kind}", width=2 * half + 4))
    if not marks:
        return
    name = {"clip": "clip", "panel": "hole", "guard": "guard", "flex": "flexible stretch"}[
        part.kind
    ]
    if not seen.editable:
        yield Group(marks, {}, title=name)
        return
    grip = {
        "class": "part grip grip-fitting",
        "tabindex": "0",
        "role": "button",
        "id": f"grip-{seen.board}-air-{run.duct.id}-{part.id}",
        "aria-label": f"{name} of {duct_name(run)}: arrow keys move it along",
        "data-along": f"{_address(seen.job, run)}.parts.{part.id}.at_mm",
        "data-on": _line_id(seen, run),
    }
    marks.append(Circle(at, 4.0, "fitting-grip"))
    yield Group(marks, grip, title=name)


def _across(seen: Seen, run: DuctRun, at_mm: float, half_px: float, cls: str) -> list[Node]:
    before = seen.project(run.geometry.point_at(at_mm - 2))
    after = seen.project(run.geometry.point_at(at_mm + 2))
    length = math.dist(before, after)
    u, v = seen.project(run.geometry.point_at(at_mm))
    if length < 0.05:
        return [Circle((u, v), half_px, cls)]
    nx, ny = -(after[1] - before[1]) / length * half_px, (after[0] - before[0]) / length * half_px
    return [Line([(u - nx, v - ny), (u + nx, v + ny)], cls)]


def _end(seen: Seen, run: DuctRun) -> Iterator[Node]:
    """A splitter, or an outlet with the way in which it blows."""
    mouth = run.geometry.mouth
    at = seen.project(mouth)
    if run.duct.splitter is not None:
        yield Circle(at, 6.5, "duct-splitter", title="splitter")
        return
    outlet = run.duct.outlet
    if outlet is None:
        return
    shut = " shut" if outlet.shut else ""
    tip = seen.project(add(mouth, scale(outlet_direction(run), BLOW_MM)))
    yield Circle(at, 5.0, f"duct-outlet{shut}", title=outlet.name)
    if outlet.shut:
        yield Line([(at[0] - 5, at[1] - 5), (at[0] + 5, at[1] + 5)], "duct-shut")
    elif math.dist(at, tip) > 5:
        yield Line([at, tip], "warm-air")
        yield Line(arrow_head(at, tip), "warm-air-head", closed=True)


def _openings(seen: Seen) -> Iterator[Node]:
    """The openings that the air comes back by."""
    for opening in return_openings(seen.job):
        middle: Vec3 = (opening.x_mm, opening.y_mm, opening.z_mm)
        across = opening.faces in {"front", "rear"}
        along = opening.faces in {"left", "right"}
        half = opening.width_mm / 2
        if seen.board == "plan":
            way: Vec3 = (0.0, half, 0.0) if across else (half, 0.0, 0.0)
        else:
            way = (half, 0.0, 0.0) if along else (0.0, 0.0, opening.height_mm / 2)
        ends = [seen.project(add(middle, scale(way, sign))) for sign in (-1.0, 1.0)]
        marks: list[Node] = [Line(ends, "return-opening", title=opening.name)]
        if not seen.editable or "." in opening.id:
            yield Group(marks, {}, title=opening.name)
            continue
        marks.append(Circle(seen.project(middle), HANDLE - 1, "node air-node"))
        grip = {
            "class": "part grip grip-node",
            "data-drag": f"return-{opening.id}",
            "data-place": f"air.returns.{opening.id}",
            "data-board": seen.board,
            "tabindex": "0",
            "role": "button",
            "aria-label": movable(opening.name),
            "id": f"grip-{seen.board}-return-{opening.id}",
        }
        yield Group(marks, grip, title=opening.name)


def _wanted(seen: Seen) -> Iterator[Node]:
    """Outlets that were only pointed at: a ring with a cross, and which way they are to blow."""
    for outlet in seen.job.plan.air.wanted:
        u, v = seen.project(outlet.at)
        marks: list[Node] = [
            Circle((u, v), WANTED_PX, "wanted-outlet"),
            Line([(u - WANTED_PX, v), (u + WANTED_PX, v)], "wanted-outlet"),
            Line([(u, v - WANTED_PX), (u, v + WANTED_PX)], "wanted-outlet"),
        ]
        if outlet.blows is not None:
            tip = seen.project(add(outlet.at, scale(WAYS[outlet.blows], BLOW_MM)))
            if math.dist((u, v), tip) > WANTED_PX:
                marks.append(Line(arrow_head((u, v), tip), "wanted-outlet", closed=True))
        grip = {
            "class": "part grip grip-node",
            "data-drag": f"wanted-{outlet.id}",
            "data-place": f"air.wanted.{outlet.id}",
            "data-board": seen.board,
            "tabindex": "0",
            "role": "button",
            "aria-label": f"{outlet.name}, pointed at: arrow keys move it",
            "id": f"grip-{seen.board}-wanted-{outlet.id}",
        }
        yield Group(marks, grip, title=outlet.name)


def _zones(seen: Seen) -> Iterator[Node]:
    for zone in seen.job.plan.air.zones:
        low, high = zone_box(seen.job, zone)
        a, b = seen.project(low), seen.project(high)
        corners = [(a[0], a[1]), (b[0], a[1]), (b[0], b[1]), (a[0], b[1])]
        yield Line(corners, "zone-outline", closed=True, title=zone.name)
        top = min(a[1], b[1])
        yield Text((min(a[0], b[0]) + 5, top + 14), zone.name, "zone-name")


def _bends(seen: Seen, run: DuctRun) -> Iterator[Node]:
    address = _address(seen.job, run)
    for number, node in enumerate(run.duct.nodes, 1):
        last = number == len(run.duct.nodes)
        at = seen.project((node.x_mm, node.y_mm, node.z_mm))
        what = "end" if last else f"bend {number}"
        name = f"{what} of {duct_name(run)}"
        points = run.geometry.points
        marks: list[Node] = [Circle(at, HANDLE - 1, "node air-node" + (" mouth" if last else ""))]
        if not last:
            marks.append(Text((at[0], at[1] + 4), str(number), "node-name", "middle"))
        short = f"air-{run.duct.id}-{node.id}"
        grip = {
            "class": "part grip grip-node",
            "data-drag": short,
            "data-place": f"{address}.nodes.{node.id}",
            "data-board": seen.board,
            "tabindex": "0",
            "role": "button",
            "aria-label": movable(name),
            "id": f"grip-{seen.board}-{short}",
            "data-near": near([*points[number - 1 : number], *points[number + 1 : number + 2]]),
        }
        yield Group(marks, grip, title=name)


def _figures(seen: Seen, runs: Sequence[DuctRun], state: AirState | None) -> Iterator[Node]:
    """What comes out of each outlet: temperature and speed, in the plan only."""
    if seen.board != "plan" or state is None:
        return
    by_id = {run.duct.id: run for run in runs}
    for outlet in state.outlets:
        run = by_id.get(outlet.id)
        if run is None:
            continue
        at = seen.project(run.geometry.mouth)
        more, shown = told_c(outlet.temperature_c)
        celsius = more + format_quantity(shown, "c", seen.system)
        speed = format_quantity(round(outlet.velocity_m_s, 1), "m_s", seen.system)
        text = f"{celsius}, {speed}"
        yield Text((at[0] + 10, at[1] - 8), text, "air-figure", halo=True)
