"""The electrics on the board: battery, leads with what is on them, controller, alarms."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from gale_nook.core.job import Job
from gale_nook.core.plan.power import LeadPart
from gale_nook.core.power.alarm_places import alarm_area
from gale_nook.core.power.leads import LeadRun, lead_runs, sensor_place
from gale_nook.drawing.line_grips import (
    LineOnPaper,
    along_line,
    bend_grips,
    movable,
    straight_grips,
)
from gale_nook.drawing.scene import Circle, Group, Line, Node, Project, Rect, Strokes, Text

RADIUS_MM = 20.0
BATTERY_PX, CONTROLLER_PX, ALARM_PX = (26.0, 16.0), (12.0, 16.0), 8.0
SLEEVE_PX, HATCH_MM = 9.0, 160.0
WIDTHS = {"supply": 4.4, "pump": 2.6, "controller": 2.6, "sensor": 2.0}
DATA_PARTS = {"clip": 1.8, "hole": 5.0, "joint": 4.0, "fuse": 6.0, "loop": 5.0, "guard": 4.0}


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


def power_nodes(seen: Seen) -> Iterator[Node]:
    """Yield leads, battery, controller and alarms; while they are edited, where a CO alarm is
    clear too.
    """
    if seen.editable:
        yield from _alarm_area(seen)
    for run in lead_runs(seen.job):
        yield from _lead(seen, run)
    power = seen.job.plan.power
    if power.battery is not None:
        b = power.battery
        at = (b.x_mm, b.y_mm, b.z_mm)
        yield _thing(seen, "battery", "power.battery", _battery(seen.project(at)), "battery")
    controller = power.controller
    if controller is not None:
        at = (controller.x_mm, controller.y_mm, controller.z_mm)
        u, v = seen.project(at)
        mark: list[Node] = [
            Rect((u - 6, v - 8), CONTROLLER_PX, "power-controller", 2.0),
            Line([(u - 3, v - 4), (u + 3, v - 4)], "power-mark"),
        ]
        yield _thing(seen, "controller", "power.controller", mark, "controller")
        sensor = sensor_place(seen.job)
        if controller.sensor == "lead" and sensor is not None:
            yield Circle(seen.project(sensor), 4.0, "power-sensor", title="sensor")
    for alarm in power.alarms:
        at = (alarm.x_mm, alarm.y_mm, alarm.z_mm)
        u, v = seen.project(at)
        word = "CO" if alarm.kind == "co" else "smoke"
        mark = [
            Circle((u, v), ALARM_PX, f"power-alarm power-{alarm.kind}"),
            Text((u, v + 4), word if word == "CO" else "S", "node-name", "middle"),
        ]
        address = f"power.alarms.{alarm.id}"
        yield _thing(seen, f"alarm-{alarm.id}", address, mark, f"{word} alarm")


def _alarm_area(seen: Seen) -> Iterator[Node]:
    """Hatched in plan at the height of a sleeper's head; in the elevation the usual heights."""
    found = alarm_area(seen.job)
    if found is None:
        return
    low_x, low_y, high_x, high_y = found.area.bounds
    if seen.board == "side":
        corners = [(low_x, found.low_z_mm), (low_x, found.high_z_mm)]
        corners += [(high_x, found.high_z_mm), (high_x, found.low_z_mm)]
        ring = [seen.project((x, 0.0, z)) for x, z in corners]
        yield Line(ring, "alarm-edge", closed=True, title="heights that are usual for a CO alarm")
        return
    reach = high_y - low_y
    starts = np.arange(low_x - reach, high_x, HATCH_MM)
    lines = shapely.linestrings([[(x, low_y), (x + reach, high_y)] for x in starts])
    cut = shapely.get_parts(shapely.intersection(lines, found.area))
    pairs = [[seen.project((x, y, found.z_mm)) for x, y in line.coords] for line in cut]
    yield Strokes([(pair[0], pair[-1]) for pair in pairs if len(pair) > 1], "alarm-hatch")
    middle = found.area.representative_point()
    yield Text(seen.project((middle.x, middle.y, found.z_mm)), "CO alarm clear here", "label")
    for part in shapely.get_parts(found.area):
        for edge in (part.exterior, *part.interiors):
            ring = [seen.project((x, y, found.z_mm)) for x, y in edge.coords]
            yield Line(ring, "alarm-edge", closed=True, title="where a CO alarm is clear")


