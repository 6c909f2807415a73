"""Checks of places: the controller, its sensor, the CO alarm."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import box_shape, separation
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.mouth_rules import nearest_in_box
from gale_nook.core.plan.power import Alarm
from gale_nook.core.plan.vehicle import Opening
from gale_nook.core.power.alarm_places import as_seen_inside, bed_shapes, shut_in_by
from gale_nook.core.power.leads import sensor_place
from gale_nook.core.power.sensor_bias import sensor_bias
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.inside import is_inside

TO_SAY = Band(None, None, Whose.GEOMETRY, source="the plan")


@rule("power.controller", "A place for the controller", "mm")
def controller_placed(job: Job, this: Rule) -> Iterator[Finding]:
    """Its reach from the bed, and how high it hangs."""
    controller = job.plan.power.controller
    if controller is None:
        if job.plan.spot is not None:
            yield this.finding(
                job,
                measured=None,
                band=TO_SAY,
                sentence="Say where the controller hangs: its sensor rules the night.",
            )
        return
    at = (controller.x_mm, controller.y_mm, controller.z_mm)
    high, near = limit_band(job, "controller_z_mm"), limit_band(job, "controller_reach_mm")
    if high is not None:
        yield this.finding(
            job,
            subject="height",
            subject_name="controller",
            measured=controller.z_mm,
            band=high,
            title="Height of the controller",
            sentence=f"The controller hangs {q(controller.z_mm)} above the load floor.",
            marks=(Mark((at[0], at[1], 0.0), at),),
        )
    reach = _reach_mm(job, at)
    if near is not None and reach is not None:
        yield this.finding(
            job,
            subject="reach",
            subject_name="controller",
            measured=reach,
            band=near,
            title="Controller from bed or door",
            sentence=f"From the bed or a door it is {q(round(reach))} to the controller.",
            marks=(Mark(at, at),),
        )


@rule("power.controller_dry", "Controller dry and in the shade", "yes-no")
def controller_dry(job: Job, this: Rule) -> Iterator[Finding]:
    """Steam gets into it; the sun makes its sensor lie."""
    controller = job.plan.power.controller
    if controller is None:
        return
    at = (controller.x_mm, controller.y_mm, controller.z_mm)
    outside = not is_inside(job, at)
    wrong = [
        words
        for words, holds in (
            ("outside", outside),
            ("in the damp", controller.damp),
            ("in the sun", controller.sun),
        )
        if holds
    ]
    yield this.yes_no(
        job,
        answer=bool(wrong),
        wanted=False,
        left_to_taste=not controller.damp and not outside,
        source="workshop rule 56: dry and in the shade",
        sentence=f"The controller hangs {' and '.join(wrong) or 'dry and in the shade'}.",
    )


@rule("power.sensor", "Sensor that rules", "yes-no")
def sensor_known(job: Job, this: Rule) -> Iterator[Finding]:
    """It is one that the heater has, and its place is known."""
    controller, sheet = job.plan.power.controller, heater_sheet(job)
    if controller is None or sheet is None:
        return
    if sensor_place(job) is None:
        yield this.finding(
            job,
            measured=None,
            band=TO_SAY,
            sentence="Say where the sensor on its own lead hangs.",
        )
        return
    words = {
        "controller": "by the sensor in the controller",
        "heater": "by the sensor at its own inlet",
        "lead": "by a sensor on a lead of its own",
    }
    yield this.yes_no(
        job,
        answer=controller.sensor in sheet.wiring.sensors,
        wanted=True,
        whose=Whose.SHEET,
        source=sheet.source,
        sentence=f"The heater regulates {words[controller.sensor]}.",
    )


@rule("power.bias", "What the sensor reads", "K")
def sensor_true(job: Job, this: Rule) -> Iterator[Finding]:
    """In an outlet's air it reads too warm and the van stays cold; on a cold wall too cold."""
    found, band = sensor_bias(job), limit_band(job, "sensor_bias_k")
    place = sensor_place(job)
    if found is None or band is None or place is None:
        return
    why = f": {', '.join(found.reasons)}" if found.reasons else ""
    colder = "colder" if found.kelvin > 0 else "warmer"
    room = ""
    if found.reasons:
        heat = job.plan.heat
        most_k = heat.inside_c - heat.outside_c
        room = (
            f" The room is kept {abs(found.kelvin):.1f} K {colder} than it is set to, and a night "
            f"takes {abs(found.night_percent):.0f} % {'less' if found.kelvin > 0 else 'more'}."
        )
        if found.kelvin > most_k / 2:
            room = " The heater is throttled long before the room is warm."
    yield this.finding(
        job,
        measured=round(found.kelvin, 3),
        band=band,
        tolerance=0.5,
        sentence=f"The sensor reads {found.kelvin:+.1f} K against the room's air{why}.{room}",
        marks=(Mark(place, place),),
    )


@rule("power.co_alarm", "CO alarm", "yes-no", hazard="fumes", asks_for=True)
def has_co_alarm(job: Job, this: Rule) -> Iterator[Finding]:
    """Required wherever somebody sleeps beside a burner."""
    if job.plan.spot is None:
        return
    count = sum(alarm.kind == "co" for alarm in job.plan.power.alarms)
    yield this.yes_no(
        job,
        answer=count > 0,
        wanted=True,
        source="workshop rule 57: no burner without a CO alarm",
        sentence=f"{count} CO alarm{'s' if count != 1 else ''} in the plan."
        if count
        else "There is no CO alarm in the plan: it is required.",
    )


