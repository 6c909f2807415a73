"""The finding: one check's answer with its numbers, its limit and whose limit that is."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum

from gale_nook.core.base.limit import Limit

_IDS = re.compile(r"[a-z][a-z0-9-]*")


class Verdict(StrEnum):
    """The five words, worst first. `unknown` is shown as "to measure"."""

    OVER = "over"
    UNKNOWN = "unknown"
    TIGHT = "tight"
    ACCEPTED = "accepted"
    CLEAR = "clear"


SEVERITY = {verdict: rank for rank, verdict in enumerate(Verdict)}


ONE_PLACE = "two things cannot be in one place"  # whose source that is: geometry


class Whose(StrEnum):
    """Who set a limit."""

    SHEET = "limit sheet"
    WORKSHOP = "workshop rule"
    OWN = "your own"
    GEOMETRY = "geometry"
    NEED = "heat need"
    PLAN = "computed from this plan"


@dataclass(frozen=True, slots=True)
class Band:
    """The permitted band of a finding, with its owner and source.

    Attributes:
        name: id of the limit in the sheet or the workshop rules.
        wanted: the answer that a question should have; None for what is measured.
    """

    minimum: float | None
    maximum: float | None
    whose: Whose
    name: str = ""
    source: str = ""
    wanted: bool | None = None

    @classmethod
    def of(cls, limit: Limit, whose: Whose, name: str) -> Band:
        return cls(limit.minimum, limit.maximum, whose, name, limit.source)

    def margin(self, measured: float) -> float:
        """Return how far inside the band `measured` lies; negative outside."""
        below = measured - self.minimum if self.minimum is not None else float("inf")
        above = self.maximum - measured if self.maximum is not None else float("inf")
        return min(below, above)


@dataclass(frozen=True, slots=True)
class Mark:
    """Something to draw for a finding: a dimension between two points, or one point (mm, vehicle
    frame).
    """

    start: tuple[float, float, float]
    end: tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Finding:
    """One check's answer.

    Attributes:
        rule: stable id, `station.check`.
        runs: the runs that it is about: exhaust, intake, fuel.
        subject: stable id of what was checked against (a solid, a node, "-").
        measured, margin: in `unit`; None when a measurement is missing, and of a question.
        answer: to a question; None for what is measured.
        lapsed: why it is not accepted any more; empty for none.
        assumed: names of what it rests on that nobody has measured.
        hazard: class of harm, or None; a hazard is accepted only with a typed reason.
    """

    rule: str
    station: str
    runs: tuple[str, ...]
    subject: str
    subject_name: str
    title: str
    verdict: Verdict
    measured: float | None
    band: Band
    unit: str
    margin: float | None
    sentence: str
    marks: tuple[Mark, ...] = ()
    hazard: str | None = None
    accepted_reason: str = ""
    accepted_by: str = ""
    answer: bool | None = None
    lapsed: str = ""
    assumed: tuple[str, ...] = ()

    @property
    def run(self) -> str:
        """The run that it is about; empty where it is about none, or about two."""
        return self.runs[0] if len(self.runs) == 1 else ""

    def names(self, part_id: str, name: str) -> bool:
        """Return whether it is about a surveyed part."""
        return part_id in _IDS.findall(self.subject) or name == self.subject_name

    @property
    def key(self) -> tuple[str, str, str]:
        """What an acceptance refers to."""
        return (self.rule, self.run, self.subject)


def judge(measured: float | None, band: Band, tolerance: float) -> tuple[Verdict, float | None]:
    """Return verdict and margin of a measured value against its band.

    A value on the limit is inside it. `tolerance` is in the same unit as the value.
    """
    if measured is None:
        return Verdict.UNKNOWN, None
    margin = band.margin(measured)
    # a billionth of slack, so that a value computed onto its limit is not called over
    if not margin >= -1e-9:
        return Verdict.OVER, margin
    return (Verdict.TIGHT if margin < tolerance else Verdict.CLEAR), margin


def by_severity(findings: tuple[Finding, ...]) -> list[Finding]:
    """Return the findings worst first, and the smaller margin first among equals."""
    return sorted(
        findings,
        key=lambda f: (
            SEVERITY[f.verdict],
            f.margin if f.margin is not None else float("-inf"),
            f.rule,
            f.run,
            f.subject,
        ),
    )


def tally(findings: tuple[Finding, ...]) -> dict[str, int]:
    """Return how many findings have each verdict, every verdict named."""
    counts = {verdict.value: 0 for verdict in Verdict}
    for finding in findings:
        counts[finding.verdict.value] += 1
    return counts
