"""Putting a job before rules: their findings, with what was accepted laid over them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from gale_nook.core.findings.assumed import with_assumed
from gale_nook.core.findings.finding import Finding, Verdict, by_severity
from gale_nook.core.findings.lapse import why_lapsed
from gale_nook.core.findings.rule import Rule
from gale_nook.core.findings.uncertain import with_uncertainty
from gale_nook.core.incremental import if_known
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.settings import Acceptance


def findings_of(job: Job, rules: Iterable[Rule]) -> tuple[Finding, ...]:
    """Return what some rules find, worst first; what was accepted is said so."""
    return tuple(by_severity(tuple(finding for each in rules for finding in _told(job, each))))


@fact
def found(job: Job, rule: Rule) -> tuple[Finding, ...]:
    """Return what a rule finds, accepted or not."""
    return tuple(rule.check(job, rule))


@fact
def _told(job: Job, rule: Rule) -> tuple[Finding, ...]:
    """What a rule finds, with what was accepted laid over it and what is assumed said."""
    laid = (_laid(job, finding) for finding in found(job, rule))
    return tuple(with_uncertainty(job, with_assumed(job, finding)) for finding in laid)


@fact
def found_over(job: Job, rule: Rule) -> tuple[Finding, ...]:
    """Return what a rule finds over, accepted or not."""
    known = if_known(found, job, rule)
    if known is None:
        return tuple(rule.findings_over(job))
    return tuple(finding for finding in known if finding.verdict is Verdict.OVER)


def over_count(job: Job, rules: Iterable[Rule]) -> int:
    """Return how many findings of some rules are over and not accepted."""
    return sum(1 for _ in over_findings(job, rules))


def over_findings(job: Job, rules: Iterable[Rule]) -> Iterator[Finding]:
    """Yield the findings of some rules that are over and not accepted, as they are found."""
    for each in rules:
        for finding in found_over(job, each):
            laid = _laid(job, finding)
            if laid.verdict is Verdict.OVER:
                yield laid


WORSE = 1e-3  # by less no margin of a hazard is called worse


def newly_over(before: Job, after: Job, rules: tuple[Rule, ...]) -> Iterator[Finding]:
    """Yield what is over after a change and was not before it, accepted or not; of what was, the
    accepted ones and the hazards that are worse.
    """
    return (finding for finding, _ in over_or_worse(before, after, rules))


def over_or_worse(
    before: Job, after: Job, rules: tuple[Rule, ...]
) -> Iterator[tuple[Finding, bool]]:
    """Yield the same, each with whether it is new; else it is a hazard that was over and is
    worse.
    """
    # what every job needs in the end was missing before, whether or not that was told yet
    rules = tuple(each for each in rules if not each.asks_for)
    known = over_before(before, rules)
    for finding in over_findings(after, rules):
        margin = known.get(finding.key)
        worse = margin is not None and (finding.margin or 0.0) < margin - WORSE
        if margin is None or (worse and finding.lapsed):
            yield finding, True
        elif worse and finding.hazard is not None:
            yield finding, False


@fact
def over_before(job: Job, rules: tuple[Rule, ...]) -> dict[tuple[str, str, str], float]:
    """Return the margins of what is over, accepted or not, by what an acceptance would refer to."""
    return {f.key: f.margin or 0.0 for each in rules for f in found_over(job, each)}


def nothing_over(job: Job, rules: Iterable[Rule]) -> bool:
    """Return whether no rule is over that was not accepted; stops at the first that is."""
    return next(over_findings(job, rules), None) is None


@fact
def _acceptances(job: Job) -> dict[tuple[str, str, str], Acceptance]:
    return {accepted.key: accepted for accepted in job.plan.acceptances}


def _laid(job: Job, finding: Finding) -> Finding:
    """A finding that is over and accepted; a hazard needs a reason for that."""
    if finding.verdict is not Verdict.OVER:
        return finding
    acceptance = _acceptances(job).get(finding.key)
    if acceptance is None:
        return finding
    if finding.hazard is not None and not acceptance.reason.strip():
        return finding
    lapsed = why_lapsed(job, finding, acceptance)
    if lapsed:
        return replace(finding, lapsed=lapsed)
    return replace(
        finding,
        verdict=Verdict.ACCEPTED,
        accepted_reason=acceptance.reason,
        accepted_by=acceptance.by,
    )
