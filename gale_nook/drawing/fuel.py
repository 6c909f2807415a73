"""The fuel on the board: tank with its level, line with what is in it, the pump as it hangs, air
where it would sit.
"""

from __future__ import annotations

import itertools
import json
import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from gale_nook.core.fuel.filler import neck_of
from gale_nook.core.fuel.line import FuelRun, fuel_run, supply
from gale_nook.core.fuel.tank import Vessel, outline_of, span_at
from gale_nook.core.fuel.tank_pose import as_it_stands
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.geometry.frames import Vec3, add, scale
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import LinePart, OwnTank
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.arrows import arrow_head
from gale_nook.drawing.line_grips import LineOnPaper, along_line, near, straight_grips
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Circle, Group, Line, Node, Point, Project, Text

PUMP_PX, BAND_PX, BAND_STEPS, HANDLE = 15.0, 26.0, 12, 6.0
LEVEL_HEIGHTS = 25
LEVEL_STEP = 5
TURN_STEP_DEG = 5
TURN_PX = 24.0
FILLER_MM, RADIUS_MM = 140.0, 30.0


@dataclass(frozen=True)
class Seen:
    """One of the two drawings, and what is on it.

    Attributes:
        board: "plan" or "side".
        editable: grips are drawn too.
    """

    job: Job
    project: Project
    board: str
    editable: bool
    system: UnitSystem


def fuel_nodes(seen: Seen, m: Mapping) -> Iterator[Node]:
    """Yield tank, line, parts and, when editable, their grips."""
    job, project = seen.job, seen.project
    tank, run, source = own_tank(job), fuel_run(job), supply(job)
    if tank is not None:
        yield from _tank(seen, tank)
    if source is not None and source.vessel is not None and seen.board == "side":
        yield from _level(seen, source.vessel)
    if source is not None:
        yield Circle(project(source.start), 3.2, "fuel-start", title="the line takes off here")
    if run is None:
        return
    line = [project(point) for point in run.geometry.centre_line]
    width = max(m.px(run.suction.outer_mm), 2.4)
    body = Line(line, "fuel-line", width=width, title="fuel line")
    yield (
        Group([body], along_line(run.geometry, project, f"line-{seen.board}-fuel"))
        if seen.editable
        else body
    )
    if seen.editable:
        pulled = LineOnPaper("fuel", "fuel.line.nodes", seen.board, project, width, RADIUS_MM)
        yield from straight_grips(run.geometry, run.line.nodes, pulled)
    for hump in run.air_traps:
        yield Circle(project(hump.at), 7.0, "fuel-air", title="air will sit here")
    for part in run.line.parts:
        yield from _part(seen, run, part)
    if seen.editable:
        yield from _bends(run, project, seen.board)


def _corners(tank: OwnTank, board: str) -> list[Vec3]:
    """Its outline: the cross-section where the drawing looks along the extrusion, else the box that
    it takes up.
    """
    if board == "side" and tank.lying == "across" and not tank.turn_deg:
        return [as_it_stands(tank, (float(x), tank.y_mm, float(z))) for x, z in outline_of(tank)]
    if tank.turn_deg or tank.tilt_along_deg or tank.tilt_across_deg:
        return _hull(tank, board)
    low: Vec3 = (tank.x_mm, tank.y_mm, tank.z_mm)
    high = (low[0] + tank.size_mm[0], low[1] + tank.size_mm[1], low[2] + tank.size_mm[2])
    if board == "plan":
        return [
            low,
            (high[0], low[1], low[2]),
            (high[0], high[1], low[2]),
            (low[0], high[1], low[2]),
        ]
    return [low, (high[0], low[1], low[2]), (high[0], low[1], high[2]), (low[0], low[1], high[2])]


def _hull(tank: OwnTank, board: str) -> list[Vec3]:
    """The outline of the box that it takes up, turned and tilted, as the drawing sees it."""
    low, size = (tank.x_mm, tank.y_mm, tank.z_mm), tank.size_mm
    corners = [
        as_it_stands(tank, (low[0] + a * size[0], low[1] + b * size[1], low[2] + c * size[2]))
        for a, b, c in itertools.product((0, 1), repeat=3)
    ]
    up = 1 if board == "plan" else 2
    flat = shapely.MultiPoint([(c[0], c[up]) for c in corners]).convex_hull
    ring = list(flat.exterior.coords)[:-1]
    return [(x, v, low[2]) if board == "plan" else (x, low[1], v) for x, v in ring]


