"""The edit by which a job takes the workshop's book."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.models import unique_ids
from gale_nook.core.book.document import MOST_HEATERS, OwnBook
from gale_nook.core.book.taking import taken_from
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.job import Job
from gale_nook.core.plan.book import PlanBook
from gale_nook.core.plan.document import Plan


class TakeBook(Command):
    """Take what a workshop's book says; heaters of the book are the job's own from then on."""

    op: Literal["take-book"] = "take-book"
    book: PlanBook
    sheets: Annotated[
        tuple[HeaterSheet, ...], Field(max_length=MOST_HEATERS), AfterValidator(unique_ids)
    ] = ()

    def change(self, data: Data, before: Job) -> None:
        del before
        data["book"] = self.book.model_dump(mode="json")
        fresh = {sheet.id: sheet.model_dump(mode="json") for sheet in self.sheets}
        own = [fresh.pop(sheet["id"], sheet) for sheet in data["heater"]["own_sheets"]]
        data["heater"]["own_sheets"] = [*own, *fresh.values()]

    def words(self, before: Job) -> str:
        del before
        school = f", as {self.book.school} has it" if self.book.school else ""
        return f"took edit {self.book.edit} of the workshop's book{school}"


def taking_book(
    book: OwnBook, edit: int, school_id: str | None, plan: Plan, catalogue: Catalogue
) -> TakeBook:
    """Return the edit by which a plan takes a book."""
    return TakeBook(book=taken_from(book, edit, school_id, plan, catalogue), sheets=book.heaters)
