"""Edits of the coolant loop."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, CoordinateMm, ItemId
from gale_nook.core.coolant.floors import mixed_floors
from gale_nook.core.coolant.start import (
    USUAL,
    fitted_hose,
    fitting_kind,
    laid_hose,
    usual_loop,
    with_hose,
)
from gale_nook.core.edits.command import Command, Data, fresh_id
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput, OtherKind
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import hose_run
from gale_nook.core.plan.coolant import Coolant, Hose, HosePart, HosePartKind, LoopPart
from gale_nook.core.plan.pipes import RouteNode

NO_HOSE = "There is no such hose in the loop."
BESIDE_MM = 60.0


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
        run, coolant = hose_run(before, self.hose), before.plan.coolant
        if run is None:
            raise BadInput("hose", self.hose, NO_HOSE)
        known = {entry.id: entry for entry in before.catalogue.coolant_equipment.parts}
        kind = known.get(self.kind)
        if kind is None or len(kind.ports) != len(("in", "out")):
            raise BadInput("kind", self.kind, "Choose a part with two ends.")
        start, end = reversed(list(kind.ports)) if self.turned else list(kind.ports)
        x, y, z = run.geometry.point_at(min(self.at_mm, run.length_mm))
        part = LoopPart(
            id=fresh_id(coolant.parts, kind.kind),
            name=_new_name(coolant, kind.label),
            kind=kind.id,
            x_mm=round(x),
            y_mm=round(y),
            z_mm=round(z),
        )
        first, second = _halves(run.hose, part.id, (start, end), fresh_id(coolant.hoses, "hose"))
        nodes = run.hose.nodes
        passed = [run.geometry.distance_of((n.x_mm, n.y_mm, n.z_mm)) for n in nodes]
        far = [
            (node, at)
            for node, at in zip(nodes, passed, strict=True)
            if abs(at - self.at_mm) > max(node.radius_mm, BESIDE_MM)  # the part bends it there
        ]
        before_it = tuple(node for node, at in far if at < self.at_mm)
        first = first.model_copy(update={"nodes": before_it})
        second = second.model_copy(update={"nodes": tuple(n for n, at in far if at > self.at_mm)})
        others = tuple(hose for hose in coolant.hoses if hose.id != self.hose)
        loop = coolant.model_copy(
            update={"parts": (*coolant.parts, part), "hoses": (*others, first, second)}
        )
        there = before.with_plan(before.plan.model_copy(update={"coolant": loop}))
        for hose in (first, second):
            fitting = hose.model_copy(update={"kind": fitting_kind(there, hose)})
            there = with_hose(there, fitting)
            there = with_hose(there, fitted_hose(there, fitting))
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
        found = coolant.part(self.part)
        if found is None:
            raise BadInput("part", self.part, "There is no such part in the loop.")
        place = {"x_mm": self.x_mm, "y_mm": self.y_mm, "z_mm": self.z_mm}
        moved = found.model_copy(update=place)
        parts = tuple(moved if part.id == self.part else part for part in coolant.parts)
        loop = coolant.model_copy(update={"parts": parts})
        there = before.with_plan(before.plan.model_copy(update={"coolant": loop}))
        for hose in coolant.hoses:
            if self.part in {hose.from_part, hose.to_part}:
                there = with_hose(there, laid_hose(there, hose))
        data["coolant"] = there.plan.coolant.model_dump(mode="json")

    def words(self, before: Job) -> str:
        found = before.plan.coolant.part(self.part)
        return f"set the {found.name} elsewhere" if found is not None else "set a part elsewhere"


def _new_name(coolant: Coolant, label: str) -> str:
    """A name that no part has yet."""
    names = {part.name for part in coolant.parts}
    numbered = (f"{label} {n}" if n > 1 else label for n in range(1, len(names) + 2))
    return next(name for name in numbered if name not in names)


def _halves(hose: Hose, part_id: str, ends: tuple[str, str], new_id: str) -> tuple[Hose, Hose]:
    first = hose.model_copy(update={"to_part": part_id, "to_end": ends[0], "parts": ()})
    second = hose.model_copy(
        update={"id": new_id, "from_part": part_id, "from_end": ends[1], "parts": ()}
    )
    return first, second


def _put(data: Data, hose: Hose) -> None:
    hoses = data["coolant"]["hoses"]
    data["coolant"]["hoses"] = [
        hose.model_dump(mode="json") if other["id"] == hose.id else other for other in hoses
    ]


COMMANDS: tuple[type[Command], ...] = (
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
