"""Checks of the heater station: enough for the design night, low enough for the mild one."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.derived import Derived
from gale_nook.core.edits.commands import ChooseHeater
from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.registry import Remedy, Rule, remedy_for, rule
from gale_nook.core.heat.night import warm_up_s
from gale_nook.core.heat.room import Room
from gale_nook.core.heat.season import idle_share
from gale_nook.core.heater.choice import derated_w, judge_heaters
from gale_nook.core.quantities.said import q, say

LOOK_ON = 2.0  # times the asked-for time that a slow heater is followed


@rule("heater.chosen", "A heater", "W")
def chosen(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Without a heater there is no sheet to check against."""
    if derived.sheet is None:
        yield this.finding(
            derived,
            measured=None,
            band=Band(derived.loss.need_w, None, Whose.NEED),
            sentence=f"No heater is chosen yet; the need is {q(derived.loss.need_w, 'w')}.",
        )


@rule("heater.output", "Most output against the need", "W")
def strong_enough(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Derated for altitude, the heater covers the design loss with its margin."""
    if derived.sheet is None:
        return
    most, need = derated_w(derived.sheet.output, derived.plan.heat.altitude_m), derived.loss.need_w
    yield this.finding(
        derived,
        subject=derived.sheet.id,
        subject_name=derived.sheet.label,
        measured=most,
        tolerance=0.03 * need,
        band=Band(need, None, Whose.NEED, source="design loss with its margin"),
        sentence=f"{derived.sheet.label} gives {q(most, 'w')} at "
        f"{q(derived.plan.heat.altitude_m, 'm')}; "
        f"the need is {q(need, 'w')}.",
    )


@rule("heater.minimum", "Least output against a mild night", "W")
def clean_enough(derived: Derived, this: Rule) -> Iterator[Finding]:
    """A heater that cannot go low enough cycles and soots up through the mild part
    of the season.
    """
    if derived.sheet is None:
        return
    least, mild = derived.sheet.output.minimum_w, derived.mild_loss.design_loss_w
    outside = q(derived.plan.heat.mild_outside_c, "c")
    yield this.finding(
        derived,
        subject=derived.sheet.id,
        subject_name=derived.sheet.label,
        measured=least,
        tolerance=0.05 * mild,
        band=Band(None, mild, Whose.NEED, source="loss on the mild night"),
        sentence=(
            f"It can go down to {q(least, 'w')}; a mild night of {outside} needs {q(mild, 'w')}."
        ),
    )


@rule("heater.warm_up", "Warm from cold", "min")
def quick_enough(derived: Derived, this: Rule) -> Iterator[Finding]:
    """From cold to the inside temperature on the coldest night, within the time
    that is asked for.
    """
    sheet, heat = derived.sheet, derived.plan.heat
    if sheet is None or heat.warm_up_h is None:
        return
    within_min = heat.warm_up_h * 60
    most = derated_w(sheet.output, heat.altitude_m)
    taken_s = warm_up_s(
        Room(derived.plan, derived.catalogue),
        heat.inside_c,
        sheet,
        most,
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
        derived,
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
def seldom_idle(derived: Derived, this: Rule) -> Iterator[Finding]:
    """The hours of the milder half of the season in which the heater would cycle for want of a
    load.
    """
    sheet = derived.sheet
    idle = (
        idle_share(derived.plan, derived.loss_model, sheet.output.minimum_w)
        if sheet is not None
        else None
    )
    if sheet is None or idle is None:
        return
    share, most = 100 * idle, derived.plan.heat.idle_percent
    yield this.finding(
        derived,
        subject=sheet.id,
        subject_name=sheet.label,
        measured=share,
        tolerance=0.05 * most,
        band=Band(None, most, Whose.OWN, source="share that is allowed"),
        sentence=f"In {q(share, 'percent')} of the milder half of the season the loss lies under "
        "its least output of "
        f"{q(sheet.output.minimum_w, 'w')}: it would cycle and soot.",
    )


@remedy_for("heater.chosen")
@remedy_for("heater.output")
@remedy_for("heater.minimum")
@remedy_for("heater.warm_up")
@remedy_for("heater.idle")
def the_fitting_one(derived: Derived, _finding: Finding) -> Iterator[Remedy]:
    """Other heaters of the catalogue, the recommended first."""
    for judged in judge_heaters(derived.plan, derived.catalogue):
        if judged.sheet.id != derived.plan.heater.sheet and judged.meets_need:
            yield Remedy(
                f"Take the {judged.sheet.label} instead."
                if derived.sheet
                else f"Take the {judged.sheet.label}.",
                ChooseHeater(sheet=judged.sheet.id, reason=say(judged.verdict)[:2000]),
            )