def _battery(at: tuple[float, float]) -> list[Node]:
    u, v = at
    return [
        Rect((u - 13, v - 6), BATTERY_PX, "power-battery", 2.0),
        Rect((u - 9, v - 9), (5, 3), "power-post"),
        Rect((u + 4, v - 9), (5, 3), "power-post"),
        Line([(u - 9, v + 2), (u - 3, v + 2)], "power-mark"),
        Line([(u - 6, v - 1), (u - 6, v + 5)], "power-mark"),
        Line([(u + 3, v + 2), (u + 9, v + 2)], "power-mark"),
    ]


def _thing(seen: Seen, name: str, address: str, marks: list[Node], title: str) -> Node:
    if not seen.editable:
        return Group(marks, {"class": "part"}, title=title)
    grip = {
        "class": "part grip grip-node",
        "data-drag": f"power-{name}",
        "data-place": address,
        "data-board": seen.board,
        "tabindex": "0",
        "role": "button",
        "aria-label": movable(title),
        "id": f"grip-{seen.board}-power-{name}",
    }
    return Group(marks, grip, title=title)


def _lead(seen: Seen, run: LeadRun) -> Iterator[Node]:
    line = [seen.project(point) for point in run.geometry.centre_line]
    kind, width = run.lead.id, WIDTHS[run.lead.id]
    # two strokes, one in the other, make a double line
    body: list[Node] = [
        Line(line, f"power-lead lead-{kind}", width=width, title=run.name),
        Line(line, "power-core", width=width / 3),
    ]
    name = f"line-{seen.board}-power-{kind}"
    yield (
        Group(body, along_line(run.geometry, seen.project, name)) if seen.editable else Group(body)
    )
    if seen.editable:
        collection = f"power.leads.{kind}.nodes"
        pulled = LineOnPaper(
            f"power-{kind}", collection, seen.board, seen.project, width, RADIUS_MM
        )
        yield from straight_grips(run.geometry, run.lead.nodes, pulled)
    for part in run.lead.parts:
        yield from _part(seen, run, part)
    if seen.editable:
        yield from bend_grips(run.geometry, run.lead.nodes, pulled, run.name, "power-node")


def _part(seen: Seen, run: LeadRun, part: LeadPart) -> Iterator[Node]:
    at = seen.project(run.geometry.point_at(min(part.at_mm, run.drawn_mm)))
    if part.kind == "guard":
        to_mm = min(part.at_mm + part.length_mm, run.drawn_mm)
        covered = run.geometry.stretch(min(part.at_mm, to_mm), to_mm)
        yield Line([seen.project(point) for point in covered], "power-sleeve", width=SLEEVE_PX)
    mark = Circle(at, DATA_PARTS[part.kind], f"power-part power-{part.kind}")
    if not seen.editable or part.kind == "clip":
        yield Group([mark], {"class": "part"}, title=f"{part.kind} of the {run.name}")
        return
    grip = {
        "class": "part grip grip-fitting",
        "tabindex": "0",
        "role": "button",
        "id": f"grip-{seen.board}-power-{run.lead.id}-{part.id}",
        "aria-label": f"{part.kind} of the {run.name}: arrow keys move it along it",
        "data-along": f"power.leads.{run.lead.id}.parts.{part.id}.at_mm",
        "data-on": f"line-{seen.board}-power-{run.lead.id}",
    }
    yield Group([mark, Circle(at, 4.0, "fitting-grip")], grip, title=f"{part.kind}, {run.name}")
