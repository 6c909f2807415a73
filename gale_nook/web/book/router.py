"""The workshop's own book: its page, and its entries changed one by one. What is changed waits
until it is kept.
"""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form
from fastapi.responses import HTMLResponse, JSONResponse, Response
from pydantic import Field

from gale_nook.core.base.material import Material
from gale_nook.core.book.document import (
    BookWishes,
    OwnBook,
    School,
    book_schema,
    read_book,
    write_book,
)
from gale_nook.core.book.entries import (
    entry_of,
    fresh_entry_id,
    merged,
    with_entry,
    with_school_limit,
    without_entry,
    without_school_limit,
)
from gale_nook.core.book.troubles import checked_book
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.book import BookLimit, BookPrice
from gale_nook.core.plan.wishes import Weights, Wishes
from gale_nook.core.quantities.length import UnitSystem, parse_length_mm
from gale_nook.core.quantities.measures import parse_quantity
from gale_nook.exchange.book_prices import read_prices, write_prices
from gale_nook.store import books as store
from gale_nook.web.book.page import (
    NO_SOURCE,
    Typed,
    book_page,
    changed_book,
    chosen_file,
    made,
    worked_on,
)
from gale_nook.web.context import Read
from gale_nook.web.forms import ShortText, Text, Upload
from gale_nook.web.limit_ends import band_of, limit_end

router = APIRouter(default_response_class=HTMLResponse)
EntryId = Annotated[Text, Field(max_length=60)]
MATERIAL_WORDS = {
    "label": "name",
    "conductivity_w_mk": "conductivity",
    "density_kg_m3": "density",
    "heat_capacity_j_kgk": "heat capacity",
}


@router.get("/book")
def book(read: Read) -> Response:
    """The whole book, with what waits to be kept."""
    return book_page(read)


class LimitForm(Typed):
    """A limit of the book, or of one of its schools."""

    limit: EntryId = ""
    school: EntryId = ""
    least: ShortText = ""
    most: ShortText = ""
    source: Text = ""


@router.post("/book/limit")
def put_limit(read: Read, form: Annotated[LimitForm, Form()]) -> Response:
    """Put a limit into the book, or into a school of it."""
    band = band_of(form.limit, read.book)
    ends = {
        "minimum": limit_end(form.least, band, "least", read.system),
        "maximum": limit_end(form.most, band, "most", read.system),
    }
    for value in ends.values():
        if value is not None and not band.lowest <= value <= band.highest:
            believable = f"{band.lowest:g} to {band.highest:g} {band.unit}"
            problem = f"{value:g} is not believable; {believable} are taken"
            raise BadInput(band.label, value, problem)
    limit: BookLimit = made(
        BookLimit, {"id": form.limit, "source": form.source, **ends}, {"entry": band.label}
    )

    def edit(book: OwnBook) -> OwnBook:
        if form.school:
            return with_school_limit(book, form.school, limit)
        return with_entry(book, "limits", limit)

    return changed_book(read, edit)


class SchoolForm(Typed):
    """A school: what it is called, and whose it is."""

    id: EntryId = ""
    label: ShortText = ""
    source: Text = ""


@router.post("/book/school")
def put_school(read: Read, form: Annotated[SchoolForm, Form()]) -> Response:
    """Begin a school, or name it otherwise."""

    def edit(book: OwnBook) -> OwnBook:
        limits = entry_of(book, "schools", form.id).limits if form.id else ()
        school_id = form.id or fresh_entry_id(book, "schools", form.label)
        values = {"id": school_id, "label": form.label, "source": form.source, "limits": limits}
        return with_entry(book, "schools", made(School, values, {"label": "name"}))

    return changed_book(read, edit)


class MaterialForm(Typed):
    """A material of build-ups, in SI units."""

    id: EntryId = ""
    label: ShortText = ""
    conductivity: ShortText = ""
    density: ShortText = ""
    heat_capacity: ShortText = ""
    use: ShortText = "insulation"
    like: ShortText = ""
    source: Text = ""


@router.post("/book/material")
def put_material(read: Read, form: Annotated[MaterialForm, Form()]) -> Response:
    """Put in a material, or other values of one; a usual one of the same id gives way to it."""
    if form.like and form.like not in read.book.solid_materials:
        raise BadInput("stands heat like", form.like, "Choose one from the list.")
    usual = read.book.materials.get(form.id)
    values = {
        "label": form.label,
        "conductivity_w_mk": _number(form.conductivity, "conductivity", read.system),
        "density_kg_m3": _number(form.density, "density", read.system),
        "heat_capacity_j_kgk": _number(form.heat_capacity, "heat capacity", read.system),
        "use": form.use,
        "like": form.like or None,
        "facing_emissivity": usual.facing_emissivity if usual is not None else None,
        "source": form.source,
    }
    if values["conductivity_w_mk"] is None and form.use != "air":
        raise BadInput("conductivity", None, "Only a layer of air goes without.")

    def edit(book: OwnBook) -> OwnBook:
        entry_id = form.id or fresh_entry_id(book, "materials", form.label)
        if not form.id and entry_id in read.book.materials:
            entry_id = fresh_entry_id(book, "materials", f"own {form.label}")
        return with_entry(
            book, "materials", made(Material, {"id": entry_id, **values}, MATERIAL_WORDS)
        )

    return changed_book(read, edit)


class PriceForm(Typed):
    """What a part costs."""

    part: EntryId = ""
    price: ShortText = ""
    source: Text = ""


