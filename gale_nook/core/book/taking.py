"""What a job takes from a book: its rules as values, its heaters as sheets of the job's own."""

from __future__ import annotations

from gale_nook.core.base.material import Material
from gale_nook.core.book.document import OwnBook
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import with_own_book
from gale_nook.core.plan.book import BookLimit, PlanBook
from gale_nook.core.plan.document import Plan
from gale_nook.core.references import materials_named


def taken_from(
    book: OwnBook, edit: int, school_id: str | None, plan: Plan, catalogue: Catalogue
) -> PlanBook:
    """Return what a plan takes from a book.

    Args:
        edit: of the book.
        school_id: that the job follows; one that the book does not have counts as none.
    """
    school = book.school(school_id)
    limits = {each.id: each for each in book.limits}
    limits |= {each.id: each for each in (school.limits if school is not None else ())}
    return PlanBook(
        edit=edit,
        school=school.id if school is not None else None,
        limits=_by_id(limits),
        materials=(*book.materials, *_still_needed(book, plan, catalogue)),
        prices=book.prices,
    )


def is_taken(book: OwnBook, plan: Plan, catalogue: Catalogue) -> bool:
    """Return whether a plan has all that it would take from a book."""
    taken = taken_from(book, plan.book.edit, plan.book.school, plan, catalogue)
    own = {sheet.id: sheet for sheet in plan.heater.own_sheets}
    return taken == plan.book and all(own.get(sheet.id) == sheet for sheet in book.heaters)


def _still_needed(book: OwnBook, plan: Plan, catalogue: Catalogue) -> tuple[Material, ...]:
    """Materials of a former book that the plan's build-ups are of, and that nothing else has."""
    known = {each.id for each in book.materials} | catalogue.materials.keys()
    named = set(materials_named(plan, with_own_book(plan, catalogue)))
    return tuple(m for m in plan.book.materials if m.id in named and m.id not in known)


def _by_id(limits: dict[str, BookLimit]) -> tuple[BookLimit, ...]:
    return tuple(limits[name] for name in sorted(limits))
