"""Checks of the heater station: enough for the design night, low enough for the mild one."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.fitted.installed import Installed, installed, room_with
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.cab import cab_loss_w_k
from gale_nook.core.heat.loss import design_loss, loss_model, mild_night_loss
from gale_nook.core.heat.night import warm_up_s
from gale_nook.core.heat.season import idle_share
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.heater.units import others_w
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q, say

LOOK_ON = 2.0  # times the asked-for time that a slow heater is followed


@rule("heater.chosen", "A heater", "W")
def chosen(job: Job, this: Rule) -> Iterator[Finding]:
    """Without a heater there is no sheet to check against."""
    if heater_sheet(job) is None:
        yield this.finding(
            job,
            measured=None,
            band=Band(design_loss(job).need_w, None, Whose.NEED),
            sentence=f"No heater is chosen yet; the need is {q(design_loss(job).need_w, 'w')}.",
        )


@rule("heater.output", "Most output against the need", "W")
def strong_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """Derated for altitude, the heater covers the design loss with its margin."""
    sheet = heater_sheet(job)
    if sheet is None:
        return
    heater, need, others = installed(job, sheet), design_loss(job).need_w, others_w(job)
    most = heater.most_w + others
    with_others = f", {q(most, 'w')} with the other heaters of the room" if others else ""
    yield this.finding(
        job,
        subject=sheet.id,
        subject_name=sheet.label,
        measured=most,
        tolerance=0.03 * need,
        band=Band(need, None, Whose.NEED, source="design loss with its margin"),
        sentence=f"{sheet.label} gives {q(heater.most_w, 'w')} at "
        f"{q(job.plan.heat.altitude_m, 'm')}{_through(job, heater)}{with_others}; "
        f"the need is {q(need, 'w')}.",
    )


def _through(job: Job, heater: Installed) -> str:
    """That it is the ducting which holds it back, where that is so."""
    derated = derated_w(heater.sheet.output, job.plan.heat.altitude_m)
    return " through its ducts" if heater.most_w < derated - 1.0 else ""


@rule("heater.minimum", "Least output against a mild night", "W")
def clean_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """A heater that cannot go low enough cycles and soots up through the mild part
    of the season.
    """
    sheet = heater_sheet(job)
    if sheet is None:
        return
    least, mild = sheet.output.minimum_w, mild_night_loss(job).design_loss_w
    outside = q(job.plan.heat.mild_outside_c, "c")
    yield this.finding(
        job,
        subject=sheet.id,
        subject_name=sheet.label,
        measured=least,
        tolerance=0.05 * mild,
        band=Band(None, mild, Whose.NEED, source="loss on the mild night"),
        sentence=(
            f"It can go down to {q(least, 'w')}; a mild night of {outside} needs {q(mild, 'w')}."
        ),
    )


@rule("heater.warm_up", "Warm from cold", "min")
def quick_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """From cold to the inside temperature on the coldest night, within the time
    that is asked for.
    """
    sheet, heat = heater_sheet(job), job.plan.heat
    if sheet is None or heat.warm_up_h is None:
        return
    within_min = heat.warm_up_h * 60
    heater = installed(job, sheet)
    taken_s = warm_up_s(
        room_with(job, heater).fresh(heat.outside_c),  # whatever the night begins with
        heat.inside_c,
        sheet,
        heater.most_w,
        LOOK_ON * heat.warm_up_h * 3600,
    )
    # one that is not warm by then is shown with the time that was looked at
    taken_min = taken_s / 60 if taken_s is not None else LOOK_ON * within_min
    after = (
        f"after {q(taken_min, 'min')}"
        if taken_s is not None
        else f"not even after {q(taken_min, 'min')}"
    )
    yield this.finding(
        job,
        subject=sheet.id,
        subject_name=sheet.label,
        measured=taken_min,
        tolerance=0.05 * within_min,
        band=Band(None, within_min, Whose.OWN, source="time that is asked for"),
        sentence=(
            f"Switched on at {q(heat.outside_c, 'c')} inside and out, it is warm {after}; "
            f"{q(within_min, 'min')} are asked for."
        ),
    )


@rule("heater.idle", "Idling in the milder half of the season", "%")
def seldom_idle(job: Job, this: Rule) -> Iterator[Finding]:
    """The hours of the milder half of the season in which the heater would cycle for want of a
    load.
    """
    sheet = heater_sheet(job)
    idle = (
        idle_share(job.plan, loss_model(job), sheet.output.minimum_w) if sheet is not None else None
    )
    if sheet is None or idle is None:
        return
    share, most = 100 * idle, job.plan.heat.idle_percent
    yield this.finding(
        job,
        subject=sheet.id,
        subject_name=sheet.label,
        measured=share,
        tolerance=0.05 * most,
        band=Band(None, most, Whose.OWN, source="share that is allowed"),
        sentence=f"In {q(share, 'percent')} of the milder half of the season the loss lies under "
        "its least output of "
        f"{q(sheet.output.minimum_w, 'w')}: it would cycle and soot.",
    )


@rule("heater.cab_unit", "The cab's own heater", "W")
def cab_warm(job: Job, this: Rule) -> Iterator[Finding]:
    """A heater for the cab covers what the cab loses on the coldest night."""
    units = [unit for unit in job.plan.heater.others if unit.heats == "cab"]
    if not units:
        return
    heat, given = job.plan.heat, sum(unit.most_w for unit in units)
    need = cab_loss_w_k(job.plan, job.catalogue) * max(heat.inside_c - heat.outside_c, 0.0)
    yield this.finding(
        job,
        subject=units[0].id,
        subject_name=units[0].name,
        measured=given,
        tolerance=0.03 * need,
        band=Band(need, None, Whose.NEED, source="what the cab loses on the coldest night"),
        sentence=f"{' and '.join(unit.name for unit in units)} give {q(given, 'w')}; the cab loses "
        f"{q(need, 'w')} at {q(heat.outside_c, 'c')}.",
    )


@remedy_for("heater.chosen")
@remedy_for("heater.output")
@remedy_for("heater.minimum")
@remedy_for("heater.warm_up")
@remedy_for("heater.idle")
def the_fitting_one(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Other heaters of the catalogue, the recommended first."""
    for judged in judgements(job):
        if judged.sheet.id != job.plan.heater.sheet and judged.meets_need:
            yield Remedy(
                f"Take the {judged.sheet.label} instead."
                if heater_sheet(job)
                else f"Take the {judged.sheet.label}.",
                ChooseHeater(sheet=judged.sheet.id, reason=say(judged.verdict)[:2000]),
            )
