"""Remedies that were tried: one is offered only if the plan with it applied no longer has the
finding.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator

from gale_nook.core.apply import applied
from gale_nook.core.edits.command import Command
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import findings_of, newly_over
from gale_nook.core.findings.rule import Remedy, Rule
from gale_nook.core.job import Job
from gale_nook.core.stations import RULES, STATIONS

MAX_OFFERED = 2
MAX_TRIED = 24
OPEN = (Verdict.OVER, Verdict.UNKNOWN)


def remedies_for(
    job: Job, finding: Finding, told: Callable[[int, int], None] | None = None
) -> tuple[Remedy, ...]:
    """Return up to MAX_OFFERED remedies of a finding, each of which clears it and puts nothing else
    over.

    Args:
        told: called with how many were tried, and how many are at the most.
    """
    this = rule_of(finding)
    if this is None or not this.remedies or finding.verdict not in OPEN:
        return ()
    offered: list[Remedy] = []
    for tried, remedy in enumerate(_in_turn(this, job, finding)):
        if told is not None:
            told(tried, MAX_TRIED)
        if tried >= MAX_TRIED or len(offered) >= MAX_OFFERED:
            break
        if clears(job, finding, remedy.command):
            offered.append(remedy)
    return tuple(offered)


def rule_of(finding: Finding) -> Rule | None:
    """Return the rule that a finding is of; None where there is no such rule any more."""
    return next((r for r in RULES if (r.id, r.runs) == (finding.rule, finding.runs)), None)


def _in_turn(this: Rule, job: Job, finding: Finding) -> Iterator[Remedy]:
    """Yield the candidates of a rule's sources in turn, so that cures of different kinds are
    offered.
    """
    sources = [source(job, finding) for source in this.remedies]
    for candidates in itertools.zip_longest(*sources):
        yield from (remedy for remedy in candidates if remedy is not None)


def clears(job: Job, finding: Finding, command: Command) -> bool:
    """Return whether the command clears the finding without putting anything over that was not."""
    try:
        after = job.with_plan(applied(job, command))
    except BadInput:
        return False
    this = rule_of(finding)
    # its own rule first: most candidates fail there, and the whole check takes the longest
    if this is not None and _is_open(findings_of(after, (this,)), finding):
        return False
    return _puts_nothing_over(job, after, finding)


def _puts_nothing_over(before: Job, after: Job, finding: Finding) -> bool:
    """Look at the finding's own station first: there most candidates put something over."""
    for station in sorted(STATIONS, key=lambda station: station.word != finding.station):
        for result in newly_over(before, after, station.rules, hazards_too=False):
            # a missing measurement that gets its value may show what is over; anything else may not
            shown = finding.verdict is Verdict.UNKNOWN and result.key[:2] != finding.key[:2]
            if not shown:
                return False
    return True


def _is_open(findings: tuple[Finding, ...], finding: Finding) -> bool:
    return any(f.key == finding.key and f.verdict in OPEN for f in findings)
