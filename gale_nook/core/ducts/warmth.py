"""Heat through the wall of a duct, bare or lagged, in still air or outside."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.physics.air import PRANDTL, conductivity_w_mk, viscosity_pa_s
from gale_nook.core.physics.constants import (
    AIR_CONSTANT_J_KGK,
    GRAVITY_M_S2,
    STEFAN_BOLTZMANN,
    ZERO_C_K,
)

LAMINAR_NUSSELT = 3.66  # long round pipe at constant wall temperature; VDI Heat Atlas, G1
PRANDTL_PART = (1 + (0.559 / PRANDTL) ** (9 / 16)) ** (8 / 27)


@dataclass(frozen=True)
class Walls:
    """The walls of pieces of duct, (n,) each.

    Attributes:
        bore_m, outer_m: of the duct.
        skin_m: outside diameter with the lagging.
        lagging_mk_w: what the lagging holds back.
        emissivity: of the skin.
        heat_gain: how many times as much heat the wall takes as a smooth one.
        ambient_c: of the air around.
        wind_w_m2k: what wind gives the outside of a piece under the vehicle; 0 in still air.
        air_pa: pressure of the place.
    """

    bore_m: Any
    outer_m: Any
    skin_m: Any
    lagging_mk_w: Any
    emissivity: Any
    heat_gain: Any
    ambient_c: Any
    wind_w_m2k: Any
    air_pa: float


def inside_w_mk(walls: Walls, flow_kg_s: Any, air_c: Any) -> Any:
    """Return the conductance from the air to the wall, W/(mK).

    Gnielinski's equation for turbulent flow of gases, or the laminar constant if larger. Source: V.
    Gnielinski, Forschung im Ingenieurwesen 41, 1975.
    """
    reynolds = 4 * np.abs(flow_kg_s) / (np.pi * walls.bore_m * viscosity_pa_s(air_c))
    turbulent = 0.0214 * (reynolds**0.8 - 100) * PRANDTL**0.4
    nusselt = np.maximum(turbulent * walls.heat_gain, LAMINAR_NUSSELT)
    return nusselt * np.pi * conductivity_w_mk(air_c)


def outside_w_mk(walls: Walls, skin_c: Any) -> Any:
    """Return the conductance from the skin to the air around, W/(mK): natural convection, or wind
    where that is more, and radiation.

    Source: S. W. Churchill, H. H. S. Chu, International Journal of Heat and Mass Transfer 18, 1975,
    1049.
    """
    film_c = (skin_c + walls.ambient_c) / 2
    kelvin = film_c + ZERO_C_K
    kinematic = viscosity_pa_s(film_c) * AIR_CONSTANT_J_KGK * kelvin / walls.air_pa
    difference = np.abs(skin_c - walls.ambient_c)
    grashof = GRAVITY_M_S2 * difference / kelvin * walls.skin_m**3 / kinematic**2
    nusselt = (0.6 + 0.387 * (grashof * PRANDTL) ** (1 / 6) / PRANDTL_PART) ** 2
    still = nusselt * conductivity_w_mk(film_c) / walls.skin_m
    hot, cold = skin_c + ZERO_C_K, walls.ambient_c + ZERO_C_K
    radiation = walls.emissivity * STEFAN_BOLTZMANN * (hot**2 + cold**2) * (hot + cold)
    return np.pi * walls.skin_m * (np.maximum(still, walls.wind_w_m2k) + radiation)


def conductance_w_mk(walls: Walls, flow_kg_s: Any, air_c: Any, skin_c: Any) -> tuple[Any, Any]:
    """Return the conductance from the air inside to that around, W/(mK), and the skin's temperature
    that it makes, (n,) each.

    Args:
        skin_c: as known so far; the films outside follow from it.
    """
    outer = outside_w_mk(walls, skin_c)
    whole = 1.0 / (1.0 / inside_w_mk(walls, flow_kg_s, air_c) + walls.lagging_mk_w + 1.0 / outer)
    return whole, walls.ambient_c + whole / outer * (air_c - walls.ambient_c)
