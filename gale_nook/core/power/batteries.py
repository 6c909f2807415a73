"""The battery: its voltage at rest, its resistance, and what can be drawn from it."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.catalogue.power import Chemistry
from gale_nook.core.plan.power import Battery
from gale_nook.core.power.copper import between

BLOCK_V, BLOCK_AH, REFERENCE_C = 12.0, 100.0, 25.0


@dataclass(frozen=True, slots=True)
class BatteryState:
    """A battery at a charge and a temperature.

    Attributes:
        open_v: at rest; charge_percent: in it, whether that was said or follows from open_v.
        capacity_ah: aged and cold; usable_ah: that may be drawn before it should be charged.
    """

    open_v: float
    charge_percent: float
    resistance_ohm: float
    capacity_ah: float
    usable_ah: float
    is_typical: bool

    def after(self, drawn_ah: float) -> float:
        """Return the charge in percent when some charge was drawn; not below 0."""
        return max(self.charge_percent - 100 * drawn_ah / self.capacity_ah, 0.0)


def battery_state(
    battery: Battery, chemistry: Chemistry, charge_percent: float | None = None
) -> BatteryState:
    """Return how a battery stands, at its own charge or another."""
    blocks = battery.nominal_v / BLOCK_V
    warmer_k = battery.temperature_c - REFERENCE_C
    by_heat_v = chemistry.rest_v_k * warmer_k
    charge = charge_percent
    measured = battery.open_v is not None and charge_percent is None
    if charge is None:
        charge = battery.charge_percent
        if battery.open_v is not None:
            charge = charge_at(chemistry, battery.open_v / blocks - by_heat_v)
    rest_v = blocks * (between(chemistry.rest_v, charge) + by_heat_v)
    if measured and battery.open_v is not None:
        rest_v = battery.open_v
    capacity = aged_capacity_ah(battery, chemistry)
    kept = 100 - chemistry.usable_percent
    return BatteryState(
        rest_v,
        charge,
        resistance_ohm(battery, chemistry),
        capacity,
        capacity * max(charge - kept, 0.0) / 100,
        battery.resistance_mohm is None,
    )


def charge_at(chemistry: Chemistry, block_v: float) -> float:
    """Return the charge, %, at which a block has a voltage at rest at 25 °C."""
    return between(tuple((v, percent) for percent, v in chemistry.rest_v), block_v)


def resistance_ohm(battery: Battery, chemistry: Chemistry) -> float:
    """Return the inner resistance: as it was measured, or what is typical of kind, age and cold."""
    if battery.resistance_mohm is not None:
        return battery.resistance_mohm / 1000
    cold = between(chemistry.cold_resistance, battery.temperature_c)
    aged = 1 + chemistry.resistance_year * battery.age_years
    blocks = battery.nominal_v / BLOCK_V
    new = chemistry.resistance_mohm / 1000 * BLOCK_AH / battery.capacity_ah
    return new * blocks * aged * cold


def aged_capacity_ah(battery: Battery, chemistry: Chemistry) -> float:
    """Return what the battery holds at its age and temperature."""
    aged = max(1 - chemistry.capacity_year * battery.age_years, 0.2)
    return battery.capacity_ah * aged * between(chemistry.cold_capacity, battery.temperature_c)
