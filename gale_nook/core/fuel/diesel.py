"""Density and viscosity of diesel against temperature.

Viscosity by the Walther equation of ASTM D341 through two points; density falls by a constant share
a kelvin (ASTM D1250's order for diesel).
"""

from __future__ import annotations

import math

from gale_nook.core.catalogue.fuel import FuelGrade
from gale_nook.core.physics.constants import ZERO_C_K

WALTHER_MM2_S = 0.7  # ASTM D341: lg lg(ν + 0.7) is a straight line over lg T
WARM_C, COLD_C = 40.0, 0.0  # at which a grade gives its viscosities
EXPANSION_1_K = 8.3e-4
REFERENCE_C = 15.0


def viscosity_mm2_s(grade: FuelGrade, celsius: float) -> float:
    """Return the kinematic viscosity, mm²/s."""
    warm, cold = (
        math.log10(math.log10(nu + WALTHER_MM2_S)) for nu in (grade.warm_mm2_s, grade.cold_mm2_s)
    )
    warm_t, cold_t, t = (math.log10(c + ZERO_C_K) for c in (WARM_C, COLD_C, celsius))
    slope = (cold - warm) / (warm_t - cold_t)
    return float(10 ** (10 ** (warm + slope * (warm_t - t))) - WALTHER_MM2_S)


def density_kg_m3(grade: FuelGrade, celsius: float) -> float:
    """Return the density, kg/m³."""
    return grade.density_kg_m3 * (1 - EXPANSION_1_K * (celsius - REFERENCE_C))
