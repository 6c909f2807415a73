"""The heater through time: start delay, ramp, modulation, cycling and after-run."""

from __future__ import annotations

from enum import Enum, auto

from gale_nook.core.catalogue import HeaterSheet

START_DELAY_S = 120.0
RAMP_S = 150.0
BAND_K = 1.0  # full output this far under the set temperature
OFF_ABOVE_K = 1.0
ON_BELOW_K = 0.5


class Phase(Enum):
    """What the heater is doing."""

    OFF = auto()
    STARTING = auto()
    BURNING = auto()
    AFTER_RUN = auto()


class Burner:
    """The heater with its start delay, ramp, modulation, cycling and after-run; advanced in steps."""

    def __init__(self, sheet: HeaterSheet, most_w: float) -> None:
        self.sheet = sheet
        self.least_w, self.most_w = sheet.output.minimum_w, max(most_w, sheet.output.minimum_w)
        self.phase = Phase.OFF
        self.left_s = 0.0
        self.output_w = 0.0
        self.starts = 0

    def advance(self, air_c: float, set_c: float | None, step_s: float) -> float:
        """Decide for the coming step; returns the heat given over it in W. Without a set temperature it is switched off."""
        self.left_s -= step_s
        if set_c is None:
            return self._switched_off()
        if self.phase is Phase.OFF and air_c < set_c - ON_BELOW_K:
            self.phase, self.left_s, self.starts = Phase.STARTING, START_DELAY_S, self.starts + 1
        elif self.phase is Phase.STARTING and self.left_s <= 0:
            self.phase, self.output_w = Phase.BURNING, self.least_w
        elif self.phase is Phase.AFTER_RUN and self.left_s <= 0:
            self.phase = Phase.OFF
        if self.phase is not Phase.BURNING:
            self.output_w = 0.0
            return 0.0
        if air_c > set_c + OFF_ABOVE_K:
            self.phase, self.left_s, self.output_w = Phase.AFTER_RUN, self.sheet.electrical.after_run_s, 0.0
            return 0.0
        wanted = self.most_w * (set_c + BAND_K / 2 - air_c) / BAND_K
        ramp = (self.most_w - self.least_w) * step_s / RAMP_S
        wanted = min(max(wanted, self.output_w - ramp), self.output_w + ramp)
        self.output_w = min(max(wanted, self.least_w), self.most_w)
        return self.output_w

    def _switched_off(self) -> float:
        if self.phase in {Phase.STARTING, Phase.BURNING}:
            self.phase, self.left_s = Phase.AFTER_RUN, self.sheet.electrical.after_run_s
        elif self.phase is Phase.AFTER_RUN and self.left_s <= 0:
            self.phase = Phase.OFF
        self.output_w = 0.0
        return 0.0

    def current_a(self) -> float:
        """Current drawn in this phase."""
        electrical = self.sheet.electrical
        if self.phase is Phase.STARTING:
            return electrical.glow_current_a
        if self.phase is Phase.OFF:
            return 0.0
        return electrical.run_minimum_a + self._share() * (electrical.run_maximum_a - electrical.run_minimum_a)

    def fuel_l_h(self) -> float:
        """Fuel rate, in proportion to the output; nothing unless it burns."""
        if self.phase is not Phase.BURNING:
            return 0.0
        output = self.sheet.output
        return output.fuel_l_h_minimum + self._share() * (output.fuel_l_h_maximum - output.fuel_l_h_minimum)

    def _share(self) -> float:
        span = self.sheet.output.maximum_w - self.least_w
        return min(max((self.output_w - self.least_w) / span, 0.0), 1.0)
