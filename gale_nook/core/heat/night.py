"""One night: warm-up, thermostat, set-back, timers, fuel and current."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.burner import ON_BELOW_K, Burner, Phase
from gale_nook.core.heat.load_space import HALVINGS, STEP_S, LoadSpace
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heat import Night

SAMPLE_S = 300.0
SETTLED_S = 3600.0  # after reaching the target; before that the air still swings over cold walls


class Room(Protocol):
    """A load space that is stepped through time: one room, or several zones."""

    lost_j: float

    @property
    def air_c(self) -> float:
        """Where the thermostat's sensor hangs."""

    def blow(self, blowing: bool) -> None:
        """Say whether the heater's fan turns."""

    def air_after(self, level: int = 0) -> tuple[float, float]:
        """Return the air after a step without heat, and by how much each watt raises it."""

    def advance(self, heat_w: float, level: int = 0) -> None:
        """Go one step with heat from the heater."""

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

    def look(self, passed_s: float, air_c: float, set_c: float | None, burning: bool) -> None:
        reached = self.to_target_s
        if reached is None:
            if set_c is not None and air_c >= set_c - ON_BELOW_K:
                self.to_target_s = passed_s
            return
        if not burning:
            self.off_s += STEP_S
        if air_c < self.lowest_c and passed_s > reached + SETTLED_S:
            self.lowest_c, self.lowest_s = air_c, passed_s


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
    for step, target in enumerate(_targets(plan, steps)):
        if step % every == 0:
            before_l = burner.fuel_l() if step else 0.0
            samples.append(
                Sample(
                    night.start_h + step * STEP_S / 3600,
                    room.air_c,
                    target,
                    burner.output_w,
                    before_l,
                )
            )
        step_on(room, burner, target)
        burning = burner.phase is Phase.BURNING
        watch.look((step + 1) * STEP_S, room.air_c, target, burning)
    coldest = min(samples, key=lambda sample: sample.air_c)
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


def step_on(room: Room, burner: Burner, set_c: float | None, level: int = 0) -> None:
    """Go one step; where the heater would switch over within it, in halves, down to where it does.

    Args:
        level: how often the step is halved already.
    """
    step_s = STEP_S / 2**level
    burner.begin_step(room.air_c, set_c)
    room.blow(burner.phase is not Phase.OFF)
    free_c, k_per_w = room.air_after(level)
    output = burner.output_for(set_c, step_s, free_c, k_per_w)
    if level < HALVINGS and burner.switches_within(set_c, step_s, free_c + k_per_w * output):
        step_on(room, burner, set_c, level + 1)
        step_on(room, burner, set_c, level + 1)
        return
    burner.give(output, step_s)
    room.advance(output, level)


def _targets(plan: Plan, steps: int) -> list[float | None]:
    """Return what the thermostat is set to in each step."""
    night, inside_c = plan.heat.night, plan.heat.inside_c
    return [
        set_temperature_c(night, inside_c, night.start_h + step * STEP_S / 3600)
        for step in range(steps)
    ]


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
    for step in range(math.ceil(within_s / STEP_S)):
        step_on(room, burner, inside_c)
        if room.air_c >= inside_c - ON_BELOW_K:
            return (step + 1) * STEP_S
    return None
