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
        ramp = (self.most_w - self.least_w) * step_s / RAMP_S
        wanted = self.most_w * (set_c + BAND_K / 2 - free_c) / (BAND_K + self.most_w * k_per_w)
        # it comes down as fast as its pump is slowed, and up no faster than its flame grows
        return min(max(min(wanted, self.output_w + ramp), self.least_w), self.most_w)

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
        self.left_s -= step_s
        self.output_w = output_w
        if self.phase is Phase.BURNING:
            self.burning_s += step_s
            self.heat_j += output_w * step_s
            if output_w <= self.least_w * AT_LEAST:
                self.idle_s += step_s
        elif self.phase is Phase.STARTING:
            self.starting_s += step_s
        elif self.phase is Phase.AFTER_RUN:
            self.after_run_s += step_s
        else:
            self.off_s += step_s

    def _begin(self, phase: Phase, for_s: float) -> None:
        self.phase, self.left_s = phase, for_s
        self.stops += phase is Phase.AFTER_RUN
        if phase is not Phase.BURNING:
            self.output_w = 0.0

    def fuel_l(self) -> float:
        """Fuel burnt since the start."""
        return (self._fuel_l_h * self.burning_s + self._fuel_l_h_w * self.heat_j) / 3600

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


def derated_w(output: Output, altitude_m: float) -> float:
    """Return the most output at an altitude.

    Constant up to the height that the burner compensates for; above it, falls with the air's
    density. Source: ISO 2533 for the density.
    """
    reference = min(output.compensated_to_m, max(altitude_m, 0.0))
    return output.maximum_w * min(density_ratio(altitude_m) / density_ratio(reference), 1.0)
