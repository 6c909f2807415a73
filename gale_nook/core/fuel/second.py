"""A second user of one take-off: what both draw together, and which one runs short first."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.fuel.diesel import density_kg_m3
from gale_nook.core.fuel.hydraulics import (
    fuel_heads,
    has_second,
    line_loss_pa,
    shared_loss_pa,
)
from gale_nook.core.fuel.line import EMPTY, fuel_run
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.constants import GRAVITY_M_S2


@dataclass(frozen=True, slots=True)
class Together:
    """Both users at their most, with the tank down to the pick-up's tip.

    Attributes:
        ours_pa, theirs_pa: under-pressure at each pump's inlet.
        both_l_h: what they draw together; allows_l_h: that the take-off is made for; None where
            nobody has said which it is.
    """

    ours_pa: float
    theirs_pa: float
    both_l_h: float
    allows_l_h: float | None


@fact
def together(job: Job) -> Together | None:
    """Return both users; None without a second one, or without a line."""
    run, sheet, fuel = fuel_run(job), heater_sheet(job), job.plan.fuel
    if run is None or sheet is None or not has_second(job):
        return None
    works, second = job.catalogue.fuel_equipment, fuel.second
    grade, celsius = works.grade(fuel.grade), job.plan.heat.outside_c
    share = works.pump.stroke_share
    ours = max((head.suction_pa for _, head in fuel_heads(job)), default=0.0)
    surface = run.supply.surface_mm(EMPTY)
    flow = second.use_l_h / share
    theirs = shared_loss_pa(job, sheet.output.fuel_l_h_maximum / share)
    theirs += line_loss_pa(second.own_mm, second.own_bore_mm, flow, grade, celsius)
    theirs += works.pump.filter_pa / share
    if surface is not None:
        weight = density_kg_m3(grade, celsius) * GRAVITY_M_S2 / 1000
        theirs += weight * (second.pump_z_mm - surface)
    kind = works.take_off(fuel.take_off)
    both = sheet.output.fuel_l_h_maximum + second.use_l_h
    return Together(ours, theirs, both, kind.most_l_h if kind is not None else None)
