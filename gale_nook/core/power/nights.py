"""How many nights the battery lasts: what a night takes, what comes in by day."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.power import ChargeSource
from gale_nook.core.power.supply import battery_now, night_ah

HOURS_A_DAY = 24.0


@dataclass(frozen=True, slots=True)
class Nights:
    """The battery's household.

    Attributes:
        heater_ah, others_ah: drawn in the coldest night; comes_in_ah: by day.
        usable_ah: in the battery before it should be charged.
        nights: until then; infinite where as much comes in as is drawn, and the first is held.
        standby_ah: drawn in the idle days.
    """

    heater_ah: float
    others_ah: float
    comes_in_ah: float
    usable_ah: float
    nights: float
    standby_ah: float

    @property
    def night_ah(self) -> float:
        return self.heater_ah + self.others_ah


def day_ah(source: ChargeSource, charge_share: float) -> float:
    """Return what comes in on a day and is kept."""
    if source.kind == "typed":
        return source.charge_ah
    return source.hours_h * source.current_a * charge_share


@fact
def nights(job: Job) -> Nights | None:
    """Return it; None without battery or heater."""
    battery, heater_ah, sheet = battery_now(job), night_ah(job), heater_sheet(job)
    if battery is None or heater_ah is None or sheet is None:
        return None
    power = job.plan.power
    share = job.catalogue.power_equipment.charge_share
    others = sum(load.charge_ah for load in power.loads)
    comes_in = sum(day_ah(source, share) for source in power.charging)
    idle_h = power.idle_days * HOURS_A_DAY
    standby = sheet.electrical.standby_w / sheet.electrical.voltage_v * idle_h
    return Nights(
        heater_ah,
        others,
        comes_in,
        battery.usable_ah,
        lasting(battery.usable_ah, heater_ah + others, comes_in),
        standby,
    )


def lasting(usable_ah: float, night_ah: float, comes_in_ah: float) -> float:
    """Return how many nights there is enough for, the last one in part: each night is drawn first,
    and what comes in by day is kept after it.

    >>> lasting(50.0, 20.0, 0.0), lasting(50.0, 20.0, 5.0), lasting(50.0, 20.0, 20.0)
    (2.5, 3.0, inf)
    """
    if night_ah <= 0:
        return math.inf
    if usable_ah < night_ah:
        return usable_ah / night_ah
    net = night_ah - comes_in_ah
    return 1 + (usable_ah - night_ah) / net if net > 0 else math.inf
