"""Station *First fire*: what should happen, what was read, and where to look."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.firing import rules
from gale_nook.core.firing.commands import COMMANDS
from gale_nook.core.firing.pre_checks import pre_checks
from gale_nook.core.firing.report import firing_lines, firing_report
from gale_nook.core.firing.work import firing_steps
from gale_nook.core.job import Job
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    """Of the checks before the start, how many are done; nothing before the first."""
    done = len(job.plan.firing.ticked)
    return f"{done} of {len(pre_checks(job))}" if done else ""


FIRING = Station(
    "firing",
    "First fire",
    "0",
    rules=rules_of(rules),
    commands=COMMANDS,
    number=_number,
    steps=firing_steps,
    report=firing_report,
    report_lines=firing_lines,
)
