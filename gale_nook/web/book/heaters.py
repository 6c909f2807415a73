"""Heaters of the workshop's own book: their sheets as forms and as files."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import ConfigDict, Field

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.book.document import OwnBook
from gale_nook.core.book.entries import fresh_entry_id, with_entry
from gale_nook.core.errors import BadInput
from gale_nook.exchange.heater_sheets import read_sound_sheet
from gale_nook.web.book.page import Typed, changed_book, chosen_file, worked_on
from gale_nook.web.context import Read, ReadRequest, render
from gale_nook.web.forms import Text, Upload
from gale_nook.web.stations.heater.sheet_form import (
    NO_SUCH_HEATER,
    YES_OR_NO,
    sheet_groups,
    sheet_of,
)
from gale_nook.web.stations.heater.sheet_wiring import LEADS, LOADS, TEXTS, wiring_form

router = APIRouter(default_response_class=HTMLResponse)
SheetId = Annotated[str, Query(max_length=60)]


@router.get("/book/heater")
def open_sheet(read: Read, sheet: SheetId = "") -> Response:
    """The sheet of a heater as a form: the book's to change, a usual one to begin one from."""
    book = worked_on(read)
    base = _sheet(read, book, sheet)
    own = any(known.id == base.id for known in book.heaters)
    return render(
        "heater/sheet.html",
        sheet=base,
        own=own,
        label=base.label if own else f"{base.label}, ours"[:80],
        groups=sheet_groups(base, read.book, read.system),
        yes_or_no=YES_OR_NO,
        wiring=wiring_form(base),
        kinds_of_load=LOADS,
        leads=LEADS,
        pin_texts=TEXTS,
        kept_at="/book/heater",
        target="#book",
        swap="outerHTML",
    )


class SheetForm(Typed):
    """A heater's sheet as it was typed, on the frame of another."""

    model_config = ConfigDict(frozen=True, extra="allow")

    base_sheet: Annotated[Text, Field(max_length=60)] = ""


@router.post("/book/heater")
def keep_sheet(read: Read, form: Annotated[SheetForm, Form()]) -> Response:
    """Put a heater into the book as the form describes it."""
    base = _sheet(read, worked_on(read), form.base_sheet)
    sheet = sheet_of(form, base, read.book, read.system)
    return changed_book(read, lambda book: _with_sheet(read, book, sheet))


class SheetFileForm(Typed):
    """A heater's sheet as a file."""

    file: Upload = None


@router.post("/book/heater/import")
def import_sheet(read: Read, form: Annotated[SheetFileForm, Form()]) -> Response:
    """Take in a heater's sheet from a YAML or JSON file."""
    raw = chosen_file(form.file, "the sheet of a heater, YAML or JSON")
    sheet = read_sound_sheet(raw, read.book)
    return changed_book(read, lambda book: _with_sheet(read, book, sheet))


def _with_sheet(read: ReadRequest, book: OwnBook, sheet: HeaterSheet) -> OwnBook:
    """Put a sheet in: in the place of the book's own of its id, else under an id of its own."""
    if sheet.id not in {known.id for known in book.heaters}:
        fresh = fresh_entry_id(book, "heaters", sheet.label)
        sheet = sheet.model_copy(update={"id": fresh})
    return with_entry(book, "heaters", sheet)


def _sheet(read: ReadRequest, book: OwnBook, sheet_id: str) -> HeaterSheet:
    ours = {sheet.id: sheet for sheet in book.heaters}
    found = ours.get(sheet_id) or read.book.heaters.get(sheet_id)
    if found is None:
        raise BadInput("heater", sheet_id, NO_SUCH_HEATER)
    return found
