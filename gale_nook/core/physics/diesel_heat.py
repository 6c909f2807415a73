"""Diesel as a source of heat."""

from __future__ import annotations

LOWER_HEATING_VALUE_J_KG = 42.6e6  # diesel, EN 590 range
DIESEL_DENSITY_KG_L = 0.84  # at 15 °C, EN 590 range


def output_w(fuel_l_h: float, efficiency: float) -> float:
    """Return the useful heat of a fuel rate in l/h.

    >>> round(output_w(0.5, 0.8))
    3976
    """
    return fuel_l_h * DIESEL_DENSITY_KG_L * LOWER_HEATING_VALUE_J_KG / 3600 * efficiency
