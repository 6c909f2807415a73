"""A season of entries against the plan: each night measured and predicted, what does not fit, and
what was learned.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.job import Job
from gale_nook.core.log.entries import LogEntry, day_number
from gale_nook.core.log.learning import (
    LEAST_NIGHTS,
    Band,
    Fit,
    data_of,
    fit,
    predicted,
    predicted_ah,
)
from gale_nook.core.log.measured import Used, used
from gale_nook.core.log.night_model import (
    Conditions,
    NightTable,
    charge_ah,
    conditions,
    litres,
    log_factors,
    night_table,
)

OFF_WEIGHT = 0.45  # of a night in the fit, under which it does not fit
DRIFT_NIGHTS, DRIFT_SD = 12, 3.0  # so many nights, and so sure, before a drift is told
DAYS_A_MONTH = 30.4


@dataclass(frozen=True)
class NightLine:
    """A night.

    Attributes:
        planned_l, planned_ah: by the plan as it is; low_l, learned_l, high_l, low_ah, high_ah: by
            what was learned, with its 90 % band; None without a heater.
        reasons: why it may not fit, the likeliest first; none where it fits.
    """

    entry: LogEntry
    used: Used
    planned_l: float | None = None
    planned_ah: float | None = None
    low_l: float | None = None
    learned_l: float | None = None
    high_l: float | None = None
    low_ah: float | None = None
    high_ah: float | None = None
    reasons: tuple[str, ...] = ()

    @property
    def counts(self) -> bool:
        return self.used.litres is not None and not self.used.doubt


@dataclass(frozen=True)
class Drift:
    """It burns more, or less, than at the beginning of the season.

    Attributes:
        percent_a_month: of what is predicted.
        since: day of the first night that was looked at.
    """

    percent_a_month: float
    since: str


@dataclass(frozen=True)
class Season:
    """All of it.

    Attributes:
        fit: None before there are enough nights, or without a heater.
        off_percent, learned_percent: by which the plan, and what was learned, miss a night, in the
            median.
    """

    nights: tuple[NightLine, ...]
    fit: Fit | None
    drift: Drift | None
    off_percent: float | None
    learned_percent: float | None
    litres: float
    hours_h: float
    starts: float
    idle_h: float

    @property
    def counted(self) -> int:
        return sum(night.counts for night in self.nights)


def season(job: Job, entries: Sequence[LogEntry]) -> Season:
    """Return the season of some entries, in any order."""
    told = sorted((e for e in entries if e.kind == "night"), key=lambda e: (e.on, e.id))
    measured = [used(job, entry) for entry in told]
    table = night_table(job)
    filled = sum(each.litres or 0.0 for each in measured if not each.doubt)
    hours = sum(entry.hours_h or 0.0 for entry in told)
    if table is None or not told:
        lines = tuple(NightLine(e, u) for e, u in zip(told, measured, strict=True))
        return Season(lines, None, None, None, None, filled, hours, 0.0, 0.0)
    return _with_model(job, table, told, measured)


def _with_model(
    job: Job, table: NightTable, told: Sequence[LogEntry], measured: Sequence[Used]
) -> Season:
    at = conditions(table, told, job.plan.heat.sleepers)
    now = log_factors(job.plan.heat.learned)
    planned, planned_ah = litres(table, at, now), charge_ah(table, at, now)
    counted = [n for n, each in enumerate(measured) if each.litres is not None and not each.doubt]
    some = Conditions(at.difference_k[counted], at.hours_h[counted], at.people_w[counted])
    data = data_of(
        some,
        [told[n] for n in counted],
        [measured[n].litres for n in counted],
        [measured[n].sd_l for n in counted],
    )
    found = fit(table, data) if len(counted) >= LEAST_NIGHTS else None
    sd = np.array([each.sd_l for each in measured])
    bands = (
        _Bands(predicted(table, found, at, sd), predicted_ah(table, found, at))
        if found is not None
        else None
    )
    weights = dict(zip(counted, found.weights, strict=True)) if found is not None else {}
    lines = tuple(
        _line(table, told[n], measured[n], (planned[n], planned_ah[n]), bands, n, weights)
        for n in range(len(told))
    )
    known_h = np.nan_to_num(at.hours_h)
    starts = np.interp(at.difference_k, table.differences_k, table.starts_h) * known_h
    idle = np.interp(at.difference_k, table.differences_k, table.idle_h) * known_h
    read = data.litres_l
    return Season(
        lines,
        found,
        _drift(table, found, told, counted, some, read) if found is not None else None,
        _miss(planned[counted], read),
        _miss(bands.litres.middle[counted], read) if bands is not None else None,
        float(read.sum()),
        float(sum(entry.hours_h or 0.0 for entry in told)),
        float(starts.sum()),
        float(idle.sum()),
    )


@dataclass(frozen=True)
class _Bands:
    """What was learned of some nights: litres and charge."""

    litres: Band
    charge: Band


def _line(  # noqa: PLR0913, PLR0917 - a night has that many parts
    table: NightTable,
    entry: LogEntry,
    measured: Used,
    planned: tuple[float, float],
    bands: _Bands | None,
    number: int,
    weights: dict[int, float],
) -> NightLine:
    if bands is None:
        return NightLine(entry, measured, float(planned[0]), float(planned[1]))
    band, charge = bands.litres, bands.charge
    reasons: tuple[str, ...] = ()
    if weights.get(number, 1.0) < OFF_WEIGHT and measured.litres is not None:
        is_high = measured.litres > band.middle[number]
        reasons = table.book.reasons_high if is_high else table.book.reasons_low
    return NightLine(
        entry,
        measured,
        float(planned[0]),
        float(planned[1]),
        float(band.low[number]),
        float(band.middle[number]),
        float(band.high[number]),
        float(charge.low[number]),
        float(charge.high[number]),
        reasons,
    )


def _miss(expected: Any, read: Any) -> float | None:
    """By how much of itself a night is missed, in the median, percent."""
    if len(read) == 0:
        return None
    return float(np.median(np.abs(read - expected) / np.maximum(expected, 0.1)) * 100)


def _drift(
    table: NightTable,
    found: Fit,
    told: Sequence[LogEntry],
    counted: Sequence[int],
    at: Conditions,
    read: Any,
) -> Drift | None:
    """A straight line through what nights took more than was learned, over the days, weighted as
    they fit; None where it may as well be level.
    """
    if len(counted) < DRIFT_NIGHTS:
        return None
    days = np.array([day_number(told[n].on) for n in counted], float)
    expected = np.maximum(litres(table, at, found.mode), 0.1)
    off, weight = read / expected - 1.0, np.minimum(found.weights, 1.0)
    middle = (weight * days).sum() / weight.sum()
    spread = (weight * (days - middle) ** 2).sum()
    if spread <= 0:
        return None
    slope = (weight * (days - middle) * (off - (weight * off).sum() / weight.sum())).sum() / spread
    left = off - (weight * off).sum() / weight.sum() - slope * (days - middle)
    sd = np.sqrt((weight * left**2).sum() / max(weight.sum() - 2, 1.0) / spread)
    if abs(slope) < DRIFT_SD * sd:
        return None
    return Drift(float(slope * DAYS_A_MONTH * 100), told[counted[0]].on)
