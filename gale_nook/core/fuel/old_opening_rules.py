"""Check of a fuel line that goes through an opening that was there."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.job import Job
from gale_nook.core.vehicle.old_use import Way, grommet_band, not_used, uses_of


@rule("fuel.old_opening", "Fuel line through its old opening", "mm", hazard="fire", run="fuel")
def goes_through(job: Job, this: Rule) -> Iterator[Finding]:
    """Where an opening is said to be used for it, the line goes through, a grommet round it."""
    run = fuel_run(job)
    if run is not None:
        thick = max(run.suction.outer_mm, run.pressure.outer_mm)
        yield from uses_of(
            job, this, "fuel", (Way("the line", run.geometry, thick),), grommet_band(job)
        )


@remedy_for("fuel.old_opening")
def leave_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Closed, where it is not where this goes."""
    del job
    yield from not_used(finding)
