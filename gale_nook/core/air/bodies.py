"""What the warm air takes room for: every duct with its lagging."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from gale_nook.core.ducts.passes import all_runs, passed_bodies
from gale_nook.core.ducts.tree import DuctRun
from gale_nook.core.geometry.shapes import tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of

JOINED_MM = 130.0  # so far a duct is at its splitter, reducer, outlet or the heater


@fact
def air_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of all ducts."""
    return tuple(body for run in all_runs(job) for body in _duct(job, run))


def skin_mm(job: Job, run: DuctRun, at_mm: float) -> float:
    """Return how thick a duct is at a distance from its start, with its lagging."""
    layers = sum(p.layers for p in run.duct.of_kind("lagging") if p.at_mm <= at_mm <= p.end_mm)
    return run.kind.outer_mm + 2 * layers * job.catalogue.air_equipment.physics.lagging_mm


def _duct(job: Job, run: DuctRun) -> Iterator[Body]:
    through = passed_bodies(job).get(run.duct.id, frozenset())
    length = run.length_mm
    marks = {0.0, length, min(JOINED_MM, length), max(length - JOINED_MM, 0.0)}
    for part in run.duct.of_kind("lagging"):
        marks |= {min(part.at_mm, length), min(part.end_mm, length)}
    edges = sorted(marks)
    thing_id, name = f"air.{run.duct.id}", duct_name(run)
    for start, end in itertools.pairwise(edges):
        if end - start < 1e-6:
            continue
        middle = (start + end) / 2
        joined = middle < JOINED_MM or middle > length - JOINED_MM
        yield body_of(
            job,
            "duct-end" if joined else "duct",
            tube_shape(run.geometry.stretch(start, end), skin_mm(job, run, middle)),
            thing_id=thing_id,
            name=name,
            owner=thing_id,
            passes=through,
        )


def duct_name(run: DuctRun) -> str:
    """Return what a duct is called: by its outlet, or by what it leads to."""
    if run.duct.outlet is not None:
        return f"the duct to {run.duct.outlet.name}"
    return "the duct to a splitter" if run.duct.splitter is not None else "the duct"
