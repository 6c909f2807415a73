"""Edits of the first firing: what was looked at, a run of readings, the temperature survey, CO."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId
from gale_nook.core.edits.command import Command, Data, fresh_id
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput
from gale_nook.core.firing.trace import readings_of, unread_columns
from gale_nook.core.job import Job
from gale_nook.core.plan.firing import ControllerCard, CoReading, Firing, PlaceReading, Trace

BESIDE_IT = "beside the heater"


class AddCo(AddItem):
    """Add a place where carbon monoxide is read."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"firing\.co")
    collection: Literal["firing.co"] = "firing.co"
    item: CoReading


class AddControllerCard(AddItem):
    """Add a card on how the controller is used, or on one of its codes."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"firing\.controller")
    collection: Literal["firing.controller"] = "firing.controller"
    item: ControllerCard


class TickCheck(Command):
    """Say that something was looked at before the start, or again after the first long run; or take
    that back.
    """

    op: Literal["tick-check"] = "tick-check"
    check: CatalogueId
    done: bool = True

    def change(self, data: Data, before: Job) -> None:
        book = before.catalogue.firing
        lists = {"ticked": book.checks, "rechecked": book.rechecks}
        name = next((n for n, checks in lists.items() if self.check in {c.id for c in checks}), "")
        if not name:
            raise BadInput("check", self.check, "There is no such check on the list.")
        others = [each for each in data["firing"][name] if each != self.check]
        data["firing"][name] = [*others, self.check] if self.done else others

    def words(self, before: Job) -> str:
        del before
        return "ticked what was looked at" if self.done else "took a tick back"


class StartSurvey(Command):
    """Begin the temperature survey with some places; what was read at them, or elsewhere, stays."""

    op: Literal["start-survey"] = "start-survey"
    places: Annotated[tuple[PlaceReading, ...], Field(min_length=1, max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        known = {place.id: place for place in before.plan.firing.places}
        wanted = {place.id for place in self.places}
        places = [known.get(place.id, place) for place in self.places]
        places += [place for place in known.values() if place.id not in wanted and _read(place)]
        data["firing"]["places"] = [place.model_dump(mode="json") for place in places]

    def words(self, before: Job) -> str:
        del before
        return "began the temperature survey"


def _read(place: PlaceReading) -> bool:
    return place.after_5_c is not None or place.after_20_c is not None


class TakeTrace(Command):
    """Take a run of readings over: the trace, and what it says of each phase. What was typed of a
    column that the trace does not have stays.

    Attributes:
        code: that was shown; empty for none, None where the device does not tell it.
        co_ppm: the most that was read beside the heater; None where nobody read it.
    """

    op: Literal["take-trace"] = "take-trace"
    trace: Trace
    code: Annotated[str, Field(max_length=20)] | None = None
    co_ppm: Annotated[float, Field(ge=0, le=10_000)] | None = None

    def change(self, data: Data, before: Job) -> None:
        firing = data["firing"]
        firing["trace"] = self.trace.model_dump(mode="json")
        kept = unread_columns(self.trace)
        firing["readings"] = [
            {**reading.model_dump(mode="json"), **{name: before_it[name] for name in kept}}
            for reading, before_it in zip(readings_of(self.trace), firing["readings"], strict=True)
        ]
        if self.code is not None:
            firing["code"] = self.code
        if self.co_ppm is None:
            return
        others = [each for each in firing["co"] if each["name"] != BESIDE_IT]
        item = CoReading(
            id=fresh_id(before.plan.firing.co, "co"),
            name=BESIDE_IT,
            after_min=round(self.trace.at_s[-1] / 60),
            co_ppm=self.co_ppm,
        )
        firing["co"] = [*others, item.model_dump(mode="json")]

    def words(self, before: Job) -> str:
        del before
        return f"took over readings from {self.trace.source}"


class ClearReadings(Command):
    """Take out everything that was read; what was looked at before the start stays."""

    op: Literal["clear-readings"] = "clear-readings"

    def change(self, data: Data, before: Job) -> None:
        blank = Firing().model_dump(mode="json")
        kept = {"rest_v", "inside_c", "ticked", "controller", "by", "on"}
        data["firing"] = {**blank, **{key: data["firing"][key] for key in kept}}
        del before

    def words(self, before: Job) -> str:
        del before
        return "took out what was read at the first firing"


COMMANDS: tuple[type[Command], ...] = (
    AddCo,
    AddControllerCard,
    TickCheck,
    StartSurvey,
    TakeTrace,
    ClearReadings,
)
