"""Heat through the wall of a duct, bare or lagged, in still air or outside."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.physics.air import PRANDTL, conductivity_w_mk, viscosity_pa_s
from gale_nook.core.physics.constants import (
    AIR_CONSTANT_J_KGK,
    GRAVITY_M_S2,
    STEFAN_BOLTZMANN,
    ZERO_C_K,
)

LAMINAR_NUSSELT = 3.66  # long round pipe at constant wall temperature; VDI Heat Atlas, G1
PRANDTL_PART = (1 + (0.559 / PRANDTL) ** (9 / 16)) ** (8 / 27)
PRANDTL_TURBULENT = PRANDTL**0.4


@dataclass(frozen=True, slots=True)
class Wall:
    """The wall of a piece of duct.

    Attributes:
        bore_m: of the duct.
        skin_m: outside diameter with the lagging.
        lagging_mk_w: what the lagging holds back.
        emissivity: of the skin.
        heat_gain: how many times as much heat the wall takes as a smooth one.
        ambient_c: of the air around.
        wind_w_m2k: what wind gives the outside of a piece under the vehicle; 0 in still air.
        air_pa: pressure of the place.
    """

    bore_m: float
    skin_m: float
    lagging_mk_w: float
    emissivity: float
    heat_gain: float
    ambient_c: float
    wind_w_m2k: float
    air_pa: float


def inside_w_mk(wall: Wall, flow_kg_s: float, air_c: float) -> float:
    """Return the conductance from the air to the wall, W/(mK).

    Gnielinski's equation for turbulent flow of gases, or the laminar constant if larger. Source: V.
    Gnielinski, Forschung im Ingenieurwesen 41, 1975.
    """
    reynolds = 4 * abs(flow_kg_s) / (math.pi * wall.bore_m * viscosity_pa_s(air_c))
    turbulent = 0.0214 * (reynolds**0.8 - 100) * PRANDTL_TURBULENT
    nusselt = max(turbulent * wall.heat_gain, LAMINAR_NUSSELT)
    return float(nusselt * math.pi * conductivity_w_mk(air_c))


def outside_w_mk(wall: Wall, skin_c: float) -> float:
    """Return the conductance from the skin to the air around, W/(mK): natural convection, or wind
    where that is more, and radiation.

    Source: S. W. Churchill, H. H. S. Chu, International Journal of Heat and Mass Transfer 18, 1975,
    1049.
    """
    film_c = (skin_c + wall.ambient_c) / 2
    kelvin = film_c + ZERO_C_K
    kinematic = viscosity_pa_s(film_c) * AIR_CONSTANT_J_KGK * kelvin / wall.air_pa
    difference = abs(skin_c - wall.ambient_c)
    grashof = GRAVITY_M_S2 * difference / kelvin * wall.skin_m**3 / kinematic**2
    nusselt = (0.6 + 0.387 * (grashof * PRANDTL) ** (1 / 6) / PRANDTL_PART) ** 2
    still = nusselt * conductivity_w_mk(film_c) / wall.skin_m
    hot, cold = skin_c + ZERO_C_K, wall.ambient_c + ZERO_C_K
    radiation = wall.emissivity * STEFAN_BOLTZMANN * (hot**2 + cold**2) * (hot + cold)
    return float(math.pi * wall.skin_m * (max(still, wall.wind_w_m2k) + radiation))


def conductance_w_mk(
    wall: Wall, flow_kg_s: float, air_c: float, skin_c: float
) -> tuple[float, float]:
    """Return the conductance from the air inside to that around, W/(mK), and the skin's temperature
    that it makes.

    Args:
        skin_c: as known so far; the films outside follow from it.
    """
    outer = outside_w_mk(wall, skin_c)
    whole = 1.0 / (1.0 / inside_w_mk(wall, flow_kg_s, air_c) + wall.lagging_mk_w + 1.0 / outer)
    return whole, wall.ambient_c + whole / outer * (air_c - wall.ambient_c)
