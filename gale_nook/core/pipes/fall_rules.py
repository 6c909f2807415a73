"""Checks of how the pipes drain: falls level and parked askew, low points, and the loop of a rising
run.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tilt import WorstFall, deepest_water, worst_falls
from gale_nook.core.pipes.tubes import (
    drained_corners,
    nodes_of,
    risers,
    straight_id,
    straight_name,
    tube_of,
    tube_words,
)
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.lean import askew_words, lean_of, lean_words

STEEP_DEG = 45.0  # steeper straights drain whatever their limit says


@rule("pipes.fall", "Fall", "deg", run="exhaust")
def falls(job: Job, this: Rule) -> Iterator[Finding]:
    """Every straight falls to the mouth, or back to a drain hole that it rises from, so that
    condensate runs out.
    """
    run, band = pipe_run(job, "exhaust"), limit_band(job, "exhaust_fall_deg")
    if run is None or band is None:
        return
    back = risers(run, drained_corners(job, "exhaust"))
    for straight in run.straights:
        drains_back = straight.index in back
        fall = abs(straight.fall_deg) if drains_back else straight.fall_deg
        verb = "falls" if straight.fall_deg >= 0 else "rises"
        after = " and drains back to the hole before it" if drains_back else ""
        yield this.finding(
            job,
            subject=straight_id(job, "exhaust", straight),
            subject_name=straight_name(straight),
            measured=fall,
            band=band,
            title=f"Fall of {straight_name(straight)}",
            tolerance=0.0 if fall > STEEP_DEG else None,
            sentence=(
                f"It {verb} {q(abs(straight.drop_mm))} over {q(straight.length_mm)}, "
                f"{q(abs(straight.fall_deg), 'deg')}{after}."
            ),
            marks=(Mark(straight.start, straight.end),),
        )


@rule("pipes.parked", "Fall as parked", "deg", run="exhaust")
def falls_as_parked(job: Job, this: Rule) -> Iterator[Finding]:
    """Few places are level: every straight still drains with the vehicle askew, or into a drain
    hole.
    """
    run, lean = pipe_run(job, "exhaust"), lean_of(job)
    if run is None:
        return
    band = Band(
        0.0,
        None,
        Whose.WORKSHOP,
        "parked",
        f"workshop rule 13: it drains when {askew_words(job)}",
    )
    drained = drained_corners(job, "exhaust")
    back = risers(run, drained)
    results = []
    for worst in worst_falls(
        run, lean, back
    ):  # what rises even level is dimensioned by `pipes.fall`
        straight = worst.straight
        into_a_hole = worst.fall_deg < 0 and straight.index in drained
        results.append(
            this.finding(
                job,
                subject=straight_id(job, "exhaust", straight),
                subject_name=straight_name(straight),
                measured=0.0 if into_a_hole else worst.fall_deg,
                band=band,
                tolerance=0.0,
                title=f"Fall of {straight_name(straight)} as parked",
                sentence=_parked_words(job, worst, into_a_hole),
                marks=(Mark(straight.start, straight.end),) if straight.fall_deg >= 0 else (),
            )
        )
    yield from worst_and_nearest(results, 1)


def _parked_words(job: Job, worst: WorstFall, drained: bool) -> str:
    askew = f"{lean_words(job, worst.parked)}, it"
    if worst.fall_deg >= 0:
        return f"{askew} still falls {q(worst.fall_deg, 'deg')}."
    after = (
        "what gathers leaves by the drain hole before it" if drained else "water stands before it"
    )
    return f"{askew} rises {q(-worst.fall_deg, 'deg')}: {after}."


LOW_POINTS = {
    "exhaust": "workshop rule 12: no undrained low point",
    "intake": "workshop rule 20: no water trap in the combustion air",
}


@rule("pipes.low_point", "Low point has a drain", YES_NO, run="exhaust")
@rule("pipes.low_point", "Water trap in the combustion air has a drain", YES_NO, run="intake")
def low_points(job: Job, this: Rule) -> Iterator[Finding]:
    """Where the run rises again water stands; in the combustion air it shuts the burner's air
    off. It needs a drain there.
    """
    tube = tube_of(this)
    run, nodes = pipe_run(job, tube), nodes_of(job, tube)
    if run is None:
        return
    for corner in run.low_corners:
        node, name = nodes[corner - 1], f"bend {corner}"
        yield this.yes_no(
            job,
            subject=node.id,
            subject_name=name,
            answer=node.drain,
            wanted=True,
            whose=Whose.WORKSHOP,
            source=LOW_POINTS[tube],
            title=f"Low point at {name}",
            sentence=f"Water stands at {name}; "
            + ("a drain hole is planned there." if node.drain else "there is no drain."),
            marks=(Mark(run.points[corner], run.points[corner]),),
        )


@rule("pipes.standing", "Water in the exhaust as parked", "mm", run="exhaust")
@rule("pipes.parked", "Water in the combustion air as parked", "mm", run="intake")
def water_as_parked(job: Job, this: Rule) -> Iterator[Finding]:
    """Level or parked askew, no water stays in the pipe: it freezes, rusts, and shuts the burner's
    air off.
    """
    tube = tube_of(this)
    run, lean = pipe_run(job, tube), lean_of(job)
    if run is None:
        return
    stands, parked = deepest_water(run, drained_corners(job, tube), lean)
    length = sum(math.dist(water.start, water.end) for water in stands)
    depth = max((water.depth_mm for water in stands), default=0.0)
    words = (
        f"{lean_words(job, parked)}, water stands {q(depth)} deep in {q(length)} of it."
        if stands
        else f"{lean_words(job)} whichever way, it stays dry."
    )
    name = f"{tube}_parked" if tube == "exhaust" else "air_parked"
    deepest = max(stands, key=lambda water: water.depth_mm, default=None)
    yield this.finding(
        job,
        subject=tube,
        subject_name=tube_words(tube),
        measured=depth,
        tolerance=0.0,
        band=Band(None, 0.0, Whose.WORKSHOP, name, f"{DRY[tube]} {askew_words(job)}"),
        sentence=words,
        marks=(Mark(deepest.start, deepest.end),) if deepest is not None else (),
    )


DRY = {
    "exhaust": "workshop rule 13: it drains",
    "intake": "workshop rule 20: it stays dry",
}


@rule("pipes.loop", "Loop over the mouth", "mm", run="exhaust")
def loop_over_the_mouth(job: Job, this: Rule) -> Iterator[Finding]:
    """A run that rises to an exit above its port climbs over it first, so that no water runs back
    into the burner.
    """
    run, band = pipe_run(job, "exhaust"), limit_band(job, "loop_rise_mm")
    if run is None or band is None:
        return
    back = risers(run, drained_corners(job, "exhaust"))
    if not back or run.mouth[2] <= run.points[0][2]:
        return
    crest = max(run.points[min(back) + 1 :], key=lambda point: point[2])
    rise = crest[2] - run.mouth[2]
    yield this.finding(
        job,
        subject="exhaust",
        subject_name="the mouth",
        measured=rise,
        band=band,
        sentence=f"The run climbs {q(rise)} over its mouth before it goes out."
        if rise > 0
        else "The run goes out at its highest point: water runs in from there.",
        marks=(Mark(crest, (crest[0], crest[1], run.mouth[2])),),
    )
