"""Checks of the mouths: where they end, where they point, and what is near."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.frames import Vec3, angle_deg, norm, sub
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import BOTH
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.parts import opening_box, surveyed_parts

FORWARD: Vec3 = (-1.0, 0.0, 0.0)


def nearest_edge(job: Job, point: Vec3) -> tuple[float, Vec3]:
    """Return how far a point lies inside the vehicle's outline in plan (negative: past it), and the
    edge point.
    """
    shell, front = job.plan.vehicle.shell, job.plan.vehicle.body_front_x_mm
    half = shell.outer_width_mm / 2
    x, y, z = point
    edges: tuple[tuple[float, Vec3], ...] = (
        (x - front, (front, y, z)),
        (shell.rear_x_mm - x, (shell.rear_x_mm, y, z)),
        (y + half, (x, -half, z)),
        (half - y, (x, half, z)),
    )
    return min(edges, key=lambda edge: edge[0])


@rule("pipes.mouth_edge", "Mouth at the vehicle's edge", "mm", hazard="fumes", run="exhaust")
def mouth_at_edge(job: Job, this: Rule) -> Iterator[Finding]:
    """Gas that ends under the vehicle pools there and comes in."""
    run, band = pipe_run(job, "exhaust"), limit_band(job, "mouth_inside_mm")
    if run is None or band is None:
        return
    inside, edge = nearest_edge(job, run.mouth)
    yield this.finding(
        job,
        subject="mouth",
        subject_name="the vehicle's edge",
        measured=inside,
        band=band,
        sentence=f"The mouth ends {q(inside)} inside the vehicle's edge."
        if inside > 0
        else f"The mouth ends {q(-inside)} past the vehicle's edge.",
        marks=(Mark(run.mouth, edge),),
    )


@rule("pipes.mouth_forward", "Mouth away from the direction of travel", "deg", run="exhaust")
def mouth_not_forward(job: Job, this: Rule) -> Iterator[Finding]:
    """Driving wind into the mouth blows the flame out and rain in."""
    run, band = pipe_run(job, "exhaust"), limit_band(job, "mouth_forward_deg")
    if run is not None and band is not None:
        angle = angle_deg(run.mouth_direction, FORWARD)
        yield this.finding(
            job,
            subject="mouth",
            subject_name="direction of travel",
            measured=angle,
            band=band,
            sentence=f"The mouth points {q(angle, 'deg')} away from straight ahead.",
            marks=(Mark(run.points[-2], run.mouth),),
        )


@rule("pipes.mouth_down", "Mouth not upwards", "deg", run="exhaust")
def mouth_down(job: Job, this: Rule) -> Iterator[Finding]:
    """A mouth that points up fills with water."""
    run, band = pipe_run(job, "exhaust"), limit_band(job, "mouth_down_deg")
    if run is not None and band is not None:
        down = math.degrees(math.asin(max(-1.0, min(1.0, -run.mouth_direction[2]))))
        yield this.finding(
            job,
            subject="mouth",
            subject_name="level",
            measured=down,
            band=band,
            tolerance=0.0,
            sentence=(
                f"The mouth points {q(abs(down), 'deg')} {'below' if down >= 0 else 'above'} level."
            ),
            marks=(Mark(run.points[-2], run.mouth),),
        )


@rule("pipes.mouth_ground", "Mouth above the ground", "mm", run="exhaust")
def mouth_above_ground(job: Job, this: Rule) -> Iterator[Finding]:
    """Snow, mud and water close a mouth that sits too low."""
    if job.plan.vehicle.afloat:
        return  # there is no ground: `pipes.water` looks at the water
    run, band = pipe_run(job, "exhaust"), limit_band(job, "mouth_ground_mm")
    if run is not None and band is not None:
        ground = job.plan.vehicle.shell.ground_z_mm
        gap = run.mouth[2] - ground
        yield this.finding(
            job,
            subject="mouth",
            subject_name="the ground",
            measured=gap,
            band=band,
            sentence=f"The mouth is {q(gap)} above the ground.",
            marks=(Mark(run.mouth, (run.mouth[0], run.mouth[1], ground)),),
        )


@rule("pipes.mouth_opening", "Mouth to what opens", "mm", hazard="fumes", run="exhaust")
def mouth_to_openings(job: Job, this: Rule) -> Iterator[Finding]:
    """Distance from the mouth to every window, door and vent that opens."""
    run, band = pipe_run(job, "exhaust"), limit_band(job, "mouth_opening_mm")
    if run is None or band is None:
        return
    results = []
    for opening in job.plan.vehicle.openings:
        if not opening.opens:
            continue
        near = nearest_in_box(run.mouth, *opening_box(job, opening))
        distance = norm(sub(run.mouth, near))
        results.append(
            this.finding(
                job,
                subject=opening.id,
                subject_name=opening.name,
                measured=distance,
                band=band,
                title=f"Mouth to {opening.name}",
                sentence=_away(distance, opening.name),
                marks=(Mark(run.mouth, near),),
            )
        )
    yield from worst_and_nearest(results, 1)


def _away(distance_mm: float, name: str) -> str:
    return f"{q(distance_mm)} from the mouth to {name}."


def nearest_in_box(point: Vec3, low: Vec3, size: Vec3) -> Vec3:
    """Return the point of a box nearest to a point."""
    x, y, z = (min(max(point[i], low[i]), low[i] + size[i]) for i in range(3))
    return (x, y, z)


@rule("pipes.mouth_part", "Mouth to what gas harms", "mm", hazard="fumes", run="exhaust")
def mouth_to_parts(job: Job, this: Rule) -> Iterator[Finding]:
    """Distance from the mouth to fuel filler, awning, and the like."""
    run = pipe_run(job, "exhaust")
    if run is None:
        return
    results = []
    for solid, kind, shape in surveyed_parts(job):
        if kind.mouth_mm is None:
            continue
        near = min(
            (piece.nearest(run.mouth) for piece in shape.pieces),
            key=lambda point: norm(sub(run.mouth, point)),
        )
        distance = norm(sub(run.mouth, near))
        results.append(
            this.finding(
                job,
                subject=solid.id,
                subject_name=solid.name,
                measured=distance,
                hazard=kind.hazard,
                band=Band(
                    kind.mouth_mm, None, Whose.WORKSHOP, "mouth_mm", f"{kind.label}: {kind.source}"
                ),
                title=f"Mouth to {solid.name}",
                sentence=_away(distance, solid.name),
                marks=(Mark(run.mouth, near),),
            )
        )
    yield from worst_and_nearest(results, 1)


@rule("pipes.mouths_apart", "Exhaust's mouth to the combustion air's", "mm", run=BOTH)
def mouths_apart(job: Job, this: Rule) -> Iterator[Finding]:
    """A burner that draws in its own gas soots up; same flank or not, it is the distance that
    counts.
    """
    exhaust = pipe_run(job, "exhaust")
    intake = pipe_run(job, "intake")
    band = limit_band(job, "mouths_apart_mm")
    if exhaust is None or intake is None or band is None:
        return
    distance = norm(sub(exhaust.mouth, intake.mouth))
    yield this.finding(
        job,
        subject="mouth",
        subject_name="combustion air's mouth",
        measured=distance,
        band=band,
        sentence=f"{q(distance)} between the two mouths.",
        marks=(Mark(exhaust.mouth, intake.mouth),),
    )


@rule("pipes.mouths_facing", "Exhaust's mouth turned from the combustion air's", "deg", run=BOTH)
def mouths_facing(job: Job, this: Rule) -> Iterator[Finding]:
    """The gas is not blown at the place where the burner breathes."""
    exhaust = pipe_run(job, "exhaust")
    intake = pipe_run(job, "intake")
    band = limit_band(job, "mouths_facing_deg")
    if exhaust is None or intake is None or band is None:
        return
    angle = angle_deg(exhaust.mouth_direction, sub(intake.mouth, exhaust.mouth))
    yield this.finding(
        job,
        subject="mouth",
        subject_name="combustion air's mouth",
        measured=angle,
        band=band,
        sentence=f"The exhaust's mouth points {q(angle, 'deg')} away from the combustion air's.",
        marks=(Mark(exhaust.mouth, intake.mouth),),
    )


@rule("pipes.mouth_forward", "Combustion air out of the slipstream", "deg", run="intake")
def air_not_forward(job: Job, this: Rule) -> Iterator[Finding]:
    """Driving wind and spray are not blown into the burner."""
    run, band = pipe_run(job, "intake"), limit_band(job, "intake_forward_deg")
    if run is not None and band is not None:
        angle = angle_deg(run.mouth_direction, FORWARD)
        yield this.finding(
            job,
            subject="mouth",
            subject_name="direction of travel",
            measured=angle,
            band=band,
            sentence=(
                f"The combustion air's mouth points {q(angle, 'deg')} away from straight ahead."
            ),
            marks=(Mark(run.points[-2], run.mouth),),
        )


@rule("pipes.mouth_down", "Combustion air's mouth not upwards", "deg", run="intake")
def air_down(job: Job, this: Rule) -> Iterator[Finding]:
    """A mouth that points up lets water in."""
    run, band = pipe_run(job, "intake"), limit_band(job, "intake_down_deg")
    if run is not None and band is not None:
        down = math.degrees(math.asin(max(-1.0, min(1.0, -run.mouth_direction[2]))))
        yield this.finding(
            job,
            subject="mouth",
            subject_name="level",
            measured=down,
            band=band,
            tolerance=0.0,
            sentence=(
                f"The combustion air's mouth points {q(abs(down), 'deg')} "
                f"{'below' if down >= 0 else 'above'} level."
            ),
            marks=(Mark(run.points[-2], run.mouth),),
        )


@rule("pipes.mouth_ground", "Combustion air above spray", "mm", run="intake")
def air_above_spray(job: Job, this: Rule) -> Iterator[Finding]:
    """Above the spray line and shallow water."""
    if job.plan.vehicle.afloat:
        return  # there is no ground: `pipes.water` looks at the water
    run, band = pipe_run(job, "intake"), limit_band(job, "intake_ground_mm")
    if run is not None and band is not None:
        ground = job.plan.vehicle.shell.ground_z_mm
        gap = min(point[2] for point in run.points) - ground
        yield this.finding(
            job,
            subject="mouth",
            subject_name="the ground",
            measured=gap,
            band=band,
            sentence=f"The combustion air's pipe comes down to {q(gap)} above the ground.",
            marks=(Mark(run.mouth, (run.mouth[0], run.mouth[1], ground)),),
        )
