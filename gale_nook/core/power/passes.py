"""Where leads pass from the inside to the outside: through the floor, a wall or the bulkhead."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

from gale_nook.core.geometry.shapes import Shape, tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.power.bodies import LEAD_MM
from gale_nook.core.power.leads import LeadRun, lead_runs, settled_runs
from gale_nook.core.vehicle.inside import is_inside, route_passes_mm

SHORTEST_MM = 1.0  # of a stretch; less is where a lead lies in a plane itself


@fact
def passes_mm(job: Job) -> dict[str, list[float]]:
    """Return where along each lead it passes from inside to outside, or back."""
    return {run.lead.id: route_passes_mm(job, run.geometry) for run in lead_runs(job)}


class Stretch(NamedTuple):
    """Part of a lead between two passes, along it from its start."""

    from_mm: float
    to_mm: float
    inside: bool


@fact
def stretches_mm(job: Job) -> dict[str, tuple[Stretch, ...]]:
    """Return the stretches of each settled lead: inside and outside in turn."""
    return {run.lead.id: tuple(_stretches_of(job, run)) for run in settled_runs(job)}


def _stretches_of(job: Job, run: LeadRun) -> Iterator[Stretch]:
    for from_mm, to_mm in pairwise([0.0, *passes_mm(job)[run.lead.id], run.drawn_mm]):
        if to_mm - from_mm >= SHORTEST_MM:
            middle = run.geometry.point_at((from_mm + to_mm) / 2)
            yield Stretch(from_mm, to_mm, is_inside(job, middle))


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
