"""The workshop's own book: one immutable value, and an open file format."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, ValidationError

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.models import Frozen, schema_of, unique_ids
from gale_nook.core.base.sourced import Sourced
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.book import BookLimits, BookMaterials, BookPrices
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.heat import HeatNeed, Ribs, Surface
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.plan.wishes import Wishes
from gale_nook.core.text import read_text

FORMAT, VERSION = "gale-nook-book", 1
MAX_BOOK_BYTES = 2_300_000  # a book that can be kept always fits, spread over lines or not
MOST_HEATERS, MOST_SCHOOLS, MOST_VEHICLES, MOST_WISHES = 12, 12, 30, 30


class School(Sourced):
    """A way of working with limits of its own, that a job can follow."""

    limits: BookLimits = ()


class BookVehicle(Sourced):
    """A surveyed vehicle that a job can begin with.

    Attributes:
        surfaces, ribs, cab: what of its heat need belongs to the vehicle.
    """

    vehicle: Vehicle
    surfaces: tuple[Surface, ...]
    ribs: Ribs = Ribs()
    cab: Literal["bulkhead", "curtain", "inside"] = "bulkhead"


class BookWishes(Sourced):
    """Wishes that the planner can begin with."""

    wishes: Wishes


class OwnBook(Frozen):
    """All that a workshop has written down for its own use.

    Attributes:
        heaters: that every job can choose from, besides the usual ones.
        limits: in the place of the usual ones; what a heater's sheet says stands over them.
        materials: new ones, and usual ones with other values.
    """

    format: Literal["gale-nook-book"] = "gale-nook-book"
    version: Literal[1] = 1
    heaters: Annotated[
        tuple[HeaterSheet, ...], Field(max_length=MOST_HEATERS), AfterValidator(unique_ids)
    ] = ()
    limits: BookLimits = ()
    schools: Annotated[
        tuple[School, ...], Field(max_length=MOST_SCHOOLS), AfterValidator(unique_ids)
    ] = ()
    materials: BookMaterials = ()
    prices: BookPrices = ()
    vehicles: Annotated[
        tuple[BookVehicle, ...], Field(max_length=MOST_VEHICLES), AfterValidator(unique_ids)
    ] = ()
    wishes: Annotated[
        tuple[BookWishes, ...], Field(max_length=MOST_WISHES), AfterValidator(unique_ids)
    ] = ()

    def school(self, school_id: str | None) -> School | None:
        """Return the school of an id; None where there is none."""
        return next((each for each in self.schools if each.id == school_id), None)


SECTIONS = ("heaters", "limits", "schools", "materials", "prices", "vehicles", "wishes")


def book_schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of the book's file."""
    return schema_of(OwnBook, f"Gale Nook book of a workshop, version {VERSION}")


def read_book(raw: bytes) -> OwnBook:
    """Return the book in a file's bytes.

    Raises:
        PlanUnreadable: too large, not text, not JSON, not a book, or with values that it cannot
            hold; names each place in the file.
    """
    text = read_text(raw, MAX_BOOK_BYTES, "books")
    try:
        return OwnBook.model_validate_json(text)
    except ValidationError as error:
        raise PlanUnreadable(
            "The file is no book of a workshop, or holds values that it cannot.", places_of(error)
        ) from None
    except (OverflowError, ValueError, RecursionError):
        raise PlanUnreadable("The book holds a number that is too long.") from None


def write_book(book: OwnBook) -> str:
    """Return the book as the text of a file that `read_book` takes: spread over lines unless that
    makes it too large.
    """
    text = book.model_dump_json(indent=2) + "\n"
    return text if len(text.encode()) <= MAX_BOOK_BYTES else book.model_dump_json() + "\n"


def vehicle_of(
    entry_id: str, label: str, source: str, heat: HeatNeed, vehicle: Vehicle
) -> BookVehicle:
    """Return a surveyed vehicle as an entry; its photos stay with its job."""
    solids = tuple(solid.model_copy(update={"picture": ""}) for solid in vehicle.solids)
    kept = vehicle.model_copy(update={"photos": (), "solids": solids})
    return BookVehicle(
        id=entry_id,
        label=label,
        source=source,
        vehicle=kept,
        surfaces=heat.surfaces,
        ribs=heat.ribs,
        cab=heat.cab,
    )
