"""Checking a whole plan: every rule, the acceptances laid over, the tally."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.findings.finding import Finding, Verdict, by_severity, tally
from gale_nook.core.findings.registry import rules
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.settings import Acceptance


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

    def find(self, rule: str, subject: str) -> Finding | None:
        return next((f for f in self.findings if f.key == (rule, subject)), None)

    def worst(self, station: str) -> Verdict | None:
        found = self.of(station)
        return found[0].verdict if found else None


def check(
    plan: Plan,
    catalogue: Catalogue,
    stations: Collection[str] | None = None,
    like: Job | None = None,
) -> Check:
    """Return every finding of the plan, or of some stations only.

    Args:
        like: what was derived from a plan with the same vehicle, to be used again.
    """
    job = like.with_plan(plan) if like is not None else Job(plan, catalogue)
    found = [
        finding
        for each in rules()
        if stations is None or each.station in stations
        for finding in each.check(job, each)
    ]
    accepted = {(a.rule, a.subject): a for a in plan.acceptances}
    laid = tuple(
        by_severity(tuple(_accepted(finding, accepted.get(finding.key)) for finding in found))
    )
    answered = {finding.key for finding in laid if finding.verdict is Verdict.ACCEPTED}
    idle = tuple(a for key, a in accepted.items() if key not in answered)
    return Check(job, laid, idle)


def _accepted(finding: Finding, acceptance: Acceptance | None) -> Finding:
    """A finding that is over and accepted; a hazard needs a reason for that."""
    if acceptance is None or finding.verdict is not Verdict.OVER:
        return finding
    if finding.hazard is not None and not acceptance.reason.strip():
        return finding
    return replace(
        finding,
        verdict=Verdict.ACCEPTED,
        accepted_reason=acceptance.reason,
        accepted_by=acceptance.by,
    )
