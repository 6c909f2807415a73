"""Where leads pass from the inside to the outside: through the floor, a wall or the bulkhead."""

from __future__ import annotations

from gale_nook.core.geometry.shapes import Shape, tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.power.bodies import LEAD_MM
from gale_nook.core.power.leads import lead_runs, settled_runs
from gale_nook.core.vehicle.inside import Stretch, route_passes_mm, route_stretches


@fact
def passes_mm(job: Job) -> dict[str, list[float]]:
    """Return where along each lead it passes from inside to outside, or back."""
    return {run.lead.id: route_passes_mm(job, run.geometry) for run in lead_runs(job)}


@fact
def stretches_mm(job: Job) -> dict[str, tuple[Stretch, ...]]:
    """Return the stretches of each settled lead: inside and outside in turn."""
    return {run.lead.id: tuple(route_stretches(job, run.geometry)) for run in settled_runs(job)}


@fact
def lead_shapes(job: Job) -> dict[str, tuple[tuple[Shape, ...], tuple[Shape, ...]]]:
    """Return the stretches of each lead inside, and those outside: floor and walls stand between
    them.
    """
    results: dict[str, tuple[tuple[Shape, ...], tuple[Shape, ...]]] = {}
    for run in settled_runs(job):
        inside: list[Shape] = []
        outside: list[Shape] = []
        for part in stretches_mm(job)[run.lead.id]:
            side = inside if part.inside else outside
            side.append(tube_shape(run.geometry.stretch(part.from_mm, part.to_mm), LEAD_MM))
        results[run.lead.id] = (tuple(inside), tuple(outside))
    return results
