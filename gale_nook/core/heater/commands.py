"""Edits of the heater: which it is, sheets of one's own, limits of one's own."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.models import CatalogueId, ItemId, Note, Point3
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.job import Job
from gale_nook.core.plan.heater import OtherUnit, OwnLimit


class ChooseHeater(Command):
    """Choose a heater, or none; a mount that the new sheet lacks gives way to its first.

    Attributes:
        instead_of: the recommended one, where another is chosen over it.
    """

    op: Literal["choose"] = "choose"
    sheet: CatalogueId | None
    reason: Note = ""
    instead_of: CatalogueId | None = None

    def change(self, data: Data, before: Job) -> None:
        data["heater"]["sheet"] = self.sheet
        data["heater"]["reason"] = self.reason
        data["heater"]["instead_of"] = self.instead_of
        sheet = before.catalogue.heaters.get(self.sheet) if self.sheet is not None else None
        spot = data["spot"]
        if sheet is not None and spot is not None and sheet.mount(spot["mount"]) is None:
            spot["mount"] = sheet.mounts[0].id

    def words(self, before: Job) -> str:
        sheet = before.catalogue.heaters.get(self.sheet) if self.sheet is not None else None
        return f"chose the {sheet.label}" if sheet is not None else "chose no heater"


class AddUnit(AddItem):
    """Note another heater of the same vehicle."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"heater\.others")
    collection: Literal["heater.others"] = "heater.others"
    item: OtherUnit


class SetUnitPipe(Command):
    """Note where a burner's pipe of another heater runs, from port to mouth (mm); or that nobody
    knows.
    """

    op: Literal["unit-pipe"] = "unit-pipe"
    unit: ItemId
    pipe: Literal["exhaust", "intake"]
    points: Annotated[tuple[Point3, ...], Field(max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        del before
        unit = next((u for u in data["heater"]["others"] if u["id"] == self.unit), None)
        if unit is None:
            raise Gone("other heater", self.unit)
        unit[self.pipe] = [list(point) for point in self.points]

    def words(self, before: Job) -> str:
        del before
        return f"where the other heater's {self.pipe} runs"


class PutSheet(Command):
    """Put in a heater of one's own, or replace one of the same id."""

    op: Literal["put-sheet"] = "put-sheet"
    sheet: HeaterSheet

    def change(self, data: Data, before: Job) -> None:
        del before
        sheets, fresh = data["heater"]["own_sheets"], self.sheet.model_dump(mode="json")
        known = [sheet["id"] for sheet in sheets]
        if self.sheet.id in known:
            sheets[known.index(self.sheet.id)] = fresh
        else:
            sheets.append(fresh)

    def words(self, before: Job) -> str:
        del before
        return f"sheet of the {self.sheet.label}"


class DropSheet(Command):
    """Take out a heater of one's own; where it was chosen, no heater is chosen any more."""

    op: Literal["drop-sheet"] = "drop-sheet"
    sheet_id: CatalogueId

    def change(self, data: Data, before: Job) -> None:
        del before
        heater = data["heater"]
        kept = [sheet for sheet in heater["own_sheets"] if sheet["id"] != self.sheet_id]
        if len(kept) == len(heater["own_sheets"]):
            raise Gone("heater of your own", self.sheet_id)
        heater["own_sheets"] = kept
        if heater["sheet"] == self.sheet_id:
            heater["sheet"] = None

    def words(self, before: Job) -> str:
        own = before.plan.heater.own_sheets
        label = next((sheet.label for sheet in own if sheet.id == self.sheet_id), self.sheet_id)
        return f"took out the {label}"


class SetOwnLimit(Command):
    """Put a limit of one's own over the sheet's or the workshop's."""

    op: Literal["own-limit"] = "own-limit"
    limit: OwnLimit

    def change(self, data: Data, before: Job) -> None:
        del before
        others = [own for own in data["heater"]["own_limits"] if own["id"] != self.limit.id]
        data["heater"]["own_limits"] = [*others, self.limit.model_dump(mode="json")]

    def words(self, before: Job) -> str:
        return f"a limit of your own: {_label(before, self.limit.id)}"


class DropOwnLimit(Command):
    """Go back to the sheet's or the workshop's limit."""

    op: Literal["drop-limit"] = "drop-limit"
    limit_id: CatalogueId

    def change(self, data: Data, before: Job) -> None:
        del before
        limits = data["heater"]["own_limits"]
        kept = [own for own in limits if own["id"] != self.limit_id]
        if len(kept) == len(limits):
            problem = "There is no limit of your own here any more."
            raise BadInput("limit", self.limit_id, problem)
        data["heater"]["own_limits"] = kept

    def words(self, before: Job) -> str:
        return f"back to the given limit: {_label(before, self.limit_id)}"


def _label(job: Job, limit_id: str) -> str:
    band = job.catalogue.limit_bands.get(limit_id)
    return band.label if band is not None else limit_id


COMMANDS: tuple[type[Command], ...] = (
    ChooseHeater,
    PutSheet,
    DropSheet,
    SetOwnLimit,
    DropOwnLimit,
    AddUnit,
    SetUnitPipe,
)
