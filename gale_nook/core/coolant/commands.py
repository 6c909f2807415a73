"""Edits of the coolant loop."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, CoordinateMm, ItemId
from gale_nook.core.coolant.changing import (
    NO_HOSE,
    TWO_ENDS,
    branched,
    part_put_in,
    taken_out,
    turned_round,
)
from gale_nook.core.coolant.floors import mixed_floors
from gale_nook.core.coolant.laying import laid_hose, with_hose
from gale_nook.core.coolant.start import USUAL, usual_loop
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput, OtherKind
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import hose_run
from gale_nook.core.plan.coolant import Hose, HosePart, HosePartKind, LoopPart
from gale_nook.core.plan.pipes import RouteNode


class AddLoopPart(AddItem):
    """Add a part to the loop."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"coolant\.parts")
    collection: Literal["coolant.parts"] = "coolant.parts"
    item: LoopPart


class AddHose(AddItem):
    """Add a hose between two ends."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"coolant\.hoses")
    collection: Literal["coolant.hoses"] = "coolant.hoses"
    item: Hose


class AddHoseBend(AddItem):
    """Add a bend to a hose."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"coolant\.hoses\.[a-z0-9-]+\.nodes")
    collection: Annotated[str, Field(pattern=r"^coolant\.hoses\.[a-z0-9-]+\.nodes$")]
    item: RouteNode


