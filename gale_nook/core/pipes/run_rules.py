"""Checks of a run as a whole, for exhaust and combustion air alike: length, bends,
room, pressure.
"""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.route import Straight
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.joints import joints_needed
from gale_nook.core.pipes.pressure import pressure_losses
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import straight_id, straight_name, tube_of, tube_words
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.quantities.sentences import q


@rule("pipes.length", "Length of the exhaust", "mm", run="exhaust")
def exhaust_length(job: Job, this: Rule) -> Iterator[Finding]:
    """Too long or too short: the burner's air is wrong either way. Joints count as
    the sheet says.
    """
    run = pipe_run(job, "exhaust")
    band = limit_band(job, "exhaust_length_mm")
    sheet = heater_sheet(job)
    if run is None or band is None or sheet is None:
        return
    joints = joints_needed(job)
    counted = sheet.joint_counts_mm * joints
    words = f"{q(run.length_mm)} along the centre line, from the port to the mouth"
    words += (
        f", and {q(counted)} that the sheet counts for {joints} joint{'s' if joints > 1 else ''}."
        if counted
        else "."
    )
    yield this.finding(
        job,
        measured=run.length_mm + counted,
        band=band,
        subject="exhaust",
        subject_name="exhaust",
        sentence=words,
    )


@rule("pipes.length", "Length of the combustion air's pipe", "mm", run="intake")
def intake_length(job: Job, this: Rule) -> Iterator[Finding]:
    """Short and clean: what is drawn through a long pipe is missing at the flame."""
    run, band = pipe_run(job, "intake"), limit_band(job, "intake_length_mm")
    if run is not None and band is not None:
        yield this.finding(
            job,
            measured=run.length_mm,
            band=band,
            subject="intake",
            subject_name="combustion air",
            sentence=f"{q(run.length_mm)} along the centre line, from the port to the mouth.",
        )


@rule("pipes.bends", "Sum of the bends", "deg", run="exhaust")
@rule("pipes.bends", "Sum of the combustion air's bends", "deg", run="intake")
def bend_sum(job: Job, this: Rule) -> Iterator[Finding]:
    """Every bend adds back-pressure, or costs the burner air."""
    tube = tube_of(this)
    run, band = pipe_run(job, tube), limit_band(job, f"{tube}_bend_sum_deg")
    if run is not None and band is not None:
        count = len(run.bends) + (1 if run.port_angle_deg > 1e-6 else 0)
        yield this.finding(
            job,
            measured=run.bend_sum_deg,
            band=band,
            subject=tube,
            subject_name=tube_words(tube),
            sentence=(
                f"{q(run.bend_sum_deg, 'deg')} in {count} bend{'' if count == 1 else 's'}, the "
                "turn at the port included."
            ),
        )


@rule("pipes.radius", "Bend radius", "mm", run="exhaust")
@rule("pipes.radius", "Bend radius of the combustion air", "mm", run="intake")
def bend_radii(job: Job, this: Rule) -> Iterator[Finding]:
    """A tighter bend kinks the pipe."""
    tube = tube_of(this)
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    band = limit_band(job, f"{tube}_radius_mm")
    if run is None or band is None or route is None:
        return
    for bend in run.bends:
        yield this.finding(
            job,
            subject=route.nodes[bend.corner - 1].id,
            subject_name=f"bend {bend.corner}",
            measured=bend.radius_mm,
            band=band,
            title=f"Radius of {_of(tube)}bend {bend.corner}",
            tolerance=0.0,
            sentence=(
                f"Bend {bend.corner} turns {q(bend.angle_deg, 'deg')} at a radius of "
                f"{q(bend.radius_mm)}."
            ),
            marks=(Mark(run.points[bend.corner], run.points[bend.corner]),),
        )


def _of(tube: Tube) -> str:
    return "the combustion air's " if tube == "intake" else ""


@rule("pipes.bend_room", "Room for the bends", "mm", run="exhaust")
@rule("pipes.bend_room", "Room for the combustion air's bends", "mm", run="intake")
def bends_fit(job: Job, this: Rule) -> Iterator[Finding]:
    """The bends at both ends of a straight must fit into it."""
    tube = tube_of(this)
    run, band = pipe_run(job, tube), limit_band(job, "bend_room_mm")
    if run is None or band is None:
        return
    own = Band(band.minimum, band.maximum, Whose.GEOMETRY, band.name, band.source)
    results = [
        this.finding(
            job,
            subject=straight_id(job, tube, straight),
            subject_name=straight_name(straight),
            measured=straight.room_mm,
            band=own,
            title=f"Room on {_of(tube)}{straight_name(straight)}",
            sentence=_room_words(straight),
            marks=(Mark(straight.start, straight.end),),
        )
        for straight in run.straights
    ]
    yield from worst_and_nearest(results, 1)


def _room_words(straight: Straight) -> str:
    name = straight_name(straight)
    if straight.room_mm < 0:
        return f"The bends on {name} need {q(-straight.room_mm)} more than it has."
    return f"{q(straight.room_mm)} of {name} is left straight between its bends."


@rule("pipes.first_straight", "Straight after the port", "mm", run="exhaust")
@rule("pipes.first_straight", "Straight after the combustion air's port", "mm", run="intake")
def first_straight(job: Job, this: Rule) -> Iterator[Finding]:
    """The clamp at the port needs a straight piece to hold on to."""
    tube = tube_of(this)
    run, band = pipe_run(job, tube), limit_band(job, "first_straight_mm")
    if run is None or band is None:
        return
    first = run.straights[0]
    yield this.finding(
        job,
        subject=straight_id(job, tube, first),
        subject_name="straight 1",
        measured=first.room_mm,
        band=band,
        sentence=f"{q(first.room_mm)} straight between the port and the first bend."
        if first.room_mm >= 0
        else (
            f"The first bend needs {q(-first.room_mm)} more than there is between it and the port."
        ),
        marks=(Mark(first.start, first.end),),
    )


PRESSURE_LIMITS = {"exhaust": "exhaust_back_pressure_pa", "intake": "intake_pressure_pa"}


@rule("pipes.pressure_loss", "Back-pressure of the exhaust", "Pa", run="exhaust")
@rule("pipes.pressure_loss", "Pressure loss of the combustion air", "Pa", run="intake")
def pressure_loss(job: Job, this: Rule) -> Iterator[Finding]:
    """Too much and the burner runs rich and soots: friction, bends, silencer and mouth at the gas's
    own density.
    """
    tube = tube_of(this)
    band = limit_band(job, PRESSURE_LIMITS[tube])
    loss = pressure_losses(job).get(tube) if band is not None else None
    if band is None or loss is None:
        return
    worst = loss.worst
    yield this.finding(
        job,
        subject=tube,
        subject_name=tube_words(tube),
        measured=loss.total_pa,
        band=band,
        tolerance=0.05 * (band.maximum or 0.0),
        sentence=(
            f"{loss.total_pa:.0f} Pa at most output in air of {q(loss.ambient_c, 'c')}; the "
            f"{worst.name} costs the most of it, {worst.drop_pa:.0f} Pa."
        ),
    )
