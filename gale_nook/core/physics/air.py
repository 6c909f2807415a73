"""Properties of dry air; every function takes numbers or arrays."""

from __future__ import annotations

from typing import Any

from gale_nook.core.physics.constants import AIR_CONSTANT_J_KGK, ZERO_C_K

HOTTEST_C = 200.0  # no heater blows hotter; properties stay as they are there
HEAT_CAPACITY_J_KGK = 1006.0  # dry air, 0 to 120 °C within 0.4 %
PRANDTL = 0.7


def density_kg_m3(pressure_pa: Any, celsius: Any) -> Any:
    """Return the density of dry air, by the gas law.

    >>> round(density_kg_m3(101_325.0, 20.0), 3)
    1.204
    """
    return pressure_pa / (AIR_CONSTANT_J_KGK * (celsius + ZERO_C_K))


def viscosity_pa_s(celsius: Any) -> Any:
    """Return the dynamic viscosity of air by Sutherland's law; within 2 % of lean gas. Source: ISO
    2533, 2.11.
    """
    kelvin = celsius + ZERO_C_K
    return 1.458e-6 * kelvin**1.5 / (kelvin + 110.4)


def conductivity_w_mk(celsius: Any) -> Any:
    """Return the thermal conductivity of air. Source: ISO 2533, 2.13."""
    kelvin = celsius + ZERO_C_K
    return 2.648151e-3 * kelvin**1.5 / (kelvin + 245.4 * 10 ** (-12 / kelvin))
