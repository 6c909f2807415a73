"""Checking a whole plan: every rule, the acceptances laid over, the tally."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.findings.finding import Finding, Verdict, tally
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.stations import STATIONS


@dataclass(frozen=True)
class Check:
    """All findings of a plan, worst first.

    Attributes:
        idle_acceptances: acceptances that no finding answers to any more.
    """

    job: Job
    findings: tuple[Finding, ...]
    idle_acceptances: tuple[Acceptance, ...]

    def of(self, station: str) -> tuple[Finding, ...]:
        return tuple(finding for finding in self.findings if finding.station == station)

    def tally(self, station: str | None = None) -> dict[str, int]:
        return tally(self.findings if station is None else self.of(station))

    def find(self, rule: str, subject: str, run: str | None = None) -> Finding | None:
        """Return a finding, about one run or whichever comes first; None where there is none."""
        return next(
            (
                f
                for f in self.findings
                if (f.rule, f.subject) == (rule, subject) and run in {None, f.run}
            ),
            None,
        )

    def worst(self, station: str) -> Verdict | None:
        result = self.of(station)
        return result[0].verdict if result else None


def check(plan: Plan, catalogue: Catalogue, stations: Collection[str] | None = None) -> Check:
    """Return every finding of the plan, or of some stations only."""
    return checked(Job(plan, catalogue), None if stations is None else frozenset(stations))


def checked(job: Job, stations: frozenset[str] | None = None) -> Check:
    """Return the same, of a job."""
    return Check(job, *_checked(job, stations))


@fact
def _checked(
    job: Job, stations: frozenset[str] | None
) -> tuple[tuple[Finding, ...], tuple[Acceptance, ...]]:
    """The findings, and the acceptances that are idle."""
    rules = (
        rule
        for station in STATIONS
        if stations is None or station.word in stations
        for rule in station.rules
    )
    result = findings_of(job, rules)
    answered = {f.key for f in result if f.verdict is Verdict.ACCEPTED or f.lapsed}
    idle = tuple(a for a in job.plan.acceptances if a.key not in answered)
    return result, idle
