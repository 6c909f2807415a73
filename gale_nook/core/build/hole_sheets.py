"""Drill sheets of every hole of the job beside the mount's: leads, ducts, hoses, pipes through
panels, brackets.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from gale_nook.core.build.drill import (
    BELOW_TITLE,
    FROM_ABOVE,
    FROM_BELOW,
    WAYS,
    drill_sheet,
    offsets_to,
)
from gale_nook.core.build.drill_sheet import DrillFace, DrillHole, DrillSheet, Offset
from gale_nook.core.build.face_drill import ALONG_BULKHEAD, ALONG_WALL
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.obstacles import solid_obstacles
from gale_nook.core.station import HoleLine
from gale_nook.core.stations import STATIONS
from gale_nook.core.vehicle.floor import floor_finish_z_mm

ROUND_MM = 30.0  # so near a part's face a hole belongs to that part
FROM_FLOOR = "the finished floor"
BY_ITSELF = "the hole's middle"
IN_FLOOR = "Through the floor, ribs and what lies on it"
BLIND = "Drilled from below, with a stop"


def drill_sheets(job: Job) -> tuple[DrillSheet, ...]:
    """Return the mount's sheet, then one for each other hole, in the order of the list of holes."""
    mount = drill_sheet(job)
    first = (mount,) if mount is not None else ()
    return (*first, *hole_sheets(job))


def hole_sheets(job: Job) -> tuple[DrillSheet, ...]:
    """Return a sheet for each hole that is not of the mount."""
    holes = (hole for station in STATIONS if station.word != "spot" for hole in station.holes(job))
    return tuple(_sheet(job, hole) for hole in holes)


def _sheet(job: Job, hole: HoleLine) -> DrillSheet:
    sheet = heater_sheet(job)
    middle = (hole.x_mm, hole.y_mm)
    drilled = DrillHole(hole.name, 0.0, 0.0, hole.diameter_mm, hole.saw, 1)
    result = DrillSheet(
        job=job.plan.name,
        heater=sheet.label if sheet is not None else job.plan.name,
        mount=hole.name,
        middle_mm=middle,
        holes=(drilled,),
        faces=(),
        depth_mm=None,
        transfer_mm=None,
        passes=BLIND,
        look="",
        cross=BY_ITSELF,
    )
    if hole.z_mm is None:
        inside, under = offsets_to(job, "inside", middle), offsets_to(job, "below", middle)
        above = DrillFace("inside", "Inside, seen from above", inside, 1, 1, FROM_ABOVE, WAYS)
        below = DrillFace("below", BELOW_TITLE, under, 1, -1, FROM_BELOW, WAYS)
        if not hole.through:
            return replace(result, faces=(below,))
        return replace(result, faces=(above, below), passes=IN_FLOOR, look="from below")
    high = q(round(hole.z_mm - floor_finish_z_mm(job)))
    where = f"Through a panel or a wall, {high} over the finished floor; look behind it first"
    return replace(result, faces=(_panel_face(job, hole),), passes=where)


def _panel_face(job: Job, hole: HoleLine) -> DrillFace:
    """The face of what a hole over the floor goes through, by the way that it goes."""
    x, y, z = hole.x_mm, hole.y_mm, hole.z_mm or 0.0
    way = [abs(each) for each in (*hole.through, 0.0, 0.0, 0.0)[:3]]
    if way[2] >= max(way[0], way[1]):
        flat = offsets_to(job, "inside", (x, y))
        return DrillFace("inside", "Lying panel, seen from above", flat, 1, 1, FROM_ABOVE, WAYS)
    height = z - floor_finish_z_mm(job)
    up = Offset(FROM_FLOOR, 0.0, height, abs(height))
    lengthwise = way[1] >= way[0]
    along = x if lengthwise else y
    name, edge = _nearest_edge(job, (x, y, z), 0 if lengthwise else 1)
    beside = Offset(name, along - edge, 0.0, abs(along - edge))
    if lengthwise:
        title = "Lengthwise panel, seen from the middle of the vehicle"
        sides = ("UP", "DOWN", "FRONT", "REAR")
        return DrillFace("inside", title, (up, beside), 1 if y >= 0 else -1, 1, sides, ALONG_WALL)
    title = "Panel across, seen from behind, looking forward"
    across = ("UP", "DOWN", "LEFT SIDE", "RIGHT SIDE")
    return DrillFace("inside", title, (up, beside), 1, 1, across, ALONG_BULKHEAD)


def _nearest_edge(job: Job, at: tuple[float, float, float], axis: int) -> tuple[str, float]:
    """The edge along an axis that is nearest to a hole: of the part that it goes through, or of
    the room where it is none of the survey's.
    """
    return min(_edges(job, at, axis), key=lambda edge: abs(edge[1] - at[axis]))


def _edges(job: Job, at: tuple[float, float, float], axis: int) -> Iterator[tuple[str, float]]:
    ends = ("front end", "rear end") if axis == 0 else ("left end", "right end")
    own = [
        obstacle
        for obstacle in solid_obstacles(job, "inside")
        if all(
            low - ROUND_MM <= value <= high + ROUND_MM
            for low, value, high in zip(
                obstacle.shape.bounds[:3], at, obstacle.shape.bounds[3:], strict=True
            )
        )
    ]
    for obstacle in own:
        bounds = obstacle.shape.bounds
        yield f"{obstacle.name}'s {ends[0]}", bounds[axis]
        yield f"{obstacle.name}'s {ends[1]}", bounds[axis + 3]
    if own:
        return
    shell = job.plan.vehicle.shell
    if axis == 0:
        yield "the bulkhead", shell.bulkhead_x_mm
        yield "the rear doors", shell.rear_x_mm
    else:
        yield "the left wall", -shell.floor_width_mm / 2
        yield "the right wall", shell.floor_width_mm / 2
