"""The fuel on the board: tank with its level, line with what is in it, the pump as it hangs, air where it would sit."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.derived import Derived
from gale_nook.core.findings.registry import sheet_band
from gale_nook.core.fuel.line import FuelRun, Supply, supply
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.plan.fuel import LinePart, OwnTank
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.labels import arrow_head
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.pipes import along_line
from gale_nook.drawing.scene import Circle, Group, Line, Node, Point, Project, Text

PUMP_PX, BAND_PX, BAND_STEPS, HANDLE = 15.0, 26.0, 12, 6.0


@dataclass(frozen=True)
class Seen:
    """One of the two drawings, and what is on it.

    Attributes:
        board: "plan" or "side".
        editable: grips are drawn too.
    """

    derived: Derived
    project: Project
    board: str
    editable: bool
    system: UnitSystem


def fuel_nodes(seen: Seen, m: Mapping) -> Iterator[Node]:
    """Yield tank, line, parts and, when editable, their grips."""
    derived, project = seen.derived, seen.project
    tank, run, source = own_tank(derived), derived.fuel_run, supply(derived)
    if tank is not None:
        yield from _tank(seen, tank, source)
    if source is not None:
        yield Circle(project(source.start), 3.2, "fuel-start", title="the line takes off here")
    if run is None:
        return
    line, width = [project(point) for point in run.geometry.centre_line], max(m.px(run.suction.outer_mm), 2.4)
    body = Line(line, "fuel-line", width=width, title="fuel line")
    yield Group([body], along_line(run.geometry, project, f"line-{seen.board}-fuel")) if seen.editable else body
    for hump in run.humps:
        yield Circle(project(hump.at), 7.0, "fuel-air", title="air will sit here")
    for part in run.line.parts:
        yield from _part(seen, run, part)
    if seen.editable:
        yield from _bends(run, project, seen.board)


def _corners(tank: OwnTank, board: str) -> list[Vec3]:
    low: Vec3 = (tank.x_mm, tank.y_mm, tank.z_mm)
    high = (low[0] + tank.size_mm[0], low[1] + tank.size_mm[1], low[2] + tank.size_mm[2])
    if board == "plan":
        return [low, (high[0], low[1], low[2]), (high[0], high[1], low[2]), (low[0], high[1], low[2])]
    return [low, (high[0], low[1], low[2]), (high[0], low[1], high[2]), (low[0], low[1], high[2])]


def _tank(seen: Seen, tank: OwnTank, source: Supply | None) -> Iterator[Node]:
    project, board = seen.project, seen.board
    marks: list[Node] = [Line([project(corner) for corner in _corners(tank, board)], "fuel-tank", closed=True)]
    if board == "side" and source is not None and source.vessel is not None:
        level = source.vessel.level_mm(source.vessel.full_l * seen.derived.plan.fuel.level_percent / 100)
        ends = [(tank.x_mm, tank.y_mm, level), (tank.x_mm + tank.size_mm[0], tank.y_mm, level)]
        marks.append(Line([project(end) for end in ends], "fuel-level", title="the fuel stands here"))
    grip = {"class": "part"}
    if seen.editable:
        grip = {
            "class": "part grip grip-tank", "data-drag": "tank", "data-place": "fuel.tank", "data-board": board, "tabindex": "0",
            "role": "button", "aria-label": "tank: arrow keys move it", "id": f"grip-{board}-tank",
        }  # fmt: skip
    yield Group(marks, grip, title="tank of its own")


def _part(seen: Seen, run: FuelRun, part: LinePart) -> Iterator[Node]:
    at = seen.project(run.geometry.point_at(min(part.at_mm, run.length_mm)))
    if part.kind == "clip":
        yield Circle(at, 1.8, "fuel-clip", title="clip")
        return
    marks: list[Node] = [Circle(at, HANDLE, f"fuel-{part.kind}")]
    if part.kind == "pump" and seen.board == "side":
        marks = list(_pump(seen, run, at))
    if not seen.editable:
        yield Group(marks, {"class": "part"}, title=part.kind)
        return
    grip = {
        "class": "part grip grip-fitting", "tabindex": "0", "role": "button", "id": f"grip-{seen.board}-{part.id}",
        "aria-label": f"{part.kind} of the fuel line: arrow keys move it along", "data-along": f"fuel.line.parts.{part.id}.at_mm",
        "data-on": f"line-{seen.board}-fuel",
    }  # fmt: skip
    if part.kind == "pump":
        grip |= {
            "data-turn": "fuel.line.pump.tilt_deg",
            "aria-label": "pump: arrow keys move it along, R and Shift R turn it",
        }
    yield Group([*marks, Circle(at, 4.0, "fitting-grip")], grip, title=part.kind)


def _turned(at: Point, tilt_deg: float) -> Point:
    """A point of the band's rim."""
    tilt = math.radians(tilt_deg)
    return (at[0] + math.cos(tilt) * BAND_PX, at[1] - math.sin(tilt) * BAND_PX)


def _pump(seen: Seen, run: FuelRun, at: Point) -> Iterator[Node]:
    """The pump as it hangs, seen from the side: the sheet's band, its body tilted, an arrow in the way it pumps."""
    tilt = math.radians(run.line.pump.tilt_deg)
    dx, dy = math.cos(tilt) * PUMP_PX, -math.sin(tilt) * PUMP_PX
    low, high = (at[0] - dx, at[1] - dy), (at[0] + dx, at[1] + dy)
    band = sheet_band(seen.derived, "pump_tilt_deg")
    if band is not None and band.minimum is not None and band.maximum is not None:
        rim = [
            _turned(at, band.minimum + (band.maximum - band.minimum) * step / BAND_STEPS)
            for step in range(BAND_STEPS + 1)
        ]
        yield Line([at, *rim], "fuel-pump-band", closed=True, title="where the outlet end may point")
    yield Line([low, high], "fuel-pump-body", width=9.0)
    start, end = (low, high) if run.line.pump.forwards else (high, low)
    yield Line(arrow_head(start, end), "fuel-pump-arrow", closed=True)
    words = format_quantity(run.line.pump.tilt_deg, "deg", seen.system)
    yield Text((at[0] + 14, at[1] + 18), words, "fuel-pump-words")


def _bends(run: FuelRun, project: Project, board: str) -> Iterator[Node]:
    points = run.geometry.points
    for number, node in enumerate(run.line.nodes, 1):
        near = [[round(value, 1) for value in point] for point in (points[number - 1], points[number + 1])]
        at = project((node.x_mm, node.y_mm, node.z_mm))
        grip = {
            "class": "part grip grip-node", "data-drag": f"fuel-{node.id}", "data-place": f"fuel.line.nodes.{node.id}", "data-board": board,
            "tabindex": "0", "role": "button", "aria-label": f"bend {number} of the fuel line: arrow keys move it",
            "id": f"grip-{board}-fuel-{node.id}", "data-near": json.dumps(near, separators=(",", ":")),
        }  # fmt: skip
        marks: list[Node] = [
            Circle(at, HANDLE, "node fuel-node"),
            Text((at[0], at[1] + 4), str(number), "node-name", "middle"),
        ]
        yield Group(marks, grip, title=f"bend {number} of the fuel line")
