"""What an entry says of the fuel that was used, how well it is known, and why it may not count."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.catalogue.log import LogBook
from gale_nook.core.fuel.line import vehicle_tank
from gale_nook.core.fuel.tank import Vessel, vessel_of, vessel_of_solid
from gale_nook.core.job import Job, fact
from gale_nook.core.log.entries import LogEntry

ON_A_SLOPE = 3.0  # times as far off a dip may be
LEAST_L = 0.05
WALL_MM = 3.0


@dataclass(frozen=True, slots=True)
class Used:
    """Litres of a night.

    Attributes:
        litres: None where the entry does not tell.
        sd_l: by which they may be off, one standard deviation.
        doubt: why it does not count; empty where it does.
    """

    litres: float | None
    sd_l: float = 0.0
    doubt: str = ""


@fact
def log_vessel(job: Job) -> Vessel | None:
    """Return the tank that the stick goes into; None where its shape is not known."""
    tank = job.plan.fuel.tank
    if tank is not None:
        return vessel_of(tank)
    solid = vehicle_tank(job)
    return vessel_of_solid(solid, WALL_MM) if solid is not None else None


DIP_STEP_MM = 2.0


@fact
def dip_table(job: Job) -> tuple[Any, Any] | None:
    """Return depths on the stick and litres below them; None where the tank's shape is not known.
    A season has thousands of dips.
    """
    vessel = log_vessel(job)
    if vessel is None:
        return None
    deepest = vessel.top_mm - vessel.bottom_mm
    depths = np.linspace(0.0, deepest, int(deepest / DIP_STEP_MM) + 2)
    return depths, np.array([vessel.litres(vessel.bottom_mm + float(d)) for d in depths])


def used(job: Job, entry: LogEntry) -> Used:
    """Return what an entry says of the night's fuel."""
    book = job.catalogue.log
    if entry.litres is not None:
        return _judged(job, entry, entry.litres, max(0.03 * entry.litres, LEAST_L))
    before, after = entry.stick_before_mm, entry.stick_after_mm
    if before is None or after is None:
        return Used(None, doubt="Neither litres nor both dips were written down.")
    table = dip_table(job)
    if table is None:
        return Used(None, doubt="The tank's shape is not known: type the litres.")
    depths, below = table
    if max(before, after) > depths[-1]:
        return Used(None, doubt=f"A dip is deeper than the tank, {depths[-1]:.0f} mm.")
    dips = (before - 2, before, before + 2, after - 2, after, after + 2)
    there = np.interp(dips, depths, below)
    off = book.stick_mm * (ON_A_SLOPE if entry.slope else 1.0) / 4.0
    sd = math.hypot((there[2] - there[0]) * off, (there[5] - there[3]) * off)
    took = float(there[1] - there[4]) + entry.refilled_l
    return _judged(job, entry, took, max(float(sd), LEAST_L))


def _judged(job: Job, entry: LogEntry, litres: float, sd_l: float) -> Used:
    if entry.drove and job.plan.fuel.tank is None:
        return Used(litres, sd_l, "It was driven on the same tank: nobody knows who used what.")
    if litres < -sd_l:
        return Used(
            litres, sd_l, "There was more after the night than before: was it filled in between?"
        )
    if entry.hours_h is None or entry.lowest_c is None:
        return Used(litres, sd_l, "Hours and the lowest temperature outside are missing.")
    return Used(max(litres, 0.0), sd_l)


def noise_l(book: LogBook, predicted_l: float, sd_l: float) -> float:
    """Return by how much a night's litres may differ from what a true model says."""
    return math.hypot(max(book.litres_share * predicted_l, book.litres_least), sd_l)
