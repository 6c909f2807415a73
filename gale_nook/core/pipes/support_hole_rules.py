"""Check of the holes that supports hang on, and moving a support along where one would be drilled
into something.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import PutFittings
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.supports import hangs_from
from gale_nook.core.pipes.tubes import tube_of, tube_words
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.fixing_holes import FixingHole, fixing_findings, fixing_hole, is_too_near

STEP_MM, FARTHEST_MM = 20.0, 200.0  # along the pipe, that a support is moved by
MOST_TRIED = 4  # places on each side, for two supports in the stead of one


def support_holes(job: Job, tube: Tube) -> list[FixingHole]:
    """Return the holes for supports that hang on no factory hole or thread."""
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    if run is None or route is None:
        return []
    own = [fitting for fitting in route.of_kind("support") if fitting.feature is None]
    results = []
    for number, fitting in enumerate(own, 1):
        at = hangs_from(job, fitting, run.point_at(min(fitting.at_mm, run.length_mm)))
        name = f"support {number} of the {tube_words(tube)}"
        results.append(fixing_hole(job, fitting.id, name, at))
    return results


@rule("pipes.support_hole", "Hole for a support", "mm", run="exhaust")
@rule("pipes.support_hole", "Hole for a support of the combustion air", "mm", run="intake")
def support_hole(job: Job, this: Rule) -> Iterator[Finding]:
    """Metal left to cables, pipes and tanks on both sides of the floor, where a rivet nut goes in
    blind.
    """
    for hole in support_holes(job, tube_of(this)):
        yield from fixing_findings(job, this, hole)


@remedy_for("pipes.support_hole")
def move_the_support(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Along the pipe, the nearest places first; else one on each side in its stead."""
    tube = tube_of(finding)
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    own = route.of_kind("support") if route is not None else ()
    this = next((fitting for fitting in own if fitting.id == finding.subject), None)
    if run is None or this is None:
        return
    places = _clear_places(job, tube, this)
    for at in places:
        yield Remedy(
            f"Hold it {q(round(at))} from the port instead.",
            set_value(f"pipes.{tube}.fittings.{this.id}.at_mm", at),
        )
    before = [at for at in places if at < this.at_mm][:MOST_TRIED]
    after = [at for at in places if at > this.at_mm][:MOST_TRIED]
    others = tuple(fitting for fitting in own if fitting is not this)
    for first, second in itertools.product(before, after):
        moved = this.model_copy(update={"at_mm": first})
        more = Fitting(id=fresh_id(own, "support"), kind="support", at_mm=second)
        both = tuple(sorted((*others, moved, more), key=lambda each: each.at_mm))
        yield Remedy(
            f"Hold it {q(round(first))} and {q(round(second))} from the port instead, with one "
            "support more.",
            PutFittings(tube=tube, kind="support", fittings=both),
        )


def _clear_places(job: Job, tube: Tube, support: Fitting) -> list[float]:
    """Places along the pipe where a support's hole is clear, the nearest first."""
    run = pipe_run(job, tube)
    if run is None:
        return []
    steps = [step * STEP_MM for step in range(1, int(FARTHEST_MM / STEP_MM) + 1)]
    tried = [support.at_mm + sign * step for step in steps for sign in (-1, 1)]
    results = []
    for at in tried:
        if 0 < at < run.length_mm:
            place = hangs_from(job, support, run.point_at(at))
            if not is_too_near(job, fixing_hole(job, support.id, "support", place)):
                results.append(at)
    return results
