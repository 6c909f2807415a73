"""How warm a hot pipe makes what is near it: bare, lagged, or behind a shield; and the gap that
would do.
"""

from __future__ import annotations

from collections.abc import Callable

from gale_nook.core.catalogue.pipes import PipePhysics
from gale_nook.core.physics.constants import STEFAN_BOLTZMANN, ZERO_C_K
from gale_nook.core.physics.roots import root_of

SOLVED_K = 1e-4
SOLVED_MM = 0.5
FAR_MM = 2000.0


def view_factor(diameter_mm: float, gap_mm: float) -> float:
    """Return how much of what a small face looking square at a long cylinder sees is the cylinder:
    r / (r + gap).

    Source: R. Siegel, J. R. Howell, Thermal Radiation Heat Transfer, element to an infinite
    cylinder.
    """
    radius = diameter_mm / 2
    return radius / (radius + max(gap_mm, 0.0))


def neighbour_c(
    skin_c: float, diameter_mm: float, gap_mm: float, ambient_c: float, works: PipePhysics
) -> float:
    """Return the temperature at which a small face near a bare or lagged pipe gives off what it
    takes in.

    Its back gives off nothing, so it is rather too hot; what touches the pipe has the pipe's
    temperature.
    """
    if gap_mm <= 0:
        return skin_c
    seen = view_factor(diameter_mm, gap_mm)

    def surplus(celsius: float) -> float:
        taken = works.neighbour_emissivity * seen * _radiated(skin_c, celsius)
        given = works.neighbour_emissivity * (1 - seen) * _radiated(celsius, ambient_c)
        return taken - given - works.neighbour_film_w_m2k * (celsius - ambient_c)

    return _where_it_balances(surplus, ambient_c, max(skin_c, ambient_c))


def shielded_c(
    skin_c: float, diameter_mm: float, gap_mm: float, ambient_c: float, works: PipePhysics
) -> float:
    """Return the same behind a bright shield halfway across the gap, with air on both its sides."""
    if gap_mm <= 0:
        return skin_c
    seen, film = view_factor(diameter_mm, gap_mm / 2), works.neighbour_film_w_m2k
    bright = works.shield_emissivity

    def shield_surplus(celsius: float) -> float:
        taken = bright * seen * _radiated(skin_c, celsius)
        given = bright * (2 - seen) * _radiated(celsius, ambient_c)
        return taken - given - 2 * film * (celsius - ambient_c)

    shield = _where_it_balances(shield_surplus, ambient_c, max(skin_c, ambient_c))
    between = 1 / (1 / bright + 1 / works.neighbour_emissivity - 1)  # two parallel faces

    def surplus(celsius: float) -> float:
        return between * _radiated(shield, celsius) - film * (celsius - ambient_c)

    return _where_it_balances(surplus, ambient_c, shield)


def gap_for_mm(most_c: float, at_gap: Callable[[float], float]) -> float | None:
    """Return the least gap at which a neighbour stays within `most_c`; None where no gap within
    FAR_MM does.

    Args:
        at_gap: the neighbour's temperature at a gap in mm, falling with it.
    """
    if at_gap(FAR_MM) > most_c:
        return None
    low, high = 0.0, FAR_MM
    while high - low > SOLVED_MM:
        middle = (low + high) / 2
        low, high = (middle, high) if at_gap(middle) > most_c else (low, middle)
    return high


def _radiated(hot_c: float, cold_c: float) -> float:
    return float(STEFAN_BOLTZMANN * ((hot_c + ZERO_C_K) ** 4 - (cold_c + ZERO_C_K) ** 4))


def _where_it_balances(surplus: Callable[[float], float], low: float, high: float) -> float:
    """Return where a falling function crosses zero between two temperatures."""
    return root_of(lambda celsius: -surplus(celsius), low, high, SOLVED_K)
