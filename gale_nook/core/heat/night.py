"""One night: warm-up, thermostat, set-back, timers, fuel and current."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.ahead import Ahead, Law
from gale_nook.core.heat.burner import ON_BELOW_K, Burner, Phase
from gale_nook.core.heat.load_space import HALVINGS, STEP_S, LoadSpace
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heat import Night

SAMPLE_S = 300.0
SETTLED_S = 3600.0  # after reaching the target; before that the air still swings over cold walls


class Room(Protocol):
    """A load space that is stepped through time: one room, or several zones."""

    lost_j: float
    sensor: int  # the node where the thermostat's sensor hangs

    @property
    def air_c(self) -> float:
        """What the air has there."""

    def celsius(self) -> Any:
        """Return the temperature of each node, (n,)."""

    def blow(self, blowing: bool) -> None:
        """Say whether the heater's fan turns."""

    def air_after(self, level: int = 0) -> tuple[float, float]:
        """Return the air after a step without heat, and by how much each watt raises it."""

    def advance(self, heat_w: float, level: int = 0) -> None:
        """Go one step with heat from the heater."""

    def ahead(self, law: Law) -> Ahead:
        """Return where the next steps lead with a heater that follows a law."""

    def take(self, ahead: Ahead, count: int) -> None:
        """Go as many of the steps ahead."""

    def stored_j(self) -> float:
        """Return the heat taken up since the start."""


@dataclass(frozen=True)
class Sample:
    """A point of the night's curve; `set_c` is None while a timer has the heater off."""

    hour_h: float
    air_c: float
    set_c: float | None
    output_w: float
    fuel_l: float


@dataclass(frozen=True)
class NightResult:
    """What the night comes to.

    Attributes:
        to_target_s: from switching on to within ON_BELOW_K of the set temperature; None when never.
        lowest_c, lowest_h: lowest air temperature once settled, an hour after the target was first
            reached, and the hour of the day counted on from the start's; over the whole night when
            the target was never reached.
        idle_share, cycling_share: share of the burning time at least output; of the whole time off
            or starting after the first start.
        heat_j, lost_j, stored_j: the energy balance.
    """

    samples: tuple[Sample, ...]
    to_target_s: float | None
    lowest_c: float
    lowest_h: float
    fuel_l: float
    electricity_wh: float
    starts: int
    idle_share: float
    cycling_share: float
    heat_j: float
    lost_j: float
    stored_j: float


def set_temperature_c(night: Night, inside_c: float, hour_h: float) -> float | None:
    """Return what the thermostat is set to at a time of day: by the last timer that runs then, else
    by the set-back.

    None while a timer has the heater off.
    """
    for timer in reversed(night.timers):
        if _within(hour_h, timer.from_h, timer.to_h):
            return timer.set_c
    return night.night_c if _within(hour_h, night.night_from_h, night.night_to_h) else inside_c


def _within(hour_h: float, start: float, end: float) -> bool:
    hour = hour_h % 24
    return start <= hour < end if start <= end else hour >= start or hour < end


class _Watch:
    """Looks on: when the target is reached, the coldest moment after that, the time off since."""

    def __init__(self) -> None:
        self.to_target_s: float | None = None
        self.lowest_c, self.lowest_s = math.inf, 0.0
        self.off_s = 0.0

    def look(self, from_s: float, air_c: Any, set_c: float | None, burning: bool) -> None:
        """Look at the air after each of some steps, (m,), the first of which began at `from_s`."""
        if self.to_target_s is None:
            if set_c is None or air_c.max() < set_c - ON_BELOW_K:
                return
            first = int((air_c >= set_c - ON_BELOW_K).argmax()) + 1
            self.to_target_s = from_s + first * STEP_S
            air_c, from_s = air_c[first:], self.to_target_s
        if not burning:
            self.off_s += len(air_c) * STEP_S
        early = int((self.to_target_s + SETTLED_S - from_s) / STEP_S)  # these are not settled yet
        settled = air_c[max(early, 0) :]
        if len(settled) and settled.min() < self.lowest_c:
            at = int(settled.argmin())
            self.lowest_c = float(settled[at])
            self.lowest_s = from_s + (max(early, 0) + at + 1) * STEP_S


