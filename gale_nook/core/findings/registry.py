"""The rule registry: rules announce themselves, nobody calls one by name."""

from __future__ import annotations

import importlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from gale_nook.core.edits.commands import Command
from gale_nook.core.findings.finding import Band, Finding, Mark, judge
from gale_nook.core.job import Job

TOLERANCE_K = 5.0  # of temperatures against what a thing can stand
STATIONS_WITH_RULES = ("vehicle", "heat", "heater", "spot", "pipes", "fuel")
RuleFunction = Callable[["Job", "Rule"], Iterator[Finding]]
RemedyFunction = Callable[["Job", Finding], Iterator["Remedy"]]


@dataclass(frozen=True, slots=True)
class Remedy:
    """A cure that was tried: `sentence` names its size, `command` carries it out."""

    sentence: str
    command: Command


@dataclass(frozen=True, slots=True)
class Rule:
    """A registered check.

    Attributes:
        id: `station.check`; never changes once published.
        title: the check in a few words, the way it heads its finding.
        unit: unit of the measured value.
        hazard: class of harm of every finding of this rule, unless the finding says otherwise.
    """

    id: str
    title: str
    unit: str
    hazard: str | None
    check: RuleFunction
    remedies: tuple[RemedyFunction, ...] = ()

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
            self.id,
            self.station,
            subject,
            subject_name,
            title or self.title,
            verdict,
            measured,
            band,
            self.unit,
            margin,
            sentence,
            marks,
            hazard or self.hazard,
        )


def tolerance_of(job: Job, unit: str) -> float:
    """Return within how much of its limit a value in `unit` is called tight."""
    settings = job.plan.settings
    known = {"mm": settings.tolerance_mm, "deg": settings.tolerance_deg, "C": TOLERANCE_K}
    return known.get(unit, 0.0)


_RULES: dict[str, Rule] = {}
_ORDERED: list[Rule] = []  # filled once every station has been imported
_PENDING_REMEDIES: dict[str, tuple[RemedyFunction, ...]] = {}


def rule(
    rule_id: str, title: str, unit: str, hazard: str | None = None
) -> Callable[[RuleFunction], RuleFunction]:
    """Register the decorated generator as a rule."""

    def register(function: RuleFunction) -> RuleFunction:
        if rule_id in _RULES:
            raise ValueError(f"rule '{rule_id}' is registered twice")
        _RULES[rule_id] = Rule(
            rule_id, title, unit, hazard, function, _PENDING_REMEDIES.pop(rule_id, ())
        )
        return function

    return register


def remedy_for(rule_id: str) -> Callable[[RemedyFunction], RemedyFunction]:
    """Register the decorated generator as a source of remedies for a rule's findings, beside those
    it has.
    """

    def register(function: RemedyFunction) -> RemedyFunction:
        if rule_id in _RULES:
            _RULES[rule_id] = replace(
                _RULES[rule_id], remedies=(*_RULES[rule_id].remedies, function)
            )
        else:
            _PENDING_REMEDIES[rule_id] = (*_PENDING_REMEDIES.get(rule_id, ()), function)
        return function

    return register


def rules() -> tuple[Rule, ...]:
    """Return every rule, in the order of the stations."""
    if _ORDERED:
        return tuple(_ORDERED)
    for station in STATIONS_WITH_RULES:
        importlib.import_module(f"gale_nook.core.{station}.rules")
    _ORDERED.extend(sorted(_RULES.values(), key=lambda r: STATIONS_WITH_RULES.index(r.station)))
    return tuple(_ORDERED)
