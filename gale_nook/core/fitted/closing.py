"""Which outlets may be shut together before the heater gives less than is needed."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.ducts.layout import Layout, layout
from gale_nook.core.ducts.throttles import Throttles, throttles_of
from gale_nook.core.fitted.usable import Usable, usable, usable_of
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.job import Job, fact

MOST_CLOSABLE = 6  # of more, sets of up to two are told, and all together


@dataclass(frozen=True)
class ClosedSet:
    """Some outlets shut, the others as they stand.

    Attributes:
        ducts, names: of those that are shut.
        keeps: the heater still gives what is needed, or what it gives with all of them open.
    """

    ducts: frozenset[str]
    names: tuple[str, ...]
    usable: Usable
    keeps: bool


def closable_ducts(job: Job, plan_layout: Layout) -> tuple[str, ...]:
    """Return the ducts whose outlets can be closed by hand."""
    works = job.catalogue.air_equipment
    return tuple(
        run.duct.id
        for run in plan_layout.runs
        if run.duct.outlet is not None and works.outlet(run.duct.outlet.kind).closable
    )


def all_open(plan_layout: Layout) -> Throttles:
    """Return the outlets as their throttles stand, none shut."""
    return Throttles(frozenset(), throttles_of(plan_layout).open_share)


@fact
def usable_open(job: Job) -> Usable | None:
    """Return the usable output with no outlet shut."""
    plan_layout = layout(job)
    if plan_layout is None or not throttles_of(plan_layout).shut:
        return usable(job)
    return usable_of(plan_layout, all_open(plan_layout))


@fact
def closed(job: Job, ducts: frozenset[str]) -> ClosedSet | None:
    """Return what shutting some outlets, and no others, does; None without ducts."""
    plan_layout, whole = layout(job), usable_open(job)
    if plan_layout is None or whole is None:
        return None
    near: AirState | None = whole.at
    how = Throttles(ducts, all_open(plan_layout).open_share)
    found = usable_of(plan_layout, how, near)
    names = tuple(
        run.duct.outlet.name
        for run in plan_layout.runs
        if run.duct.id in ducts and run.duct.outlet is not None
    )
    needed = min(needed_w(job), whole.usable_w)
    return ClosedSet(ducts, names, found, found.usable_w >= needed - 1.0)


def needed_w(job: Job) -> float:
    """Return what the heater has to give on the coldest night."""
    return design_loss(job).design_loss_w


@fact
def closed_sets(job: Job) -> tuple[ClosedSet, ...]:
    """Return every set of closable outlets with what shutting it does, small ones first.

    Of many closable outlets, single ones, pairs, and all together: shutting more never leaves the
    heater more air.
    """
    plan_layout = layout(job)
    if plan_layout is None or not plan_layout.runs or ducted_convector(job) is not None:
        return ()  # a convector gets no hotter than its coolant, whatever is shut
    ducts = closable_ducts(job, plan_layout)
    most = len(ducts) if len(ducts) <= MOST_CLOSABLE else 2
    sets = [
        frozenset(each)
        for size in range(1, most + 1)
        for each in itertools.combinations(ducts, size)
    ]
    if len(ducts) > MOST_CLOSABLE:
        sets.append(frozenset(ducts))
    results = (closed(job, each) for each in sets)
    return tuple(each for each in results if each is not None)
