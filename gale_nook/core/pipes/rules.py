"""Every check of the burner's pipes, by subject; here only whether there is anything to check."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.start import PORTS_FIRST
from gale_nook.core.pipes.tubes import tube_of

MISSING = {
    "exhaust": (
        "The exhaust has no run yet. Start one at the port and lead it to the vehicle's edge."
    ),
    "intake": "The combustion air has no run yet. Start one at its port.",
}


@rule("pipes.run", "An exhaust run", "mm", hazard="fumes", run="exhaust")
@rule("pipes.run", "A run for the combustion air", "mm", run="intake")
def run_drawn(job: Job, this: Rule) -> Iterator[Finding]:
    """The exhaust leads outside, and the burner breathes from outside, each by its own pipe."""
    tube = tube_of(this)
    if pipe_run(job, tube) is None:
        yield _missing(job, this, MISSING[tube])


def _missing(job: Job, this: Rule, sentence: str) -> Finding:
    ready = job.plan.spot is not None and chosen_mount(job) is not None
    return this.finding(
        job,
        measured=None,
        band=Band(None, None, Whose.GEOMETRY, source="the plan"),
        sentence=sentence if ready else PORTS_FIRST,
    )
