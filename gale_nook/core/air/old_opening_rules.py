"""Check of ducts that go through an opening that was there."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.air.bodies import duct_name, skin_mm
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job
from gale_nook.core.vehicle.old_use import Way, grommet_band, not_used, uses_of


@rule("air.old_opening", "A duct through its old opening", "mm")
def goes_through(job: Job, this: Rule) -> Iterator[Finding]:
    """Where an opening is said to be used for one, a duct goes through, with room for its edge."""
    ways = (
        Way(
            duct_name(run),
            run.geometry,
            max(
                skin_mm(job, run, at_mm)
                for at_mm in (0.0, *(part.at_mm for part in run.duct.of_kind("lagging")))
            ),
        )
        for run in all_runs(job)
    )
    yield from uses_of(job, this, "duct", ways, grommet_band(job))


@remedy_for("air.old_opening")
def leave_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Closed, where it is not where this goes."""
    del job
    yield from not_used(finding)