@rule("power.alarm_place", "Place of the CO alarm", "mm", hazard="fumes")
def alarm_in_place(job: Job, this: Rule) -> Iterator[Finding]:
    """Near the sleeper and as high as the head, away from fresh air; the alarm's own manual comes
    first.
    """
    for alarm in job.plan.power.alarms:
        if alarm.kind == "co":
            at = (alarm.x_mm, alarm.y_mm, alarm.z_mm)
            for gap in _alarm_gaps(job, at):
                yield _alarm_finding(job, this, alarm, gap)
            yield _not_shut_in(job, this, alarm, at)


class AlarmGap(NamedTuple):
    """A distance of an alarm that has a limit."""

    subject: str
    limit: str
    measured_mm: float
    title: str
    sentence: str


def _alarm_gaps(job: Job, at: Vec3) -> Iterator[AlarmGap]:
    away = _to_bed_mm(job, at)
    if away is not None:
        words = f"{q(round(away))} between the CO alarm and the bed."
        yield AlarmGap("sleeper", "alarm_sleeper_mm", away, "CO alarm from the sleeper", words)
        over = at[2] - min(shape.bounds[5] for shape in bed_shapes(job))
        words = f"The CO alarm hangs {q(round(over))} over the bed's top."
        if over < 0:
            words = f"The CO alarm hangs {q(round(-over))} under the bed's top."
        yield AlarmGap("head", "alarm_head_mm", over, "CO alarm as high as the head", words)
    opening = _nearest_opening(job, at)
    if opening is not None:
        name, gap = opening
        words = f"{q(round(gap))} between the CO alarm and {name}."
        yield AlarmGap("opening", "alarm_opening_mm", gap, f"CO alarm to {name}", words)
    under = job.plan.vehicle.shell.inside_height_mm - at[2]
    words = f"The CO alarm hangs {q(round(under))} under the roof."
    yield AlarmGap("roof", "alarm_roof_mm", under, "CO alarm under the roof", words)


def _alarm_finding(job: Job, this: Rule, alarm: Alarm, gap: AlarmGap) -> Finding:
    at = (alarm.x_mm, alarm.y_mm, alarm.z_mm)
    return this.finding(
        job,
        subject=f"{alarm.id}:{gap.subject}",
        subject_name="CO alarm",
        measured=gap.measured_mm,
        band=limit_band(job, gap.limit) or TO_SAY,
        title=gap.title,
        sentence=gap.sentence,
        marks=(Mark(at, at),),
    )


def _not_shut_in(job: Job, this: Rule, alarm: Alarm, at: Vec3) -> Finding:
    within = shut_in_by(job, at)
    outside = not is_inside(job, at)
    words = "The CO alarm hangs in the room's own air."
    if outside:
        words = "The CO alarm hangs outside the room."
    elif within or alarm.shut_in:
        words = f"The CO alarm is shut in by {within or 'something'}: gas reaches it late."
    return this.yes_no(
        job,
        subject=f"{alarm.id}:room",
        subject_name="CO alarm",
        answer=alarm.shut_in or outside or bool(within),
        wanted=False,
        source="workshop rule 57: in the room's own air",
        title="CO alarm in the room's air",
        sentence=words,
        marks=(Mark(at, at),),
    )


@rule("power.smoke_alarm", "Smoke alarm", "yes-no")
def has_smoke_alarm(job: Job, this: Rule) -> Iterator[Finding]:
    """A smoke alarm beside it."""
    if job.plan.spot is None:
        return
    there = any(alarm.kind == "smoke" for alarm in job.plan.power.alarms)
    yield this.yes_no(
        job,
        answer=there,
        wanted=True,
        left_to_taste=True,
        source="workshop rule 57",
        sentence="A smoke alarm is in the plan." if there else "Put a smoke alarm beside it.",
    )


def _reach_mm(job: Job, at: Vec3) -> float | None:
    """How far a place is from the nearest bed or door; None where there is neither."""
    bed = _to_bed_mm(job, at)
    doors = (o for o in job.plan.vehicle.openings if o.kind == "door")
    away = [_away_mm(job, door, at) for door in doors]
    return min([*away, *([bed] if bed is not None else [])], default=None)


def _to_bed_mm(job: Job, at: Vec3) -> float | None:
    """How far a place is from the nearest bed; None where none was surveyed."""
    point = box_shape(at, (1.0, 1.0, 1.0))
    away = (max(separation(point, bed).distance_mm, 0.0) for bed in bed_shapes(job))
    return min(away, default=None)


def _nearest_opening(job: Job, at: Vec3) -> tuple[str, float] | None:
    """The nearest window, door or vent that opens, with how far it is."""
    results = [
        (opening.name, _away_mm(job, opening, at))
        for opening in job.plan.vehicle.openings
        if opening.opens
    ]
    return min(results, key=lambda pair: pair[1], default=None)


def _away_mm(job: Job, opening: Opening, at: Vec3) -> float:
    return math.dist(at, nearest_in_box(at, *as_seen_inside(job, opening)))
