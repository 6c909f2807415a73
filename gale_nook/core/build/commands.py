"""Edits of the job in hand: cards ticked off, values measured on what was built, lengths cut,
stock.
"""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import Note
from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.command import OWNED_ELSEWHERE, Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.build import (
    AsBuilt,
    BuiltAddress,
    CardId,
    CardPhoto,
    CutPiece,
    DoneCard,
    StockLine,
)
from gale_nook.core.plan.words import field_words, item_id, item_name

NOT_MEASURED = "This is not a length or an angle that can be measured on what was built."


class TickCard(Command):
    """Tick a card of the work off, with what was found; or take the tick back."""

    op: Literal["tick-card"] = "tick-card"
    card: CardId
    done: bool = True
    note: Note = ""

    def change(self, data: Data, before: Job) -> None:
        del before
        others = [each for each in data["build"]["done"] if each["id"] != self.card]
        ticked = DoneCard(id=self.card, note=self.note).model_dump(mode="json")
        data["build"]["done"] = [*others, ticked] if self.done else others

    def words(self, before: Job) -> str:
        del before
        return "ticked a card of the work" if self.done else "took a card's tick back"


class AddCardPhoto(AddItem):
    """Keep a photo with a card."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"build\.photos")
    collection: Literal["build.photos"] = "build.photos"
    item: CardPhoto

    def words(self, before: Job) -> str:
        del before
        return "kept a photo with a card"


class NoteBuilt(Command):
    """Put a value in that was measured on what was built: it stands in the plan from now on, beside
    what was planned.
    """

    generic: ClassVar[bool] = True
    op: Literal["note-built"] = "note-built"
    address: BuiltAddress
    value: Annotated[float, Field(ge=-60_000, le=60_000)]

    def change(self, data: Data, before: Job) -> None:
        del before
        now = addresses.find(data, self.address)
        known = isinstance(now, int | float) and not isinstance(now, bool)
        if not known or self.address.split(".")[0] in {*OWNED_ELSEWHERE, "build", "firing"}:
            raise BadInput(self.address, self.value, NOT_MEASURED)
        built = data["build"]["as_built"]
        first = next((e["planned"] for e in built if e["id"] == self.address), float(now))
        others = [each for each in built if each["id"] != self.address]
        note = AsBuilt(id=self.address, planned=first, built=self.value).model_dump(mode="json")
        data["build"]["as_built"] = [*others, note]
        addresses.put(data, self.address, self.value)

    def typed(self) -> tuple[str, ...]:
        return (self.address,)

    def words(self, before: Job) -> str:
        item = item_id(self.address)
        where = f"{item_name(before.plan, item)}: " if item else ""
        return f"{where}{field_words(self.address)} as built"


class NoteCut(Command):
    """Put in the length that a piece of the cutting list was cut to; none for not cut yet."""

    op: Literal["note-cut"] = "note-cut"
    piece: Annotated[str, Field(min_length=1, max_length=120)]
    length_mm: Annotated[float, Field(gt=0, le=60_000)] | None = None

    def change(self, data: Data, before: Job) -> None:
        del before
        others = [each for each in data["build"]["cut"] if each["id"] != self.piece]
        if self.length_mm is not None:
            piece = CutPiece(id=self.piece, length_mm=self.length_mm)
            others = [*others, piece.model_dump(mode="json")]
        data["build"]["cut"] = others

    def words(self, before: Job) -> str:
        del before
        return "put a cut length in" if self.length_mm is not None else "took a cut length out"


class TakeStock(Command):
    """Take over what is in stock, and what things cost."""

    op: Literal["take-stock"] = "take-stock"
    lines: Annotated[tuple[StockLine, ...], Field(max_length=400)]

    def change(self, data: Data, before: Job) -> None:
        for line in self.lines:
            if line.id not in before.catalogue.parts:
                raise BadInput("part", line.id, f"There is no part '{line.id}' on the list.")
        data["build"]["stock"] = [line.model_dump(mode="json") for line in self.lines]

    def words(self, before: Job) -> str:
        del before
        return "took stock and prices over"


class TakeCards(Command):
    """Take over what was ticked, noted and measured on the phone, all of it or nothing."""

    generic: ClassVar[bool] = True
    op: Literal["take-cards"] = "take-cards"
    ticks: Annotated[tuple[TickCard, ...], Field(max_length=200)] = ()
    built: Annotated[tuple[NoteBuilt, ...], Field(max_length=100)] = ()
    cuts: Annotated[tuple[NoteCut, ...], Field(max_length=200)] = ()

    def change(self, data: Data, before: Job) -> None:
        for each in (*self.ticks, *self.built, *self.cuts):
            each.change(data, before)

    def typed(self) -> tuple[str, ...]:
        return tuple(each.address for each in self.built)

    def words(self, before: Job) -> str:
        del before
        return "took the phone's cards over"


COMMANDS: tuple[type[Command], ...] = (
    TickCard,
    AddCardPhoto,
    NoteBuilt,
    NoteCut,
    TakeStock,
    TakeCards,
)
