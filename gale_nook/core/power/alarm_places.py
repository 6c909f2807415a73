"""Where a CO alarm usually hangs: as high as a sleeper's head, by the bed, away from fresh air."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import shapely

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.vehicle import Opening
from gale_nook.core.vehicle.parts import opening_box, surveyed_parts

BEDS = {"bed", "bed-box"}
HEAD_MM, NO_BED_MM = 350.0, 900.0  # a head over the bed's top; over the floor where there is no bed
ROOF_MM = 200.0
ARC_STEPS = 32  # to a quarter circle: within 0.3 mm on the largest


@dataclass(frozen=True)
class AlarmArea:
    """Where an alarm is clear at one height.

    Attributes:
        area: in plan, a shapely polygon or several.
        z_mm: the height that it holds for.
        low_z_mm, high_z_mm: heights that are usual.
    """

    area: Any
    z_mm: float
    low_z_mm: float
    high_z_mm: float


def bed_shapes(job: Job) -> list[Shape]:
    """Return the beds that were surveyed."""
    return [shape for _, kind, shape in surveyed_parts(job) if kind.id in BEDS]


def head_z_mm(job: Job) -> float:
    """Return how high a sleeper's head lies, under the roof of a low vehicle."""
    head = next((shape.bounds[5] + HEAD_MM for shape in bed_shapes(job)), NO_BED_MM)
    return min(head, job.plan.vehicle.shell.inside_height_mm - ROOF_MM)


@fact
def alarm_area(job: Job) -> AlarmArea | None:
    """Return where a CO alarm is clear at the height of a sleeper's head; None where no bed was
    surveyed, or no place is clear.
    """
    beds, near = bed_shapes(job), limit_band(job, "alarm_sleeper_mm")
    head, roof = limit_band(job, "alarm_head_mm"), limit_band(job, "alarm_roof_mm")
    if not beds or near is None or head is None or roof is None:
        return None
    z_mm, top = head_z_mm(job), min(shape.bounds[5] for shape in beds)
    area = shapely.difference(
        shapely.intersection(_room(job), _around(beds, z_mm, near.maximum)),
        shapely.union_all(
            [_around(beds, z_mm, near.minimum), _fresh_air(job, z_mm), _stands_there(job, z_mm)]
        ),
    )
    if area.is_empty:
        return None
    under_roof = job.plan.vehicle.shell.inside_height_mm - (roof.minimum or 0.0)
    high = min(top + (head.maximum or math.inf), under_roof)
    return AlarmArea(area, z_mm, top + (head.minimum or 0.0), high)


def _room(job: Job) -> Any:
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    return shapely.box(shell.bulkhead_x_mm, -half, shell.rear_x_mm, half)


def _around(shapes: list[Shape], z_mm: float, away_mm: float | None) -> Any:
    """What lies within a distance of some shapes, cut at a height."""
    results = []
    for shape in shapes:
        low, high = shape.bounds[2], shape.bounds[5]
        reach = _reach_mm(z_mm, low, high, away_mm or 0.0)
        if reach is not None:
            results.append(shape.footprint.area.buffer(reach, quad_segs=ARC_STEPS))
    return shapely.union_all(results)


def _reach_mm(z_mm: float, low_mm: float, high_mm: float, away_mm: float) -> float | None:
    """How far in plan a distance in space reaches, from something between two heights."""
    above = max(low_mm - z_mm, z_mm - high_mm, 0.0)
    return math.sqrt(away_mm**2 - above**2) if above < away_mm else None


def _fresh_air(job: Job, z_mm: float) -> Any:
    """Where air from a window, door or vent that opens hides the gas."""
    clear = limit_band(job, "alarm_opening_mm")
    results = []
    for opening in job.plan.vehicle.openings:
        (x, y, z), (length, width, height) = as_seen_inside(job, opening)
        away = clear.minimum if clear is not None else None
        reach = _reach_mm(z_mm, z, z + height, away or 0.0)
        if opening.opens and reach is not None:
            box = shapely.box(x, y, x + length, y + width)
            results.append(box.buffer(reach, quad_segs=ARC_STEPS))
    return shapely.union_all(results)


def as_seen_inside(job: Job, opening: Opening) -> tuple[Vec3, Vec3]:
    """Return low corner and size of an opening through the whole wall: its air is at hand from the
    inner face on.
    """
    (x, y, z), (length, width, height) = opening_box(job, opening)
    half = job.plan.vehicle.shell.floor_width_mm / 2
    if opening.face == "right":
        y, width = min(y, half), max(y + width - half, width)
    elif opening.face == "left":
        width = max(-half - y, width)
    return (x, y, z), (length, width, height)


def _stands_there(job: Job, z_mm: float) -> Any:
    """What stands in the room at a height: an alarm in it is shut in."""
    there = (shape for _, kind, shape in surveyed_parts(job) if kind.where == "inside")
    return shapely.union_all(
        [s.footprint.area for s in there if s.bounds[2] <= z_mm <= s.bounds[5]]
    )


def shut_in_by(job: Job, at: Vec3) -> str:
    """Return the name of what an alarm stands in; empty where it hangs in the room."""
    point = shapely.Point(at[:2])
    for solid, kind, shape in surveyed_parts(job):
        between = shape.bounds[2] <= at[2] <= shape.bounds[5]
        if kind.where == "inside" and between and shape.footprint.area.covers(point):
            return solid.name
    return ""