def _level(seen: Seen, vessel: Vessel) -> Iterator[Node]:
    """The fuel's surface in the elevation, pulled up and down by its end."""
    percent = seen.job.plan.fuel.level_percent
    ends = _surface(vessel, vessel.level_mm(vessel.full_l * percent / 100))
    line = [seen.project(end) for end in ends]
    yield Line(line, "fuel-level", title="the fuel stands here")
    if not seen.editable:
        return
    right = max(line, key=lambda point: point[0])
    along = []
    for share, level in _levels(vessel):
        _, v = seen.project(_surface(vessel, level)[1])
        along.append([round(right[0], 1), round(v, 1), share])
    yield Group(
        [], {"id": "line-side-level", "data-line": json.dumps(along, separators=(",", ":"))}
    )
    grip = {
        "class": "part grip grip-level",
        "tabindex": "0",
        "role": "button",
        "id": "grip-side-level",
        "data-up": "1",
        "data-high": "100",
        "aria-label": "level of the fuel: arrow keys move it",
        "data-along": "fuel.level_percent",
        "data-on": "line-side-level",
    }
    yield Group([Circle(right, HANDLE, "fuel-level-grip")], grip, title="pull the level")


def _levels(vessel: Vessel) -> Iterator[tuple[int, float]]:
    """Percents of a full tank with the height of each, near enough for a path to pull along."""
    heights = np.linspace(vessel.bottom_mm, vessel.top_mm, LEVEL_HEIGHTS)
    litres = [vessel.litres(float(height)) for height in heights]
    shares = range(0, 101, LEVEL_STEP)
    result = np.interp([share / 100 * litres[-1] for share in shares], litres, heights)
    yield from zip(shares, (float(height) for height in result), strict=True)


def _surface(vessel: Vessel, level_mm: float) -> tuple[Vec3, Vec3]:
    """The ends of a level surface as the elevation sees it."""
    across = vessel.middle[1]
    if vessel.turn_deg or vessel.tilt_along_deg or vessel.tilt_across_deg:
        ends = vessel.corners[:, 0]
        return (float(ends.min()), across, level_mm), (float(ends.max()), across, level_mm)
    if vessel.lying == "along":
        return (vessel.start_mm, across, level_mm), (vessel.end_mm, across, level_mm)
    inside = min(max(level_mm, vessel.bottom_mm), vessel.top_mm)
    low, high = span_at(vessel.section, inside) or (vessel.middle[0], vessel.middle[0])
    return (low, across, level_mm), (high, across, level_mm)


def _tank(seen: Seen, tank: OwnTank) -> Iterator[Node]:
    project, board = seen.project, seen.board
    marks: list[Node] = [
        Line([project(corner) for corner in _corners(tank, board)], "fuel-tank", closed=True)
    ]
    neck, direction = neck_of(tank)
    marks.append(
        Line(
            [project(neck), project(add(neck, scale(direction, FILLER_MM)))],
            "fuel-filler-neck",
            title="filled here",
        )
    )
    grip = {"class": "part"}
    if seen.editable:
        grip = {
            "class": "part grip grip-tank",
            "data-drag": "tank",
            "data-place": "fuel.tank",
            "data-board": board,
            "tabindex": "0",
            "role": "button",
            "aria-label": "tank: arrow keys move it",
            "id": f"grip-{board}-tank",
        }
    yield Group(marks, grip, title="tank of its own")


def _part(seen: Seen, run: FuelRun, part: LinePart) -> Iterator[Node]:
    at = seen.project(run.geometry.point_at(min(part.at_mm, run.length_mm)))
    if part.kind == "clip":
        yield Circle(at, 1.8, "fuel-clip", title="clip")
        return
    marks: list[Node] = [Circle(at, HANDLE, f"fuel-{part.kind}")]
    if part.kind == "flex":
        stretch = run.geometry.stretch(part.at_mm, min(part.at_mm + part.length_mm, run.length_mm))
        marks = [Line([seen.project(point) for point in stretch], "fuel-flex", width=6.0)]
    if part.kind == "pump" and seen.board == "side":
        marks = list(_pump(seen, run, at))
    if not seen.editable:
        yield Group(marks, {"class": "part"}, title=part.kind)
        return
    grip = {
        "class": "part grip grip-fitting",
        "tabindex": "0",
        "role": "button",
        "id": f"grip-{seen.board}-{part.id}",
        "aria-label": f"{part.kind} of the fuel line: arrow keys move it along",
        "data-along": f"fuel.line.parts.{part.id}.at_mm",
        "data-on": f"line-{seen.board}-fuel",
    }
    if part.kind == "pump":
        grip |= {
            "data-turn": "fuel.line.pump.tilt_deg",
            "aria-label": "pump: arrow keys move it along, R and Shift R turn it",
        }
    yield Group([*marks, Circle(at, 4.0, "fitting-grip")], grip, title=part.kind)
    if part.kind == "pump" and seen.board == "side":
        yield from _turn(run, at)


