"""The fan convector of a coolant loop that blows into ducts."""

from __future__ import annotations

from gale_nook.core.base.heater_sheet import FanCurve
from gale_nook.core.catalogue.coolant import LoopPartKind
from gale_nook.core.ducts.fan import FanValues
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.coolant import LoopPart

Ducted = tuple[LoopPart, LoopPartKind]
OVER_THERMOSTAT_K = 20.0  # an engine on a hill


@fact
def ducted_convector(job: Job) -> Ducted | None:
    """Return the convector that ducts begin at; None where they begin at the heater, and where it
    is of a kind that cannot blow into any.
    """
    wanted = job.plan.air.convector
    if job.plan.heater.medium != "coolant" or wanted is None:
        return None
    part = job.plan.coolant.part(wanted)
    if part is None:
        return None
    kind = job.catalogue.coolant_equipment.part(part.kind)
    return (part, kind) if kind.duct_mm > 0 else None


@fact
def ducts_wanted(job: Job) -> bool:
    """Return whether warm air is to go into ducts: the heater's, or a convector's."""
    if job.plan.heater.medium == "coolant":
        return ducted_convector(job) is not None
    return job.plan.air.warm_end == "duct"


def convector_fan(job: Job, step: int) -> FanValues | None:
    """Return the fan of the convector that ducts begin at, at one of its steps; None where it
    stands still. By the affinity laws its pressure goes with the square of what it blows free.
    """
    found = ducted_convector(job)
    if found is None:
        return None
    _, kind = found
    blows = [each.air_m3_h for each in kind.fans]
    free = blows[min(step, len(blows) - 1)] if blows else 0.0
    if free <= 0:
        return None
    pressure = kind.static_pa * (free / max(blows)) ** 2
    curve = FanCurve(static_pressure_pa=pressure, free_flow_m3_h=free, duct_mm=kind.duct_mm)
    inlet = kind.inlet_mm or kind.duct_mm
    return FanValues(curve, 1.0, 1.0, 1.0, hottest_coolant_c(job), kind.duct_mm, inlet, ())


def hottest_coolant_c(job: Job) -> float:
    """Return the hottest that coolant, and with it the air of a convector, can get: where the
    heater pauses, or what an engine in the loop gives.
    """
    works, sheet = job.catalogue.coolant_equipment, heater_sheet(job)
    side = sheet.loop if sheet is not None and sheet.loop is not None else works.typical
    kinds = (works.part(part.kind) for part in job.plan.coolant.parts)
    engines = (k.opens_at_c + OVER_THERMOSTAT_K for k in kinds if k.kind == "engine")
    return max(side.to_pause_c, *engines, 0.0)
