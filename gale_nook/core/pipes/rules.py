"""Every check of the burner's pipes, by subject; here only whether there is anything to check."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.registry import Rule, rule
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.pipes import (  # noqa: F401 - they register themselves
    fall_rules,
    fitting_remedies,
    fitting_rules,
    mouth_remedies,
    mouth_rules,
    near_rules,
    panel_rules,
    remedies,
    run_rules,
    spray_rules,
)
from gale_nook.core.pipes.runs import pipe_run


@rule("pipes.run", "An exhaust run", "mm", hazard="fumes")
def run_drawn(job: Job, this: Rule) -> Iterator[Finding]:
    """Without a run there is nothing to check."""
    if pipe_run(job, "exhaust") is None:
        yield _missing(
            job,
            this,
            "The exhaust has no run yet. Start one at the port and lead it to the vehicle's edge.",
        )


@rule("pipes.air_run", "A run for the combustion air", "mm")
def air_run_drawn(job: Job, this: Rule) -> Iterator[Finding]:
    """The burner breathes from outside, by a pipe of its own."""
    if pipe_run(job, "intake") is None:
        yield _missing(job, this, "The combustion air has no run yet. Start one at its port.")


def _missing(job: Job, this: Rule, sentence: str) -> Finding:
    ready = job.plan.spot is not None and chosen_mount(job) is not None
    return this.finding(
        job,
        measured=None,
        band=Band(None, None, Whose.GEOMETRY, source="the plan"),
        sentence=sentence
        if ready
        else "The burner's pipes start at the heater's ports: choose a heater and a spot first.",
    )
