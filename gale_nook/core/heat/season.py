"""The season: how many hours lie at each outside temperature, and what each heater
makes of them.
"""

from __future__ import annotations

import bisect
import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.envelope import Region
from gale_nook.core.heat.loss import LossModel
from gale_nook.core.plan.climate import Climate, climate_of
from gale_nook.core.plan.document import Plan

MONTH_HOURS = (744, 672, 744, 720, 744, 720, 744, 744, 720, 744, 720, 744)
ROUNDING = 1e-6  # hours: a share times a sum is not quite whole
BIN_MIDDLE_K = 0.5  # a bin holds what was rounded down


@dataclass(frozen=True, slots=True)
class SeasonBin:
    """One degree of the chosen months: hours, and the loss at its middle."""

    celsius: float
    hours: int
    loss_w: float


@dataclass(frozen=True, slots=True)
class HeaterSeason:
    """One heater's season: hours in which it cycles for want of a load, serves, or falls short."""

    sheet_id: str
    cycling_h: int
    served_h: int
    short_h: int


def region_climate(region: Region) -> Climate:
    """Return a region's climate: each month's hours normally distributed round its mean."""
    counts: dict[tuple[int, int], int] = {}
    for month, (mean, hours) in enumerate(zip(region.mean_c, MONTH_HOURS, strict=True), 1):
        reach, spread = math.ceil(3.5 * region.spread_k), NormalDist(mean, region.spread_k)
        for celsius in range(math.floor(mean) - reach, math.ceil(mean) + reach):
            share = spread.cdf(celsius + 1) - spread.cdf(celsius)
            if round(share * hours) > 0:
                counts[month, celsius] = round(share * hours)
    return climate_of(region.label, region.source, counts)


def hours_by_degree(climate: Climate) -> list[tuple[int, int]]:
    """Return (°C, hours) of the chosen months, coldest first."""
    totals: dict[int, int] = {}
    for month, celsius, hours in climate.bins():
        if month in climate.months and hours:
            totals[celsius] = totals.get(celsius, 0) + hours
    return sorted(totals.items())


def design_temperature_c(climate: Climate, exceeded_share: float) -> float | None:
    """Return the temperature that is exceeded for a share of the whole year's hours; 1 gives the
    coldest hour.

    Within a bin the hours are spread evenly. None for a climate without hours.
    """
    totals: dict[int, int] = {}
    for _, celsius, hours in climate.bins():
        totals[celsius] = totals.get(celsius, 0) + hours
    ordered = [(celsius, hours) for celsius, hours in sorted(totals.items()) if hours]
    if not ordered:
        return None
    left = (1 - exceeded_share) * sum(hours for _, hours in ordered)
    for celsius, hours in ordered:
        if left <= hours + ROUNDING:
            return celsius + min(left / hours, 1.0)
        left -= hours
    return float(ordered[-1][0] + 1)


def season(plan: Plan, catalogue: Catalogue) -> tuple[SeasonBin, ...]:
    """Return the heated hours of the chosen months: those in which the load space loses heat. Empty
    without a climate.
    """
    climate = plan.heat.climate
    if climate is None:
        return ()
    model = LossModel(plan, catalogue)
    return tuple(
        SeasonBin(middle, hours, model.at(middle).design_loss_w)
        for middle, hours in _heated(plan, climate)
    )


def milder_half(degrees: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Return the milder half of hours by degree, coldest first; the degree in the middle with what
    is left of it.

    >>> milder_half([(0.5, 10), (1.5, 4), (2.5, 4)])
    [(0.5, 1.0), (1.5, 4), (2.5, 4)]
    """
    left, result = sum(hours for _, hours in degrees) / 2, []
    for celsius, hours in reversed(degrees):
        if left <= 0:
            break
        result.append((celsius, min(hours, left)))
        left -= hours
    return result[::-1]


def idle_share(plan: Plan, model: LossModel, least_w: float) -> float | None:
    """Return the share of the milder half of the season in which the loss lies under a heater's
    least output.

    None without weather, or where nothing is heated. The loss falls as it gets milder, so one
    degree divides the hours.
    """
    climate = plan.heat.climate
    heated = _heated(plan, climate) if climate is not None else []
    milder, all_hours = milder_half(heated), dict(heated)
    if not milder:
        return None

    def under(degree: tuple[float, float]) -> bool:
        return model.at(degree[0]).design_loss_w < least_w

    first = bisect.bisect_left(milder, True, key=under)
    whole = sum(hours for _, hours in milder[first + 1 :])
    # the loss passes the least output within one of the degrees round the first
    parts = sum(
        hours * _share_under(model, celsius, hours / all_hours[celsius], least_w)
        for celsius, hours in milder[max(first - 1, 0) : first + 1]
    )
    return (whole + parts) / sum(hours for _, hours in milder)


def _share_under(model: LossModel, middle_c: float, share: float, limit_w: float) -> float:
    """The share of a degree's milder part, its hours spread evenly, in which the loss is under a
    limit.
    """
    warm_c = middle_c + BIN_MIDDLE_K
    cold, warm = (model.at(celsius).design_loss_w for celsius in (warm_c - share, warm_c))
    return _under(limit_w, cold, warm)


def _under(limit: float, cold: float, warm: float) -> float:
    """The share of a line from one value down to another that lies under a limit."""
    if cold <= warm:
        return float(warm < limit)
    return min(max((limit - warm) / (cold - warm), 0.0), 1.0)


def _heated(plan: Plan, climate: Climate) -> list[tuple[float, int]]:
    """Return (middle of the degree, hours) in which the load space loses heat, coldest first."""
    middles = [(celsius + BIN_MIDDLE_K, hours) for celsius, hours in hours_by_degree(climate)]
    return [(middle, hours) for middle, hours in middles if middle < plan.heat.inside_c]


def heater_season(sheet: HeaterSheet, most_w: float, bins: Sequence[SeasonBin]) -> HeaterSeason:
    """Return what one heater makes of the season."""
    hours = sum(each.hours for each in bins)
    cycling = round(_hours_under(bins, sheet.output.minimum_w))
    short = hours - round(_hours_under(bins, most_w))
    return HeaterSeason(sheet.id, cycling, hours - cycling - short, short)


def _hours_under(bins: Sequence[SeasonBin], limit_w: float) -> float:
    """Return the hours in which the loss is under a limit; within a degree it falls evenly."""
    total = 0.0
    for before, here, after in zip((None, *bins), bins, (*bins[1:], None), strict=False):
        cold = (before.loss_w + here.loss_w) / 2 if before is not None else None
        warm = (after.loss_w + here.loss_w) / 2 if after is not None else None
        low = warm if warm is not None else 2 * here.loss_w - (cold or here.loss_w)
        high = cold if cold is not None else 2 * here.loss_w - low
        total += here.hours * _under(limit_w, high, low)
    return total
