"""Changing a book, entry by entry; every book that comes out of it is whole."""

from __future__ import annotations

import re
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.material import Material
from gale_nook.core.book.document import (
    SECTIONS,
    BookVehicle,
    BookWishes,
    OwnBook,
    School,
)
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.book import BookLimit, BookPrice
from gale_nook.core.plan.document import places_of

Entry = HeaterSheet | BookLimit | School | Material | BookPrice | BookVehicle | BookWishes
Model = TypeVar("Model", bound=BaseModel)
OURS = "book-"  # with it begin the ids of heaters, which no job's own heater has


def entries_of(book: OwnBook, section: str) -> tuple[Any, ...]:
    """Return the entries of a section; raises BadInput where there is none of that name."""
    if section not in SECTIONS:
        raise BadInput("section", section, f"The book has {', '.join(SECTIONS)}.")
    entries: tuple[Any, ...] = getattr(book, section)
    return entries


def entry_of(book: OwnBook, section: str, entry_id: str) -> Any:
    """Return an entry by its id; raises BadInput where it is not there any more."""
    found = next((e for e in entries_of(book, section) if e.id == entry_id), None)
    if found is None:
        raise BadInput(section, entry_id, "It is not in the book any more.")
    return found


def with_entry(book: OwnBook, section: str, entry: Entry) -> OwnBook:
    """Return the book with an entry in the place of the one of its id, or at the end."""
    entries = list(entries_of(book, section))
    at = next((n for n, each in enumerate(entries) if each.id == entry.id), None)
    if at is None:
        entries.append(entry)
    else:
        entries[at] = entry
    return _book(book, section, tuple(entries))


def without_entry(book: OwnBook, section: str, entry_id: str) -> OwnBook:
    """Return the book without an entry; raises BadInput where it is not there any more."""
    entry_of(book, section, entry_id)
    entries = tuple(e for e in entries_of(book, section) if e.id != entry_id)
    return _book(book, section, entries)


def with_school_limit(book: OwnBook, school_id: str, limit: BookLimit) -> OwnBook:
    """Return the book with a limit of a school."""
    school: School = entry_of(book, "schools", school_id)
    limits = (*(each for each in school.limits if each.id != limit.id), limit)
    return with_entry(book, "schools", _school(school, limits))


def without_school_limit(book: OwnBook, school_id: str, name: str) -> OwnBook:
    """Return the book without a limit of a school."""
    school: School = entry_of(book, "schools", school_id)
    limits = tuple(each for each in school.limits if each.id != name)
    return with_entry(book, "schools", _school(school, limits))


def merged(book: OwnBook, other: OwnBook) -> OwnBook:
    """Return the book with every entry of another, which stand in the place of those of their
    ids.
    """
    for section in SECTIONS:
        for entry in getattr(other, section):
            book = with_entry(book, section, entry)
    return book


def fresh_entry_id(book: OwnBook, section: str, label: str) -> str:
    """Return an id that no entry of a section has, from what it is called.

    >>> fresh_entry_id(OwnBook(), "materials", "Cork, 2nd batch")
    'cork-2nd-batch'
    """
    stem = re.sub(r"[^a-z0-9]+", "-", label.lower()).strip("-")[:40].rstrip("-")
    stem = stem if stem[:1].isalpha() else f"own-{stem}".rstrip("-")
    if section == "heaters":
        stem = OURS + stem.removeprefix(OURS)
    taken = {entry.id for entry in entries_of(book, section)}
    result, number = stem, 2
    while result in taken:
        result, number = f"{stem}-{number}", number + 1
    return result


def _school(school: School, limits: tuple[BookLimit, ...]) -> School:
    return _checked(School, {**dict(school), "limits": limits})


def _book(book: OwnBook, section: str, entries: tuple[Any, ...]) -> OwnBook:
    return _checked(OwnBook, {**dict(book), section: entries})


def _checked(model: type[Model], values: dict[str, Any]) -> Model:
    try:
        return model(**values)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place or "book", None, problem) from None
