"""Levels of sound: adding them up, what distance, a panel and a room do to them."""

from __future__ import annotations

import math
from collections.abc import Iterable

NEAREST_M = 0.3  # nearer than that a head does not come to a source
HALF_SPACE_DB = 8.0
FIELD_DB = 47.0
ROOM_OPENNESS = 4.0


def sum_db(levels: Iterable[float]) -> float:
    """Return the level of several sources together: of their energies.

    Source: ISO 1996-1, sums of levels.

    >>> round(sum_db([40.0, 40.0]), 2), round(sum_db([50.0, 40.0]), 2)
    (43.01, 50.41)
    """
    whole = math.fsum(10 ** (level / 10) for level in levels)
    return 10 * math.log10(whole) if whole > 0 else -math.inf


def direct_db(power_db: float, distance_m: float) -> float:
    """Return the level at a distance from a small source on a plane. Source: ISO 9613-2, spreading
    over a half-space: Lw - 20 lg r - 8.

    >>> round(direct_db(60.0, 2.0), 2)
    45.98
    """
    return power_db - 20 * math.log10(max(distance_m, NEAREST_M)) - HALF_SPACE_DB


def room_db(power_db: float, absorbing_m2: float) -> float:
    """Return the level of a source's sound that is thrown about in a room: Lw + 10 lg(4 / A).
    Source: W. C. Sabine's law; any acoustics text.

    >>> round(room_db(60.0, 4.0), 2)
    60.0
    """
    return power_db + 10 * math.log10(ROOM_OPENNESS / absorbing_m2)


def panel_loss_db(mass_kg_m2: float, frequency_hz: float, most_db: float) -> float:
    """Return what a panel keeps back: 20 lg(m f) - 47, not under 0 and not over what gaps let pass.

    Source: I. L. Vér, L. L. Beranek, Noise and Vibration Control Engineering, 2006,
    field-incidence mass law.

    >>> round(panel_loss_db(20.0, 250.0, 40.0), 2)
    26.98
    """
    if mass_kg_m2 <= 0:
        return 0.0
    return min(max(20 * math.log10(mass_kg_m2 * frequency_hz) - FIELD_DB, 0.0), most_db)


def let_in_db(outside_db: float, loss_db: float, panel_m2: float, absorbing_m2: float) -> float:
    """Return the level inside of what comes in through a panel: Lp - R + 10 lg(S / A). Source: EN
    12354-3, simplified to one panel.

    >>> let_in_db(60.0, 20.0, 2.0, 2.0)
    40.0
    """
    return outside_db - loss_db + 10 * math.log10(panel_m2 / absorbing_m2)