def simulate_night(
    plan: Plan,
    catalogue: Catalogue,
    sheet: HeaterSheet,
    most_w: float,
    room: Room | None = None,
) -> NightResult:
    """Return the night with a heater of the catalogue.

    Each step is integrated exactly for constant heater output and outside temperature (modal
    solution of the linear network); the heater decides once a step of STEP_S, and within a second
    of where it switches over.

    Args:
        most_w: the heater's greatest output where the vehicle stands, through its ducting.
        room: the load space, cold; one room where it is left out.
    """
    night = plan.heat.night
    room = room if room is not None else LoadSpace(plan, catalogue)
    burner = Burner(sheet, most_w)
    watch = _Watch()
    samples = []
    steps, every = round(night.hours_h * 3600 / STEP_S), round(SAMPLE_S / STEP_S)
    step = 0
    for target, end in set_points(night, plan.heat.inside_c, steps, STEP_S):
        while step < end:
            if step % every == 0:
                fuel_l = burner.fuel_l() if step else 0.0
                samples.append(_sample(night, step, room.air_c, target, burner.output_w, fuel_l))
            gone = go_on(room, burner, target, end - step)
            air_c = gone.celsius[:, room.sensor]
            for at in range(every - step % every, len(air_c), every):
                fuel_l = burner.fuel_l() - burner.fuel_of_l(gone.output_w[at:], STEP_S)
                before = float(air_c[at - 1]), target, float(gone.output_w[at - 1])
                samples.append(_sample(night, step + at, *before, fuel_l))
            watch.look(step * STEP_S, air_c, target, burner.phase is Phase.BURNING)
            step += len(air_c)
    coldest = min(samples, key=lambda sample: round(sample.air_c, 6))
    held = watch.lowest_c < math.inf
    return NightResult(
        samples=tuple(samples),
        to_target_s=watch.to_target_s,
        lowest_c=watch.lowest_c if held else coldest.air_c,
        lowest_h=night.start_h + watch.lowest_s / 3600 if held else coldest.hour_h,
        fuel_l=burner.fuel_l(),
        electricity_wh=burner.electricity_wh(),
        starts=burner.starts,
        idle_share=burner.idle_s / burner.burning_s if burner.burning_s else 0.0,
        cycling_share=watch.off_s / (steps * STEP_S),
        heat_j=burner.heat_j,
        lost_j=room.lost_j,
        stored_j=room.stored_j(),
    )


def _sample(
    night: Night, step: int, air_c: float, set_c: float | None, output_w: float, fuel_l: float
) -> Sample:
    return Sample(night.start_h + step * STEP_S / 3600, air_c, set_c, output_w, fuel_l)


@dataclass(frozen=True, slots=True, eq=False)
class Gone:
    """Some steps that were gone.

    Attributes:
        celsius: of each node after each, (m, n); output_w: over each, (m,).
    """

    celsius: Any
    output_w: Any


def go_on(room: Room, burner: Burner, set_c: float | None, most: int) -> Gone:
    """Go some steps, at the most so many, at once while the heater follows one law; else one."""
    burner.begin_step(room.air_c, set_c)
    room.blow(burner.phase is not Phase.OFF)
    free_c, k_per_w = room.air_after()
    law = burner.law(set_c, STEP_S, free_c, k_per_w) if most > 1 else None
    if law is not None:
        ahead = room.ahead(law)
        held = min(burner.steps_held(law, ahead, set_c, STEP_S, k_per_w), most)
        if held > 1:
            burner.give_each(ahead.output_w[:held], STEP_S)
            room.take(ahead, held)
            return Gone(ahead.celsius[:held], ahead.output_w[:held])
    _step_on(room, burner, set_c, 0)
    return Gone(room.celsius()[None], np.array([burner.output_w]))


def _step_on(room: Room, burner: Burner, set_c: float | None, level: int) -> None:
    """Go one step; where the heater would switch over within it, in halves, down to where it does.

    Args:
        level: how often the step is halved already.
    """
    step_s = STEP_S / 2**level
    if level:
        burner.begin_step(room.air_c, set_c)
        room.blow(burner.phase is not Phase.OFF)
    free_c, k_per_w = room.air_after(level)
    output = burner.output_for(set_c, step_s, free_c, k_per_w)
    if level < HALVINGS and burner.switches_within(set_c, step_s, free_c + k_per_w * output):
        _step_on(room, burner, set_c, level + 1)
        _step_on(room, burner, set_c, level + 1)
        return
    burner.give(output, step_s)
    room.advance(output, level)


def set_points(
    night: Night, inside_c: float, steps: int, step_s: float
) -> list[tuple[float | None, int]]:
    """Return what the thermostat is set to, each with the step where that ends."""

    def target(step: int) -> float | None:
        return set_temperature_c(night, inside_c, night.start_h + step * step_s / 3600)

    changes_h = [night.night_from_h, night.night_to_h]
    changes_h += [hour for timer in night.timers for hour in (timer.from_h, timer.to_h)]
    days = range(math.ceil(night.hours_h / 24) + 1)
    near = {
        math.floor(((hour - night.start_h) % 24 + 24 * day) * 3600 / step_s) + beside
        for hour in changes_h
        for day in days
        for beside in (0, 1, 2)  # which of them it is, the time of day rounded says
    }
    begins = sorted({0} | {step for step in near if 0 < step < steps})
    return [(target(at), end) for at, end in zip(begins, [*begins[1:], steps], strict=True)]


def warm_up_s(
    room: Room, inside_c: float, sheet: HeaterSheet, most_w: float, within_s: float
) -> float | None:
    """Return how long the heater takes from cold to the inside temperature; None when longer than
    `within_s`.

    No set-back and no timers: the thermostat asks for the inside temperature from the start.

    Args:
        room: the cold load space; it is warmed up.
    """
    burner = Burner(sheet, most_w)
    step, steps = 0, math.ceil(within_s / STEP_S)
    while step < steps:
        air_c = go_on(room, burner, inside_c, steps - step).celsius[:, room.sensor]
        there = np.flatnonzero(air_c >= inside_c - ON_BELOW_K)
        if len(there):
            return (step + int(there[0]) + 1) * STEP_S
        step += len(air_c)
    return None
