"""In whose air a point lies: of a zone, of the living space, of the cab, or outside."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.air import LIVING, Zone
from gale_nook.core.vehicle.floor import floor_finish_z_mm, floor_underside_z_mm

OUTSIDE, CAB = "outside", "cab"


def zone_box(job: Job, zone: Zone) -> tuple[Vec3, Vec3]:
    """Return low and high corner of a zone, from the walked-on floor to the roof where its heights
    are left out.
    """
    shell = job.plan.vehicle.shell
    low = zone.low_z_mm if zone.low_z_mm is not None else floor_finish_z_mm(job)
    high = zone.high_z_mm if zone.high_z_mm is not None else shell.inside_height_mm
    return (zone.from_x_mm, zone.left_y_mm, low), (zone.to_x_mm, zone.right_y_mm, high)


@dataclass(frozen=True, slots=True)
class _Bounds:
    """What `place_of` asks, worked out once for a plan."""

    under_mm: float
    half_outside_mm: float
    half_inside_mm: float
    zones: tuple[tuple[str, Vec3, Vec3], ...]


@fact
def _bounds(job: Job) -> _Bounds:
    shell = job.plan.vehicle.shell
    return _Bounds(
        floor_underside_z_mm(job) - 1.0,
        shell.outer_width_mm / 2,
        shell.floor_width_mm / 2,
        tuple((zone.id, *zone_box(job, zone)) for zone in job.plan.air.zones),
    )


def place_of(job: Job, point: Vec3) -> str:
    """Return the id of the zone that a point lies in, or LIVING, CAB or OUTSIDE."""
    (x, y, z), known = point, _bounds(job)
    shell = job.plan.vehicle.shell
    if z < known.under_mm or abs(y) > known.half_outside_mm:
        return OUTSIDE
    for zone_id, low, high in known.zones:
        if low[0] <= x <= high[0] and low[1] <= y <= high[1] and low[2] <= z <= high[2]:
            return zone_id
    if shell.bulkhead_x_mm <= x <= shell.rear_x_mm and abs(y) <= known.half_inside_mm:
        return LIVING
    inside = shell.front_x_mm <= x < shell.bulkhead_x_mm
    return CAB if inside else OUTSIDE


def set_c(job: Job, place: str) -> float:
    """Return the temperature that a place is to have; outside that of the coldest night, in a cab
    that is no zone the cab's.
    """
    heat = job.plan.heat
    if place == OUTSIDE:
        return heat.outside_c
    zone = job.plan.air.zone(place)
    if zone is not None:
        return zone.set_c if zone.set_c is not None else heat.inside_c
    if place == CAB and heat.cab != "inside":
        return heat.cab_c if heat.cab_c is not None else heat.outside_c
    return heat.inside_c
