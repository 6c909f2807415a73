"""Air that is renewed: leaks by class, and vents left open under wind and stack."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.heat.film import air_density_kg_m3
from gale_nook.core.physics.constants import GRAVITY_M_S2, ZERO_C_K

DISCHARGE = 0.6  # sharp-edged opening; any hydraulics text
REFERENCE_WIND_M_S = 4.0  # of the leakage classes
WIND_PRESSURE_SHARE = (
    0.25  # difference of the pressure coefficients across a body in its lee; workshop assumption
)
FRESH_AIR_L_S = 7.0  # a sleeper, EN 16798-1 category II for low-polluting rooms


@dataclass(frozen=True, slots=True)
class AirChange:
    """Where the renewed air comes from.

    Attributes:
        leaks_m3_h, vents_m3_h: through leaks, and through vents left open.
        fresh_m3_h: what the sleepers need.
    """

    leaks_m3_h: float
    vents_m3_h: float
    fresh_m3_h: float

    @property
    def total_m3_h(self) -> float:
        return self.leaks_m3_h + self.vents_m3_h


def leaks_m3_h(changes_per_h: float, volume_m3: float, wind_m_s: float) -> float:
    """Return the leakage of a class at a wind, in proportion to the wind but never under a third of
    the class's figure.
    """
    return changes_per_h * volume_m3 * max(wind_m_s / REFERENCE_WIND_M_S, 1 / 3)


def vent_m3_h(
    area_cm2: float, height_m: float, wind_m_s: float, inside_c: float, outside_c: float
) -> float:
    """Return the air through an open vent that has as much opening elsewhere to draw from.

    Orifice flow q = Cd·A·√(2Δp/ρ) with Δp from wind on the body and from the warm column, added as
    pressures. Two like openings in series each take half of it.

    Source: ASHRAE Handbook of Fundamentals, chapter on infiltration (orifice equation, stack
    pressure).

    Raises:
        ValueError: a negative area or height.
    """
    if area_cm2 < 0 or height_m < 0:
        raise ValueError("an area and a height are not negative")
    density = air_density_kg_m3(0.0, outside_c)
    warm = max(inside_c - outside_c, 0.0) / (inside_c + ZERO_C_K)
    pressure_pa = (
        WIND_PRESSURE_SHARE * density / 2 * wind_m_s**2 + density * GRAVITY_M_S2 * height_m * warm
    )
    return DISCHARGE * area_cm2 / 1e4 * math.sqrt(2 * (pressure_pa / 2) / density) * 3600
