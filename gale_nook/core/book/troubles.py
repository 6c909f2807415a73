"""What a book says that cannot be: names that nothing has, and values that nobody believes."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.base.limit import Limit
from gale_nook.core.book.document import OwnBook
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.heater.sheets import NOT_A_PART, contradictions, limit_troubles
from gale_nook.core.plan.book import BookLimit, PlanBook

Trouble = tuple[str, str]  # place, problem


def book_troubles(book: OwnBook, catalogue: Catalogue) -> tuple[Trouble, ...]:
    """Return every place of a book that is wrong, with the reason."""
    return tuple(_of_book(book, catalogue))


def checked_book(book: OwnBook, catalogue: Catalogue) -> OwnBook:
    """Return the book; raises PlanUnreadable naming what in it cannot be."""
    troubles = book_troubles(book, catalogue)
    if troubles:
        raise PlanUnreadable("The book says what cannot be.", troubles[:12])
    return book


def taken_troubles(book: PlanBook, catalogue: Catalogue) -> Iterator[Trouble]:
    """Return every place of what a plan takes from a book that is wrong, with the reason."""
    yield from _of_limits("limits", book.limits, catalogue)
    for material in book.materials:
        if material.like is not None and material.like not in catalogue.solid_materials:
            known = ", ".join(sorted(catalogue.solid_materials))
            problem = f"there is no material '{material.like}' of parts; known are {known}"
            yield f"materials.{material.id}.like", problem
        if material.conductivity_w_mk is None and material.use != "air":
            problem = "has no conductivity; only a layer of air goes without"
            yield f"materials.{material.id}.conductivity_w_mk", problem
    for price in book.prices:
        if price.id not in catalogue.parts:
            yield f"prices.{price.id}", f"{NOT_A_PART} (given: {price.id})"


def _of_book(book: OwnBook, catalogue: Catalogue) -> Iterator[Trouble]:
    rules = PlanBook(limits=book.limits, materials=book.materials, prices=book.prices)
    yield from taken_troubles(rules, catalogue)
    for school in book.schools:
        yield from _of_limits(f"schools.{school.id}.limits", school.limits, catalogue)
    for sheet in book.heaters:
        where = f"heaters.{sheet.id}"
        if sheet.id in catalogue.heaters:
            yield f"{where}.id", f"a usual heater is called '{sheet.id}' already"
        for path, value, problem in contradictions(sheet, catalogue.limit_bands, catalogue.parts):
            yield f"{where}.{path}", f"{problem} (given: {value})"


def _of_limits(
    where: str, limits: tuple[BookLimit, ...], catalogue: Catalogue
) -> Iterator[Trouble]:
    by_name: dict[str, Limit] = {each.id: each for each in limits}
    for path, value, problem in limit_troubles(where, by_name, catalogue.limit_bands):
        yield path, f"{problem} (given: {value})"
