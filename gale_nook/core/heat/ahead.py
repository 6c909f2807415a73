"""Several steps of a room at once, while its heater follows one law."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

STEPS_AHEAD = 64


@dataclass(frozen=True, slots=True)
class Law:
    """The heater's output over a step, by what the air would have at its end without heat.

    Attributes:
        at_0_w: at 0 °C; less_w_k: less for each kelvin over it.
    """

    at_0_w: float
    less_w_k: float = 0.0

    def at(self, free_c: Any) -> Any:
        """Return the output for some air, one or an array."""
        return self.at_0_w - self.less_w_k * free_c


@dataclass(frozen=True, slots=True, eq=False)
class Ahead:
    """Where the next steps would lead.

    Attributes:
        celsius: of each node after each step, (STEPS_AHEAD, n); air_c: of those, where the sensor
            hangs, (STEPS_AHEAD,).
        free_c: what the air would have after each step without heat in it, (STEPS_AHEAD,).
        output_w: the heater's over each step, (STEPS_AHEAD,).
    """

    celsius: Any
    air_c: Any
    free_c: Any
    output_w: Any


class Response:
    """The next steps of a linear network with a heater that follows a law.

    With T after = Φ·T + drift + gain·output, and the output itself in a straight line with T, each
    step is one matrix, and so are several (state feedback; K. Ogata, Discrete-Time Control Systems,
    2nd ed., 1995, ch. 6).

    Args:
        phi, drift, gain: of one step: (n, n), (n,) and, for each watt, (n,).
        sensor: the node where the thermostat's sensor hangs.
    """

    def __init__(self, phi: Any, drift: Any, gain: Any, sensor: int, law: Law) -> None:
        self._law, self._sensor = law, sensor
        self._free, self._drift_c = phi[sensor], float(drift[sensor])
        closed = phi - law.less_w_k * np.outer(gain, self._free)
        constant = drift + gain * (law.at_0_w - law.less_w_k * self._drift_c)
        powers, sums = closed[None], constant[None]
        while len(powers) < STEPS_AHEAD:  # doubled: i steps after k are i + k
            powers, sums = (
                np.concatenate([powers, powers @ powers[-1]]),
                np.concatenate([sums, powers @ sums[-1] + sums]),
            )
        self._powers = powers[:STEPS_AHEAD].reshape(-1, len(drift))
        self._sums = sums[:STEPS_AHEAD].ravel()

    def ahead(self, celsius: Any) -> Ahead:
        """Return where the next steps lead from the nodes' temperatures, (n,)."""
        after = (self._powers @ celsius + self._sums).reshape(STEPS_AHEAD, -1)
        free = np.empty(STEPS_AHEAD)
        free[0] = self._free @ celsius
        free[1:] = after[:-1] @ self._free
        free += self._drift_c
        return Ahead(after, after[:, self._sensor], free, self._law.at(free))
