"""Rules and remedies: plain functions, marked where they stand; a station gathers its own."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from types import ModuleType
from typing import Any

from gale_nook.core.edits.command import Command
from gale_nook.core.findings.finding import Band, Finding, Mark, Verdict, Whose, judge
from gale_nook.core.job import Job

TOLERANCE_K = 5.0  # of temperatures against what a thing can stand
YES_NO = "yes-no"  # the unit of a check that asks a question
RuleFunction = Callable[[Job, "Rule"], Iterator[Finding]]
RemedyFunction = Callable[[Job, Finding], Iterator["Remedy"]]
Runs = tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Remedy:
    """A cure: `sentence` names its size, `command` carries it out."""

    sentence: str
    command: Command


@dataclass(frozen=True, slots=True)
class Rule:
    """A check.

    Attributes:
        id: `station.check`; with `runs` unique, and never changed once published.
        title: the check in a few words, the way it heads its finding.
        unit: unit of the measured value.
        hazard: class of harm of every finding of this rule, unless the finding says otherwise.
        runs: the runs that it looks at: exhaust, intake, fuel.
        over: yields the findings that are over, where that costs less than the whole check.
        asks_for: something that every job needs in the end: no change is to blame for its lack.
    """

    id: str
    title: str
    unit: str
    hazard: str | None
    check: RuleFunction
    runs: Runs = ()
    remedies: tuple[RemedyFunction, ...] = ()
    over: RuleFunction | None = None
    asks_for: bool = False

    def findings_over(self, job: Job) -> Iterator[Finding]:
        """Yield what the check finds over."""
        results = (self.over or self.check)(job, self)
        return (finding for finding in results if finding.verdict is Verdict.OVER)

    @property
    def station(self) -> str:
        return self.id.split(".", 1)[0]

    def finding(  # noqa: PLR0913 - a finding has that many parts, each named at the call
        self,
        job: Job,
        *,
        subject: str = "-",
        subject_name: str = "",
        measured: float | None,
        band: Band,
        sentence: str,
        marks: tuple[Mark, ...] = (),
        hazard: str | None = None,
        tolerance: float | None = None,
        title: str = "",
    ) -> Finding:
        """Judge a measured value and return the finding for it."""
        allowed = tolerance if tolerance is not None else tolerance_of(job, self.unit)
        verdict, margin = judge(measured, band, allowed)
        return Finding(
            rule=self.id,
            station=self.station,
            runs=self.runs,
            subject=subject,
            subject_name=subject_name,
            title=title or self.title,
            verdict=verdict,
            measured=measured,
            band=band,
            unit=self.unit,
            margin=margin,
            sentence=sentence,
            marks=marks,
            hazard=hazard or self.hazard,
        )

    def yes_no(  # noqa: PLR0913 - as above
        self,
        job: Job,
        *,
        subject: str = "-",
        subject_name: str = "",
        answer: bool,
        wanted: bool,
        sentence: str,
        whose: Whose = Whose.WORKSHOP,
        source: str = "",
        marks: tuple[Mark, ...] = (),
        title: str = "",
        left_to_taste: bool = False,
    ) -> Finding:
        """Return the finding for a question with its answer.

        Args:
            left_to_taste: the other answer is tight, not over.
        """
        result = self.finding(
            job,
            subject=subject,
            subject_name=subject_name,
            measured=None,
            band=Band(None, None, whose, source=source, wanted=wanted),
            sentence=sentence,
            marks=marks,
            title=title,
        )
        against = Verdict.TIGHT if left_to_taste else Verdict.OVER
        return replace(
            result,
            answer=answer,
            unit=YES_NO,
            verdict=Verdict.CLEAR if answer == wanted else against,
        )


def tolerance_of(job: Job, unit: str) -> float:
    """Return within how much of its limit a value in `unit` is called tight."""
    settings = job.plan.settings
    known = {"mm": settings.tolerance_mm, "deg": settings.tolerance_deg, "C": TOLERANCE_K}
    return known.get(unit, 0.0)


def rule(
    rule_id: str,
    title: str,
    unit: str,
    hazard: str | None = None,
    run: str | Runs = (),
    *,
    asks_for: bool = False,
) -> Callable[[RuleFunction], RuleFunction]:
    """Mark the decorated generator as a rule; one for each run that it looks at in turn.

    Args:
        run: which it looks at; of two at once, both.
        asks_for: it asks for something that every job needs in the end.
    """
    runs = (run,) if isinstance(run, str) else run

    def mark(function: RuleFunction) -> RuleFunction:
        mark_rule(function, Rule(rule_id, title, unit, hazard, function, runs, asks_for=asks_for))
        return function

    return mark


def mark_rule(function: Callable[..., Any], found: Rule) -> None:
    """Mark a function as the place where a rule stands, before those that it has already."""
    _mark(function, "rules", (found, *marks_of(function, "rules")))


def remedy_for(rule_id: str, run: str = "") -> Callable[[RemedyFunction], RemedyFunction]:
    """Mark the decorated generator as a source of remedies for a rule's findings.

    Args:
        run: for findings about this run only; empty for all.
    """

    def mark(function: RemedyFunction) -> RemedyFunction:
        _mark(function, "cures", ((rule_id, run), *marks_of(function, "cures")))
        return function

    return mark


def _mark(function: Any, name: str, found: tuple[Any, ...]) -> None:
    setattr(function, f"gale_nook_{name}", found)


def marks_of(function: Any, name: str) -> tuple[Any, ...]:
    """Return what was marked on a function: its "rules", or the "cures" that it is."""
    results: tuple[Any, ...] = getattr(function, f"gale_nook_{name}", ())
    return results


def rules_of(*modules: ModuleType) -> tuple[Rule, ...]:
    """Return every rule of some modules, in order, with the remedies that stand in them.

    Raises:
        ValueError: two rules have the same id and runs, or a remedy is for no rule.
    """
    functions = [f for module in modules for f in _own_functions(module)]
    results = [each for function in functions for each in marks_of(function, "rules")]
    cures = [(f, *cure) for f in functions for cure in marks_of(f, "cures")]
    keys = {(each.id, each.runs) for each in results}
    if len(keys) < len(results):
        raise ValueError("two rules have the same id and runs")
    lost = {rule_id for _, rule_id, _ in cures} - {each.id for each in results}
    if lost:
        raise ValueError(f"remedies for no rule: {', '.join(sorted(lost))}")
    return tuple(
        replace(
            each,
            remedies=tuple(
                f
                for f, rule_id, run in cures
                if rule_id == each.id and (not run or run in each.runs)
            ),
        )
        for each in results
    )


def _own_functions(module: ModuleType) -> list[Any]:
    return [
        value
        for value in vars(module).values()
        if callable(value) and getattr(value, "__module__", "") == module.__name__
    ]
