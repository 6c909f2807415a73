"""A night's litres and charge, by the plan's own simulation: tabulated over the temperature
difference, so that a season of nights is worked out at once.

The nights are steady: set to one temperature, cold outside by so much. From each simulated curve
comes what warming up takes, and what every hour takes after it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.catalogue.log import LogBook
from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heat.night import NightResult
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.plan.heat import Learned

DIFFERENCES_K = (5.0, 11.0, 18.0, 26.0, 36.0)
HOURS_H, WARMING_H = 12.0, 5.0  # of a simulated night, and of it until it is steady
LEAST_TIMES = 1.2  # by which the least output is raised, to see what that does
FACTORS = ("loss", "air", "consumption", "least", "charge")


@dataclass(frozen=True)
class NightTable:
    """What a night takes over the temperature difference, before anything was learned.

    Attributes:
        differences_k: rising, the first 0; (n,).
        warming_l, hourly_l: litres at once and in every hour; warming_ah, hourly_ah: charge.
        least_l: what hourly_l rises by for the natural logarithm of the least output.
        starts_h, idle_h: starts in an hour, and the share of it that is burnt at least output.
        air_share: of the loss that goes with the renewed air; loss_w_k: all of it.
        inside_c: that the plan has set; hours_h: of its night.
    """

    differences_k: Any
    warming_l: Any
    hourly_l: Any
    warming_ah: Any
    hourly_ah: Any
    least_l: Any
    starts_h: Any
    idle_h: Any
    air_share: float
    loss_w_k: float
    inside_c: float
    hours_h: float
    book: LogBook


@dataclass(frozen=True)
class Conditions:
    """Of some nights, (n,) each: how much colder the mean of the night was outside, hours, heat
    that people gave.
    """

    difference_k: Any
    hours_h: Any
    people_w: Any


@fact
def night_table(job: Job) -> NightTable | None:
    """Return the table; None without a heater."""
    sheet = heater_sheet(job)
    if sheet is None:
        return None
    plain = unlearned(job)
    loss = heat_loss(plain.plan, plain.catalogue)
    whole_w = loss.design_loss_w
    inside = plain.plan.heat.inside_c
    nights = [_steady(plain, difference) for difference in DIFFERENCES_K]
    raised = _raised(plain)
    more = [_steady(raised, difference) for difference in DIFFERENCES_K[:3]]
    hourly = np.array([0.0, *(_hourly(each.fuel_at_h) for each in nights)])
    least = np.zeros(len(nights) + 1)
    least[1:4] = [
        (_hourly(after.fuel_at_h) - now) / np.log(LEAST_TIMES)
        for after, now in zip(more, hourly[1:4], strict=True)
    ]
    volts = sheet.electrical.voltage_v
    ah = np.array([each.result.electricity_wh / volts for each in nights])
    return NightTable(
        np.array([0.0, *DIFFERENCES_K]),
        np.array(
            [0.0, *(each.fuel_at_h[0] - WARMING_H * _hourly(each.fuel_at_h) for each in nights)]
        ),
        hourly,
        np.zeros(len(nights) + 1),
        np.array([0.0, *(ah / HOURS_H)]),
        least,
        np.array([0.0, *(each.result.starts / HOURS_H for each in nights)]),
        np.array([1.0, *(each.result.idle_share for each in nights)]),
        loss.ventilation_w / whole_w if whole_w > 0 else 0.0,
        max(whole_w / (inside - loss.outside_c), 1.0),
        inside,
        plain.plan.heat.night.hours_h,
        job.catalogue.log,
    )


def unlearned(job: Job) -> Job:
    """Return the job as survey and sheet have it."""
    if job.plan.heat.learned == Learned():
        return job
    heat = job.plan.heat.model_copy(update={"learned": Learned()})
    return job.with_parts(heat=heat)


@dataclass(frozen=True, slots=True)
class _Steady:
    result: NightResult
    fuel_at_h: tuple[float, float]  # after WARMING_H, and at the end


def _steady(job: Job, difference_k: float) -> _Steady:
    heat = job.plan.heat
    inside = heat.inside_c
    outside = inside - difference_k
    night = heat.night.model_copy(
        update={"hours_h": HOURS_H, "start_c": outside, "night_c": inside, "timers": ()}
    )
    changed = heat.model_copy(
        update={
            "outside_c": outside,
            "mild_outside_c": max(outside, min(heat.mild_outside_c, inside)),
            "cab_c": None,
            "night": night,
        }
    )
    sheet = heater_sheet(job)
    result = fitted_night(job.with_parts(heat=changed), sheet.id if sheet is not None else "")
    start = result.samples[0].hour_h
    hours = [sample.hour_h - start for sample in result.samples]
    warmed = float(np.interp(WARMING_H, hours, [sample.fuel_l for sample in result.samples]))
    return _Steady(result, (warmed, result.fuel_l))


def _hourly(fuel_at_h: tuple[float, float]) -> float:
    return max(fuel_at_h[1] - fuel_at_h[0], 0.0) / (HOURS_H - WARMING_H)


def _raised(job: Job) -> Job:
    heat = job.plan.heat.model_copy(update={"learned": Learned(least=LEAST_TIMES)})
    return job.with_parts(heat=heat)


def conditions(table: NightTable, entries: Sequence[LogEntry], sleepers: int) -> Conditions:
    """Return under what some nights stood; what was not written down is as the plan has it.

    Only nights with an outside temperature are worth anything; the others get that of a mild one.
    """
    book = table.book
    set_c = np.array([table.inside_c if e.set_c is None else e.set_c for e in entries], float)
    lowest = np.array([0.0 if e.lowest_c is None else e.lowest_c for e in entries], float)
    hours = np.array([table.hours_h if e.hours_h is None else e.hours_h for e in entries], float)
    people = np.array([sleepers if e.people is None else e.people for e in entries], float)
    return Conditions(set_c - (lowest + book.night_over_lowest_k), hours, people * book.person_w)


def litres(table: NightTable, at: Conditions, log_factors: Any) -> Any:
    """Return the litres of some nights, (n,), with factors by their natural logarithms, (5,)."""
    reached = _reached_k(table, at, log_factors)
    warming = np.interp(reached, table.differences_k, table.warming_l)
    hourly = _interpolated(table, reached, table.hourly_l)
    least = np.interp(reached, table.differences_k, table.least_l)
    burnt = warming + (hourly + log_factors[3] * least) * at.hours_h
    return np.exp(log_factors[2]) * np.maximum(burnt, 0.0)


def charge_ah(table: NightTable, at: Conditions, log_factors: Any) -> Any:
    """Return the charge of some nights, (n,)."""
    reached = _reached_k(table, at, log_factors)
    return np.exp(log_factors[4]) * _interpolated(table, reached, table.hourly_ah) * at.hours_h


def _reached_k(table: NightTable, at: Conditions, log_factors: Any) -> Any:
    """The difference at which the surveyed vehicle would lose as much."""
    share = table.air_share
    times = (1 - share) * np.exp(log_factors[0]) + share * np.exp(log_factors[1])
    return np.maximum(at.difference_k * times - at.people_w / table.loss_w_k, 0.0)


def _interpolated(table: NightTable, reached_k: Any, values: Any) -> Any:
    """Between the table's nights in a straight line, and on in that of its last two."""
    last = table.differences_k[-1]
    slope = (values[-1] - values[-2]) / (last - table.differences_k[-2])
    inside = np.interp(reached_k, table.differences_k, values)
    return inside + slope * np.maximum(reached_k - last, 0.0)


def log_factors(learned: Learned) -> Any:
    """Return factors as their natural logarithms, (5,), in the order of FACTORS."""
    return np.log([getattr(learned, name) for name in FACTORS])
