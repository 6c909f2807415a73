"""A boat as it heels and trims: how high its points come to lie over still water.

For a heel φ and a trim τ that a boat has both at once, down is (tan τ, tan φ, -1) made a unit
vector; a point's height is its distance along that from the water's surface, which passes through
the point that the boat pivots about.
"""

from __future__ import annotations

from gale_nook.core.geometry.frames import Vec3, dot, sub
from gale_nook.core.geometry.parked import LEVEL, Parked, parked_attitudes
from gale_nook.core.job import Job
from gale_nook.core.vehicle.lean import lean_of


def pivot_of(job: Job) -> Vec3:
    """Return the point in the water's surface about which a boat heels and trims."""
    shell, hull = job.plan.vehicle.shell, job.plan.vehicle.hull
    middle = (shell.front_x_mm + shell.rear_x_mm) / 2
    return (hull.pivot_x_mm if hull.pivot_x_mm is not None else middle, 0.0, hull.waterline_z_mm)


def attitudes_afloat(job: Job) -> tuple[Parked, ...]:
    """Return how a boat may lie: level, and heeled and trimmed each way at its worst."""
    return (LEVEL, *parked_attitudes(lean_of(job)))


def over_water_mm(job: Job, point: Vec3, parked: Parked) -> float:
    """Return how high a point lies over still water; negative under it."""
    return -dot(parked.down, sub(point, pivot_of(job)))


def least_over_water(job: Job, point: Vec3) -> tuple[float, Parked]:
    """Return how high a point lies over still water at its worst, and how the boat lies then."""
    return min(
        ((over_water_mm(job, point, parked), parked) for parked in attitudes_afloat(job)),
        key=lambda found: found[0],
    )


def under_water(job: Job, point: Vec3) -> Vec3:
    """Return the place in the level water's surface straight under a point, to draw it to."""
    return (point[0], point[1], job.plan.vehicle.hull.waterline_z_mm)
