"""Check of leads that go through an opening that was there."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job
from gale_nook.core.power.bodies import LEAD_MM
from gale_nook.core.power.leads import settled_runs
from gale_nook.core.vehicle.old_use import Way, grommet_band, not_used, uses_of


@rule("power.old_opening", "A cable through its old opening", "mm", hazard="fire")
def goes_through(job: Job, this: Rule) -> Iterator[Finding]:
    """Where an opening is said to be used for one, a lead goes through, a grommet round it."""
    ways = (Way(f"the {run.name}", run.geometry, LEAD_MM) for run in settled_runs(job))
    yield from uses_of(job, this, "cable", ways, grommet_band(job))


@remedy_for("power.old_opening")
def leave_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Closed, where it is not where this goes."""
    del job
    yield from not_used(finding)
