"""Edits of the fuel: its source, a tank of one's own, the line."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import Point2
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.errors import BadInput
from gale_nook.core.fuel.items import AddBend, AddHoldsTank, AddIndent, AddLinePart
from gale_nook.core.fuel.reverse import reversed_line
from gale_nook.core.fuel.start import starting_line, starting_tank
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import OWN_TANKS, FuelLine, FuelSource
from gale_nook.core.plan.words import SOURCE_WORDS


class SetSource(Command):
    """Choose where the fuel comes from; a tank of one's own begins in a usual place."""

    op: Literal["source"] = "source"
    source: FuelSource

    def change(self, data: Data, before: Job) -> None:
        data["fuel"]["source"] = self.source
        if self.source in OWN_TANKS and data["fuel"]["tank"] is None:
            data["fuel"]["tank"] = starting_tank(before, self.source).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return f"fuel from {SOURCE_WORDS[self.source]}"


class SetProfile(Command):
    """Give the tank of one's own a cross-section of these corners (across the extrusion, up; mm
    from its low corner).
    """

    op: Literal["tank-profile"] = "tank-profile"
    corners: Annotated[tuple[Point2, ...], Field(min_length=3, max_length=40)]

    def change(self, data: Data, before: Job) -> None:
        del before
        if data["fuel"]["tank"] is None:
            problem = "There is no tank of its own whose profile could be set."
            raise BadInput("fuel.tank", None, problem)
        corners = [list(corner) for corner in self.corners]
        data["fuel"]["tank"] |= {"shape": "profile", "profile": corners}

    def words(self, before: Job) -> str:
        del before
        return f"tank's profile of {len(self.corners)} corners"


class PutLine(Command):
    """Put in a fuel line in the place of what there was, or take it out."""

    op: Literal["fuel-line"] = "fuel-line"
    line: FuelLine | None

    def change(self, data: Data, before: Job) -> None:
        del before
        line = self.line
        data["fuel"]["line"] = line.model_dump(mode="json") if line is not None else None

    def words(self, before: Job) -> str:
        del before
        return "took the fuel line out" if self.line is None else "another fuel line"


class StartLine(Command):
    """Begin the fuel line: from where it takes off to the heater, rising, with filter, pump and
    clips.
    """

    op: Literal["start-line"] = "start-line"

    def change(self, data: Data, before: Job) -> None:
        data["fuel"]["line"] = starting_line(before).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "began the fuel line"


class ReverseLine(Command):
    """Turn the order of the line's bends round, for one that was typed from the heater; what sits
    on it stays where it is.
    """

    op: Literal["reverse-line"] = "reverse-line"

    def change(self, data: Data, before: Job) -> None:
        data["fuel"]["line"] = reversed_line(before).model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "turned the order of the fuel line's bends round"


COMMANDS: tuple[type[Command], ...] = (
    AddHoldsTank,
    AddBend,
    AddIndent,
    AddLinePart,
    SetSource,
    SetProfile,
    PutLine,
    StartLine,
    ReverseLine,
)
