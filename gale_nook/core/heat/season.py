"""The season: how many hours lie at each outside temperature, and what each heater makes of them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from gale_nook.core.catalogue import Catalogue, Region
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heater.choice import derated_w
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
        reach = math.ceil(3.5 * region.spread_k)
        for celsius in range(math.floor(mean) - reach, math.ceil(mean) + reach):
            share = _below(celsius + 1 - mean, region.spread_k) - _below(celsius - mean, region.spread_k)
            if round(share * hours) > 0:
                counts[month, celsius] = round(share * hours)
    return climate_of(region.label, region.source, counts)


def _below(offset_k: float, spread_k: float) -> float:
    return 0.5 * (1 + math.erf(offset_k / spread_k / math.sqrt(2)))


def hours_by_degree(climate: Climate) -> list[tuple[int, int]]:
    """Return (°C, hours) of the chosen months, coldest first."""
    totals: dict[int, int] = {}
    for month, celsius, hours in climate.bins():
        if month in climate.months and hours:
            totals[celsius] = totals.get(celsius, 0) + hours
    return sorted(totals.items())


def design_temperature_c(climate: Climate, exceeded_share: float) -> float | None:
    """Return the temperature that is exceeded for a share of the whole year's hours; 1 gives the coldest hour.

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
    """Return the heated hours of the chosen months: those in which the load space loses heat. Empty without a climate."""
    climate = plan.heat.climate
    if climate is None:
        return ()
    found = []
    for celsius, hours in hours_by_degree(climate):
        middle = celsius + BIN_MIDDLE_K
        if middle < plan.heat.inside_c:
            found.append(SeasonBin(middle, hours, heat_loss(plan, catalogue, middle).design_loss_w))
    return tuple(found)


def heater_seasons(plan: Plan, catalogue: Catalogue, bins: Sequence[SeasonBin]) -> tuple[HeaterSeason, ...]:
    """Return what every heater of the catalogue makes of the season."""
    found = []
    for sheet in catalogue.heaters.values():
        most = derated_w(sheet.output, plan.heat.altitude_m)
        cycling = sum(b.hours for b in bins if b.loss_w < sheet.output.minimum_w)
        short = sum(b.hours for b in bins if b.loss_w > most)
        found.append(HeaterSeason(sheet.id, cycling, sum(b.hours for b in bins) - cycling - short, short))
    return tuple(found)
