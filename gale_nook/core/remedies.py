"""Remedies that were tried: one is offered only if the plan with it applied no longer has the
finding.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.apply import apply
from gale_nook.core.edits.commands import Command
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.registry import Remedy, Rule, rules
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan

MAX_OFFERED = 2
MAX_TRIED = 24


def remedies_for(
    job: Job, finding: Finding, told: Callable[[int, int], None] | None = None
) -> tuple[Remedy, ...]:
    """Return up to MAX_OFFERED remedies of a finding, each of which clears it and puts nothing else
    over.

    Args:
        told: called with how many were tried, and how many are at the most.
    """
    this = next((rule for rule in rules() if rule.id == finding.rule), None)
    if this is None or not this.remedies or finding.verdict not in {Verdict.OVER, Verdict.UNKNOWN}:
        return ()
    over_before = _over(job.plan, job.catalogue)
    offered: list[Remedy] = []
    for tried, remedy in enumerate(_in_turn(this, job, finding)):
        if told is not None:
            told(tried, MAX_TRIED)
        if tried >= MAX_TRIED or len(offered) >= MAX_OFFERED:
            break
        if clears(job, finding, remedy.command, over_before):
            offered.append(remedy)
    return tuple(offered)


def _in_turn(this: Rule, job: Job, finding: Finding) -> Iterator[Remedy]:
    """Yield the candidates of a rule's sources in turn, so that cures of different kinds are
    offered.
    """
    sources = [source(job, finding) for source in this.remedies]
    for candidates in itertools.zip_longest(*sources):
        yield from (remedy for remedy in candidates if remedy is not None)


def clears(job: Job, finding: Finding, command: Command, over_before: set[tuple[str, str]]) -> bool:
    """Return whether the command clears the finding without putting anything over that was not."""
    try:
        plan = apply(job.plan, command, job.catalogue)
    except BadInput:
        return False
    after = check(plan, job.catalogue)
    same = after.find(finding.rule, finding.subject)
    if same is not None and same.verdict in {Verdict.OVER, Verdict.UNKNOWN}:
        return False
    over_after = {f.key for f in after.findings if f.verdict is Verdict.OVER}
    rule_is_over = any(rule == finding.rule for rule, _ in over_after - over_before)
    # a missing measurement that gets its value may show what is over; anything else may not
    return not rule_is_over and (finding.verdict is Verdict.UNKNOWN or over_after <= over_before)


def _over(plan: Plan, catalogue: Catalogue) -> set[tuple[str, str]]:
    return {f.key for f in check(plan, catalogue).findings if f.verdict is Verdict.OVER}