def _turn(run: FuelRun, at: Point) -> Iterator[Node]:
    """The pump's outlet end, by which it is turned."""
    turns = range(-90, 91, TURN_STEP_DEG)
    rim = [[*(round(value, 1) for value in _turned(at, turn, TURN_PX)), turn] for turn in turns]
    yield Group([], {"id": "line-side-turn", "data-line": json.dumps(rim, separators=(",", ":"))})
    grip = {
        "class": "part grip grip-turn",
        "tabindex": "0",
        "role": "button",
        "id": "grip-side-turn",
        "data-up": "1",
        "data-low": "-90",
        "data-high": "90",
        "data-along": "fuel.line.pump.tilt_deg",
        "data-on": "line-side-turn",
        "aria-label": "outlet end of the pump: arrow keys turn it",
    }
    end = _turned(at, run.line.pump.tilt_deg, TURN_PX)
    yield Group([Circle(end, 4.5, "fuel-turn-grip")], grip, title="turn the pump")


def _turned(at: Point, tilt_deg: float, radius_px: float = BAND_PX) -> Point:
    """A point of a rim round the pump, of the band's where nothing else is said."""
    tilt = math.radians(tilt_deg)
    return (at[0] + math.cos(tilt) * radius_px, at[1] - math.sin(tilt) * radius_px)


def _pump(seen: Seen, run: FuelRun, at: Point) -> Iterator[Node]:
    """The pump as it hangs, seen from the side: the sheet's band, its body tilted, an arrow in the
    way it pumps.
    """
    tilt = math.radians(run.line.pump.tilt_deg)
    dx, dy = math.cos(tilt) * PUMP_PX, -math.sin(tilt) * PUMP_PX
    low, high = (at[0] - dx, at[1] - dy), (at[0] + dx, at[1] + dy)
    band = limit_band(seen.job, "pump_tilt_deg")
    if band is not None and band.minimum is not None and band.maximum is not None:
        rim = [
            _turned(at, band.minimum + (band.maximum - band.minimum) * step / BAND_STEPS)
            for step in range(BAND_STEPS + 1)
        ]
        yield Line(
            [at, *rim], "fuel-pump-band", closed=True, title="where the outlet end may point"
        )
    yield Line([low, high], "fuel-pump-body", width=9.0)
    start, end = (low, high) if run.line.pump.forwards else (high, low)
    yield Line(arrow_head(start, end), "fuel-pump-arrow", closed=True)
    words = format_quantity(run.line.pump.tilt_deg, "deg", seen.system)
    yield Text((at[0] + 14, at[1] + 18), words, "fuel-pump-words")


def _bends(run: FuelRun, project: Project, board: str) -> Iterator[Node]:
    points = run.geometry.points
    for number, node in enumerate(run.line.nodes, 1):
        at = project((node.x_mm, node.y_mm, node.z_mm))
        grip = {
            "class": "part grip grip-node",
            "data-drag": f"fuel-{node.id}",
            "data-place": f"fuel.line.nodes.{node.id}",
            "data-board": board,
            "tabindex": "0",
            "role": "button",
            "aria-label": f"bend {number} of the fuel line: arrow keys move it",
            "id": f"grip-{board}-fuel-{node.id}",
            "data-near": near([points[number - 1], points[number + 1]]),
        }
        marks: list[Node] = [
            Circle(at, HANDLE, "node fuel-node"),
            Text((at[0], at[1] + 4), str(number), "node-name", "middle"),
        ]
        yield Group(marks, grip, title=f"bend {number} of the fuel line")
