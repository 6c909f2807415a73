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
from gale_nook.core.findings.judging import findings_of, over_or_worse
from gale_nook.core.findings.rule import Remedy, Rule
from gale_nook.core.job import Job
from gale_nook.core.stations import RULES, STATIONS

MAX_OFFERED = 2
MAX_TRIED = 24
MOST_NAMED = 2
OPEN = (Verdict.OVER, Verdict.UNKNOWN)


def remedies_for(
    job: Job, finding: Finding, told: Callable[[int, int], None] | None = None
) -> tuple[Remedy, ...]:
    """Return up to MAX_OFFERED remedies of a finding, each of which clears it, puts nothing else
    over, and makes no hazard worse that is over; where there is none such, those that make one
    worse, and say so.

    Args:
        told: called with how many were tried, and how many are at the most.
    """
    this = rule_of(finding)
    if this is None or not this.remedies or finding.verdict not in OPEN:
        return ()
    offered: list[Remedy] = []
    second_best: list[Remedy] = []
    for tried, remedy in enumerate(_in_turn(this, job, finding)):
        if told is not None:
            told(tried, MAX_TRIED)
        if tried >= MAX_TRIED or len(offered) >= MAX_OFFERED:
            break
        worse = _made_worse(job, finding, remedy.command)
        if worse == ():
            offered.append(remedy)
        elif worse:
            second_best.append(Remedy(f"{remedy.sentence} {_worse_words(worse)}", remedy.command))
    return tuple(offered or second_best[:MAX_OFFERED])


def _worse_words(worse: tuple[Finding, ...]) -> str:
    titles = ", ".join(f"“{finding.title}”" for finding in worse[:MOST_NAMED])
    more = len(worse) - MOST_NAMED
    return f"But it makes worse: {titles}{f' and {more} more' if more > 0 else ''}."


_RULE_OF = {(rule.id, rule.runs): rule for rule in RULES}


def rule_of(finding: Finding) -> Rule | None:
    """Return the rule that a finding is of; None where there is no such rule any more."""
    return _RULE_OF.get((finding.rule, finding.runs))


def _in_turn(this: Rule, job: Job, finding: Finding) -> Iterator[Remedy]:
    """Yield the candidates of a rule's sources in turn, so that cures of different kinds are
    offered.
    """
    sources = [source(job, finding) for source in this.remedies]
    for candidates in itertools.zip_longest(*sources):
        yield from (remedy for remedy in candidates if remedy is not None)


def _made_worse(job: Job, finding: Finding, command: Command) -> tuple[Finding, ...] | None:
    """Return the hazards that a command makes worse; None where it does not clear the finding, or
    puts something over that was not.
    """
    try:
        after = job.with_plan(applied(job, command))
    except BadInput:
        return None
    this = rule_of(finding)
    # its own rule first: most candidates fail there, and the whole check takes the longest
    if this is not None and _is_open(findings_of(after, (this,)), finding):
        return None
    worse: list[Finding] = []
    # its own station first: there most candidates put something over
    for station in sorted(STATIONS, key=lambda station: station.word != finding.station):
        for result, is_new in over_or_worse(job, after, station.rules):
            # a missing measurement that gets its value may show what is over; nothing else may
            shown = finding.verdict is Verdict.UNKNOWN and result.key[:2] != finding.key[:2]
            if is_new and not shown:
                return None
            if not is_new:
                worse.append(result)
    return tuple(worse)


def _is_open(findings: tuple[Finding, ...], finding: Finding) -> bool:
    return any(f.key == finding.key and f.verdict in OPEN for f in findings)
