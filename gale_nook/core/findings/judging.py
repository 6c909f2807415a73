"""Putting a job before rules: their findings, with what was accepted laid over them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from gale_nook.core.findings.finding import Finding, Verdict, by_severity
from gale_nook.core.findings.rule import Rule
from gale_nook.core.job import Job
from gale_nook.core.plan.settings import Acceptance


def findings_of(job: Job, rules: Iterable[Rule]) -> tuple[Finding, ...]:
    """Return what some rules find, worst first; what was accepted is said so."""
    found = (finding for each in rules for finding in each.check(job, each))
    accepted = {accepted.key: accepted for accepted in job.plan.acceptances}
    return tuple(by_severity(tuple(_laid(f, accepted.get(f.key)) for f in found)))


def over_count(job: Job, rules: Iterable[Rule]) -> int:
    """Return how many findings of some rules are over."""
    return sum(1 for finding in findings_of(job, rules) if finding.verdict is Verdict.OVER)


def nothing_over(job: Job, rules: Iterable[Rule]) -> bool:
    """Return whether no rule is over that was not accepted; stops at the first that is."""
    accepted = {accepted.key for accepted in job.plan.acceptances}
    return not any(
        finding.verdict is Verdict.OVER and finding.key not in accepted
        for each in rules
        for finding in each.check(job, each)
    )


def _laid(finding: Finding, acceptance: Acceptance | None) -> Finding:
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
