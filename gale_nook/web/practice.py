"""Practice on a running heater: an exercise is a seed and a level. Its whole state is in its
address, so that a reload changes nothing and no job is touched.
"""

from __future__ import annotations

import random
from functools import lru_cache
from typing import Annotated, Literal
from urllib.parse import urlencode

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.catalogue.practice import LookKind, PracticeBook
from gale_nook.core.job import Job
from gale_nook.core.practice.exercise import Drawn, Marked, drawn, marked, minutes_of
from gale_nook.core.practice.looks import Case, Shown
from gale_nook.core.quantities.sentences import say
from gale_nook.demo.load import demo_plan
from gale_nook.web.context import Book, Units, render
from gale_nook.web.forms import clean

router = APIRouter(default_response_class=HTMLResponse)
VEHICLES = ("heron", "coot", "quarto")
MOST_SEED = 9999
Short = Annotated[str, BeforeValidator(clean), Field(max_length=60)]


class Asked(BaseModel):
    """Where an exercise stands.

    Attributes:
        looked: ids of what was looked at, with commas between them.
        named: id of the cause that was named; empty before.
    """

    model_config = ConfigDict(frozen=True, extra="ignore")

    seed: Annotated[int, Field(ge=0, le=MOST_SEED)] = 0
    level: Annotated[int, Field(ge=1, le=3)] = 1
    looked: Annotated[str, BeforeValidator(clean), Field(max_length=600)] = ""
    named: Short = ""


@lru_cache(maxsize=60)
def case_of(vehicle: str, fault_id: str) -> Case:
    """Return a vehicle of the examples with a fault, run once."""
    return Case(Job(demo_plan(vehicle), load_catalogue()), fault_id)


class ExercisePage:
    """What an exercise shows."""

    def __init__(self, asked: Asked, book: PracticeBook) -> None:
        self.asked, self.book = asked, book
        self.drawn: Drawn = drawn(book, asked.seed, asked.level)
        self.case = case_of(VEHICLES[asked.seed % len(VEHICLES)], self.drawn.case.id)
        known = {look.id for look in book.looks}
        wanted = dict.fromkeys(asked.looked.split(","))
        self.looked = tuple(look_id for look_id in wanted if look_id in known)

    @property
    def vehicle(self) -> str:
        plan = self.case.job.plan
        return f"{plan.name}, {plan.vehicle.name}, with the {self.case.model.sheet.label}"

    def url(self, **changes: object) -> str:
        """The address of this exercise with something changed."""
        asked = self.asked.model_dump() | {"looked": ",".join(self.looked)} | changes
        return f"/practice/heater?{urlencode({k: v for k, v in asked.items() if v != ''})}"

    @property
    def offered(self) -> list[tuple[LookKind, str]]:
        """What was not looked at yet, with where that leads."""
        return [
            (look, self.url(looked=",".join((*self.looked, look.id))))
            for look in self.book.looks
            if look.id not in self.looked
        ]

    @property
    def seen(self) -> list[tuple[str, Shown]]:
        """What was looked at, in its order, with what it showed."""
        labels = {look.id: look.label for look in self.book.looks}
        return [(labels[look_id], self.case.shown(look_id)) for look_id in self.looked]

    @property
    def minutes(self) -> float:
        return minutes_of(self.book, self.looked)

    @property
    def causes(self) -> list[tuple[str, str]]:
        """Every cause that could be named at this level, by its label."""
        faults = {f.id: f.label for f in self.case.job.catalogue.firing.simulation.faults}
        cases = [case for case in self.book.cases if case.level <= self.asked.level]
        return sorted(((case.id, faults[case.id]) for case in cases), key=lambda each: each[1])

    @property
    def cause(self) -> str:
        """What it was."""
        return dict(self.causes)[self.drawn.case.id]

    @property
    def named(self) -> str:
        """What was named; empty for nothing that could be."""
        return dict(self.causes).get(self.asked.named, "")

    @property
    def marked(self) -> Marked | None:
        """How it was done; None before a cause was named."""
        if not self.named:
            return None
        return marked(self.book, self.case, self.drawn.case.id, self.looked, self.asked.named)

    @property
    def another(self) -> str:
        seed = (self.asked.seed + 1) % (MOST_SEED + 1)
        return f"/practice/heater?{urlencode({'seed': seed, 'level': self.asked.level})}"


@router.get("/practice")
def practice(book: Book, system: Units) -> Response:
    """What can be practised, and at which level."""
    return render("practice/begin.html", levels=book.practice.levels, system=system)


@router.get("/practice/begin")
def begin(
    level: Annotated[int, Query(ge=1, le=3)] = 1, on: Literal["heater", "plan"] = "heater"
) -> Response:
    """Draw a seed, and begin."""
    seed = random.randrange(MOST_SEED)
    return RedirectResponse(f"/practice/{on}?seed={seed}&level={level}", 303)


@router.get("/practice/heater")
def exercise(book: Book, system: Units, asked: Annotated[Asked, Query()]) -> Response:
    """An exercise: looks, what they showed, the cause that was named, and how it was done."""
    page = ExercisePage(asked, book.practice)
    return render(
        "practice/heater.html", page=page, system=system, say=lambda text: say(text, system)
    )
