"""How much of the greatest possible heat an exchanger passes: effectiveness by transfer units.

Source: F. P. Incropera, D. P. DeWitt, Fundamentals of Heat and Mass Transfer, table 11.3; VDI Heat
Atlas, C1.
"""

from __future__ import annotations

import math

NOTHING = 1e-9


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
    """Return that of two streams across one another, neither of them mixed (11.32, an approximation
    within 1 % of the exact series for ratio 1 and exact for ratio 0).

    >>> round(crossflow(1.0, 1.0), 3)
    0.47
    """
    if ratio < NOTHING:
        return one_side_constant(units)
    if units < NOTHING:
        return 0.0
    return -math.expm1((units**0.22 / ratio) * math.expm1(-ratio * units**0.78))
