"""Where a function crosses zero: one method for all of the core."""

from __future__ import annotations

from collections.abc import Callable

MOST_STEPS = 80


def root_of(rising: Callable[[float], float], low: float, high: float, near: float) -> float:
    """Return where a rising function crosses 0, by false position in its Illinois form.

    Source: M. Dowell, P. Jarratt, BIT Numerical Mathematics 11, 1971, 168.

    Args:
        low, high: between which it crosses; where it does not, the nearer end is returned.
        near: how near to 0 its value has to come.

    >>> round(root_of(lambda x: x * x - 2, 0.0, 2.0, 1e-9), 6)
    1.414214
    """
    below, above = rising(low), rising(high)
    if below >= 0 or above <= 0:
        return low if below >= 0 else high
    side, found = 0, low
    for _ in range(MOST_STEPS):
        found = (low * above - high * below) / (above - below)
        here = rising(found)
        if abs(here) < near:
            break
        if here < 0:
            low, below = found, here
            above = above / 2 if side < 0 else above
            side = -1
        else:
            high, above = found, here
            below = below / 2 if side > 0 else below
            side = 1
    return found
