"""From cold, and through a night: the coolant heater as it regulates by its own coolant, the room
by its fans.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.base.heater_sheet import LoopSide
from gale_nook.core.ducts.places import set_c
from gale_nook.core.errors import NotConverged
from gale_nook.core.heat.burner import ON_BELOW_K, RAMP_S, START_DELAY_S
from gale_nook.core.heat.night import set_temperature_c
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.dynamics import BINS_C, Mode, Stores, linear, stores
from gale_nook.core.loop.graph import loop_graph
from gale_nook.core.loop.hoses import loop_parts, loop_side
from gale_nook.core.loop.state import loop_state, most_output_w
from gale_nook.core.plan.air import LIVING

STEP_S, NIGHT_STEP_S = 10.0, 20.0
SAMPLE_S, NIGHT_SAMPLE_S = 60.0, 300.0
BLOCK_WARM_C, SHOWER_C = 60.0, 45.0
BIN_K, WARM_BIN_C = 20.0, 60.0  # from which mixing valves stand as they do when all is settled
WARM_UP_S = 4 * 3600.0
OFF, STARTING, FULL, HALF, PAUSE = "off", "starting", "full", "half", "pause"
BURNING = frozenset({FULL, HALF})
LIT = BURNING | {STARTING}


@dataclass(frozen=True, slots=True)
class LoopSample:
    """A point of the curves.

    Attributes:
        hot_c: at the heater's outlet; stores_c: of what is warmed, by its name.
        heat_j: that the heater gave until then.
    """

    at_s: float
    hot_c: float
    air_c: float
    stores_c: dict[str, float]
    output_w: float
    heat_j: float


@dataclass(frozen=True)
class LoopRun:
    """Some hours of it.

    Attributes:
        block_s, shower_s, room_s: until an engine's block has 60 °C, the water 45 °C, the room its
            set temperature; None where it never did, or there is none.
        zones_s: until each zone has its own, by its id; without those that never had.
        half_share, cycling_share: of the burning time at half load; of the whole time paused, off
            or starting after the first start.
        heat_j, lost_j, stored_j: the energy balance.
    """

    samples: tuple[LoopSample, ...]
    block_s: float | None
    shower_s: float | None
    room_s: float | None
    zones_s: dict[str, float]
    fuel_l: float
    electricity_wh: float
    starts: int
    half_share: float
    cycling_share: float
    heat_j: float
    lost_j: float
    stored_j: float
    lowest_air_c: float


@fact
def warm_up(job: Job) -> LoopRun | None:
    """Return four hours from cold; None without a loop."""
    return _run(job, WARM_UP_S, lambda _: job.plan.heat.inside_c, (STEP_S, SAMPLE_S))


@fact
def warm_up_orders(job: Job) -> tuple[tuple[str, LoopRun], ...]:
    """Return what comes of warming one thing first, by what that is: what the others need waits
    until it is warm. Only what fans and pumps can hold back waits.
    """
    inside, steps = job.plan.heat.inside_c, (STEP_S, SAMPLE_S)
    kinds = {kind.kind for _, kind in loop_parts(job)}
    present = {"block": "engine" in kinds, "water": "calorifier" in kinds, "room": True}
    firsts = ["", *(first for first, there in present.items() if there)]
    runs = ((first, _run(job, WARM_UP_S, lambda _: inside, steps, first)) for first in firsts)
    return tuple((first, found) for first, found in runs if found is not None)


@fact
def loop_night(job: Job) -> LoopRun | None:
    """Return the coldest night with the plan's set temperatures and timers; None without a loop."""
    night = job.plan.heat.night

    def wanted(at_s: float) -> float | None:
        return set_temperature_c(night, job.plan.heat.inside_c, night.start_h + at_s / 3600)

    steps = (NIGHT_STEP_S, NIGHT_SAMPLE_S)
    return _run(job, night.hours_h * 3600, wanted, steps)


@dataclass
class _Heater:
    """The heater's own regulation, by the coolant at its outlet."""

    side: LoopSide
    most_w: float
    phase: str = OFF
    left_s: float = 0.0
    output_w: float = 0.0
    starts: int = 0
    stops: int = 0

    def decide(self, hot_c: float, wanted: bool, step_s: float) -> None:
        """Go over to another phase where the coolant, or who wants heat, asks for it."""
        side = self.side
        self.left_s -= step_s
        if not wanted:
            self.stops += self.phase in LIT
            self.phase = OFF
        elif self.phase == OFF or (self.phase == PAUSE and hot_c <= side.restart_c):
            self.starts += 1
            self.phase, self.left_s = STARTING, START_DELAY_S
        elif self.phase == STARTING and self.left_s <= 0:
            self.phase = FULL
        elif self.phase in BURNING and hot_c >= side.to_pause_c:
            self.phase = PAUSE
            self.stops += 1
        elif self.phase == FULL and side.half_w is not None and hot_c >= side.to_half_c:
            self.phase = HALF
        elif self.phase == HALF and hot_c <= side.to_full_c:
            self.phase = FULL
        self._follow(step_s)

    def _follow(self, step_s: float) -> None:
        """The flame grows over its ramp, and comes down at once."""
        aim = self.most_w if self.phase == FULL else 0.0
        if self.phase == HALF:
            aim = min(self.side.half_w or 0.0, self.most_w)
        grown = self.output_w + self.most_w * step_s / RAMP_S
        self.output_w = min(aim, grown) if aim > 0 else 0.0


