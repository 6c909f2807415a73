"""Whether somebody has looked at where the burner's pipes lead along."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import tube_of, tube_words
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.looked_findings import run_looked_at

GAPS: dict[Tube, str] = {"exhaust": "exhaust_mm", "intake": "intake_mm"}


@rule("pipes.looked_at", "Somebody has looked along the exhaust", YES_NO, run="exhaust")
@rule("pipes.looked_at", "Somebody has looked along the combustion air", YES_NO, run="intake")
def looked_along(job: Job, this: Rule) -> Iterator[Finding]:
    """A pipe is not clear of what nobody has looked for."""
    tube, mount = tube_of(this), chosen_mount(job)
    run = pipe_run(job, tube)
    if run is None or mount is None or mount.place == "engine-bay":
        return
    around = around_mm(job, tube) + heater_port(job, tube).diameter_mm / 2
    yield run_looked_at(job, this, run.centre_line, around, (tube, f"the {tube_words(tube)}"))


def around_mm(job: Job, tube: Tube) -> float:
    """Return how far beside a pipe has to be looked at: the most that any kind of part below asks
    of it.
    """
    kinds = job.catalogue.solid_kinds.values()
    return max(getattr(kind, GAPS[tube]) or 0.0 for kind in kinds if kind.where == "below")
