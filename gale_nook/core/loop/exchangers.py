"""How much of the greatest possible heat an exchanger passes: effectiveness by transfer units.

Source: F. P. Incropera, D. P. DeWitt, Fundamentals of Heat and Mass Transfer, table 11.3; VDI Heat
Atlas, C1.
"""

from __future__ import annotations

import math

NOTHING = 1e-9
MOST_TERMS, ENOUGH = 400, 1e-13


def one_side_constant(units: float) -> float:
    """Return the effectiveness where one side keeps its temperature: a tank, a block, a room.

    >>> round(one_side_constant(1.0), 4)
    0.6321
    """
    return -math.expm1(-units)


def counterflow(units: float, ratio: float) -> float:
    """Return that of two streams against one another (11.29).

    Args:
        ratio: of the smaller to the larger heat capacity flow.

    >>> round(counterflow(2.0, 0.5), 4)
    0.7746
    """
    if ratio < NOTHING:
        return one_side_constant(units)
    if 1.0 - ratio < NOTHING:
        return units / (1.0 + units)
    lost = math.exp(-units * (1.0 - ratio))
    return (1.0 - lost) / (1.0 - ratio * lost)


def crossflow(units: float, ratio: float) -> float:
    """Return that of two streams across one another, neither of them mixed: the exact series (VDI
    Heat Atlas, C1, table 3).

    >>> round(crossflow(1.0, 1.0), 4)
    0.4762
    """
    if ratio < NOTHING:
        return one_side_constant(units)
    if units < NOTHING:
        return 0.0
    total, one, other = 0.0, math.exp(-units), math.exp(-units * ratio)
    left_one, left_other = 1.0 - one, 1.0 - other
    for term in range(1, MOST_TERMS):
        added = left_one * left_other
        total += added
        if added < ENOUGH * total:
            break
        one *= units / term
        other *= units * ratio / term
        left_one, left_other = left_one - one, left_other - other
    return total / (units * ratio)
