"""A job in hand: a plan with its catalogue, and what was already worked out from them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeVar, cast

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.power import Power

P = ParamSpec("P")
T = TypeVar("T")


class Job:
    """A plan with the catalogue that it is checked against.

    It has no members that are worked out: each station has its own *facts*, functions of a job
    that remember their result here.

    Attributes:
        catalogue: with the plan's own heaters in it, and what it takes from the workshop's book.
        given_catalogue: without them.
    """

    def __init__(self, plan: Plan, catalogue: Catalogue) -> None:
        self.plan = plan
        self.catalogue = with_own_book(plan, catalogue)
        self.given_catalogue = catalogue
        self.memo: dict[Any, Any] = {}
        self.vehicle_memo: dict[Any, Any] = {}
        self.laid_memo: dict[Any, Any] = {}
        self.unpowered_memo: dict[Any, Any] = {}
        self.room_memo: dict[Any, Any] = {}

    def with_plan(self, plan: Plan) -> Job:
        """Return the job of another plan; facts of the vehicle are shared where it is the same,
        those of what is laid where only throttles stand otherwise, those of all but the electrics
        where only these differ, and those of the heated room where that is the same.
        """
        other = Job(plan, self.given_catalogue)
        if plan.book != self.plan.book:
            return other
        if plan.vehicle is self.plan.vehicle or plan.vehicle == self.plan.vehicle:
            other.vehicle_memo = self.vehicle_memo
            if _laid_alike(plan, self.plan):
                other.laid_memo = self.laid_memo
            if _but_power(plan) == _but_power(self.plan):
                other.unpowered_memo = self.unpowered_memo
            if _room_of(plan) == _room_of(self.plan):
                other.room_memo = self.room_memo
        return other


def _laid_alike(one: Plan, other: Plan) -> bool:
    """Whether two plans of one vehicle differ in nothing but how outlets stand."""
    ours, theirs = one.air.as_laid(), other.air.as_laid()
    if ours != theirs:
        return False
    ones, others = (_but_power(plan).model_copy(update={"air": theirs}) for plan in (one, other))
    return ones == others


def _but_power(plan: Plan) -> Plan:
    """The plan without its electrics: nothing else of the plan depends on them."""
    return plan.model_copy(update={"power": Power()})


def _room_of(plan: Plan) -> tuple[Any, ...]:
    """What of a plan of one vehicle the heated room depends on, beside the heater's air."""
    air = plan.air
    return (plan.heat, plan.heater.own_sheets, air.zones, air.sensor_zone)


def with_own_book(plan: Plan, catalogue: Catalogue) -> Catalogue:
    """Return the catalogue with the plan's own heaters, and with what it takes from the workshop's
    own book in the place of what is usual.
    """
    own, book = plan.heater.own_sheets, plan.book
    if not own and not book.limits and not book.materials:
        return catalogue
    return replace(
        catalogue,
        heaters={**catalogue.heaters, **{sheet.id: sheet for sheet in own}},
        workshop_limits={**catalogue.workshop_limits, **{each.id: each for each in book.limits}},
        materials={**catalogue.materials, **{each.id: each for each in book.materials}},
    )


def fact(function: Callable[Concatenate[Job, P], T]) -> Callable[Concatenate[Job, P], T]:
    """Decorate a function of a job and hashable arguments, so that each job computes it once."""

    def remembered(job: Job, /, *args: P.args, **kwargs: P.kwargs) -> T:
        return _remember(job.memo, function, job, args, kwargs)

    return cast("Callable[Concatenate[Job, P], T]", wraps(function)(remembered))


def vehicle_fact(function: Callable[Concatenate[Job, P], T]) -> Callable[Concatenate[Job, P], T]:
    """Decorate a fact that depends on nothing of the plan but its vehicle, and on the catalogue."""

    def remembered(job: Job, /, *args: P.args, **kwargs: P.kwargs) -> T:
        return _remember(job.vehicle_memo, function, job, args, kwargs)

    return cast("Callable[Concatenate[Job, P], T]", wraps(function)(remembered))


def unpowered_fact(
    function: Callable[Concatenate[Job, P], T],
) -> Callable[Concatenate[Job, P], T]:
    """Decorate a fact that does not depend on the electrics."""

    def remembered(job: Job, /, *args: P.args, **kwargs: P.kwargs) -> T:
        return _remember(job.unpowered_memo, function, job, args, kwargs)

    return cast("Callable[Concatenate[Job, P], T]", wraps(function)(remembered))


def room_fact(function: Callable[Concatenate[Job, P], T]) -> Callable[Concatenate[Job, P], T]:
    """Decorate a fact that depends on its arguments, and on nothing of the plan but its vehicle,
    its heat need, its zones and its own heaters.
    """

    def remembered(job: Job, /, *args: P.args, **kwargs: P.kwargs) -> T:
        return _remember(job.room_memo, function, job, args, kwargs)

    return cast("Callable[Concatenate[Job, P], T]", wraps(function)(remembered))


def laid_fact(function: Callable[Concatenate[Job, P], T]) -> Callable[Concatenate[Job, P], T]:
    """Decorate a fact that does not depend on how outlets stand: shut, throttled, or open. Nothing
    in its result tells how they do.
    """

    def remembered(job: Job, /, *args: P.args, **kwargs: P.kwargs) -> T:
        return _remember(job.laid_memo, function, job, args, kwargs)

    return cast("Callable[Concatenate[Job, P], T]", wraps(function)(remembered))


def _remember(
    memo: dict[Any, Any],
    function: Callable[..., T],
    job: Job,
    args: tuple[Any, ...],
    kwargs: dict[str, Any],
) -> T:
    if kwargs:  # the same arguments would have two keys
        raise TypeError(f"{function.__name__} takes its arguments by position")
    key = (function, args)
    try:
        result: T = memo[key]
    except KeyError:
        result = memo[key] = function(job, *args)
    return result
