"""Checks of the holes that ducts pass through, and of ducts that follow a slide-out."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.air.bodies import duct_name, skin_mm
from gale_nook.core.ducts.passes import Pass, all_runs, passes
from gale_nook.core.ducts.tree import DuctRun
from gale_nook.core.findings.along import follows as follows_words
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.slide import STEP_MM, edges_mm, spans_mm

RING_MM = 4.0  # an edge ring takes so much of a hole's radius
LONG_MM = 80.0  # no panel is thicker: more is the inside of something


@rule("air.hole", "Hole where a duct passes", "mm")
def holes_made(job: Job, this: Rule) -> Iterator[Finding]:
    """Where a duct passes through something, a hole is made that it fits, with its edge lined."""
    runs = {run.duct.id: run for run in all_runs(job)}
    for each in passes(job):
        run = runs[each.duct]
        wide = skin_mm(job, run, each.at_mm)
        hole = each.part
        at = run.geometry.point_at(each.at_mm)
        if each.to_mm - each.from_mm > LONG_MM and _may_be_hollow(job, each):
            yield this.finding(
                job,
                subject=f"{each.duct}.{each.body}",
                subject_name=each.name,
                measured=None,
                band=Band(wide, None, Whose.GEOMETRY, source="where the duct passes"),
                title=f"{capital(duct_name(run))} inside {each.name}",
                sentence=(
                    f"{capital(duct_name(run))} lies inside {each.name} for "
                    f"{q(round(each.to_mm - each.from_mm))}, and nobody has said that it is hollow."
                ),
                marks=(
                    Mark(run.geometry.point_at(each.from_mm), run.geometry.point_at(each.to_mm)),
                ),
            )
            continue
        ring = 2 * RING_MM if hole is not None and hole.ring else 0.0
        free = hole.hole_mm - ring if hole is not None else 0.0
        yield this.finding(
            job,
            subject=f"{each.duct}.{each.body}.{round(each.at_mm)}",
            subject_name=each.name,
            measured=free,
            band=Band(wide, None, Whose.GEOMETRY, "hole", "outside of the duct with its lagging"),
            tolerance=0.0,
            title=f"Hole in {each.name} for {duct_name(run)}",
            sentence=(
                f"The hole of {q(hole.hole_mm)} leaves {q(free)} for {q(wide)} of duct."
                if hole is not None
                else f"{capital(duct_name(run))} passes {each.name}, and no hole is made for it."
            ),
            marks=(Mark(at, at),),
        )
        if hole is not None and not hole.ring:
            yield this.finding(
                job,
                subject=f"{each.duct}.{hole.id}.ring",
                subject_name=each.name,
                measured=0.0,
                band=Band(
                    RING_MM, None, Whose.WORKSHOP, "ring", "workshop rule 45: edges are lined"
                ),
                tolerance=0.0,
                title=f"Edge of the hole in {each.name}",
                sentence="The hole's edge is bare: it cuts the duct through in time.",
                marks=(Mark(at, at),),
            )


def _between(run: DuctRun, each: Pass) -> Mark:
    return Mark(run.geometry.point_at(each.from_mm), run.geometry.point_at(each.to_mm))


def _may_be_hollow(job: Job, each: Pass) -> bool:
    """Whether a duct lies in a surveyed box of which nobody has said that it is hollow."""
    return any(
        isinstance(solid, BoxSolid) and solid.id == each.body and solid.hollow is None
        for solid in job.plan.vehicle.solids
    )


@rule("air.slide", "Slack of a duct that follows a slide-out", "mm", hazard="fire")
def follows(job: Job, this: Rule) -> Iterator[Finding]:
    """A duct from what stands still to what moves is long enough for both ends of the travel."""
    slide, band = job.plan.vehicle.slide, limit_band(job, "duct_slack_mm")
    if slide is None or band is None:
        return
    shell = job.plan.vehicle.shell
    for run in all_runs(job):
        for crossing in edges_mm(slide, shell, run.geometry):
            flex = next(
                (p for p in run.duct.of_kind("flex") if p.at_mm <= crossing <= p.end_mm), None
            )
            start = run.geometry.point_at(flex.at_mm if flex is not None else crossing)
            end_mm = flex.end_mm if flex is not None else crossing + STEP_MM
            end = run.geometry.point_at(end_mm)
            ends = (start, end)
            longest = max(spans_mm(slide, shell, ends))
            drawn = end_mm - (flex.at_mm if flex is not None else crossing)
            slack = drawn + (flex.slack_mm if flex is not None else 0.0) - longest
            yield this.finding(
                job,
                subject=f"{run.duct.id}.{round(crossing)}",
                subject_name=duct_name(run),
                measured=slack,
                band=band,
                title=f"{capital(duct_name(run))} at the slide-out's edge",
                sentence=follows_words(longest, slack + longest, flex is not None),
                marks=(Mark(start, end),),
            )
