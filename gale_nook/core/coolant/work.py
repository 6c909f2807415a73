"""What the loop brings to the work: parts, lengths to cut, holes, steps of filling and bleeding."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.job import Job
from gale_nook.core.loop.fill import filling
from gale_nook.core.loop.hoses import elbows, hose_runs, loop_parts, parts_of
from gale_nook.core.quantities.sentences import q
from gale_nook.core.saws import saw_for
from gale_nook.core.station import CutLine, HoleLine, Step, over_floor_mm

CAUTIONS = ("coolant", "burns")


def coolant_parts(job: Job) -> dict[str, float]:
    """Return what the loop needs, by the parts list's ids."""
    results: dict[str, float] = {}
    for run in hose_runs(job):
        part = f"hose-{run.kind.id}"
        results[part] = results.get(part, 0) + math.ceil(run.cut_mm)
        results["hose-clamp"] = results.get("hose-clamp", 0) + (0 if run.kind.hard else 2)
        clips = len(run.hose.of_kind("clip"))
        results["hose-clip"] = results.get("hose-clip", 0) + clips
        for sleeve in run.hose.of_kind("guard"):
            results["cable-sleeve"] = results.get("cable-sleeve", 0) + math.ceil(sleeve.length_mm)
        holes = len(run.hose.of_kind("hole"))
        results["hose-grommet"] = results.get("hose-grommet", 0) + holes
    results["hose-elbow"] = len(elbows(job))
    for _, kind in loop_parts(job):
        if kind.kind != "engine":
            part = f"loop-{kind.id}"
            results[part] = results.get(part, 0) + 1
    found = filling(job)
    if found is not None and job.plan.coolant.hoses:
        results["glycol"] = math.ceil(found.glycol_l)
    known = job.catalogue.parts
    return {part: count for part, count in results.items() if part in known and count}


def coolant_cuts(job: Job) -> Iterator[CutLine]:
    """Yield the hoses to cut."""
    for run in hose_runs(job):
        yield CutLine(
            f"{run.kind.label}, {run.name}",
            run.cut_mm,
            "ends cut square",
            f"hose-{run.hose.id}",
            "lay-hoses",
        )


def coolant_holes(job: Job) -> Iterator[HoleLine]:
    """Yield the holes for hoses."""
    for run in hose_runs(job):
        for hole in run.hose.of_kind("hole"):
            at = min(hole.at_mm, run.length_mm)
            x, y, z = run.geometry.point_at(at)
            yield HoleLine(
                f"hole of the {run.name}",
                x,
                y,
                hole.diameter_mm,
                saw_for(hole.diameter_mm),
                over_floor_mm(z),
                run.geometry.direction_at(at),
            )


def coolant_steps(job: Job) -> Iterator[Step]:
    """Laying, filling, bleeding in the order of heights, and looking after it."""
    runs, found = hose_runs(job), filling(job)
    if not runs or found is None:
        return
    yield Step(
        "lay-hoses",
        "Lay the hoses",
        f"{len(runs)} hoses, {q(round(sum(run.cut_mm for run in runs)))} in all. Ends cut "
        "square, pushed on to the stop, clamps behind the bead, clips as drawn.",
        CAUTIONS,
        count=len(runs),
    )
    mix = job.plan.coolant
    yield Step(
        "fill",
        "Mix and fill",
        f"{found.content_l:.1f} l in all: {found.glycol_l:.1f} l of {mix.fluid} glycol and "
        f"{found.water_l:.1f} l of distilled water. It freezes at {found.freezes_c:.0f} °C. Fill "
        "at the header, slowly, with every bleed open.",
        CAUTIONS,
    )
    bleeds = sorted(parts_of(job, "bleed"), key=lambda part: part.z_mm)
    order = ", then ".join(f"the {part.name} at {q(round(part.z_mm))}" for part in bleeds)
    yield Step(
        "bleed",
        "Bleed",
        f"From the lowest to the highest: {order or 'at the header alone'}. Pump on, heater off, "
        "until no more bubbles come; fill the header up.",
        CAUTIONS,
    )
    drains = ", ".join(f"the {part.name}" for part in parts_of(job, "drain"))
    yield Step(
        "after-fill",
        "Look after it",
        f"Warm it up once, look at each clamp, fill up when it is cold. Drained by: "
        f"{drains or 'a hose taken off at the lowest place'}.",
        CAUTIONS,
    )
