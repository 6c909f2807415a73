"""Proving candidates: fitted out with all that sits on a run, and put before its checks."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Generic, TypeVar

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.judging import newly_over, over_findings
from gale_nook.core.findings.rule import Rule
from gale_nook.core.job import Job

C = TypeVar("C")


@dataclass(frozen=True, slots=True)
class RunKind(Generic[C]):
    """What a kind of run brings to the search for it.

    Attributes:
        fit_out: gives the job with a candidate and all that sits on it; None where something finds
            no room on it.
        checks: that a run has to pass.
        cost: of a candidate; less is better.
        differ: whether two candidates differ enough to be shown both.
        before, beside: the job without a candidate, and the checks of all else: of these a
            candidate may put nothing over that was not. They are asked once its own checks pass.
    """

    fit_out: Callable[[C], Job | None]
    checks: tuple[Rule, ...]
    cost: Callable[[C], float]
    differ: Callable[[C, C], bool]
    before: Job | None = None
    beside: tuple[Rule, ...] = ()

    def over(self, job: Job, *, all_of_it: bool = False) -> Iterator[Finding]:
        """Yield what speaks against a candidate that was fitted out, its own checks first.

        Args:
            all_of_it: the checks of all else are asked whatever its own say.
        """
        passes = True
        for finding in over_findings(job, self.checks):
            passes = False
            yield finding
        if (passes or all_of_it) and self.before is not None:
            yield from newly_over(self.before, job, self.beside)


@dataclass(frozen=True, slots=True)
class Proved(Generic[C]):
    """A candidate that was put before its checks.

    Attributes:
        job: with it fitted out.
        over: what its checks find over.
        cost: how many are, and its own.
    """

    candidate: C
    job: Job
    over: tuple[Finding, ...]
    cost: tuple[int, float]


def proved(kind: RunKind[C], candidates: Iterable[C]) -> Iterator[Proved[C]]:
    """Yield each candidate with what is over, as they come; those without room are left out."""
    for candidate in candidates:
        job = kind.fit_out(candidate)
        if job is not None:
            over = tuple(kind.over(job))
            yield Proved(candidate, job, over, (len(over), kind.cost(candidate)))


def first_clear(
    kind: RunKind[C], candidates: Iterable[C], beside: Iterable[C] = ()
) -> Proved[C] | None:
    """Return the first candidate that every check lets pass; None when there is none.

    Args:
        beside: candidates that it has to differ from.
    """
    others = tuple(beside)
    for candidate in candidates:
        if not all(kind.differ(candidate, other) for other in others):
            continue
        job = kind.fit_out(candidate)
        if job is not None and next(kind.over(job), None) is None:
            return Proved(candidate, job, (), (0, kind.cost(candidate)))
    return None


def first_clear_or_best(found: Iterable[Proved[C]]) -> Proved[C] | None:
    """Return the first that nothing is over of, else the one that breaks the fewest limits; None of
    none.
    """
    best: Proved[C] | None = None
    for each in found:
        if not each.over:
            return each
        if best is None or each.cost < best.cost:
            best = each
    return best


def best_that_differ(kind: RunKind[C], found: Iterable[Proved[C]], most: int) -> list[Proved[C]]:
    """Return the best few, those that break the fewest limits first, of which no two are alike."""
    kept: list[Proved[C]] = []
    for each in sorted(found, key=lambda proof: proof.cost):
        if len(kept) < most and all(kind.differ(each.candidate, other.candidate) for other in kept):
            kept.append(each)
    return kept
