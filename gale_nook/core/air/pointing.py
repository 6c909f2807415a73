"""Outlets that are only pointed at, for trees of ducts to be looked for."""

from __future__ import annotations

from gale_nook.core.ducts.places import OUTSIDE, place_of, zone_box
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.air import LIVING, MOST_WANTED, WantedOutlet
from gale_nook.core.vehicle.floor import floor_finish_z_mm

ABOVE_FLOOR_MM, ABOVE_BED_MM = 120.0, 400.0  # usual heights of outlets


def pointed_outlet(job: Job, x_mm: float, y_mm: float, z_mm: float | None = None) -> WantedOutlet:
    """Return an outlet at a place in plan, in the zone that lies there, at a usual height; at a
    height that is given.

    Raises:
        BadInput: the place is outside, or there are as many as a tree is looked for to.
    """
    wanted = job.plan.air.wanted
    if len(wanted) >= MOST_WANTED:
        raise BadInput("outlet", None, f"A tree is looked for to up to {MOST_WANTED} outlets.")
    point = (x_mm, y_mm, z_mm) if z_mm is not None else _at_usual_height(job, x_mm, y_mm)
    place = place_of(job, point)
    if place == OUTSIDE:
        raise BadInput("outlet", None, "That is outside: point at a place inside the vehicle.")
    air = job.plan.air
    zone = place if air.zone(place) is not None else LIVING
    taken = {outlet.name for outlet in wanted}
    name = f"{air.zone_name(zone)} outlet"
    if name in taken:
        name = next(f"{name} {n}" for n in range(2, 99) if f"{name} {n}" not in taken)
    x, y, z = (round(value, 1) for value in point)
    return WantedOutlet(
        id=fresh_id(wanted, "outlet"), name=name[:80], x_mm=x, y_mm=y, z_mm=z, zone=zone
    )


def _at_usual_height(job: Job, x_mm: float, y_mm: float) -> Vec3:
    """Low in the room; in a zone that begins higher up, above its floor."""
    for zone in job.plan.air.zones:
        low, high = zone_box(job, zone)
        if low[0] <= x_mm <= high[0] and low[1] <= y_mm <= high[1]:
            above = ABOVE_BED_MM if zone.low_z_mm is not None else ABOVE_FLOOR_MM
            return (x_mm, y_mm, min(low[2] + above, (low[2] + high[2]) / 2))
    return (x_mm, y_mm, floor_finish_z_mm(job) + ABOVE_FLOOR_MM)


def outlet_in_the_middle(job: Job) -> WantedOutlet:
    """Return an outlet in the middle of the first zone that has none, else of the living space.

    Raises:
        BadInput: there are as many as a tree is looked for to.
    """
    air, shell = job.plan.air, job.plan.vehicle.shell
    led_to = {outlet.zone for outlet in air.wanted}
    zone = next((zone for zone in air.zones if zone.id not in led_to), None)
    if zone is not None and LIVING in led_to:
        low, high = zone_box(job, zone)
        return pointed_outlet(job, (low[0] + high[0]) / 2, (low[1] + high[1]) / 2)
    return pointed_outlet(job, (shell.bulkhead_x_mm + shell.rear_x_mm) / 2, 0.0)
