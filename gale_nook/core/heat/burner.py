"""The heater through time: start delay, ramp, modulation, cycling and after-run."""

from __future__ import annotations

from enum import Enum, auto
from typing import Any

import numpy as np

from gale_nook.core.base.heater_sheet import HeaterSheet, Output
from gale_nook.core.heat.ahead import Ahead, Law
from gale_nook.core.heat.film import density_ratio

START_DELAY_S = 120.0
RAMP_S = 150.0
BAND_K = 1.0  # full output this far under the set temperature
OFF_ABOVE_K = 1.0
ON_BELOW_K = 0.5
NO_TIME_S = 1e-6
AT_LEAST = 1.001  # within a thousandth of it, the output is the least


class Phase(Enum):
    """What the heater is doing."""

    OFF = auto()
    STARTING = auto()
    BURNING = auto()
    AFTER_RUN = auto()


class Burner:
    """The heater with its start delay, ramp, modulation, cycling and after-run; advanced in steps:
    `begin_step`, `output_for`, and `give`.

    Fuel and running current rise in a straight line from least to most output, so that the time
    burnt and the heat given are all that has to be summed up for them.

    Attributes:
        heat_j: given since the start.
        starting_s, burning_s, after_run_s, off_s, idle_s: time in each phase; idle is burning at
            the least output.
        stops: how often it went into its after-run.
    """

    def __init__(self, sheet: HeaterSheet, most_w: float) -> None:
        output, electrical = sheet.output, sheet.electrical
        self.least_w, self.most_w = output.minimum_w, max(most_w, output.minimum_w)
        self._stays_on = most_w > 0  # one that overheats at once never gets to burn
        self.phase = Phase.OFF
        self.left_s = 0.0
        self.output_w = 0.0
        self.starts = self.stops = 0
        self.off_s = 0.0
        self._stops_when_warm = output.below_minimum == "stops"
        self.heat_j = self.starting_s = self.burning_s = self.after_run_s = self.idle_s = 0.0
        self._after_run_s = electrical.after_run_s
        self._supply = electrical
        span = output.maximum_w - output.minimum_w
        self._fuel_l_h_w = (output.fuel_l_h_maximum - output.fuel_l_h_minimum) / span
        self._fuel_l_h = output.fuel_l_h_minimum - self._fuel_l_h_w * output.minimum_w
        self._run_a_w = (electrical.run_maximum_a - electrical.run_minimum_a) / span

    def begin_step(self, air_c: float, set_c: float | None) -> None:
        """Switch over where the thermostat or a delay that has run out asks for it."""
        phase = self.phase
        if phase is Phase.BURNING:
            if set_c is None or (self._stops_when_warm and air_c > set_c + OFF_ABOVE_K):
                self._begin(Phase.AFTER_RUN, self._after_run_s)
        elif phase is Phase.OFF:
            if self._stays_on and set_c is not None and air_c < set_c - ON_BELOW_K:
                self.starts += 1
                self._begin(Phase.STARTING, START_DELAY_S)
        elif phase is Phase.STARTING and set_c is None:
            self._begin(Phase.AFTER_RUN, self._after_run_s)
        elif self.left_s <= NO_TIME_S:
            self.output_w = self.least_w if phase is Phase.STARTING else 0.0
            self._begin(Phase.BURNING if phase is Phase.STARTING else Phase.OFF, 0.0)

    def output_for(
        self, set_c: float | None, step_s: float, free_c: float, k_per_w: float = 0.0
    ) -> float:
        """Return the output over the coming step, W.

        It follows the air at the end of the step: with any step, the air settles where output and
        loss agree.

        Args:
            free_c: what the air will have at the end of the step without heat.
            k_per_w: by how much each watt given over the step raises that.
        """
        if self.phase is not Phase.BURNING or set_c is None:
            return 0.0
        wanted: float = self._line(set_c, k_per_w).at(free_c)
        # it comes down as fast as its pump is slowed, and up no faster than its flame grows
        grown = self.output_w + self._ramp_w(step_s)
        return min(max(min(wanted, grown), self.least_w), self.most_w)

    def _line(self, set_c: float, k_per_w: float) -> Law:
        """What the thermostat asks for, within the heater's reach or not."""
        band_k = BAND_K + self.most_w * k_per_w
        return Law(self.most_w * (set_c + BAND_K / 2) / band_k, self.most_w / band_k)

    def _ramp_w(self, step_s: float) -> float:
        return (self.most_w - self.least_w) * step_s / RAMP_S

    def law(self, set_c: float | None, step_s: float, free_c: float, k_per_w: float) -> Law | None:
        """Return the law that `output_for` follows over the coming step, for the same arguments;
        None while the flame grows.
        """
        if self.phase is not Phase.BURNING or set_c is None:
            return Law(0.0)
        line = self._line(set_c, k_per_w)
        wanted = line.at(free_c)
        if wanted <= self.least_w:
            return Law(self.least_w)
        if min(wanted, self.most_w) > self.output_w + self._ramp_w(step_s):
            return None
        return Law(self.most_w) if wanted >= self.most_w else line

    def steps_held(
        self, law: Law, ahead: Ahead, set_c: float | None, step_s: float, k_per_w: float
    ) -> int:
        """Return for how many of the next steps it follows a law of its own and does not switch
        over.
        """
        count = len(ahead.air_c)
        if self.phase in {Phase.STARTING, Phase.AFTER_RUN}:
            return min(int((self.left_s + NO_TIME_S) / step_s), count)
        if set_c is None:
            return count
        if self.phase is Phase.OFF:
            return _leading(ahead.air_c >= set_c - ON_BELOW_K) if self._stays_on else count
        wanted = self._line(set_c, k_per_w).at(ahead.free_c)
        if law.less_w_k:
            grown = np.append(self.output_w, wanted[:-1]) + self._ramp_w(step_s)
            held = (wanted >= self.least_w) & (wanted <= np.minimum(self.most_w, grown))
        elif law.at_0_w == self.least_w:
            held = wanted <= self.least_w
        else:
            held = wanted >= self.most_w
        if self._stops_when_warm:
            held &= ahead.air_c <= set_c + OFF_ABOVE_K
        return _leading(held)

    def switches_within(self, set_c: float | None, step_s: float, end_c: float) -> bool:
        """Return whether it would switch over before the end of the coming step, with the air that
        there is then.
        """
        if self.phase is Phase.BURNING:
            return self._stops_when_warm and set_c is not None and end_c > set_c + OFF_ABOVE_K
        if self.phase is Phase.OFF:
            return self._stays_on and set_c is not None and end_c < set_c - ON_BELOW_K
        return self.left_s < step_s - NO_TIME_S

    def give(self, output_w: float, step_s: float) -> None:
        """Go one step with an output."""
        idle_s = step_s if output_w <= self.least_w * AT_LEAST else 0.0
        self.output_w = output_w
        self._pass(step_s, output_w * step_s, idle_s)

    def give_each(self, outputs_w: Any, step_s: float) -> None:
        """Go one step with each output, (m,); it does not switch over in between."""
        idle = int(np.count_nonzero(outputs_w <= self.least_w * AT_LEAST))
        self.output_w = float(outputs_w[-1])
        self._pass(len(outputs_w) * step_s, float(outputs_w.sum()) * step_s, idle * step_s)

    def _pass(self, time_s: float, heat_j: float, idle_s: float) -> None:
        self.left_s -= time_s
        if self.phase is Phase.BURNING:
            self.burning_s += time_s
            self.heat_j += heat_j
            self.idle_s += idle_s
        elif self.phase is Phase.STARTING:
            self.starting_s += time_s
        elif self.phase is Phase.AFTER_RUN:
            self.after_run_s += time_s
        else:
            self.off_s += time_s

    def _begin(self, phase: Phase, for_s: float) -> None:
        self.phase, self.left_s = phase, for_s
        self.stops += phase is Phase.AFTER_RUN
        if phase is not Phase.BURNING:
            self.output_w = 0.0

    def fuel_l(self) -> float:
        """Fuel burnt since the start."""
        return (self._fuel_l_h * self.burning_s + self._fuel_l_h_w * self.heat_j) / 3600

    def fuel_of_l(self, outputs_w: Any, step_s: float) -> float:
        """Fuel burnt of that over the last steps, in which it did not switch over, (m,)."""
        if self.phase is not Phase.BURNING:
            return 0.0
        heat_j = float(outputs_w.sum()) * step_s
        return (self._fuel_l_h * len(outputs_w) * step_s + self._fuel_l_h_w * heat_j) / 3600

    def electricity_wh(self) -> float:
        """Electricity drawn since the start."""
        supply = self._supply
        running_s = self.burning_s + self.after_run_s
        above_least_as = self._run_a_w * (self.heat_j - self.least_w * self.burning_s)
        ampere_s = (
            supply.glow_current_a * (self.starting_s + self.stops * supply.second_glow_s)
            + supply.run_minimum_a * running_s
            + above_least_as
        )
        return (ampere_s * supply.voltage_v + supply.standby_w * self.off_s) / 3600


def _leading(held: Any) -> int:
    """How many are true from the first on."""
    return len(held) if held.all() else int(held.argmin())


def derated_w(output: Output, altitude_m: float) -> float:
    """Return the most output at an altitude.

    Constant up to the height that the burner compensates for; above it, falls with the air's
    density. Source: ISO 2533 for the density.
    """
    reference = min(output.compensated_to_m, max(altitude_m, 0.0))
    return output.maximum_w * min(density_ratio(altitude_m) / density_ratio(reference), 1.0)