@dataclass
class _Sums:
    """What is summed up on the way."""

    heat_j: float = 0.0
    driven_j: float = 0.0
    starting_s: float = 0.0
    burning_s: float = 0.0
    half_s: float = 0.0
    cycling_s: float = 0.0
    lowest_c: float = math.inf


class _Simulation:
    """State, heater and fans, advanced in steps of one length."""

    def __init__(self, job: Job, side: LoopSide, step_s: float) -> None:
        self.job, self.step_s = job, step_s
        self.there: Stores = stores(job)
        self.heater = _Heater(side, most_output_w(job))
        state = loop_state(job)
        self.mixed = tuple(sorted(state.mixed.items())) if state is not None else ()
        heat, place = job.plan.heat, self.there.place
        cold = heat.outside_c if heat.night.start_c is None else heat.night.start_c
        self.count = len(self.there.names)
        # the state, the heat lost, and what is given: outside, cab, the heater's output
        self.now = np.full(self.count + 4, cold)
        self.now[self.count :] = (0.0, self.there.outside_c, self.there.cab_c, 0.0)
        for name, at in place.items():
            if name.startswith("tank:"):
                self.now[at] = job.plan.coolant.water_start_c
        self.start = self.now[: self.count].copy()
        self.told: list[float] = self.now.tolist()  # the same as plain numbers, which read faster
        self.fans_on = True
        self._fans_held, self._stopped = False, frozenset[str]()
        self.sums = _Sums()
        self._air, self._coolant = self.there.air(LIVING), place["coolant"]
        self._modes: dict[Any, tuple[float, Any]] = {}  # by bin, fans and pumps
        self._fans_w, self._pumps_w = _driven_w(job, side)

    def _mode(self, pumps: bool) -> tuple[float, Any]:
        """What the coolant carries through the heater, and the step."""
        number = round((self.told[self._coolant] - BINS_C[0]) / BIN_K)
        key = (min(max(number, 0), len(BINS_C) - 1), self.fans_on, pumps)
        found = self._modes.get(key)
        if found is None:
            nearest_c = BINS_C[key[0]]
            mixed = self.mixed if nearest_c >= WARM_BIN_C else _all_hot(self.mixed)
            mode = Mode(nearest_c, self.fans_on, pumps, mixed, self._stopped)
            system = linear(self.job, mode)
            found = self._modes[key] = (system.carried_w_k, system.step(self.step_s))
        return found

    def hold(self, first: str) -> None:
        """Let what is not warmed first wait: its fans stand, and its pumps."""
        graph = loop_graph(self.job)
        own = graph.heater_circuit()
        pumps = [part for part, kind in loop_parts(self.job) if kind.kind == "pump"]
        apart = {p.id for p in pumps if graph.circuit_of[graph.node_of[p.id, "in"]] != own}
        beside = {p.id for p in pumps if self.heater.side.pump and p.id not in apart}
        waits = {"block": beside, "water": beside | apart, "room": apart}.get(first, set())
        self._fans_held, self._stopped = first in {"block", "water"}, frozenset(waits)
        self._modes.clear()

    @property
    def air_c(self) -> float:
        return float(self.now[self._air])

    @property
    def celsius(self) -> Any:
        return self.now[: self.count]

    @property
    def lost_j(self) -> float:
        return float(self.now[self.count])

    def go(self, set_c: float | None) -> float:
        """Go one step; return the temperature at the heater's outlet."""
        air, heater = self.told[self._air], self.heater
        if set_c is None or self._fans_held or air > set_c + ON_BELOW_K:
            self.fans_on = False
        elif air < set_c - ON_BELOW_K:
            self.fans_on = True
        carried, step = self._mode(set_c is not None)
        hot = self.told[self._coolant]
        hot += heater.output_w / carried if carried > 0 else 0.0
        heater.decide(hot, set_c is not None, self.step_s)
        self.now[-1] = heater.output_w
        self.now = step @ self.now
        self.told = self.now.tolist()
        self._sum_up(set_c is not None)
        return hot

    def _sum_up(self, running: bool) -> None:
        sums = self.sums
        sums.heat_j += self.heater.output_w * self.step_s
        sums.driven_j += self.step_s * (
            (self._pumps_w if running else 0.0) + (self._fans_w if self.fans_on else 0.0)
        )
        if self.heater.phase == STARTING:
            sums.starting_s += self.step_s
        elif self.heater.output_w > 0:
            sums.burning_s += self.step_s
        if self.heater.phase == HALF:
            sums.half_s += self.step_s
        elif self.heater.phase != FULL and self.heater.starts > 0 and sums.burning_s > 0:
            sums.cycling_s += self.step_s
        sums.lowest_c = min(sums.lowest_c, self.told[self._air])

    def fuel_l(self) -> float:
        """Burnt: in proportion to the heat."""
        sheet = heater_sheet(self.job)
        if sheet is None:
            return 0.0
        return self.sums.heat_j / sheet.output.maximum_w * sheet.output.fuel_l_h_maximum / 3600

    def electricity_wh(self) -> float:
        """Drawn by heater, pumps and fans, with the second glow of each stop."""
        sheet, sums = heater_sheet(self.job), self.sums
        if sheet is None:
            return 0.0
        electrical = sheet.electrical
        glow_s = sums.starting_s + electrical.second_glow_s * self.heater.stops
        span = electrical.run_maximum_a - electrical.run_minimum_a
        ampere_s = (
            electrical.glow_current_a * glow_s
            + electrical.run_minimum_a * sums.burning_s
            + span * sums.heat_j / sheet.output.maximum_w
        )
        return (ampere_s * electrical.voltage_v + sums.driven_j) / 3600


