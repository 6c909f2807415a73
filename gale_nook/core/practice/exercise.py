"""An exercise on a running heater: which fault a seed draws, and how the trainee did."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from gale_nook.core.catalogue.practice import FaultCase, PracticeBook
from gale_nook.core.practice.looks import Case, Shown

WHOLE_SCORE = 100
HAZARD_COSTS = 50
STRIDE = 7919  # a prime: neighbouring seeds draw cases far apart


@dataclass(frozen=True, slots=True)
class Drawn:
    """What an exercise is about.

    Attributes:
        told: what the trainee is told.
    """

    case: FaultCase
    told: str


@dataclass(frozen=True)
class Marked:
    """How it was done.

    Attributes:
        minutes: spent; best_minutes: that the shortest way would have taken.
        walked_past: hazards that were there and that nobody looked at.
        gives_away: looks that show the fault, the quickest first.
    """

    right: bool
    score: int
    minutes: float
    best_minutes: float
    walked_past: tuple[str, ...]
    gives_away: tuple[tuple[str, Shown], ...]


def drawn(book: PracticeBook, seed: int, level: int) -> Drawn:
    """Return the fault that a seed draws at a level: the same one each time.

    The easy levels are told how it shows, the last one as little as people say.
    """
    cases = [case for case in book.cases if case.level <= level]
    case = cases[seed * STRIDE % len(cases)]
    return Drawn(case, case.vague if level == max(c.level for c in book.cases) else case.symptom)


def minutes_of(book: PracticeBook, looked: Sequence[str]) -> float:
    """Return what looks take together."""
    return sum(look.minutes for look in book.looks if look.id in looked)


def marked(
    book: PracticeBook, case: Case, fault_id: str, looked: Sequence[str], named: str
) -> Marked:
    """Return how it was done: nothing for a wrong cause, less for each minute more than the
    shortest way, and less for a hazard that was walked past.

    Args:
        fault_id: that it was.
        looked: ids of what was looked at.
        named: id of the cause that was named.
    """
    shown = {look.id: case.shown(look.id) for look in book.looks}
    giving = [look for look in book.looks if shown[look.id].off]
    giving.sort(key=lambda look: look.minutes)
    best = minutes_of(book, book.case(fault_id).shortest)
    all_minutes = sum(look.minutes for look in book.looks)
    spent = minutes_of(book, looked)
    past = tuple(look.hazard for look in giving if look.hazard and look.id not in looked)
    right = named == fault_id
    over = max(spent - best, 0.0) / (all_minutes - best)
    score = round(WHOLE_SCORE * (1 - over)) if right else 0
    return Marked(
        right,
        max(score - HAZARD_COSTS * len(past), 0),
        spent,
        best,
        past,
        tuple((look.label, shown[look.id]) for look in giving),
    )
