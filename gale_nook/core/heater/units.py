"""Other heaters in the same vehicle: which of them runs when."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.fitted.installed import installed
from gale_nook.core.heat.cab import cab_loss_w_k
from gale_nook.core.heat.loss import loss_model
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.heater import OtherUnit

STEP_K = 5.0
WARMEST_C = 15.0


@dataclass(frozen=True, slots=True)
class When:
    """Which heaters do at an outside temperature.

    Attributes:
        need_w: of the room, with its margin; cab_w: of the cab beside it.
        room, cab: names of those that run for it; empty where nothing has to, or none does.
        enough: what runs covers what it is for.
        cycles: of those that run alone for the room, it cycles: its least output is more than the
            need.
    """

    outside_c: float
    need_w: float
    cab_w: float
    room: tuple[str, ...]
    cab: tuple[str, ...]
    enough: bool
    cycles: bool


def room_units(job: Job) -> tuple[OtherUnit, ...]:
    """Return the other heaters that heat the same room."""
    return tuple(unit for unit in job.plan.heater.others if unit.heats == "room")


def others_w(job: Job) -> float:
    """Return what the other heaters of the room give at their most."""
    return sum(unit.most_w for unit in room_units(job))


def which_when(job: Job) -> tuple[When, ...]:
    """Return which heater runs when, from the coldest night up; empty without another one.

    For the room the one with the least output that still covers the need runs alone, so that none
    cycles more than it has to; where none does, the strongest ones together, as few as do.
    """
    sheet, heat = heater_sheet(job), job.plan.heat
    if sheet is None or not job.plan.heater.others:
        return ()
    own = installed(job, sheet)
    fleet = [(sheet.output.minimum_w, own.most_w, sheet.label)]
    fleet += [(unit.least_w, unit.most_w, unit.name) for unit in room_units(job)]
    cabs = [unit for unit in job.plan.heater.others if unit.heats == "cab"]
    model = loss_model(job)
    count = max(math.ceil((WARMEST_C - heat.outside_c) / STEP_K), 0)
    results = []
    for outside in (heat.outside_c + STEP_K * n for n in range(count + 1)):
        need = max(model.at(outside).need_w, 0.0)
        cab_w = max(heat.inside_c - outside, 0.0) * cab_loss_w_k(job.plan, job.catalogue)
        chosen = _fewest(fleet, need)
        warm = sum(unit.most_w for unit in cabs) >= cab_w
        covered = sum(most for _, most, _ in chosen) >= need
        results.append(
            When(
                outside,
                need,
                cab_w,
                tuple(name for _, _, name in chosen),
                tuple(unit.name for unit in cabs) if cab_w > 0 else (),
                covered and (warm or not cabs),
                len(chosen) == 1 and 0 < need < chosen[0][0],
            )
        )
    return tuple(results)


Unit = tuple[float, float, str]


def _fewest(fleet: list[Unit], need_w: float) -> list[Unit]:
    """Which of a fleet run for a need: (least, most, name) of each."""
    if need_w <= 0:
        return []
    alone = [unit for unit in fleet if unit[1] >= need_w]
    if alone:
        return [min(alone, key=lambda unit: (unit[0], unit[1]))]
    chosen: list[Unit] = []
    for unit in sorted(fleet, key=lambda unit: -unit[1]):
        chosen.append(unit)
        if sum(most for _, most, _ in chosen) >= need_w:
            break
    return chosen
