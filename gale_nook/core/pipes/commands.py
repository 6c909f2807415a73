"""Edits of the burner's pipes: their runs, corners and fittings."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.edits.command import Command, Data, items_at
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import OtherKind
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import reclamped
from gale_nook.core.pipes.reverse import reversed_run
from gale_nook.core.pipes.start import starting_run
from gale_nook.core.plan.pipes import EdgeName, Fitting, Route, RouteNode, Tube
from gale_nook.core.plan.words import FITTING_WORDS, TUBE_WORDS

EDGES: tuple[EdgeName, ...] = ("left", "right", "rear")


class AddCorner(AddItem):
    """Add a corner to a run."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"pipes\.(exhaust|intake)\.nodes")
    collection: Literal["pipes.exhaust.nodes", "pipes.intake.nodes"]
    item: RouteNode


class AddFitting(AddItem):
    """Put something on a pipe."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"pipes\.(exhaust|intake)\.fittings")
    collection: Literal["pipes.exhaust.fittings", "pipes.intake.fittings"]
    item: Fitting


class StartRun(Command):
    """Begin a run at the port: straight down, then out; the exhaust falls to the nearer side of the
    vehicle.
    """

    op: Literal["start-run"] = "start-run"
    tube: Tube

    def change(self, data: Data, before: Job) -> None:
        data["pipes"][self.tube] = starting_run(before, self.tube).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return f"started the {TUBE_WORDS[self.tube]}"


class TakeRun(Command):
    """Put a whole run in the place of what there was."""

    op: Literal["take-run"] = "take-run"
    tube: Tube
    route: Route

    def change(self, data: Data, before: Job) -> None:
        del before
        data["pipes"][self.tube] = self.route.model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return f"a route for the {TUBE_WORDS[self.tube]}"


class RemoveRun(Command):
    """Take a run out."""

    op: Literal["remove-run"] = "remove-run"
    tube: Tube

    def change(self, data: Data, before: Job) -> None:
        del before
        data["pipes"][self.tube] = None

    def words(self, before: Job) -> str:
        del before
        return f"took out the {TUBE_WORDS[self.tube]}"


class ReverseRun(Command):
    """Turn the order of a run's corners round, for one that was typed from its far end; what sits
    on it stays where it is.
    """

    op: Literal["reverse-run"] = "reverse-run"
    tube: Tube

    def change(self, data: Data, before: Job) -> None:
        data["pipes"][self.tube] = reversed_run(before, self.tube).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return f"turned the order of the {TUBE_WORDS[self.tube]}'s bends round"


class PutFittings(Command):
    """Replace every fitting of one kind on a run, the others staying as they are."""

    op: Literal["put-fittings"] = "put-fittings"
    tube: Tube
    kind: Literal["joint", "support", "lagging", "shield", "clamp"]
    fittings: Annotated[tuple[Fitting, ...], Field(max_length=40)]

    def change(self, data: Data, before: Job) -> None:
        del before
        fittings = items_at(data, f"pipes.{self.tube}.fittings")
        other = next((fitting.kind for fitting in self.fittings if fitting.kind != self.kind), None)
        if other is not None:
            raise OtherKind("fittings", other, self.kind)
        kept = [fitting for fitting in fittings if fitting["kind"] != self.kind]
        fresh = [fitting.model_dump(mode="json") for fitting in self.fittings]
        if self.kind == "joint":
            old = [fitting for fitting in fittings if fitting["kind"] == "joint"]
            kept = reclamped(kept, old, fresh)
        data["pipes"][self.tube]["fittings"] = [*kept, *fresh]

    def words(self, before: Job) -> str:
        del before
        return f"{FITTING_WORDS[self.kind][1]} on the {TUBE_WORDS[self.tube]}"


class SetEdges(Command):
    """Set at which sides of the vehicle the exhaust may end."""

    op: Literal["edges"] = "edges"
    edges: Annotated[tuple[EdgeName, ...], Field(min_length=1, max_length=3)]

    def change(self, data: Data, before: Job) -> None:
        del before
        data["pipes"]["edges"] = [edge for edge in EDGES if edge in self.edges]

    def words(self, before: Job) -> str:
        del before
        return "sides at which the exhaust may end"


COMMANDS: tuple[type[Command], ...] = (
    AddCorner,
    AddFitting,
    StartRun,
    TakeRun,
    RemoveRun,
    ReverseRun,
    PutFittings,
    SetEdges,
)
