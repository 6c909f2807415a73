"""A job in hand: a plan with its catalogue, from which facts are worked out."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, cast

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.incremental import Inputs, TraceStore, fact, read_all, read_part, unshared_fact
from gale_nook.core.plan.document import Plan

__all__ = ["Job", "fact", "new_store", "unshared_fact", "with_own_book"]

PARTS = tuple(Plan.model_fields)
NUMBER = {name: number for number, name in enumerate(PARTS)}
CATALOGUE = len(PARTS)  # stands after the parts of the plan


class Job(Inputs):
    """A plan with the catalogue that it is checked against.

    It has no members that are worked out: each station has its own *facts*, functions of a job
    that remember their result. Jobs of one store, and those derived from a job, share them.
    """

    def __init__(self, plan: Plan, catalogue: Catalogue, store: TraceStore | None = None) -> None:
        document = plan.document if isinstance(plan, _PlanRead) else plan
        store = store or new_store()
        store.begin_plan()
        parts = [store.same_part(n, getattr(document, name)) for n, name in enumerate(PARTS)]
        self._document: Plan | None = document
        self._begin(parts, catalogue, store)

    def _begin(
        self,
        parts: list[Any],
        catalogue: Catalogue,
        store: TraceStore,
        origin: Job | None = None,
        own: int = 0,
    ) -> None:
        self._given = catalogue
        parts.append(_catalogue_of(parts, catalogue, store))
        tried = origin is not None
        super().__init__(tuple(parts), store, origin, own, tried=tried)

    @property
    def plan(self) -> Plan:
        """The plan, to read from: each part of it that a fact reads is noted."""
        return cast("Plan", _PlanRead(self))

    @property
    def catalogue(self) -> Catalogue:
        """With the plan's own heaters in it, and what it takes from the workshop's book."""
        result: Catalogue = read_part(self, CATALOGUE)
        return result

    @property
    def given_catalogue(self) -> Catalogue:
        """Without them."""
        read_part(self, CATALOGUE)
        return self._given

    @property
    def document(self) -> Plan:
        """The whole plan, to hand on or to write."""
        read_all(self)
        return self._whole()

    def _whole(self) -> Plan:
        if self._document is None:
            origin = cast("Job", self.origin)
            replaced = {name: self.parts[n] for n, name in enumerate(PARTS) if self.own >> n & 1}
            self._document = origin._whole().model_copy(update=replaced)
        return self._document

    def with_plan(self, plan: Plan) -> Job:
        """Return the job of another plan."""
        document = plan.document if isinstance(plan, _PlanRead) else plan
        return self._derived({name: getattr(document, name) for name in PARTS}, document)

    def with_parts(self, **parts: Any) -> Job:
        """Return the job with some parts of its plan replaced, by their names there."""
        return self._derived(parts, None)

    def _derived(self, parts: dict[str, Any], document: Plan | None) -> Job:
        now, own = list(self.parts[:CATALOGUE]), 0
        for name, part in parts.items():
            number = NUMBER[name]
            own |= 1 << number
            if part is not now[number]:
                now[number] = self.store.same_part(number, part)
        other = Job.__new__(Job)
        other._document = document
        other._begin(now, self._given, self.store, self, own)
        return other


class _PlanRead:
    """A plan that notes which of its parts are read."""

    __slots__ = ("_job",)

    def __init__(self, job: Job) -> None:
        self._job = job

    @property
    def document(self) -> Plan:
        return self._job.document

    def __getattr__(self, name: str) -> Any:
        return getattr(self._job.document, name)

    def __eq__(self, other: object) -> bool:
        return self._job.document == (other.document if isinstance(other, _PlanRead) else other)

    def __hash__(self) -> int:
        return hash(self._job.document)


def _part_read(number: int) -> property:
    return property(lambda plan: read_part(plan._job, number))


for _name, _number in NUMBER.items():
    setattr(_PlanRead, _name, _part_read(_number))


def new_store() -> TraceStore:
    """Return a store for the plans of one job."""
    return TraceStore(CATALOGUE + 1)


def _catalogue_of(parts: list[Any], catalogue: Catalogue, store: TraceStore) -> Catalogue:
    """The catalogue of a plan in parts; one object as long as it is the same."""
    heater, book = parts[NUMBER["heater"]], parts[NUMBER["book"]]
    made_of = _MadeOf(catalogue, (heater.own_sheets, book.limits, book.materials))
    known: _MadeOf = store.same_part(CATALOGUE, made_of)
    if known.made is None:
        known.made = _with_own(catalogue, *made_of.own)
    return known.made


class _MadeOf:
    """A catalogue with what is put into it."""

    def __init__(self, catalogue: Catalogue, own: tuple[Any, Any, Any]) -> None:
        self.catalogue, self.own = catalogue, own
        self.made: Catalogue | None = None

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, _MadeOf)
            and self.catalogue is other.catalogue
            and self.own == other.own
        )

    __hash__ = None  # type: ignore[assignment]


def with_own_book(plan: Plan, catalogue: Catalogue) -> Catalogue:
    """Return the catalogue with the plan's own heaters, and with what it takes from the workshop's
    own book in the place of what is usual.
    """
    return _with_own(catalogue, plan.heater.own_sheets, plan.book.limits, plan.book.materials)


def _with_own(catalogue: Catalogue, sheets: Any, limits: Any, materials: Any) -> Catalogue:
    if not sheets and not limits and not materials:
        return catalogue
    return replace(
        catalogue,
        heaters={**catalogue.heaters, **{sheet.id: sheet for sheet in sheets}},
        workshop_limits={**catalogue.workshop_limits, **{each.id: each for each in limits}},
        materials={**catalogue.materials, **{each.id: each for each in materials}},
    )
