"""Finding a fault: causes ranked by what was seen and checked, and the check that tells most next.

Causes exclude one another. What a symptom or a check says of each is a chance from the data file;
the next check is the one that is expected to take the most uncertainty away (Shannon's entropy) for
each minute.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from gale_nook.core.catalogue.log import CauseKind, LogBook, Telling
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.log.entries import day_number
from gale_nook.core.log.season import Season

DAYS_OF_COLD = 7
SURE = 0.85  # of a cause, from which it is named
MINUTES_TO_BEGIN = 3.0  # of any check
THIN = (Verdict.TIGHT, Verdict.OVER)


@dataclass(frozen=True, slots=True)
class Ranked:
    """A cause with its chance, and what of the plan speaks for it."""

    cause: CauseKind
    chance: float
    evidence: tuple[str, ...]


@dataclass(frozen=True)
class Ranking:
    """Where the search stands.

    Attributes:
        causes: the likeliest first.
        next_checks: not made yet, the one that tells most for its time first.
        named: the cause that is as good as sure; None before.
    """

    causes: tuple[Ranked, ...]
    next_checks: tuple[Telling, ...]
    named: CauseKind | None


def rank(
    book: LogBook,
    findings: Sequence[Finding],
    symptoms: Mapping[str, bool],
    answers: Mapping[str, bool],
    signs: Mapping[str, float] | None = None,
) -> Ranking:
    """Return causes and checks by what is known.

    Args:
        findings: of the plan: thin margins make their causes likelier.
        symptoms: by their id, whether they are there; those that nobody told of are left out.
        answers: by a check's id, whether it was off.
        signs: what the log says, by what it is a sign of.
    """
    evidence = _evidence(book, findings)
    for sign in book.signs:
        if (signs or {}).get(sign.sign, 0.0) >= sign.least:
            for each in sign.causes:
                evidence.setdefault(each, []).append((sign.times, sign.words))
    weights = {
        cause.id: cause.prior * math.prod(times for times, _ in evidence.get(cause.id, ()))
        for cause in book.causes
    }
    for tellings, told in ((book.symptoms, symptoms), (book.checks, answers)):
        for telling in tellings:
            if telling.id in told:
                for cause in weights:
                    weights[cause] *= _likely(book, telling, cause, told[telling.id])
    chances = _normal(weights)
    order = sorted(book.causes, key=lambda cause: (-chances[cause.id], cause.id))
    left = [check for check in book.checks if check.id not in answers]
    worth = {check.id: _gain(book, check, chances) for check in left}
    left.sort(key=lambda check: (-worth[check.id] / (check.minutes + MINUTES_TO_BEGIN), check.id))
    first = order[0]
    return Ranking(
        tuple(
            Ranked(cause, chances[cause.id], tuple(w for _, w in evidence.get(cause.id, ())))
            for cause in order
        ),
        tuple(left),
        first if chances[first.id] >= SURE else None,
    )


def signs_of(season: Season, soot: float, today: str) -> dict[str, float]:
    """Return what a log says that speaks for one cause or another."""
    last = season.nights[-10:]
    week = [n for n in last if day_number(today) - day_number(n.entry.on) <= DAYS_OF_COLD]
    frost = [-night.entry.lowest_c for night in week if night.entry.lowest_c is not None]
    return {
        "soot": soot,
        "cold": max(frost, default=0.0),
        "drift": season.drift.percent_a_month if season.drift is not None else 0.0,
        "smoke": float(sum(night.entry.smoke for night in last)),
        "smell": float(sum(night.entry.smell for night in last)),
    }


def _evidence(book: LogBook, findings: Sequence[Finding]) -> dict[str, list[tuple[float, str]]]:
    results: dict[str, list[tuple[float, str]]] = {}
    for margin in book.margins:
        thin = [f for f in findings if f.rule.startswith(margin.rule) and f.verdict in THIN]
        if thin:
            for cause in margin.causes:
                results.setdefault(cause, []).append((margin.times, thin[0].title))
    return results


def _likely(book: LogBook, telling: Telling, cause: str, there: bool) -> float:
    chance = telling.of.get(cause, book.unlikely)
    return chance if there else 1.0 - chance


def _normal(weights: Mapping[str, float]) -> dict[str, float]:
    whole = sum(weights.values())
    if whole <= 0:
        return dict.fromkeys(weights, 1.0 / len(weights))
    return {cause: weight / whole for cause, weight in weights.items()}


def _gain(book: LogBook, check: Telling, chances: Mapping[str, float]) -> float:
    """How much uncertainty a check is expected to take away, nats."""
    gained = _entropy(chances)
    for there in (True, False):
        after = {c: p * _likely(book, check, c, there) for c, p in chances.items()}
        whole = sum(after.values())
        if whole > 0:
            gained -= whole * _entropy(_normal(after))
    return gained


def _entropy(chances: Mapping[str, float]) -> float:
    return -sum(p * math.log(p) for p in chances.values() if p > 0)
