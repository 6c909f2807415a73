"""Where hoses pass from the inside to the outside, and their stretches on both sides."""

from __future__ import annotations

from gale_nook.core.job import Job, fact
from gale_nook.core.loop.hoses import hose_run, hose_runs
from gale_nook.core.vehicle.inside import Stretch, route_passes_mm, route_stretches


@fact
def hose_passes_mm(job: Job, hose_id: str) -> tuple[float, ...]:
    """Return where along a hose it passes from inside to outside, or back."""
    run = hose_run(job, hose_id)
    return tuple(route_passes_mm(job, run.geometry)) if run is not None else ()


@fact
def hose_stretches(job: Job) -> dict[str, tuple[Stretch, ...]]:
    """Return the stretches of each hose, inside and outside in turn."""
    return {run.hose.id: tuple(route_stretches(job, run.geometry)) for run in hose_runs(job)}