def _driven_w(job: Job, side: LoopSide) -> tuple[float, float]:
    """What all fans draw while they blow, and all pumps while they run."""
    fans, pumps = 0.0, side.pump_w if side.pump else 0.0
    for part, kind in loop_parts(job):
        if kind.kind == "pump":
            pumps += kind.power_w * part.level_percent / 100
        elif kind.kind == "matrix" and kind.fans:
            fans += kind.fans[min(part.fan, len(kind.fans) - 1)].power_w
    return fans, pumps


def _all_hot(mixed: tuple[tuple[str, float], ...]) -> tuple[tuple[str, float], ...]:
    """Mixing valves while the coolant is not warm enough to be mixed down."""
    return tuple((valve, 0.98) for valve, _ in mixed)


def _run(
    job: Job,
    for_s: float,
    wanted: Callable[[float], float | None],
    steps_s: tuple[float, float],
    first: str = "",
) -> LoopRun | None:
    """Return some hours in steps, with a sample every so often.

    Args:
        first: "block", "water" or "room": what the others wait for; all at once where it is empty.
    """
    try:
        return _followed(job, for_s, wanted, steps_s, first)
    except (NotConverged, np.linalg.LinAlgError):
        return None  # that is told by the rule that asks for the flows


def _followed(
    job: Job,
    for_s: float,
    wanted: Callable[[float], float | None],
    steps_s: tuple[float, float],
    first: str,
) -> LoopRun | None:
    side, state = loop_side(job), loop_state(job)
    if side is None or state is None:
        return None
    step_s, sample_s = steps_s
    sim, watch = _Simulation(job, side, step_s), _Watch(job)
    samples = []
    every = round(sample_s / step_s)
    sim.hold(first)
    for number in range(round(for_s / step_s)):
        at_s = number * step_s
        hot = sim.go(wanted(at_s))
        watch.look(sim.told, at_s + step_s)
        if first in watch.reached:
            sim.hold(first := "")
        if number % every == 0:
            samples.append(_sample(sim, at_s + step_s, hot))
    reached = watch.reached
    stored = float(((sim.celsius - sim.start) * sim.there.j_k).sum())
    return LoopRun(
        tuple(samples),
        reached.get("block"),
        reached.get("water"),
        reached.get("room"),
        {zone: reached[zone] for zone in sim.there.zones if zone in reached},
        sim.fuel_l(),
        sim.electricity_wh(),
        sim.heater.starts,
        sim.sums.half_s / max(sim.sums.burning_s, step_s),
        sim.sums.cycling_s / for_s,
        sim.sums.heat_j,
        sim.lost_j,
        stored,
        sim.sums.lowest_c,
    )


class _Watch:
    """Notes when something has become warm enough for the first time.

    Attributes:
        reached: seconds, by "block", "water", "room", and the ids of zones.
    """

    def __init__(self, job: Job) -> None:
        there = stores(job)
        self.reached: dict[str, float] = {}
        kinds = (("block", "block:", BLOCK_WARM_C), ("water", "tank:", SHOWER_C))
        found = [
            (kind, [n for name, n in there.place.items() if name.startswith(prefix)], aim)
            for kind, prefix, aim in kinds
        ]
        warm_c = job.plan.heat.inside_c - ON_BELOW_K
        found.append(("room", [there.air(LIVING)], warm_c))
        found += [(z, [there.air(z)], set_c(job, z) - ON_BELOW_K) for z in there.zones]
        self._waiting = [(k, places[0], places, aim) for k, places, aim in found if places]

    def look(self, celsius: Sequence[float], at_s: float) -> None:
        """Look at what is still waited for."""
        reached = [
            kind
            for kind, first, places, aim in self._waiting
            if celsius[first] >= aim and all(celsius[n] >= aim for n in places)
        ]
        if reached:
            self.reached |= dict.fromkeys(reached, at_s)
            self._waiting = [each for each in self._waiting if each[0] not in reached]


def _sample(sim: _Simulation, at_s: float, hot_c: float) -> LoopSample:
    kept = {
        name: float(sim.celsius[n])
        for name, n in sim.there.place.items()
        if not name.startswith("room:")
    }
    return LoopSample(at_s, hot_c, sim.air_c, kept, sim.heater.output_w, sim.sums.heat_j)
