"""What the drill sheet says: the holes of the mount, measured from named features on both faces of
the floor.
"""

from __future__ import annotations

import math
from typing import Literal

from gale_nook.core.build.drill_sheet import DrillFace, DrillHole, DrillSheet, Offset
from gale_nook.core.build.face_drill import face_drill_sheet
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.vehicle import Feature
from gale_nook.core.spot.placement import floor_holes, floor_stack_mm
from gale_nook.core.spot.transfer import transfer_of
from gale_nook.core.spot.work import saw_of

Face = Literal["inside", "below"]
FACES: tuple[Face, Face] = ("inside", "below")
PILOT_DRILL_MM = 3.0
NOTHING_TO_DRILL = (
    "There is nothing to drill yet: it follows from a heater, its mount and its place."
)
FROM_ABOVE = ("RIGHT SIDE OF THE VEHICLE", "LEFT SIDE", "FRONT", "REAR")
FROM_BELOW = ("LEFT SIDE OF THE VEHICLE", "RIGHT SIDE", "FRONT", "REAR")
WAYS = ("behind it", "ahead of it", "towards the vehicle's right", "towards the vehicle's left")
BELOW_TITLE = "From below, mirrored: as you see it lying there"
LEAST_SPREAD_DEG = 25.0  # two tapes that meet flatter than this leave the point open


def drill_sheet(job: Job) -> DrillSheet | None:
    """Return the drill sheet; None without heater, spot and a mount with holes."""
    spot = job.plan.spot
    mount = chosen_mount(job)
    sheet = heater_sheet(job)
    if mount is not None and mount.through != "floor":
        return face_drill_sheet(job)
    if spot is None or mount is None or sheet is None or not floor_holes(job):
        return None
    middle = (spot.x_mm, spot.y_mm)
    transfer = transfer_of(job.plan)
    here = transfer.here if transfer is not None else None
    below = here.centre if here is not None else middle
    inside, under = offsets_to(job, "inside", middle), offsets_to(job, "below", below)
    return DrillSheet(
        job=job.plan.name,
        heater=sheet.label,
        mount=mount.label,
        middle_mm=middle,
        holes=_drill_holes(job, middle),
        faces=(
            DrillFace("inside", "Inside, seen from above", inside, 1, 1, FROM_ABOVE, WAYS),
            DrillFace("below", BELOW_TITLE, under, 1, -1, FROM_BELOW, WAYS),
        ),
        depth_mm=floor_stack_mm(job),
        transfer_mm=here.long_mm if here is not None else None,
        passes="Depth through floor and ribs",
        look="from below",
    )


def _drill_holes(job: Job, middle: tuple[float, float]) -> tuple[DrillHole, ...]:
    """The holes in the order that they are cut in, the largest first."""
    ordered = sorted(floor_holes(job), key=lambda hole: (-max(hole.reach_mm), hole.name))
    return tuple(
        DrillHole(
            h.name,
            h.x_mm - middle[0],
            h.y_mm - middle[1],
            h.diameter_mm,
            saw_of(h),
            order,
            h.half_x_mm,
            h.half_y_mm,
        )
        for order, h in enumerate(ordered, 1)
    )


def offsets_to(job: Job, face: Face, middle: tuple[float, float]) -> tuple[Offset, ...]:
    """Return two features to measure a place from: the nearest, and the nearest that crosses it
    well; else datum and flank.
    """
    mirrored = job.plan.vehicle.below_mirrored
    placed = [
        (f, at) for f in job.plan.vehicle.features if (at := _at(f, face, mirrored)) is not None
    ]
    placed.sort(key=lambda pair: math.dist(pair[1], middle))
    results = [_offset(feature.name, at, middle) for feature, at in placed[:1]]
    for feature, at in placed[1:]:
        if _crossing_deg(placed[0][1], at, middle) >= LEAST_SPREAD_DEG:
            results.append(_offset(feature.name, at, middle))
            break
    if len(results) < 2:
        shell, side = job.plan.vehicle.shell, 1 if middle[1] >= 0 else -1
        flank = side * (shell.floor_width_mm if face == "inside" else shell.outer_width_mm) / 2
        name = (
            f"{'right' if side > 0 else 'left'} {'wall' if face == 'inside' else 'sill'}, "
            "square to it"
        )
        datum = Offset(f"datum: {job.plan.vehicle.datum}", middle[0], middle[1], abs(middle[0]))
        results = [*results, datum, Offset(name, 0.0, middle[1] - flank, abs(middle[1] - flank))]
    return tuple(results)


def _at(feature: Feature, face: Face, mirrored: bool) -> tuple[float, float] | None:
    if face == "inside" or feature.below is None:
        return feature.inside if face == "inside" else None
    return (feature.below[0], -feature.below[1] if mirrored else feature.below[1])


def _offset(name: str, at: tuple[float, float], middle: tuple[float, float]) -> Offset:
    return Offset(name, middle[0] - at[0], middle[1] - at[1], math.dist(at, middle))


def _crossing_deg(
    one: tuple[float, float], other: tuple[float, float], middle: tuple[float, float]
) -> float:
    """Return the angle at which tapes from two points cross at the middle, 0 to 90."""
    a = math.atan2(one[1] - middle[1], one[0] - middle[0]) - math.atan2(
        other[1] - middle[1], other[0] - middle[0]
    )
    return math.degrees(math.asin(min(abs(math.sin(a)), 1.0)))
