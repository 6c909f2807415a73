"""What the warm air brings to the work: parts, holes, lengths to cut, steps."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator

from gale_nook.core.air.bodies import duct_name
from gale_nook.core.ducts.passes import all_runs, passes
from gale_nook.core.ducts.returns import return_openings
from gale_nook.core.ducts.tree import DuctRun
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import counted, q
from gale_nook.core.saws import saw_for
from gale_nook.core.station import CutLine, HoleLine, Step

CUT_ALLOWANCE_MM = 40.0
LAGGING_OVERLAP = 1.1
SAME_BORE_MM = 0.5


def duct_length_mm(run: DuctRun) -> float:
    """Return what is cut of a duct: its length, the slack of what flexes, and an allowance."""
    slack = sum(part.slack_mm for part in run.duct.of_kind("flex"))
    return math.ceil(run.length_mm + slack + CUT_ALLOWANCE_MM)


def air_parts(job: Job) -> dict[str, float]:
    """Return what the warm air needs."""
    needed: Counter[str] = Counter()
    runs = all_runs(job)
    bores = {run.duct.id: run.kind.bore_mm for run in runs}
    for run in runs:
        needed.update(_of_duct(job, run, bores.get(run.duct.comes_from or "")))
        needed.update(_on_duct(job, run))
    needed["air-plenum"] += job.plan.air.warm_end == "panel"
    needed["air-grille"] += sum(o.grille != "bare-opening" for o in return_openings(job))
    return {part: float(quantity) for part, quantity in needed.items() if quantity > 0}


def _of_duct(job: Job, run: DuctRun, bore_before_mm: float | None) -> dict[str, int]:
    """The duct itself, its clamps, what it ends in, and a reducer where bores differ."""
    works, duct = job.catalogue.air_equipment, run.duct
    bought = 0 if duct.was_there else math.ceil(duct_length_mm(run))
    needed: Counter[str] = Counter({run.kind.part: bought})
    needed["hose-clamp-duct"] = 2
    steps = [bore_before_mm]
    if duct.outlet is not None:
        outlet = works.outlet(duct.outlet.kind)
        needed[outlet.part] += 1
        steps.append(outlet.bore_mm)
    if duct.splitter is not None:
        needed[works.splitter(duct.splitter).part] += 1
        legs = {other.leg for other in job.plan.air.ducts if other.comes_from == duct.id}
        needed["duct-cap"] += len({"straight", "branch"} - legs)
    needed["duct-reducer"] += sum(
        step is not None and abs(step - run.kind.bore_mm) > SAME_BORE_MM for step in steps
    )
    return needed


def _on_duct(job: Job, run: DuctRun) -> dict[str, int]:
    """Clips, lagging, guards, and rings in the holes."""
    needed: Counter[str] = Counter()
    for part in run.duct.parts:
        stretch = max(min(part.end_mm, run.length_mm) - part.at_mm, 0.0)
        if part.kind == "clip":
            needed[job.catalogue.air_equipment.clip(part.stuff).part] += 1
        elif part.kind == "lagging":
            needed["duct-lagging"] += math.ceil(part.layers * stretch * LAGGING_OVERLAP)
        elif part.kind == "guard":
            needed["duct-guard"] += math.ceil(stretch)
        elif part.kind == "panel":
            needed["edge-ring"] += part.ring
    return needed


def air_holes(job: Job) -> tuple[HoleLine, ...]:
    """Return the holes that ducts pass through."""
    runs = {run.duct.id: run for run in all_runs(job)}
    results = []
    for each in passes(job):
        if each.part is None:
            continue
        run = runs[each.duct]
        x, y, z = run.geometry.point_at(each.at_mm)
        wide = each.part.hole_mm
        name = f"{each.name}, for {duct_name(run)}"
        way = run.geometry.direction_at(each.at_mm)
        results.append(HoleLine(name, x, y, wide, saw_for(wide), z, way))
    return tuple(results)


def air_cuts(job: Job) -> tuple[CutLine, ...]:
    """Return the lengths of duct to cut."""
    return tuple(
        CutLine(
            f"{run.kind.label}, {duct_name(run)}",
            duct_length_mm(run),
            f"{_bends(run)}; {CUT_ALLOWANCE_MM:.0f} mm allowance included",
            f"duct-{run.duct.id}",
            f"lay-duct-{run.duct.id}",
        )
        for run in all_runs(job)
    )


def _bends(run: DuctRun) -> str:
    count = len(run.geometry.bends)
    return f"{count} bend{'' if count == 1 else 's'}"


def air_steps(job: Job) -> Iterator[Step]:
    """Yield the steps of the warm air."""
    runs = all_runs(job)
    openings = return_openings(job)
    if openings:
        sizes = "; ".join(
            f"{o.name}: {q(o.width_mm)} by {q(o.height_mm)}, {q(o.z_mm)} above the load floor"
            for o in openings
        )
        yield Step("way-back", "Open the way back for the air", f"Cut {sizes}.", ("edges",))
    if job.plan.air.warm_end == "panel":
        yield Step(
            "plenum",
            "Fit the plenum",
            "Bend a plenum of sheet metal from the warm end to the panel, its seams closed; screw "
            "the grille over it.",
            ("hot",),
        )
    for run in runs:
        holes = [each for each in passes(job) if each.duct == run.duct.id and each.part is not None]
        through = f" through {', '.join(each.name for each in holes)}" if holes else ""
        clips = len(run.duct.of_kind("clip"))
        held = f"hold it with {counted(clips, 'clip')}, " if clips else ""
        ends = "outlet" if run.duct.outlet is not None else "splitter"
        text = (
            f"Cut {q(duct_length_mm(run))} of {run.kind.label}. Lead it{through}, {held}clamp both "
            f"ends, and put the {ends} on."
        )
        yield Step(
            "lay-duct",
            f"Lay {duct_name(run)}",
            text,
            ("hot", "edges") if holes else ("hot",),
            about=run.duct.id,
            points=tuple(run.geometry.points),
        )
