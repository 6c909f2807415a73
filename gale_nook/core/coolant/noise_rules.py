"""Check of what is heard where one sleeps, in a job heated by coolant."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job
from gale_nook.core.noise.heard_rule import heard, quieter_ways


@rule("coolant.sleep", "What is heard at the bed", "dB")
def quiet_at_night(job: Job, this: Rule) -> Iterator[Finding]:
    """Pump, burner, mouths, air and fans together, through air, floor and body."""
    if job.plan.heater.medium == "coolant":
        yield from heard(job, this)


@remedy_for("coolant.sleep")
def quieter(job: Job, finding: Finding) -> Iterator[Remedy]:
    """What is fixed hard on rubber, fans a step down."""
    del finding
    yield from quieter_ways(job)
