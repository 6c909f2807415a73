"""Filling the line for the first time, by the pump, a hand bulb or a syringe: how long that really
takes, from the best to the worst that is usual.

Until fuel is at it a dosing pump moves air, of which a stroke takes less than of fuel; the filter's
bowl has to fill, and the pick-up as far as it stands dry.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.catalogue.fuel import PrimingTool
from gale_nook.core.fuel.line import FuelRun
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job

OVER_TIP_MM = 30.0  # so far over the pick-up's tip fuel has to stand before priming


@dataclass(frozen=True, slots=True)
class PrimeStretch:
    """A stretch to fill.

    Attributes:
        volume_ml: with everything before the fuel dry.
        least, most: strokes, squeezes or pulls.
    """

    name: str
    volume_ml: float
    least: int
    most: int


@dataclass(frozen=True, slots=True)
class Prime:
    """Filling the line.

    Attributes:
        by: "pump", "bulb" or "syringe"; then the pump fills what lies behind it.
        counted: what of it is counted, in words.
        volume_ml: of the line, dry.
        least_minutes, most_minutes: of all stretches.
        upright: the pump is held upright meanwhile, as its sheet says.
        fill_to_l: that have to be in the tank before; None where no tank is known.
    """

    by: str
    counted: str
    stretches: tuple[PrimeStretch, ...]
    volume_ml: float
    least_minutes: float
    most_minutes: float
    upright: bool
    fill_to_l: float | None

    @property
    def least(self) -> int:
        return sum(stretch.least for stretch in self.stretches)

    @property
    def most(self) -> int:
        return sum(stretch.most for stretch in self.stretches)


def volume_ml(length_mm: float, bore_mm: float) -> float:
    """Return what a stretch of line holds.

    >>> round(volume_ml(1000, 2.0), 3)
    3.142
    """
    return math.pi / 4 * bore_mm**2 * length_mm / 1000


def pick_up_bore_mm(job: Job, run: FuelRun) -> float:
    """Return the bore of the pick-up's pipe: its own, or the line's where none was measured."""
    own = job.plan.fuel.pick_up_bore_mm
    return own if own is not None else run.suction.bore_mm


def prime(job: Job, run: FuelRun) -> Prime | None:
    """Return what it takes to fill the line; None without a heater."""
    sheet = heater_sheet(job)
    if sheet is None:
        return None
    works, by = job.catalogue.fuel_equipment, job.plan.fuel.priming
    dose, pump = sheet.output.dose_ml, works.pump
    before = _before_the_pump(job, run)
    behind = volume_ml(run.pressure_mm, run.pressure.bore_mm)
    if by == "pump":
        low, high = pump.air_share
        sizes = (dose * high, dose * low)
        seconds = 1.0 / pump.prime_hz
    else:
        tool = works.tool(by)
        sizes, seconds = _sizes(tool), tool.seconds
    stretches = [_stretch(name, dry, full, sizes) for name, dry, full in before]
    least_s = seconds * sum(stretch.least for stretch in stretches)
    most_s = seconds * sum(stretch.most for stretch in stretches)
    if behind > 0:
        name = f"to the heater, {run.pressure.label}"
        through = by == "syringe"  # it draws through the pump, from the heater's end
        on = sizes if through else (dose, dose)
        stretch = _stretch(name, behind, behind, on)
        stretches.append(stretch)
        each_s = seconds if through else 1.0 / pump.prime_hz
        least_s += each_s * stretch.least
        most_s += each_s * stretch.most
    return Prime(
        by,
        "strokes" if by == "pump" else works.tool(by).counted,
        tuple(stretches),
        sum(stretch.volume_ml for stretch in stretches),
        least_s / 60,
        most_s / 60,
        sheet.pump_upright and by != "syringe",
        _fill_to_l(run),
    )


def _sizes(tool: PrimingTool) -> tuple[float, float]:
    """What a squeeze or pull moves, at the best and at the worst."""
    low, high = tool.share
    return tool.volume_ml * high, tool.volume_ml * low


def _before_the_pump(job: Job, run: FuelRun) -> list[tuple[str, float, float]]:
    """Each stretch with what of it is dry at the most, and at the least."""
    results = []
    tip = run.supply.tip if job.plan.fuel.source != "tee-auxiliary" else None  # it runs already
    if tip is not None and run.supply.start[2] > tip[2]:
        bore, top = pick_up_bore_mm(job, run), run.supply.start[2]
        surface = run.supply.surface_mm(job.plan.fuel.level_percent)
        wet = min(max(surface - tip[2], 0.0), top - tip[2]) if surface is not None else 0.0
        whole = volume_ml(top - tip[2], bore)
        results.append(("pick-up pipe", whole, whole - volume_ml(wet, bore)))
    bowl = job.catalogue.fuel_equipment.pump.bowl_ml if run.filter_mm is not None else 0.0
    if bowl > 0 and (run.pump_mm is None or (run.filter_mm or 0.0) <= run.pump_mm):
        results.append(("filter's bowl", bowl, bowl * BOWL_FILLS))
    own = volume_ml(run.suction_mm, run.suction.bore_mm)
    results.append((f"to the pump, {run.suction.label}", own, own))
    return [each for each in results if each[1] > 0]


BOWL_FILLS = 0.5  # so much of the bowl at the least before fuel leaves it


def _stretch(name: str, dry_ml: float, least_ml: float, sizes: tuple[float, float]) -> PrimeStretch:
    best, worst = sizes
    return PrimeStretch(name, dry_ml, math.ceil(least_ml / best), math.ceil(dry_ml / worst))


def _fill_to_l(run: FuelRun) -> float | None:
    """What has to be in the tank: fuel over the pick-up's tip, which a tank that was emptied for
    the work has not.
    """
    supply = run.supply
    if supply.vessel is None or supply.tip is None:
        return None
    return min(supply.vessel.litres(supply.tip[2] + OVER_TIP_MM), supply.vessel.full_l)
