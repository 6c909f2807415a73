"""The simulated heater: a state machine over fuel, flame, heat, voltage and the room that warms up.

Nothing is random but when bubbles pass, and that follows from the seed. What follows slowly does so
exactly for a held target, so that a smaller step changes nothing that is shown.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from gale_nook.core.base.phases import PhaseWord
from gale_nook.core.firing.loads import both, current_a, fuel_l_h, glow_load, run_load
from gale_nook.core.firing.model import HeaterModel
from gale_nook.core.heat.burner import BAND_K, OFF_ABOVE_K, ON_BELOW_K
from gale_nook.core.heat.load_space import STEP_S as ROOM_STEP_S
from gale_nook.core.power.circuit import Load, heater_voltage_v
from gale_nook.core.power.copper import between

State = PhaseWord | Literal["off"]
SmokeWord = Literal["none", "some", "thick"]
BURNING: tuple[State, ...] = ("flame", "ramp", "full", "regulation")
ELECTRIC: tuple[State, ...] = ("check", "glow", *BURNING)
L_H_PER_ML_S = 3.6
ENOUGH_SHARE = 0.4  # of the fuel of least output, with which a flame stays
LIT_AFTER_S = 3.0  # that fuel has to come to the hot element
FIRST_SMOKE_S = 90.0
REACHED = 0.98  # of what is wanted, where it counts as reached
LEAST_V = 1.0  # under which nothing works
GOLDEN = (math.sqrt(5) - 1) / 2  # whose multiples fall evenly between 0 and 1


@dataclass(frozen=True, slots=True)
class Told:
    """What the heater and the instruments at it tell at a moment.

    Attributes:
        at_s: from when the simulation began.
        code: of a fault; empty for none.
    """

    at_s: float
    phase: State
    voltage_v: float
    current_a: float
    pump_hz: float
    outlet_c: float
    room_c: float
    smoke: SmokeWord
    co_ppm: float
    code: str


class SimulatedHeater:
    """A heater that runs in steps, obeys commands, and tells what it shows.

    Args:
        model: its figures; its room is warmed up, so that each heater needs a model of its own.
        seed: of the bubbles.
        step_s: that divides the room's step of ROOM_STEP_S evenly.
    """

    def __init__(self, model: HeaterModel, seed: int = 0, step_s: float = 1.0) -> None:
        self.model, self.seed, self.step_s = model, seed, step_s
        self.how, self.sheet = model.how, model.sheet
        self.phase: State = "off"
        self.is_on = False
        self.set_c, self.level_w = model.set_c, None
        self.code = ""
        self.at_s = self.phase_s = self.since_flame_s = 0.0
        self.tries = 0
        self.priming = False
        self.powered = True
        self.element_c = self.hot_c = model.inside_c
        self.demand_w = self.heat_w = 0.0
        self.co_ppm = 0.0
        self.line_air_ml = model.line_air_ml
        self.excess_air = model.sheet.output.excess_air
        self._fuel_ok_s = self._starved_s = self._under_s = 0.0
        self._half = False
        self._room_j = self._room_s = 0.0

    level_w: float | None

    def switch_on(self) -> None:
        """Ask for heat."""
        if not self.is_on:
            self.is_on, self.code, self.tries = True, "", 0
            if self.phase == "off":
                self._begin("check")

    def switch_off(self) -> None:
        """Ask it to stop: it burns itself clean and cools down."""
        self.is_on = False
        if self.phase in ELECTRIC:
            self._begin("stop" if self.phase != "check" else "off")

    def set_temperature(self, celsius: float) -> None:
        """Regulate by the room."""
        self.set_c, self.level_w = celsius, None

    def set_level(self, output_w: float) -> None:
        """Hold an output, whatever the room has."""
        output = self.sheet.output
        self.level_w = min(max(output_w, output.minimum_w), self.model.most_w)

    def prime(self, pumping: bool) -> None:
        """Let the pump tick with no flame; only while it stands still."""
        self.priming = pumping and self.phase == "off"

    @property
    def room_c(self) -> float:
        return self.model.room.air_c

    @property
    def outlet_c(self) -> float:
        """Of the air at the warm end, or of the coolant where it leaves."""
        if self.model.loop is not None:
            return self.hot_c
        return self.room_c + self._rise_k(self.heat_w)

    @property
    def sensor_c(self) -> float:
        """What the sensor feels where it hangs."""
        share = self.heat_w / self.model.most_w if self.model.most_w > 0 else 0.0
        fault = self.model.fault
        jet = fault.sensor_share * (self.outlet_c - self.room_c) if fault is not None else 0.0
        return self.room_c + self.model.bias_k * share + jet

    def step(self) -> None:
        """Go one step."""
        self.at_s += self.step_s
        self.phase_s += self.step_s
        if self.phase in BURNING:
            self.since_flame_s += self.step_s
        delivered = self._pump()
        self._watch_supply()
        self._element()
        self._flame(delivered)
        self._give()
        self._switch_over()

    def told(self) -> Told:
        """Return what is read now."""
        load, volts = self._load(), self.volts
        return Told(
            self.at_s,
            self.phase,
            volts,
            current_a(load, volts) if volts > LEAST_V else 0.0,
            self.pump_hz,
            self.outlet_c,
            self.room_c,
            self._smoke(),
            self.co_ppm,
            self.code,
        )

    def _begin(self, phase: State) -> None:
        self.phase, self.phase_s = phase, 0.0
        if phase in {"glow", "flame"}:
            self._fuel_ok_s = self._starved_s = 0.0
        if phase == "flame":
            self.since_flame_s, self.demand_w = 0.0, self.sheet.output.minimum_w
        if phase not in BURNING:
            self.demand_w = 0.0

    def _fail(self, code: str) -> None:
        """Stop for a fault; it does not start again by itself."""
        self.code, self.is_on = code, False
        self._begin("stop")

    # fuel

    @property
    def pump_hz(self) -> float:
        """Strokes of the pump a second."""
        return self._rate_ml_s() / self.sheet.output.dose_ml

    def _rate_ml_s(self) -> float:
        """What the pump is told to move."""
        output = self.sheet.output
        if not self.powered:
            return 0.0
        if self.phase in BURNING:
            return fuel_l_h(self.sheet, self.demand_w) / L_H_PER_ML_S
        lights = self.phase == "glow" and self.phase_s > self.how.pump_after_s
        return output.fuel_l_h_minimum / L_H_PER_ML_S if self.priming or lights else 0.0

    def _pump(self) -> float:
        """Turn the pump, and return the fuel that arrives, ml a second."""
        output, rate = self.sheet.output, self._rate_ml_s()
        fault = self.model.fault
        if fault is None:
            return rate
        moved = min(
            rate * fault.pump_share,
            fault.fuel_most_share * output.fuel_l_h_maximum / L_H_PER_ML_S,
        )
        if self.line_air_ml > 0:
            self.line_air_ml = max(self.line_air_ml - moved * self.step_s, 0.0)
            return 0.0
        return moved * (fault.bubble_share if self._bubble_passes() else 1.0)

    def _bubble_passes(self) -> bool:
        """Whether a bubble is at the burner: one in each stretch of time, somewhere in it."""
        every, lasts = self.how.bubble_every_s, self.how.bubble_s
        number = int(self.at_s // every)
        start = (self.seed + 1) * (number + 1) * GOLDEN % 1.0 * (every - lasts)
        return start <= self.at_s - number * every < start + lasts

    # power

    def _glows(self) -> bool:
        second = self.phase == "stop" and self.sheet.electrical.second_glow_s > 0
        return self.powered and (self.phase in {"glow", "flame"} or second)

    def _load(self) -> Load:
        if not self.powered or self.phase == "off":
            return Load()
        run = run_load(self.sheet, self.demand_w)
        if self.phase == "glow":
            return glow_load(self.sheet.electrical)
        return both(glow_load(self.sheet.electrical), run) if self._glows() else run

    @property
    def volts(self) -> float:
        """At the plug."""
        if not self.powered:
            return 0.0
        resistance = self.model.harness_ohm + self.model.battery_ohm
        found = heater_voltage_v(self.model.rest_v, resistance, self._load())
        return found if found is not None else 0.0

    def _watch_supply(self) -> None:
        """Cut the power where a fault does, and count how long the voltage has been too low."""
        fault = self.model.fault
        cut = fault.power_off_s if fault is not None else None
        if cut is not None and self.phase == "after-run" and self.phase_s >= cut:
            self.powered = False
        low = self.volts < self.sheet.electrical.cut_out_v and self.phase in ELECTRIC
        self._under_s = self._under_s + self.step_s if low else 0.0

    def _element(self) -> None:
        """The element follows its voltage."""
        electrical, target = self.sheet.electrical, self.room_c
        if self._glows():
            share = (self.volts / electrical.voltage_v) ** 2
            held = electrical.glow_load != "resistive" and self.volts > LEAST_V
            target = self.how.element_c * (1.0 if held else share)
        self.element_c = self._follow(self.element_c, target, self.how.element_tau_s)

    def _follow(self, now: float, target: float, tau_s: float) -> float:
        """First order, exact for a held target."""
        return target + (now - target) * math.exp(-self.step_s / tau_s)

    # flame and heat

    def _flame(self, delivered: float) -> None:
        """Light it, keep it, or lose it."""
        output = self.sheet.output
        least = output.fuel_l_h_minimum / L_H_PER_ML_S
        enough = delivered >= ENOUGH_SHARE * least
        self.excess_air = self._mixture(delivered)
        if self.phase == "glow":
            ready = enough and self.element_c >= self.how.ignites_c and self._burns()
            self._fuel_ok_s = self._fuel_ok_s + self.step_s if ready else 0.0
            if self._fuel_ok_s >= LIT_AFTER_S:
                self._begin("flame")
        if self.phase in BURNING:
            self._starved_s = 0.0 if enough and self._burns() else self._starved_s + self.step_s
        target = 0.0
        if self.phase in BURNING and self.demand_w > 0:
            asked = fuel_l_h(self.sheet, self.demand_w) / L_H_PER_ML_S
            target = self.demand_w * delivered / asked * min(self.excess_air, 1.0)
            fault = self.model.fault
            self.co_ppm += (fault.co_ppm_min if fault is not None else 0.0) * self.step_s / 60
        self.heat_w = self._follow(self.heat_w, target, self.how.chamber_tau_s)

    def _mixture(self, delivered: float) -> float:
        """Excess air of what burns now; the sheet's where nothing does."""
        nominal, fault = self.sheet.output.excess_air, self.model.fault
        air = nominal
        if fault is not None:
            begins, ends = self.how.snow_s
            built = min(max((self.since_flame_s - begins) / (ends - begins), 0.0), 1.0)
            air *= fault.air_share * (1 - built * (1 - fault.late_air_share))
        watts = self.demand_w if self.phase in BURNING else self.sheet.output.minimum_w
        asked = fuel_l_h(self.sheet, watts) / L_H_PER_ML_S
        return air * asked / delivered if delivered > 0 else air

    def _burns(self) -> bool:
        return self.how.rich <= self.excess_air <= self.how.lean

    def _smoke(self) -> SmokeWord:
        if self.phase not in BURNING:
            return "none"
        if self.excess_air < self.how.thick:
            return "thick"
        early = self.since_flame_s < FIRST_SMOKE_S
        return "some" if early or self.excess_air < self.how.some else "none"

    def _rise_k(self, output_w: float) -> float:
        """By how much the air gets warmer at an output; in proportion below the least."""
        rise, least = self.model.rise, self.sheet.output.minimum_w
        if not rise:
            return 0.0
        if output_w < least:
            return between(rise, least) * max(output_w, 0.0) / least
        return between(rise, output_w)

    def _give(self) -> None:
        """Heat into room or coolant; the room goes on in steps of its own."""
        given, loop = self.heat_w, self.model.loop
        if loop is not None:
            given = loop.gives_w_k * (self.hot_c - self.room_c)
            settled = self.room_c + self.heat_w / loop.gives_w_k
            self.hot_c = self._follow(self.hot_c, settled, loop.heat_j_k / loop.gives_w_k)
        self._room_j += given * self.step_s
        self._room_s += self.step_s
        if self._room_s >= ROOM_STEP_S - self.step_s / 2:
            self.model.room.blow(self.phase != "off")
            self.model.room.advance(self._room_j / ROOM_STEP_S)
            self._room_j = self._room_s = 0.0

    # what it does next

    def _switch_over(self) -> None:
        if not self.powered:
            if self.phase != "off":
                self.is_on = False
                self._begin("off")
            return
        if self._under_s >= self.how.under_voltage_s:
            self._under_s = 0.0
            self._fail("low voltage")
        elif self.phase == "check" and self.phase_s >= self.how.check_s:
            self._begin("glow")
        elif self.phase == "glow" and self.phase_s >= self.how.try_s:
            self._try_again("no flame")
        elif self.phase in BURNING:
            self._burn_on()
        elif self.phase == "stop" and self.phase_s >= self.sheet.electrical.second_glow_s:
            self._begin("after-run")
        elif self.phase == "after-run" and self.phase_s >= self.sheet.electrical.after_run_s:
            self._begin("off")
        elif self.phase == "off" and self.is_on and self._wants_heat():
            self._begin("check")

    def _try_again(self, code: str) -> None:
        self.tries += 1
        if self.tries >= self.how.tries:
            self._fail(code)
        else:
            self._begin("glow")

    def _burn_on(self) -> None:
        """Regulate, throttle, and stop where it has to."""
        if self._starved_s >= self.how.starves_s:
            self._try_again("flame lost")
            return
        if self.model.rise and self.outlet_c > self.model.limit_c + self.how.over_limit_k:
            self._fail("too hot")
            return
        if self.phase == "flame":
            if self.phase_s >= self.how.flame_hold_s:
                self._begin("ramp")
            return
        wanted = self._wanted_w()
        if wanted is None:
            self._begin("stop")
            return
        ceiling = min(wanted, self._allowed_w())
        climb = (self.model.most_w - self.sheet.output.minimum_w) * self.step_s / self.how.ramp_s
        self.demand_w = min(ceiling, self.demand_w + climb)
        reached = self.demand_w >= REACHED * ceiling
        phase: State = "full" if wanted >= REACHED * self.model.most_w else "regulation"
        if reached and phase != self.phase:
            self._begin(phase)

    def _wanted_w(self) -> float | None:
        """What the room or the coolant asks for; None where it should stop."""
        output = self.sheet.output
        if self.model.loop is not None:
            return self._by_coolant()
        if self.level_w is not None:
            return self.level_w
        over_k = self.sensor_c - self.set_c
        if over_k > OFF_ABOVE_K and output.below_minimum == "stops":
            return None
        wanted = self.model.most_w * (BAND_K / 2 - over_k) / BAND_K
        return min(max(wanted, output.minimum_w), self.model.most_w)

    def _by_coolant(self) -> float | None:
        """Full, half, or none, by the coolant's own temperatures."""
        loop = self.model.loop
        if loop is None:
            return None
        side = loop.side
        if self.hot_c >= side.to_pause_c:
            self._half = False
            return None
        if self.hot_c >= side.to_half_c:
            self._half = True
        elif self.hot_c <= side.to_full_c:
            self._half = False
        if not self._half:
            return self.model.most_w
        return side.half_w if side.half_w is not None else self.model.most_w

    def _wants_heat(self) -> bool:
        loop = self.model.loop
        if loop is not None:
            return self.hot_c <= loop.side.restart_c
        return self.sensor_c < self.set_c - ON_BELOW_K

    def _allowed_w(self) -> float:
        """The most output at which the warm end keeps its limit, in the air that it draws now."""
        rise, limit_k = self.model.rise, self.model.limit_c - self.room_c
        most, least = self.model.most_w, self.sheet.output.minimum_w
        if not rise or between(rise, most) <= limit_k:
            return most
        by_rise = tuple((kelvin, watts) for watts, kelvin in rise)
        return min(max(between(by_rise, limit_k), least), most)