@router.post("/book/price")
def put_price(read: Read, form: Annotated[PriceForm, Form()]) -> Response:
    """Put in what a part costs."""
    if form.part not in read.book.parts:
        raise BadInput("part", form.part, "Choose a part from the list.")
    values = {
        "id": form.part,
        "price": _number(form.price, "price", read.system),
        "source": form.source,
    }
    price: BookPrice = made(BookPrice, values)
    return changed_book(read, lambda book: with_entry(book, "prices", price))


class PricesForm(Typed):
    """A price list as a file, and whose it is."""

    file: Upload = None
    source: Text = ""


@router.post("/book/prices")
def take_prices(read: Read, form: Annotated[PricesForm, Form()]) -> Response:
    """Take in a price list (CSV: part, price, and source where each has its own)."""
    raw = chosen_file(form.file, "a price list")
    if not form.source.strip():
        raise BadInput("source", None, NO_SOURCE)
    prices = read_prices(raw, read.book.parts, form.source.strip())

    def edit(book: OwnBook) -> OwnBook:
        for price in prices:
            book = with_entry(book, "prices", price)
        return book

    return changed_book(read, edit)


@router.get("/book/prices.csv", response_class=Response)
def prices_file(read: Read) -> Response:
    """Every part with its price, where the book has one."""
    text = write_prices(worked_on(read).prices, read.book.parts)
    return _download(text, "text/csv", "gale-nook-prices.csv")


class WishesForm(Typed):
    """Wishes that do not hang on a vehicle's parts."""

    id: EntryId = ""
    label: ShortText = ""
    source: Text = ""
    side: ShortText = "any"
    fill_from: ShortText = "any"
    under_sill: ShortText = "may"
    most_hole: ShortText = ""
    storage: ShortText = "4"
    exhaust: ShortText = "4"
    quiet: ShortText = "4"
    heat: ShortText = "5"
    fuel: ShortText = "3"
    holes: ShortText = "3"
    cost: ShortText = "2"
    hours: ShortText = "2"


@router.post("/book/wishes")
def put_wishes(read: Read, form: Annotated[WishesForm, Form()]) -> Response:
    """Put in wishes to begin with; what they say of areas stays."""
    weights = {
        name: _number(getattr(form, name), name, read.system) for name in Weights.model_fields
    }
    hole = form.most_hole.strip()
    values = {
        "side": form.side,
        "fill_from": form.fill_from,
        "under_sill": form.under_sill,
        "most_hole_mm": parse_length_mm(hole, read.system) if hole else None,
    }

    def edit(book: OwnBook) -> OwnBook:
        known = entry_of(book, "wishes", form.id).wishes if form.id else Wishes()
        told = {**dict(known), **values, "weights": made_weights(weights)}
        entry_id = form.id or fresh_entry_id(book, "wishes", form.label)
        named = {"id": entry_id, "label": form.label, "source": form.source, "wishes": told}
        return with_entry(book, "wishes", made(BookWishes, named, {"label": "name"}))

    return changed_book(read, edit)


def made_weights(weights: dict[str, float | None]) -> dict[str, float]:
    """Return what counts, with nothing for what was left empty."""
    return {name: value or 0.0 for name, value in weights.items()}


class VehicleForm(Typed):
    """What a kept vehicle is called, and who surveyed it."""

    id: EntryId = ""
    label: ShortText = ""
    source: Text = ""


@router.post("/book/vehicle")
def name_vehicle(read: Read, form: Annotated[VehicleForm, Form()]) -> Response:
    """Name a kept vehicle otherwise."""

    def edit(book: OwnBook) -> OwnBook:
        known = entry_of(book, "vehicles", form.id)
        values = {**dict(known), "label": form.label, "source": form.source}
        return with_entry(book, "vehicles", made(type(known), values, {"label": "name"}))

    return changed_book(read, edit)


class DropForm(Typed):
    """An entry of a section; of a school, with the limit that leaves it."""

    section: EntryId = ""
    id: EntryId = ""
    school: EntryId = ""


@router.post("/book/drop")
def drop(read: Read, form: Annotated[DropForm, Form()]) -> Response:
    """Take an entry out."""
    if form.school:
        return changed_book(read, lambda b: without_school_limit(b, form.school, form.id))
    return changed_book(read, lambda b: without_entry(b, form.section, form.id))


class FileForm(Typed):
    """A book as a file."""

    file: Upload = None


@router.post("/book/import")
def take_in(read: Read, form: Annotated[FileForm, Form()]) -> Response:
    """Take in every entry of a book's file; entries of the same id give way."""
    other = checked_book(read_book(chosen_file(form.file, "a book")), read.book)
    return changed_book(read, lambda book: merged(book, other))


@router.get("/book.json", response_class=Response)
def book_file(read: Read) -> Response:
    """The book as it is worked on, as a file."""
    return _download(write_book(worked_on(read)), "application/json", "gale-nook-book.json")


@router.get("/book.schema.json", response_class=JSONResponse)
def schema() -> Response:
    """The JSON Schema of the book's file."""
    return JSONResponse(book_schema())


@router.post("/book/forget")
def forget(read: Read) -> Response:
    """Forget what waits."""
    with read.db.transaction() as session:
        store.forget(session)
    return book_page(read, ("What waited is forgotten.",))


class EarlierForm(Typed):
    """An earlier edit of the book, by its number."""

    number: Annotated[int, Field(ge=1, le=2**31 - 1)]


@router.post("/book/earlier")
def earlier(read: Read, form: Annotated[EarlierForm, Form()]) -> Response:
    """Let an earlier edit of the book wait to be kept again."""
    with read.db.transaction() as session:
        before = store.book_after(session, form.number)
    return changed_book(read, lambda _: before)


def _number(text: str, name: str, system: UnitSystem) -> float | None:
    return parse_quantity(text, "number", system, name) if text.strip() else None


def _download(text: str, media: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type=media, headers=headers)