class AddHosePart(AddItem):
    """Put something on a hose."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"coolant\.hoses\.[a-z0-9-]+\.parts")
    collection: Annotated[str, Field(pattern=r"^coolant\.hoses\.[a-z0-9-]+\.parts$")]
    item: HosePart


class StartLoop(Command):
    """Begin with a usual loop; what there was is replaced."""

    op: Literal["start-loop"] = "start-loop"
    usual: Annotated[str, Field(max_length=40)]

    def change(self, data: Data, before: Job) -> None:
        if self.usual not in USUAL:
            raise BadInput("usual", self.usual, f"There are: {', '.join(USUAL)}.")
        loop = usual_loop(before, USUAL[self.usual][1])
        data["coolant"] = loop.model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return f"began with a loop: {USUAL[self.usual][0]}" if self.usual in USUAL else "a loop"


class LayHose(Command):
    """Lay a hose anew, square to the vehicle, with its clips and its holes."""

    op: Literal["lay-hose"] = "lay-hose"
    hose: ItemId

    def change(self, data: Data, before: Job) -> None:
        found = before.plan.coolant.hose(self.hose)
        if found is None:
            raise BadInput("hose", self.hose, NO_HOSE)
        _put(data, laid_hose(before, found))

    def words(self, before: Job) -> str:
        del before
        return "laid a hose anew"


class PutHoseParts(Command):
    """Replace everything of one kind on a hose, the rest staying as it is."""

    op: Literal["put-hose-parts"] = "put-hose-parts"
    hose: ItemId
    kind: HosePartKind
    parts: Annotated[tuple[HosePart, ...], Field(max_length=50)]

    def change(self, data: Data, before: Job) -> None:
        found = before.plan.coolant.hose(self.hose)
        other = next((part.kind for part in self.parts if part.kind != self.kind), None)
        if other is not None:
            raise OtherKind("parts", other, self.kind)
        if found is None:
            raise BadInput("hose", self.hose, NO_HOSE)
        kept = tuple(part for part in found.parts if part.kind != self.kind)
        _put(data, found.model_copy(update={"parts": (*kept, *self.parts)}))

    def words(self, before: Job) -> str:
        del before
        return f"a hose's {self.kind}s"


class SplitHose(Command):
    """Put a part into a hose: both its ends are joined to it, `turned` the other way round."""

    op: Literal["split-hose"] = "split-hose"
    hose: ItemId
    at_mm: Annotated[float, Field(ge=0, le=30_000)]
    kind: CatalogueId
    turned: bool = False

    def change(self, data: Data, before: Job) -> None:
        run = hose_run(before, self.hose)
        if run is None:
            raise BadInput("hose", self.hose, NO_HOSE)
        known = {entry.id: entry for entry in before.catalogue.coolant_equipment.parts}
        kind = known.get(self.kind)
        if kind is None or len(kind.ports) != len(("in", "out")):
            raise BadInput("kind", self.kind, TWO_ENDS)
        start, end = reversed(list(kind.ports)) if self.turned else list(kind.ports)
        there, _ = part_put_in(before, run, self.at_mm, kind, (start, end))
        data["coolant"] = there.plan.coolant.model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "put a part into a hose"


class MixFloors(Command):
    """Put a mixing valve ahead of floor loops, a tee behind them, and a pump between where there is
    none: what comes back is mixed into what goes in.
    """

    op: Literal["mix-floors"] = "mix-floors"

    def change(self, data: Data, before: Job) -> None:
        loop = mixed_floors(before)
        if loop is None:
            raise BadInput("floors", None, "There is no floor loop with a hose at both its ends.")
        data["coolant"] = loop.model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "put a mixing valve ahead of the floor loops"


class MoveLoopPart(Command):
    """Set a part elsewhere; hoses that lead to it are laid anew."""

    op: Literal["move-loop-part"] = "move-loop-part"
    part: ItemId
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm

    def change(self, data: Data, before: Job) -> None:
        coolant = before.plan.coolant
        found = _found_part(before, self.part)
        place = {"x_mm": self.x_mm, "y_mm": self.y_mm, "z_mm": self.z_mm}
        moved = found.model_copy(update=place)
        parts = tuple(moved if part.id == self.part else part for part in coolant.parts)
        loop = coolant.model_copy(update={"parts": parts})
        there = before.with_parts(coolant=loop)
        for hose in coolant.hoses:
            if self.part in {hose.from_part, hose.to_part}:
                there = with_hose(there, laid_hose(there, hose))
        data["coolant"] = there.plan.coolant.model_dump(mode="json")

    def words(self, before: Job) -> str:
        found = before.plan.coolant.part(self.part)
        return f"set the {found.name} elsewhere" if found is not None else "set a part elsewhere"


def _put(data: Data, hose: Hose) -> None:
    hoses = data["coolant"]["hoses"]
    data["coolant"]["hoses"] = [
        hose.model_dump(mode="json") if other["id"] == hose.id else other for other in hoses
    ]


class TakeOutPart(Command):
    """Take a part out and join its two hoses to one."""

    op: Literal["take-out-part"] = "take-out-part"
    part: ItemId

    def change(self, data: Data, before: Job) -> None:
        _found_part(before, self.part)
        data["coolant"] = taken_out(before, self.part).model_dump(mode="json")

    def words(self, before: Job) -> str:
        found = before.plan.coolant.part(self.part)
        return f"took the {found.name} out" if found is not None else "took a part out"


class TurnLoopPart(Command):
    """Join a part the other way round."""

    op: Literal["turn-loop-part"] = "turn-loop-part"
    part: ItemId

    def change(self, data: Data, before: Job) -> None:
        _found_part(before, self.part)
        data["coolant"] = turned_round(before, self.part).model_dump(mode="json")

    def words(self, before: Job) -> str:
        found = before.plan.coolant.part(self.part)
        return f"turned the {found.name} round" if found is not None else "turned a part round"


class BranchOff(Command):
    """Put a part beside the way: between a tee in one hose and a tee in another one."""

    op: Literal["branch-off"] = "branch-off"
    hose: ItemId
    back: ItemId
    kind: CatalogueId

    def change(self, data: Data, before: Job) -> None:
        data["coolant"] = branched(before, self.hose, self.back, self.kind).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "put a part beside the way"


def _found_part(job: Job, part_id: str) -> LoopPart:
    found = job.plan.coolant.part(part_id)
    if found is None:
        raise BadInput("part", part_id, "There is no such part in the loop.")
    return found


COMMANDS: tuple[type[Command], ...] = (
    TakeOutPart,
    TurnLoopPart,
    BranchOff,
    AddLoopPart,
    AddHose,
    AddHoseBend,
    AddHosePart,
    StartLoop,
    LayHose,
    PutHoseParts,
    SplitHose,
    MixFloors,
    MoveLoopPart,
)
