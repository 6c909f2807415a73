"""Edits of the warm air: ducts with their bends and parts, ends, openings, zones."""

from __future__ import annotations

import re
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from gale_nook.core.air.start import starting_duct, starting_return
from gale_nook.core.base.models import CatalogueId, ItemId, Point3
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput, Gone, OtherKind
from gale_nook.core.job import Job
from gale_nook.core.plan.air import (
    Duct,
    DuctPart,
    DuctPartKind,
    Leg,
    Outlet,
    ReturnOpening,
    WantedOutlet,
    Zone,
)
from gale_nook.core.plan.pipes import RouteNode

DUCT_LISTS = r"air\.(?:ducts\.[a-z][a-z0-9-]{0,39}|return_duct)"
PART_WORDS: dict[DuctPartKind, str] = {
    "clip": "clips",
    "lagging": "lagging",
    "panel": "holes",
    "guard": "guard",
    "flex": "flexible stretch",
}


class AddDuctBend(AddItem):
    """Add a bend to a duct."""

    lists: ClassVar[re.Pattern[str]] = re.compile(DUCT_LISTS + r"\.nodes")
    collection: Annotated[str, Field(pattern=rf"^{DUCT_LISTS}\.nodes$", max_length=160)]
    item: RouteNode


class AddDuctPart(AddItem):
    """Put something on a duct."""

    lists: ClassVar[re.Pattern[str]] = re.compile(DUCT_LISTS + r"\.parts")
    collection: Annotated[str, Field(pattern=rf"^{DUCT_LISTS}\.parts$", max_length=160)]
    item: DuctPart


class AddReturn(AddItem):
    """Add an opening by which the air comes back."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"air\.returns")
    collection: Literal["air.returns"] = "air.returns"
    item: ReturnOpening


class AddZone(AddItem):
    """Add a zone with a temperature of its own."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"air\.zones")
    collection: Literal["air.zones"] = "air.zones"
    item: Zone


class StartDuct(Command):
    """Begin a duct at the heater's warm end, or at a free leg of a splitter, to an outlet at a
    place.
    """

    op: Literal["start-duct"] = "start-duct"
    comes_from: ItemId | None = None
    leg: Leg = "straight"
    to: Point3 | None = None
    zone: ItemId = "living"

    def change(self, data: Data, before: Job) -> None:
        duct = starting_duct(before, self.comes_from, self.leg, self.to, self.zone)
        data["air"]["warm_end"] = "duct"
        data["air"]["ducts"].append(duct.model_dump(mode="json"))

    def words(self, before: Job) -> str:
        del before
        return "began a duct"


class TakeDucts(Command):
    """Put in a whole tree of ducts in the place of what there was."""

    op: Literal["take-ducts"] = "take-ducts"
    ducts: Annotated[tuple[Duct, ...], Field(max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        del before
        data["air"]["warm_end"] = "duct"
        data["air"]["ducts"] = [duct.model_dump(mode="json") for duct in self.ducts]

    def words(self, before: Job) -> str:
        del before
        return "another tree of ducts"


class TakeTree(Command):
    """Put in a tree that was found for the outlets that were pointed at, which are there then."""

    op: Literal["take-tree"] = "take-tree"
    ducts: Annotated[tuple[Duct, ...], Field(max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        TakeDucts(ducts=self.ducts).change(data, before)
        data["air"]["wanted"] = []

    def words(self, before: Job) -> str:
        del before
        return "took a tree of ducts"


class AddWanted(AddItem):
    """Point at a place where the warm air should come out."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"air\.wanted")
    collection: Literal["air.wanted"] = "air.wanted"
    item: WantedOutlet


class RemoveDuct(Command):
    """Take a duct out, with all that goes on from it."""

    op: Literal["remove-duct"] = "remove-duct"
    duct: ItemId

    def change(self, data: Data, before: Job) -> None:
        ducts = data["air"]["ducts"]
        if all(duct["id"] != self.duct for duct in ducts):
            raise Gone("duct", self.duct)
        gone = after(before.plan.air.ducts, self.duct)
        data["air"]["ducts"] = [duct for duct in ducts if duct["id"] not in gone]

    def words(self, before: Job) -> str:
        more = len(after(before.plan.air.ducts, self.duct)) - 1
        return "took out a duct" + (f" and {more} that go on from it" if more > 0 else "")


def after(ducts: tuple[Duct, ...], duct_id: str) -> set[str]:
    """Return the ids of a duct and of all that go on from it."""
    result = {duct_id}
    while True:
        more = {d.id for d in ducts if d.comes_from in result} - result
        if not more:
            return result
        result |= more


class SetEnd(Command):
    """Let a duct end in an outlet, in a splitter, or in the duct that carries it on."""

    op: Literal["duct-end"] = "duct-end"
    duct: ItemId
    outlet: Outlet | None = None
    splitter: CatalogueId | None = None

    def change(self, data: Data, before: Job) -> None:
        goes_on = len(after(before.plan.air.ducts, self.duct)) > 1
        if self.outlet is not None and goes_on:
            problem = "Other ducts go on from this one: take them out before it ends in an outlet."
            raise BadInput("outlet", self.duct, problem)
        duct = _duct(data, self.duct)
        duct["outlet"] = self.outlet.model_dump(mode="json") if self.outlet is not None else None
        duct["splitter"] = self.splitter

    def words(self, before: Job) -> str:
        del before
        return "how a duct ends"


class PutDuctParts(Command):
    """Replace every part of one kind on a duct, the others staying as they are."""

    op: Literal["put-duct-parts"] = "put-duct-parts"
    duct: ItemId
    kind: DuctPartKind
    parts: Annotated[tuple[DuctPart, ...], Field(max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        del before
        other = next((part.kind for part in self.parts if part.kind != self.kind), None)
        if other is not None:
            raise OtherKind("parts", other, self.kind)
        duct = _duct(data, self.duct)
        kept = [part for part in duct["parts"] if part["kind"] != self.kind]
        duct["parts"] = [*kept, *(part.model_dump(mode="json") for part in self.parts)]

    def words(self, before: Job) -> str:
        del before
        return f"{PART_WORDS[self.kind]} of a duct"


class StartReturn(Command):
    """Begin the duct that brings air to the inlet, or take it out."""

    op: Literal["return-duct"] = "return-duct"
    there: bool = True

    def change(self, data: Data, before: Job) -> None:
        duct = starting_return(before) if self.there else None
        data["air"]["return_duct"] = duct.model_dump(mode="json") if duct is not None else None
        data["air"]["cold_end"] = "duct" if self.there else "free"

    def words(self, before: Job) -> str:
        del before
        return "began the return duct" if self.there else "took out the return duct"


def _duct(data: Data, duct_id: str) -> dict[str, Any]:
    air = data["air"]
    back = air["return_duct"]
    found: dict[str, Any] | None = next((d for d in air["ducts"] if d["id"] == duct_id), None)
    if found is None and back is not None and back["id"] == duct_id:
        found = back
    if found is None:
        raise Gone("duct", duct_id)
    return found


COMMANDS: tuple[type[Command], ...] = (
    AddDuctBend,
    AddDuctPart,
    AddReturn,
    AddZone,
    StartDuct,
    TakeDucts,
    TakeTree,
    AddWanted,
    RemoveDuct,
    SetEnd,
    PutDuctParts,
    StartReturn,
)
