"""The heater through time: start delay, ramp, modulation, cycling and after-run."""

from __future__ import annotations

from enum import Enum, auto

from gale_nook.core.base.heater_sheet import HeaterSheet, Output
from gale_nook.core.heat.film import density_ratio

START_DELAY_S = 120.0
RAMP_S = 150.0
BAND_K = 1.0  # full output this far under the set temperature
OFF_ABOVE_K = 1.0
ON_BELOW_K = 0.5
AT_LEAST = 1.001  # within a thousandth of it, the output is the least


class Phase(Enum):
    """What the heater is doing."""

    OFF = auto()
    STARTING = auto()
    BURNING = auto()
    AFTER_RUN = auto()


class Burner:
    """The heater with its start delay, ramp, modulation, cycling and after-run; advanced in steps.

    Fuel and running current rise in a straight line from least to most output, so that the time
    burnt and the heat given are all that has to be summed up for them.

    Attributes:
        heat_j: given since the start.
        starting_s, burning_s, after_run_s, idle_s: time in each phase; idle is burning at the least
            output.
    """

    def __init__(self, sheet: HeaterSheet, most_w: float) -> None:
        output, electrical = sheet.output, sheet.electrical
        self.least_w, self.most_w = output.minimum_w, max(most_w, output.minimum_w)
        self.phase = Phase.OFF
        self.left_s = 0.0
        self.output_w = 0.0
        self.starts = 0
        self.heat_j = self.starting_s = self.burning_s = self.after_run_s = self.idle_s = 0.0
        self._after_run_s = electrical.after_run_s
        self._supply = electrical
        span = output.maximum_w - output.minimum_w
        self._fuel_l_h_w = (output.fuel_l_h_maximum - output.fuel_l_h_minimum) / span
        self._fuel_l_h = output.fuel_l_h_minimum - self._fuel_l_h_w * output.minimum_w
        self._run_a_w = (electrical.run_maximum_a - electrical.run_minimum_a) / span

    def advance(self, air_c: float, set_c: float | None, step_s: float) -> float:
        """Decide for the coming step; returns the heat given over it in W. Without a set
        temperature it is switched off.
        """
        self.left_s -= step_s
        phase = self.phase = self._next(air_c, set_c)
        if phase is Phase.BURNING and set_c is not None:
            ramp = (self.most_w - self.least_w) * step_s / RAMP_S
            wanted = self.most_w * (set_c + BAND_K / 2 - air_c) / BAND_K
            wanted = min(max(wanted, self.output_w - ramp), self.output_w + ramp)
            self.output_w = min(max(wanted, self.least_w), self.most_w)
            self.burning_s += step_s
            self.heat_j += self.output_w * step_s
            if self.output_w <= self.least_w * AT_LEAST:
                self.idle_s += step_s
            return self.output_w
        self.output_w = 0.0
        if phase is Phase.STARTING:
            self.starting_s += step_s
        elif phase is Phase.AFTER_RUN:
            self.after_run_s += step_s
        return 0.0

    def _next(self, air_c: float, set_c: float | None) -> Phase:
        """Return the phase of the coming step, and begin it."""
        phase = self.phase
        if phase is Phase.BURNING:
            return (
                phase
                if set_c is not None and air_c <= set_c + OFF_ABOVE_K
                else self._begin(Phase.AFTER_RUN, self._after_run_s)
            )
        if phase is Phase.OFF:
            if set_c is None or air_c >= set_c - ON_BELOW_K:
                return phase
            self.starts += 1
            return self._begin(Phase.STARTING, START_DELAY_S)
        if phase is Phase.STARTING and set_c is None:
            return self._begin(Phase.AFTER_RUN, self._after_run_s)
        if self.left_s > 0:
            return phase
        self.output_w = self.least_w if phase is Phase.STARTING else 0.0
        return Phase.BURNING if phase is Phase.STARTING else Phase.OFF

    def _begin(self, phase: Phase, for_s: float) -> Phase:
        self.left_s = for_s
        return phase

    def fuel_l(self) -> float:
        """Fuel burnt since the start."""
        return (self._fuel_l_h * self.burning_s + self._fuel_l_h_w * self.heat_j) / 3600

    def electricity_wh(self) -> float:
        """Electricity drawn since the start."""
        supply = self._supply
        running_s = self.burning_s + self.after_run_s
        above_least_as = self._run_a_w * (self.heat_j - self.least_w * self.burning_s)
        ampere_s = (
            supply.glow_current_a * self.starting_s
            + supply.run_minimum_a * running_s
            + above_least_as
        )
        return ampere_s * supply.voltage_v / 3600


def derated_w(output: Output, altitude_m: float) -> float:
    """Return the most output at an altitude.

    Constant up to the height that the burner compensates for; above it, falls with the air's
    density. Source: ISO 2533 for the density.
    """
    reference = min(output.compensated_to_m, max(altitude_m, 0.0))
    return output.maximum_w * min(density_ratio(altitude_m) / density_ratio(reference), 1.0)
