"""Edits of several surveyed parts at once, each undone in one step."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, ItemId
from gale_nook.core.edits.command import Address, Command, Data
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import Solid
from gale_nook.core.vehicle.copies import moved
from gale_nook.core.vehicle.pencil import part_addresses

Parts = Annotated[tuple[ItemId, ...], Field(min_length=1, max_length=400)]
ShiftMm = Annotated[float, Field(ge=-30_000, le=30_000)]
MOST_COPIES = 50


def _chosen(job: Job, parts: tuple[str, ...]) -> tuple[Solid, ...]:
    """The parts of these ids, in the order of the survey; raises BadInput."""
    solids = job.plan.vehicle.solids
    missing = set(parts) - {solid.id for solid in solids}
    if missing:
        raise Gone("part", min(missing))
    return tuple(solid for solid in solids if solid.id in parts)


def _count(parts: tuple[str, ...]) -> str:
    return "1 part" if len(parts) == 1 else f"{len(parts)} parts"


class AddParts(Command):
    """Add several surveyed parts: copies of others.

    Attributes:
        pencilled: addresses of their values that nobody has measured.
    """

    op: Literal["add-parts"] = "add-parts"
    items: Annotated[tuple[Solid, ...], Field(min_length=1, max_length=400)]
    pencilled: Annotated[tuple[Address, ...], Field(max_length=4000)] = ()

    def change(self, data: Data, before: Job) -> None:
        taken = {solid.id for solid in before.plan.vehicle.solids}
        clash = next((item.id for item in self.items if item.id in taken), None)
        if clash is not None:
            raise BadInput("part", clash, "There is a part of that number already; try again.")
        data["vehicle"]["solids"] += [item.model_dump(mode="json") for item in self.items]
        data["vehicle"]["pencilled"] += list(self.pencilled)

    def words(self, before: Job) -> str:
        del before
        ids = tuple(item.id for item in self.items)
        return f"added {_count(ids)}"


class RemoveParts(Command):
    """Take several surveyed parts out."""

    generic: ClassVar[bool] = True
    op: Literal["remove-parts"] = "remove-parts"
    parts: Parts

    def change(self, data: Data, before: Job) -> None:
        _chosen(before, self.parts)
        kept = [solid for solid in data["vehicle"]["solids"] if solid["id"] not in self.parts]
        data["vehicle"]["solids"] = kept

    def words(self, before: Job) -> str:
        del before
        return f"took out {_count(self.parts)}"


class MoveParts(Command):
    """Move several surveyed parts by the same lengths."""

    op: Literal["move-parts"] = "move-parts"
    parts: Parts
    rearward_mm: ShiftMm = 0.0
    right_mm: ShiftMm = 0.0
    up_mm: ShiftMm = 0.0

    def change(self, data: Data, before: Job) -> None:
        by_mm: Vec3 = (self.rearward_mm, self.right_mm, self.up_mm)
        new = {solid.id: moved(solid, by_mm) for solid in _chosen(before, self.parts)}
        data["vehicle"]["solids"] = [
            new[solid["id"]].model_dump(mode="json") if solid["id"] in new else solid
            for solid in data["vehicle"]["solids"]
        ]

    def words(self, before: Job) -> str:
        del before
        return f"moved {_count(self.parts)}"


class SetMaterial(Command):
    """Say what several surveyed parts are made of."""

    op: Literal["material"] = "material"
    parts: Parts
    material: CatalogueId

    def change(self, data: Data, before: Job) -> None:
        _chosen(before, self.parts)
        if self.material not in before.catalogue.solid_materials:
            raise BadInput("made of", self.material, "Choose the material from the list.")
        for solid in data["vehicle"]["solids"]:
            if solid["id"] in self.parts:
                solid["material"] = self.material

    def typed(self) -> tuple[str, ...]:
        return tuple(f"vehicle.solids.{part}.material" for part in self.parts)

    def words(self, before: Job) -> str:
        del before
        return f"{_count(self.parts)}: made of"


class InkParts(Command):
    """Say that several surveyed parts are as the tape has them."""

    op: Literal["ink-parts"] = "ink-parts"
    parts: Parts

    def change(self, data: Data, before: Job) -> None:
        del data
        _chosen(before, self.parts)

    def typed(self) -> tuple[str, ...]:
        return tuple(f"vehicle.solids.{part}" for part in self.parts)

    def words(self, before: Job) -> str:
        del before
        return f"{_count(self.parts)}: measured"


def added(items: tuple[Solid, ...]) -> AddParts:
    """Return the command that adds copies of parts, all of them in pencil."""
    return AddParts(items=items, pencilled=tuple(a for s in items for a in part_addresses(s)))


SEVERAL: tuple[type[Command], ...] = (AddParts, RemoveParts, MoveParts, SetMaterial, InkParts)
