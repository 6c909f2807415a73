"""What layouts are compared by: figures of a plan, less of which is better, and their sum."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from gale_nook.core.build.cards import cards
from gale_nook.core.build.lists import holes_to_cut, parts_list
from gale_nook.core.catalogue.planner import PlannerBook
from gale_nook.core.ducts.tree import duct_runs
from gale_nook.core.fitted.usable import usable
from gale_nook.core.fitted.zone_supply import zones_supplied
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, fact
from gale_nook.core.noise.at_bed import at_beds
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.wishes import Weights
from gale_nook.core.spot.costs import heater_litres

Values = Mapping[str, float]  # by the id of their measure; what cannot be told is left out
MM3_PER_L = 1e6


def storage_l(job: Job) -> float:
    """Return the litres inside that heater, tank and ducts take."""
    mount, taken = chosen_mount(job), 0.0
    if job.plan.spot is not None and mount is not None and mount.place == "inside":
        taken += heater_litres(job)
    tank = own_tank(job)
    if tank is not None and job.plan.fuel.source == "tank-inside":
        length, width, height = tank.size_mm
        taken += length * width * height / MM3_PER_L
    for run in duct_runs(job):
        bore = job.catalogue.air_equipment.duct(run.duct.kind).bore_mm
        taken += math.pi / 4 * bore**2 * run.length_mm / MM3_PER_L
    return taken


def heard_db(job: Job) -> float | None:
    """Return the level at the loudest bed by night, dB(A); None without a bed."""
    return max((bed.middle_db for bed in at_beds(job, True)), default=None)


def heat_missing_w(job: Job) -> float:
    """Return what the zones lack of their need on the design night; of a heater that blows free
    what it lacks in all.
    """
    zones = zones_supplied(job)
    if zones:
        return sum(max(each.need_w - (each.gets_w or 0.0), 0.0) for each in zones)
    found = usable(job)
    given = found.usable_w if found is not None else 0.0
    return max(design_loss(job).need_w - given, 0.0)


def cost_money(job: Job) -> float:
    """Return what is to be bought costs: by the user's prices, else by usual ones."""
    prices, total = job.catalogue.planner.prices, 0.0
    for each in parts_list(job):
        price = each.price if each.price is not None else prices.of(each.part, each.unit)
        total += price * (each.to_buy / 1000 if each.unit == "mm" else each.to_buy)
    return total


def work_h(job: Job) -> float:
    """Return the hours of work, halfway between the least and the most that they are told as."""
    return sum(sum(card.minutes) / 2 for card in cards(job)) / 60


def _pipe_m(job: Job) -> float | None:
    run = pipe_run(job, "exhaust")
    return run.length_mm / 1000 if run is not None else None


def _line_m(job: Job) -> float | None:
    run = fuel_run(job)
    return run.length_mm / 1000 if run is not None else None


MEASURES: dict[str, Callable[[Job], float | None]] = {
    "storage": storage_l,
    "exhaust": _pipe_m,
    "quiet": heard_db,
    "heat": heat_missing_w,
    "fuel": _line_m,
    "holes": lambda job: float(len(holes_to_cut(job))),
    "cost": cost_money,
    "hours": work_h,
}


@fact
def measures_of(job: Job) -> dict[str, float]:
    """Return every measure that can be told of a plan."""
    found = {name: measure(job) for name, measure in MEASURES.items()}
    return {name: value for name, value in found.items() if value is not None}


def score(book: PlannerBook, weights: Weights, values: Values) -> float:
    """Return the weighted sum of measures, what is over its least in shares of its scale;
    less is better. It never
    falls where a measure rises, so lower bounds of measures give one of it.
    """
    total: float = sum(
        getattr(weights, kind.id) * max(values[kind.id] - kind.least, 0.0) / kind.scale
        for kind in book.measures
        if kind.id in values
    )
    return total


@dataclass(frozen=True, slots=True)
class Compared:
    """How two sets of measures stand to one another: by ids of measures."""

    better: frozenset[str]
    worse: frozenset[str]


# by less than so much two values of a measure are alike
ALIKE = {"storage": 1.0, "exhaust": 0.05, "quiet": 0.5, "heat": 5.0, "fuel": 0.05, "hours": 0.1}


def compared(one: Values, other: Values) -> Compared:
    """Return by which measures one is better than another, and worse."""
    better: set[str] = set()
    worse: set[str] = set()
    for name in one.keys() & other.keys():
        apart = one[name] - other[name]
        if abs(apart) > ALIKE.get(name, 1e-9):
            (worse if apart > 0 else better).add(name)
    return Compared(frozenset(better), frozenset(worse))


def dominated(one: Values, other: Values) -> bool:
    """Return whether another is better by some measure and worse by none."""
    result = compared(one, other)
    return bool(result.worse) and not result.better
