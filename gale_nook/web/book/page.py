"""What every screen of the workshop's own book shares: what holds, what waits, and its words."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from fastapi import Request
from fastapi.responses import Response
from pydantic import BaseModel, ConfigDict, ValidationError

from gale_nook.core.base.limit import Limit, LimitBand
from gale_nook.core.base.sourced import Sourced
from gale_nook.core.book.differences import EntryChange, book_changes
from gale_nook.core.book.document import OwnBook
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.plan.book import BookLimit, BookPrice
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.wishes import Weights
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import write_quantity
from gale_nook.store import books as store
from gale_nook.web.context import ReadRequest, is_fragment, render
from gale_nook.web.doors import only_of, person_of
from gale_nook.web.forms import Upload
from gale_nook.web.limit_ends import KINDS, band_of, end_text
from gale_nook.web.stations.planner.page import FILL_SIDES, SIDES

WORDS = {
    "heaters": "Heaters",
    "limits": "Limits",
    "schools": "Schools",
    "materials": "Materials",
    "prices": "Prices",
    "vehicles": "Surveyed vehicles",
    "wishes": "Wishes to begin with",
}
USES = (
    ("insulation", "insulation"),
    ("lining", "lining"),
    ("floor", "floor"),
    ("skin", "skin"),
    ("air", "layer of air"),
)
WISH_CHOICES = (
    ("side", "the heater stands", SIDES),
    ("under_sill", "hang lower than the sill", (("may", "may"), ("never", "may not"))),
    ("fill_from", "a tank is filled", FILL_SIDES),
)
UNITS = {"deg": "°", "C": "°C", "count": "number"}
MOST_VALUES = 6  # of an entry that are told one by one
NO_SOURCE = "Say where the value comes from: a sheet with its page, or who measured it and when."


class Typed(BaseModel):
    """A form as it was typed."""

    model_config = ConfigDict(extra="ignore")


def by(request: Request) -> str:
    """Return who a request is from."""
    return only_of(request)[0]


def worked_on(read: ReadRequest) -> OwnBook:
    """Return the book as it is worked on: with what waits."""
    with read.db.transaction() as session:
        return store.shown(session)


def chosen_file(upload: Upload, what: str) -> bytes:
    """Return the bytes of a file that was chosen; raises PlanUnreadable where none was."""
    if upload is None or not upload.filename:
        raise PlanUnreadable(f"No file was chosen. Choose {what}.")
    return upload.file.read()


def may_keep(request: Request) -> bool:
    """Return whether whoever asks may let the book hold."""
    person = person_of(request)
    return person is None or person.may("owner")


def changed_book(read: ReadRequest, edit: Callable[[OwnBook], OwnBook]) -> Response:
    """Change the book as it is worked on, and show it."""
    with read.db.transaction() as session:
        store.change(session, edit, by(read.request))
    return book_page(read)


def book_page(read: ReadRequest, told: tuple[str, ...] = ()) -> Response:
    """Return the book's page, or its part where htmx asks.

    Args:
        told: what was done, line by line.
    """
    with read.db.transaction() as session:
        held, draft = store.held(session), store.waiting(session)
        edits = store.edits(session)
    book = draft.book if draft is not None else held.book
    return render(
        "book/parts.html" if is_fragment(read.request) else "book/book.html",
        book=book,
        held=held,
        draft=draft,
        edits=edits,
        changes=[(change, change_text(change, read)) for change in book_changes(held.book, book)],
        catalogue=read.book,
        words=WORDS,
        uses=USES,
        likes=[("", "heat does not harm it"), *_labels(read.book.solid_materials)],
        ends=lambda limit: ends_of(limit, read.book, read.system),
        usual=lambda name: usual_of(name, read.book, read.system),
        unit_of=lambda band: unit_of(band, read.system),
        plain_unit=lambda band: "" if band.unit in KINDS else f", {unit_of(band, read.system)}",
        label_of=lambda change: label_of(change, read.book),
        hole=lambda wishes: _hole(wishes.most_hole_mm, read.system),
        wish_choices=WISH_CHOICES,
        weights=tuple(Weights.model_fields),
        sliders={kind.id: kind.slider for kind in read.book.planner.measures},
        may_keep=may_keep(read.request),
        told=told,
        system=read.system,
    )


def ends_of(limit: Any, catalogue: Catalogue, system: UnitSystem) -> tuple[str, str]:
    """Return both ends of a limit as they are typed."""
    band = band_of(limit.id, catalogue)
    return end_text(limit.minimum, band, system), end_text(limit.maximum, band, system)


def usual_of(name: str, catalogue: Catalogue, system: UnitSystem) -> str:
    """Return the usual limit in words; empty where there is none."""
    limit = catalogue.workshop_limits.get(name)
    return limit_words(limit, band_of(name, catalogue), system) if limit is not None else ""


def limit_words(limit: Limit, band: LimitBand, system: UnitSystem) -> str:
    """Return both ends of a limit in words."""
    unit = "" if band.unit in KINDS else f" {unit_of(band, system)}"
    ends = (("at least", limit.minimum), ("at most", limit.maximum))
    return ", ".join(
        f"{words} {end_text(end, band, system)}{unit}" for words, end in ends if end is not None
    )


def _labels(table: Mapping[str, Sourced]) -> list[tuple[str, str]]:
    return [(each.id, each.label) for each in table.values()]


def unit_of(band: LimitBand, system: UnitSystem) -> str:
    """Return the unit in which a limit is typed."""
    if band.unit == "mm":
        return "mm" if system is UnitSystem.METRIC else "in"
    return UNITS.get(band.unit, band.unit)


def label_of(change: EntryChange, catalogue: Catalogue) -> str:
    """Return what a changed entry is called."""
    if change.section == "limits":
        return band_of(change.id, catalogue).label
    if change.section == "prices":
        return catalogue.parts[change.id].label
    return str((change.after or change.before).label)


def _hole(size_mm: float | None, system: UnitSystem) -> str:
    return "" if size_mm is None else write_quantity(size_mm, "mm", system)


def change_text(change: EntryChange, read: ReadRequest) -> str:
    """Return what an entry said, and says."""
    if change.after is None:
        return "taken out"
    if change.section in {"limits", "prices"}:
        now = _said(change.after, read)
        return f"{_said(change.before, read)} → {now}" if change.before is not None else now
    if change.before is None:
        return "new"
    told = [f"{_plain(path)}: {_shown(was)} → {_shown(now)}" for path, was, now in change.values]
    more = len(told) - MOST_VALUES
    return "; ".join(told[:MOST_VALUES]) + (f"; and {more} more" if more > 0 else "")


def _said(entry: BookLimit | BookPrice, read: ReadRequest) -> str:
    """What a limit or a price says, with its source."""
    if isinstance(entry, BookPrice):
        return f"{entry.price:g} ({entry.source})"
    return f"{limit_words(entry, band_of(entry.id, read.book), read.system)} ({entry.source})"


def _plain(path: str) -> str:
    return path.rsplit(".", 1)[-1].replace("_", " ")


def _shown(value: Any) -> str:
    if value is None or value == "":
        return "nothing"
    return f"{value:g}" if isinstance(value, float) else str(value)


def made(model: Any, values: dict[str, Any], words: dict[str, str] | None = None) -> Any:
    """Return an entry of typed values; raises BadInput naming the first that cannot be."""
    if not str(values.get("source", "")).strip():
        raise BadInput("source", None, NO_SOURCE)
    try:
        return model(**values)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        leaf = place.rsplit(".", 1)[-1]
        named = (words or {}).get(leaf, leaf or "entry")
        raise BadInput(named, values.get(leaf), problem) from None
