"""The line where it has to flex: from what stands still to a slide-out that moves, and back."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.fuel.line import FuelRun, fuel_run
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.plan.moves import SlideOut
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.slide import STEP_MM, edges_mm, spans_mm

REACH_MM = 150.0  # a proposed stretch reaches this far to both sides of the edge
SPARE_MM = 10.0


@dataclass(frozen=True, slots=True)
class Crossing:
    """Where the line passes the slide's edge.

    Attributes:
        at_mm: from where the line takes off.
        flex: the flexible stretch that takes it up; None where there is none.
        ends: of that stretch, with the slide in.
        longest_mm, shortest_mm: straight between its ends, of in and out; without one, of the two
            sides of the edge.
    """

    at_mm: float
    flex: LinePart | None
    ends: tuple[Vec3, Vec3]
    longest_mm: float
    shortest_mm: float

    @property
    def slack_mm(self) -> float:
        """What the stretch has to spare when it is pulled longest; without one, what is missing."""
        return (self.flex.hose_mm if self.flex is not None else 0.0) - self.longest_mm

    def lowest_mm(self) -> float:
        """Return the least height that the stretch can hang down to, with its ends at their
        nearest.

        A line of a length between two points reaches no farther than an ellipse with these as its
        foci.
        """
        hose = self.flex.hose_mm if self.flex is not None else 0.0
        (_, _, z0), (_, _, z1) = self.ends
        near = self.shortest_mm
        deep = math.sqrt(max(hose**2 - near**2, 0.0)) / 2
        slope = min(abs(z1 - z0) / near, 1.0) if near > 0 else 1.0
        return (z0 + z1) / 2 - math.hypot(hose / 2 * slope, deep * math.sqrt(1 - slope**2))


def crossings(job: Job, run: FuelRun) -> tuple[Crossing, ...]:
    """Return every place where the line passes the edge of what moves; none without a slide-out."""
    slide = job.plan.vehicle.slide
    if slide is None:
        return ()
    edges = edges_mm(slide, job.plan.vehicle.shell, run.geometry)
    return tuple(_crossing(job, run, slide, at) for at in edges)


def _crossing(job: Job, run: FuelRun, slide: SlideOut, at_mm: float) -> Crossing:
    flex = next(
        (f for f in run.line.of_kind("flex") if f.at_mm <= at_mm <= f.at_mm + f.length_mm), None
    )
    start, end = (
        (flex.at_mm, flex.at_mm + flex.length_mm)
        if flex is not None
        else (at_mm - STEP_MM, at_mm + STEP_MM)
    )
    return _span(job, run, slide, (at_mm, max(start, 0.0), min(end, run.length_mm)), flex)


def _span(
    job: Job,
    run: FuelRun,
    slide: SlideOut,
    places: tuple[float, float, float],
    flex: LinePart | None,
) -> Crossing:
    at_mm, start, end = places
    ends = (run.geometry.point_at(start), run.geometry.point_at(end))
    spans = spans_mm(slide, job.plan.vehicle.shell, ends)
    return Crossing(at_mm, flex, ends, max(spans), min(spans))


@rule("fuel.flex", "Line to the slide-out", "mm", hazard="fire", run="fuel")
def flexes(job: Job, this: Rule) -> Iterator[Finding]:
    """Where the line passes to what moves, a flexible stretch is long enough for
    the whole travel.
    """
    run, band = fuel_run(job), limit_band(job, "flex_slack_mm")
    if run is None or band is None:
        return
    for number, crossing in enumerate(crossings(job, run), 1):
        words = (
            f"The flexible stretch of {q(crossing.flex.hose_mm)} spans {q(crossing.longest_mm)} at "
            "its longest:"
            f" {q(abs(crossing.slack_mm))} {'to spare' if crossing.slack_mm >= 0 else 'too short'}."
            if crossing.flex is not None
            else (
                f"The line passes to the slide-out {q(crossing.at_mm)} from the tank without a "
                "flexible stretch."
            )
        )
        at = run.geometry.point_at(crossing.at_mm)
        yield this.finding(
            job,
            subject=f"crossing-{number}",
            subject_name="the slide-out",
            measured=crossing.slack_mm,
            band=band,
            sentence=words,
            marks=(Mark(*crossing.ends),) if crossing.flex is not None else (Mark(at, at),),
        )


@rule("fuel.flex_ground", "Flexible stretch above the ground", "mm", run="fuel")
def hangs_high(job: Job, this: Rule) -> Iterator[Finding]:
    """What is slack when the ends are near one another does not hang where it is torn off."""
    if job.plan.vehicle.afloat:
        return  # there is no ground
    run = fuel_run(job)
    band = limit_band(job, "flex_ground_mm")
    ground = job.plan.vehicle.shell.ground_z_mm
    if run is None or band is None:
        return
    for number, crossing in enumerate(crossings(job, run), 1):
        if crossing.flex is None:
            continue
        low = crossing.lowest_mm()
        middle = run.geometry.point_at(crossing.flex.at_mm + crossing.flex.length_mm / 2)
        yield this.finding(
            job,
            subject=f"crossing-{number}",
            subject_name="the ground",
            measured=low - ground,
            band=band,
            sentence=(
                f"Slack, the flexible stretch can hang down to {q(low - ground)} above the ground."
            ),
            marks=(Mark((middle[0], middle[1], low), (middle[0], middle[1], ground)),),
        )
