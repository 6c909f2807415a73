"""Lowering the vehicle's tank: what it weighs, how far it has to come down, and how far its hoses
let it.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.fuel.line import supply, vehicle_tank
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.fuel import HoldsTank
from gale_nook.core.vehicle.floor import floor_underside_z_mm

AT_ITS_TOP = ("take-off", "stand-pipe")
GETS_AT = {"hose", "cable"}


@dataclass(frozen=True, slots=True)
class Drop:
    """The tank on its way down.

    Attributes:
        weight_kg: with what is left in it.
        free_mm: over its top now; lower_mm: that it has to come down for a hand with its tool.
        lets_mm: that it can come down with every hose and cable on; first: what stops it there.
    """

    weight_kg: float
    free_mm: float
    lower_mm: float
    lets_mm: float | None
    first: HoldsTank | None


@fact
def tank_drop(job: Job) -> Drop | None:
    """Return the drop; None where the line does not take off at the vehicle tank's top."""
    fuel, source = job.plan.fuel, supply(job)
    tank = vehicle_tank(job)
    if fuel.source not in AT_ITS_TOP or source is None or source.vessel is None or tank is None:
        return None
    grade = job.catalogue.fuel_equipment.grade(fuel.grade)
    weight = fuel.drop.empty_kg + fuel.drop.left_l * grade.density_kg_m3 / 1000
    free = max(floor_underside_z_mm(job) - source.vessel.top_mm, 0.0)
    tied = [each for each in fuel.drop.holds if each.kind in GETS_AT]
    first = min(tied, key=lambda each: each.lets_down_mm, default=None)
    return Drop(
        weight,
        free,
        max(fuel.drop.reach_mm - free, 0.0),
        first.lets_down_mm if first is not None else None,
        first,
    )
