"""Where a rising function crosses zero."""

from __future__ import annotations

from collections.abc import Callable

import scipy  # its parts are read when they are first used: scipy.optimize takes half a second


def root_of(rising: Callable[[float], float], low: float, high: float, within: float) -> float:
    """Return where a rising function crosses 0; where it does not, the nearer end.

    Args:
        low, high: between which it crosses.
        within: how near to the crossing the answer has to lie.

    >>> round(root_of(lambda x: x * x - 2, 0.0, 2.0, 1e-9), 6)
    1.414214
    """
    if rising(low) >= 0:
        return low
    if rising(high) <= 0:
        return high
    return float(scipy.optimize.brentq(rising, low, high, xtol=within))
