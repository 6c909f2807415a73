"""The rule registry: rules announce themselves, nobody calls one by name."""

from __future__ import annotations

import importlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from gale_nook.core.base.limit import Limit
from gale_nook.core.findings.finding import Band, Finding, Mark, Verdict, Whose, judge

if TYPE_CHECKING:
    from gale_nook.core.derived import Derived
    from gale_nook.core.edits.commands import Command

STATIONS_WITH_RULES = ("vehicle", "heat", "heater", "spot", "pipes", "fuel")
RuleFunction = Callable[["Derived", "Rule"], Iterator[Finding]]
RemedyFunction = Callable[["Derived", Finding], Iterator["Remedy"]]


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
        derived: Derived,
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
        allowed = tolerance if tolerance is not None else derived.tolerance(self.unit)
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


def sheet_band(derived: Derived, name: str) -> Band | None:
    """Return the band of a named limit: your own over the heater's sheet over the workshop's; None
    if none has it.
    """
    own = next((limit for limit in derived.plan.heater.own_limits if limit.id == name), None)
    if own is not None:
        return Band(own.minimum, own.maximum, Whose.OWN, name, own.note)
    if derived.mount is not None and name in derived.mount.limits:
        return Band.of(derived.mount.limits[name], Whose.SHEET, name)
    if derived.sheet is not None and name in derived.sheet.limits:
        return Band.of(derived.sheet.limits[name], Whose.SHEET, name)
    workshop: Limit | None = derived.catalogue.workshop_limits.get(name)
    return Band.of(workshop, Whose.WORKSHOP, name) if workshop is not None else None


def least_of(derived: Derived, name: str, otherwise: float) -> float:
    """Return the lower end of a named limit, or another value where nothing gives one."""
    band = sheet_band(derived, name)
    return band.minimum if band is not None and band.minimum is not None else otherwise


def most_of(derived: Derived, name: str, otherwise: float) -> float:
    """Return the upper end of a named limit, or another value where nothing gives one."""
    band = sheet_band(derived, name)
    return band.maximum if band is not None and band.maximum is not None else otherwise


__all__ = [
    "Remedy",
    "Rule",
    "Verdict",
    "least_of",
    "most_of",
    "remedy_for",
    "rule",
    "rules",
    "sheet_band",
]
