"""Fitting a duct out with what it needs: clips where it hangs, holes where it passes."""

from __future__ import annotations

import itertools
import math

from gale_nook.core.air.bodies import skin_mm
from gale_nook.core.air.hole_rules import RING_MM
from gale_nook.core.ducts.passes import passes
from gale_nook.core.ducts.tree import DuctRun, run_of
from gale_nook.core.heater.limits import most_of
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Duct, DuctPart
from gale_nook.core.saws import saw_over

CLIP_MM, EDGE_MM = 700.0, 20.0


def fitted_out(job: Job, duct: Duct) -> Duct:
    """Return a duct with clips and holes; as it is where it cannot be laid."""
    others = tuple(d for d in job.plan.air.ducts if d.id != duct.id)
    laid = {"ducts": (*others, duct), "warm_end": "duct"}
    trial = job.with_parts(air=job.plan.air.model_copy(update=laid))
    run = run_of(trial, duct.id)
    if run is None:
        return duct
    kept = tuple(part for part in duct.parts if part.kind not in {"clip", "panel"})
    holed = duct.model_copy(update={"parts": (*kept, *holes_for(trial, run))})
    clips = clips_for(job, run, holed)
    return holed.model_copy(update={"parts": (*holed.parts, *clips)})


def clips_for(job: Job, run: DuctRun, duct: Duct) -> tuple[DuctPart, ...]:
    """Return clips so that no stretch between them, holes and both ends is longer than it may be,
    even stretches between.
    """
    most = most_of(job, "duct_clip_mm", CLIP_MM)
    marks = [0.0, *(min(p.at_mm, run.length_mm) for p in duct.of_kind("panel")), run.length_mm]
    marks.sort()
    places = []
    for start, end in itertools.pairwise(marks):
        count = math.ceil((end - start) / most - 1e-9)
        places += [start + (end - start) * i / count for i in range(1, count)]
    return tuple(
        DuctPart(id=f"clip-{n}", kind="clip", at_mm=round(at)) for n, at in enumerate(places, 1)
    )


def holes_for(job: Job, run: DuctRun) -> tuple[DuctPart, ...]:
    """Return a hole with its edge ring for everything that a duct passes through."""
    results: list[DuctPart] = []
    for each in passes(job):
        if each.duct != run.duct.id:
            continue
        hole = hole_mm(job, run, each.at_mm)
        item = DuctPart(
            id=f"hole-{len(results) + 1}", kind="panel", at_mm=round(each.at_mm), hole_mm=hole
        )
        results.append(item)
    return tuple(results)


def hole_mm(job: Job, run: DuctRun, at_mm: float) -> float:
    """Return the saw size that lets a duct and its edge ring through."""
    return saw_over(skin_mm(job, run, at_mm) + 2 * RING_MM)
