"""Surface films, air layers and air properties."""

from __future__ import annotations

from enum import StrEnum

from gale_nook.core.physics.constants import AIR_CONSTANT_J_KGK, STEFAN_BOLTZMANN, ZERO_C_K

EMISSIVITY = 0.9  # ISO 6946:2017, C.2: ordinary surfaces
SMALL_DIFFERENCE_K = 5.0  # across an air layer, up to which the standard's plain values hold
GAP_K = 283.15  # mean temperature of an air layer, ISO 6946:2017, D.2
AIR_HEAT_CAPACITY_J_KGK = 1006.0  # dry air near 0 °C
SHELTERED_WIND_SHARE = (
    0.5  # share of the wind that the underside of a vehicle sees; workshop assumption
)


class Flow(StrEnum):
    """Direction of the heat through a surface."""

    UP = "up"
    SIDEWAYS = "sideways"
    DOWN = "down"


# ISO 6946:2017, table 7 (m²K/W)
INSIDE_FILM_M2K_W = {Flow.UP: 0.10, Flow.SIDEWAYS: 0.13, Flow.DOWN: 0.17}

# ISO 6946:2017, table 8: unventilated air layers, thickness in mm -> m²K/W
_AIR_LAYER_MM = (0.0, 5.0, 7.0, 10.0, 15.0, 25.0, 50.0, 100.0, 300.0)
_AIR_LAYER_M2K_W = {
    Flow.UP: (0.0, 0.11, 0.13, 0.15, 0.16, 0.16, 0.16, 0.16, 0.16),
    Flow.SIDEWAYS: (0.0, 0.11, 0.13, 0.15, 0.17, 0.18, 0.18, 0.18, 0.18),
    Flow.DOWN: (0.0, 0.11, 0.13, 0.15, 0.17, 0.19, 0.21, 0.22, 0.23),
}


def outside_film_m2k_w(wind_m_s: float, outside_c: float) -> float:
    """Return the outside surface resistance in m²K/W.

    Convection 4 + 4v and radiation 4εσT³ at the outside temperature; 0.04 at 4 m/s.
    Source: ISO 6946:2017, annex C.

    >>> round(outside_film_m2k_w(4.0, 0.0), 3)
    0.041
    """
    kelvin = outside_c + ZERO_C_K
    return 1.0 / (4.0 + 4.0 * wind_m_s + 4.0 * EMISSIVITY * STEFAN_BOLTZMANN * kelvin**3)


def air_layer_m2k_w(thickness_mm: float, flow: Flow) -> float:
    """Return the resistance of an unventilated air layer, linear between the table's rows; constant
    over 300 mm.

    Source: ISO 6946:2017, table 8.
    """
    values = _AIR_LAYER_M2K_W[flow]
    if thickness_mm >= _AIR_LAYER_MM[-1]:
        return values[-1]
    for i in range(1, len(values)):
        if thickness_mm <= _AIR_LAYER_MM[i]:
            share = (thickness_mm - _AIR_LAYER_MM[i - 1]) / (
                _AIR_LAYER_MM[i] - _AIR_LAYER_MM[i - 1]
            )
            return values[i - 1] + share * (values[i] - values[i - 1])
    return values[-1]


def gap_m2k_w(
    thickness_mm: float,
    flow: Flow,
    across_k: float = SMALL_DIFFERENCE_K,
    foil_emissivity: float | None = None,
) -> float:
    """Return the resistance of an unventilated air layer, with foil on one side or without.

    Args:
        across_k: temperature difference across it; up to 5 K the standard's plain values hold.

    Source: ISO 6946:2017, table 8, and annex D.2 with tables D.1 (up to 5 K) and D.2 (above).
    """
    if foil_emissivity is not None:
        return foil_layer_m2k_w(thickness_mm, flow, foil_emissivity, across_k)
    plain = air_layer_m2k_w(thickness_mm, flow)
    if across_k <= SMALL_DIFFERENCE_K:
        return plain
    return min(plain, foil_layer_m2k_w(thickness_mm, flow, EMISSIVITY, across_k))


def _convection_w_m2k(thickness_m: float, flow: Flow, across_k: float) -> float:
    """ISO 6946:2017, tables D.1 and D.2."""
    if across_k <= SMALL_DIFFERENCE_K:
        values = {Flow.UP: 1.95, Flow.SIDEWAYS: 1.25, Flow.DOWN: 0.12 * thickness_m**-0.44}
    else:
        root = across_k ** (1 / 3)
        down = 0.09 * across_k**0.187 * thickness_m**-0.44
        values = {Flow.UP: 1.14 * root, Flow.SIDEWAYS: 0.73 * root, Flow.DOWN: down}
    return float(values[flow])


def foil_layer_m2k_w(
    thickness_mm: float,
    flow: Flow,
    foil_emissivity: float,
    across_k: float = SMALL_DIFFERENCE_K,
) -> float:
    """Return the resistance of an unventilated air layer with foil on one side; 0 without a gap.

    R = 1/(ha + E·hr0), ha the larger of the still-air and the convective value, E = 1/(1/ε1 + 1/ε2
    − 1), hr0 at 10 °C. Source: ISO 6946:2017, annex D.2 and tables D.1 and D.2.

    >>> round(foil_layer_m2k_w(20, Flow.SIDEWAYS, 0.1), 2)
    0.57
    """
    if thickness_mm <= 0:
        return 0.0
    thickness_m = min(thickness_mm, 300.0) / 1000
    convective = _convection_w_m2k(thickness_m, flow, across_k)
    still = 0.025 / thickness_m
    between = 1 / (1 / foil_emissivity + 1 / EMISSIVITY - 1)
    return 1 / (max(convective, still) + between * 4 * STEFAN_BOLTZMANN * GAP_K**3)


def pressure_pa(altitude_m: float) -> float:
    """Return air pressure at an altitude up to 11 km. Source: ISO 2533 (standard atmosphere)."""
    return float(101_325.0 * (1.0 - 2.25577e-5 * altitude_m) ** 5.25588)


def air_density_kg_m3(altitude_m: float, temperature_c: float) -> float:
    """Return the density of dry air at the pressure of an altitude and a given temperature."""
    return pressure_pa(altitude_m) / (AIR_CONSTANT_J_KGK * (temperature_c + ZERO_C_K))


def density_ratio(altitude_m: float) -> float:
    """Return air density at an altitude over that at sea level. Source: ISO 2533."""
    return float((1.0 - 2.25577e-5 * altitude_m) ** 4.25588)
