"""Practice on a plan: a good plan with mistakes in it, found with tape and torch. Its address holds
its whole state.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Literal
from urllib.parse import urlencode

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.catalogue.practice import PracticeBook
from gale_nook.core.checking import checked
from gale_nook.core.findings.finding import Finding
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.practice.mistakes import (
    PlanMarked,
    WrongPlan,
    cure_choices,
    cured,
    findings_by_rule,
    look_minutes,
    mark_plan,
    wrong_plan,
)
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.stations import BY_WORD, RULES, STATIONS
from gale_nook.demo.load import demo_plan
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import BoardView
from gale_nook.drawing.svg import svg
from gale_nook.exchange.finding_cards import limit_words, measured_words
from gale_nook.web.context import Book, Units, render
from gale_nook.web.forms import clean
from gale_nook.web.practice import MOST_SEED

router = APIRouter(default_response_class=HTMLResponse)
SURVEYED = ("heron", "coot", "plover", "dunlin")  # plans with nothing over
MOST_TOLD = 40
TITLES = {rule.id: rule.title for rule in RULES}  # of checks, which tell nothing of what they find


class PlanAsked(BaseModel):
    """Where an exercise on a plan stands.

    Attributes:
        looked, marked: checks, by their ids, with commas between them.
        cured: cures that were carried out, by the ids of the mistakes that they are for.
        done: it is to be marked.
    """

    model_config = ConfigDict(frozen=True, extra="ignore")

    seed: Annotated[int, Field(ge=0, le=MOST_SEED)] = 0
    level: Annotated[int, Field(ge=1, le=3)] = 1
    looked: Annotated[str, BeforeValidator(clean), Field(max_length=4000)] = ""
    marked: Annotated[str, BeforeValidator(clean), Field(max_length=2000)] = ""
    cured: Annotated[str, BeforeValidator(clean), Field(max_length=600)] = ""
    done: Literal["", "yes"] = ""


@lru_cache(maxsize=12)
def wrong_plan_of(seed: int, level: int) -> WrongPlan:
    """Return the plan of an exercise."""
    book = load_catalogue()
    good = Job(demo_plan(SURVEYED[seed % len(SURVEYED)]), book)
    return wrong_plan(book.practice, good, seed, level)


@lru_cache(maxsize=24)
def cured_job(seed: int, level: int, done: frozenset[str]) -> Job:
    """Return the plan of an exercise after some cures."""
    return cured(wrong_plan_of(seed, level), done)


class PlanExercise:
    """What an exercise on a plan shows."""

    def __init__(self, asked: PlanAsked, book: PracticeBook, system: UnitSystem) -> None:
        self.asked, self.book, self.system = asked, book, system
        self.wrong = wrong_plan_of(asked.seed, asked.level)
        self._by_rule = findings_by_rule(self.wrong.wrong)
        self.looked = self._known(asked.looked)
        self.marked = self._known(asked.marked)
        kinds = {kind.id: kind for kind in book.mistakes}
        self.cures = tuple(kinds[c] for c in dict.fromkeys(asked.cured.split(",")) if c in kinds)
        job = cured_job(asked.seed, asked.level, frozenset(kind.id for kind in self.cures))
        self._now = findings_by_rule(job) if self.cures else self._by_rule

    def _known(self, text: str) -> tuple[str, ...]:
        return tuple(rule for rule in dict.fromkeys(text.split(",")) if rule in self._by_rule)

    def url(self, **changes: str) -> str:
        """The address of this exercise with something changed."""
        asked = {
            "seed": self.asked.seed,
            "level": self.asked.level,
            "looked": ",".join(self.looked),
            "marked": ",".join(self.marked),
            "cured": ",".join(kind.id for kind in self.cures),
            "done": self.asked.done,
            **changes,
        }
        return f"/practice/plan?{urlencode({k: v for k, v in asked.items() if v != ''})}"

    @property
    def plan(self) -> Plan:
        return self.wrong.wrong.plan

    @property
    def drawings(self) -> list[Markup]:
        """The vehicle from above and from below, without any verdict on it."""
        bare = checked(self.wrong.wrong, frozenset({"log"}))
        results = []
        for below, side in ((False, "left"), (True, "right")):
            view = BoardView(below, side)
            tag = f"practice-{'below' if below else 'above'}-"
            options = BoardOptions(view, "build", "", self.system, editable=False, tag=tag)
            results.append(Markup(svg(board(bare, options))))
        return results

    @property
    def offered(self) -> list[tuple[str, list[tuple[str, str, float]]]]:
        """By station, what was not looked at yet: its title, where that leads, its minutes."""
        results: dict[str, list[tuple[str, str, float]]] = {
            station.word: [] for station in STATIONS
        }
        for rule, findings in self._by_rule.items():
            if rule not in self.looked:
                minutes = look_minutes(self.book, self.wrong, [rule])
                there = self.url(looked=",".join((*self.looked, rule)))
                results[findings[0].station].append((TITLES[rule], there, minutes))
        return [(BY_WORD[word].label, sorted(each)) for word, each in results.items() if each]

    @property
    def seen(self) -> list[tuple[str, str, list[str], bool, str]]:
        """What was looked at: id, title, what was measured, whether it is marked, where marking
        leads.
        """
        results = []
        for rule in self.looked:
            findings, is_marked = self._by_rule[rule], rule in self.marked
            others = tuple(each for each in self.marked if each != rule)
            marked = others if is_marked else (*self.marked, rule)
            texts = sorted(self._words(finding) for finding in findings)[:MOST_TOLD]
            results.append(
                (rule, TITLES[rule], texts, is_marked, self.url(marked=",".join(marked)))
            )
        return results

    def _words(self, finding: Finding) -> str:
        """What was measured and what is allowed; nothing of the verdict."""
        name = finding.subject_name
        subject = f", {name}" if name and name not in finding.title else ""
        measured, limit = (words(finding, self.system) for words in (measured_words, limit_words))
        asked = "asked for" if finding.answer is not None else "allowed"
        return f"{finding.title}{subject}: {measured}; {asked}: {limit}"

    def choices(self, rule: str) -> list[tuple[str, str]]:
        """What may be done about a check that was marked, and where doing it leads."""
        done = tuple(kind.id for kind in self.cures)
        return [
            (kind.cure, self.url(cured=",".join((*done, kind.id))))
            for kind in cure_choices(self.book, self.wrong, rule)
            if kind.id not in done
        ]

    def again(self, rule: str) -> list[str]:
        """What is measured after the cures, where that is otherwise; else nothing."""
        before = sorted(self._words(finding) for finding in self._by_rule[rule])
        now = sorted(self._words(finding) for finding in self._now.get(rule, ()))
        return now[:MOST_TOLD] if now != before else []

    @property
    def minutes(self) -> float:
        looking = look_minutes(self.book, self.wrong, self.looked)
        return looking + self.book.cure_minutes * len(self.cures)

    @property
    def result(self) -> PlanMarked | None:
        """How it was done; None before."""
        if self.asked.done != "yes":
            return None
        cures = tuple(kind.id for kind in self.cures)
        return mark_plan(self.book, self.wrong, self.looked, self.marked, cures)

    @property
    def another(self) -> str:
        seed = (self.asked.seed + 1) % (MOST_SEED + 1)
        return f"/practice/plan?{urlencode({'seed': seed, 'level': self.asked.level})}"


@router.get("/practice/plan")
def plan_exercise(book: Book, system: Units, asked: Annotated[PlanAsked, Query()]) -> Response:
    """An exercise on a plan: looks, marks, and how it was done."""
    return render(
        "practice/plan.html", page=PlanExercise(asked, book.practice, system), system=system
    )
