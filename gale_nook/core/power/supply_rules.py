"""Checks of the supply: voltage at the heater, drop, cable, fuse, feed and return."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import least_of, limit_band
from gale_nook.core.job import Job
from gale_nook.core.power.choice import (
    MARGIN_V,
    carries_a,
    most_current_a,
    thinnest_mm2,
)
from gale_nook.core.power.leads import lead_run
from gale_nook.core.power.supply import STATE_WORDS, State, ladder_drop_v, ladders, supply

COLLAPSES = "The battery cannot give what the heater asks for: the voltage collapses."
UNKNOWN = Band(None, None, Whose.GEOMETRY, source="the plan")


@rule("power.supply", "A supply for the heater", "V")
def supplied(job: Job, this: Rule) -> Iterator[Finding]:
    """Without heater, battery and cable there is nothing to compute."""
    power = job.plan.power
    sentence = ""
    if heater_sheet(job) is None or job.plan.spot is None:
        sentence = "The cable ends at the heater: choose one and a spot first."
    elif power.battery is None:
        sentence = "Say which battery feeds the heater, and where it stands."
    elif lead_run(job, "supply") is None:
        sentence = "Lay the supply cable from the battery to the heater."
    if sentence:
        yield this.finding(job, measured=None, band=UNKNOWN, sentence=sentence)


@rule("power.nominal", "Voltage of battery and heater", "V", hazard="fire")
def same_nominal(job: Job, this: Rule) -> Iterator[Finding]:
    """A heater of 12 V on 24 V burns; one of 24 V on 12 V never starts."""
    sheet, battery = heater_sheet(job), job.plan.power.battery
    if sheet is None or battery is None:
        return
    volts = sheet.electrical.voltage_v
    same = abs(volts - battery.nominal_v) < 1
    yield this.yes_no(
        job,
        answer=same,
        wanted=True,
        whose=Whose.SHEET,
        source=sheet.source,
        sentence=f"The heater is made for {volts:g} V, the battery has {battery.nominal_v} V.",
    )


def _at_glow(job: Job, this: Rule, state: State) -> Iterator[Finding]:
    sheet, found = heater_sheet(job), ladders(job).get(state)
    if sheet is None or found is None:
        return
    cut_out = sheet.electrical.cut_out_v
    margin = least_of(job, "cut_out_margin_v", MARGIN_V)
    band = Band(cut_out + margin, None, Whose.SHEET, "cut_out_margin_v", sheet.source)
    when = STATE_WORDS[state]
    words = (
        f"{found.heater_v:.2f} V at the heater {when}, with {found.current_a:.1f} A; "
        f"it gives up at {cut_out:g} V, and {margin:g} V are kept over that."
    )
    if found.collapses:
        words = COLLAPSES
    battery = job.plan.power.battery
    at = (battery.x_mm, battery.y_mm, battery.z_mm) if battery is not None else (0.0, 0.0, 0.0)
    yield this.finding(
        job,
        measured=round(found.heater_v, 4),
        band=band,
        tolerance=0.1,
        sentence=words,
        marks=(Mark(at, at),),
    )


@rule("power.glow", "Voltage at glow", "V")
def starts(job: Job, this: Rule) -> Iterator[Finding]:
    """While the plug glows the voltage sags the most: under the cut-out the heater gives up."""
    yield from _at_glow(job, this, "glow")


@rule("power.second_glow", "Voltage at the second glow", "V")
def burns_clean(job: Job, this: Rule) -> Iterator[Finding]:
    """In the morning the battery is lower, and the plug glows once more to burn itself clean."""
    sheet = heater_sheet(job)
    if sheet is not None and sheet.electrical.second_glow_s > 0:
        yield from _at_glow(job, this, "stop")


@rule("power.drop", "Drop while running", "%")
def drop_small(job: Job, this: Rule) -> Iterator[Finding]:
    """What is lost on the way warms cable and plugs, all night."""
    sheet, found, circuit = heater_sheet(job), ladders(job).get("run"), supply(job)
    band = limit_band(job, "run_drop_percent")
    if sheet is None or found is None or circuit is None or band is None:
        return
    drop = ladder_drop_v(found)
    percent = 100 * drop / sheet.electrical.voltage_v
    words = (
        f"{drop:.2f} V of {sheet.electrical.voltage_v:g} V are lost between battery and heater at "
        f"{found.current_a:.1f} A, {percent:.1f} %."
    )
    if found.collapses:  # all of it is lost
        percent, words = 100.0, COLLAPSES
    yield this.finding(
        job,
        measured=round(percent, 4),
        band=band,
        tolerance=0.3,
        sentence=words,
    )


@rule("power.cable_fuse", "Fuse against the cable", "A", hazard="fire")
def cable_protected(job: Job, this: Rule) -> Iterator[Finding]:
    """A fuse melts before the thinnest conductor after it gets too hot."""
    run = lead_run(job, "supply")
    if run is None:
        return
    conductors = [("cable", "the supply cable", run.lead.area_mm2)]
    if run.kit is not None:
        conductors.append(("tail", "the heater's own lead", run.kit.area_mm2))
    for fuse in run.lead.of_kind("fuse"):
        for subject, name, area in conductors:
            carries = carries_a(job, area)
            thin = subject == "tail" and thinnest_mm2(run) < run.lead.area_mm2
            tail = " A heavy cable that ends in a thin tail is fused for the tail." if thin else ""
            yield this.finding(
                job,
                subject=f"{fuse.id}:{subject}",
                subject_name=name,
                measured=fuse.rating_a,
                band=Band(None, round(carries, 3), Whose.WORKSHOP, source="ampacity where it lies"),
                tolerance=0.0,
                title=f"Fuse against {name}",
                sentence=f"A fuse of {fuse.rating_a:g} A protects {name} of {area:g} mm², which "
                f"carries {carries:.0f} A where it lies.{tail}",
            )


@rule("power.fuse_load", "Fuse against the heater", "A")
def fuse_holds(job: Job, this: Rule) -> Iterator[Finding]:
    """A fuse that is smaller than the start melts on a cold morning."""
    run, sheet, most = lead_run(job, "supply"), heater_sheet(job), most_current_a(job)
    if run is None or sheet is None:
        return
    for fuse in run.lead.of_kind("fuse"):
        yield this.finding(
            job,
            subject=fuse.id,
            subject_name="fuse",
            measured=fuse.rating_a,
            band=Band(most, None, Whose.SHEET, source=sheet.source),
            tolerance=0.0,
            sentence=f"A fuse of {fuse.rating_a:g} A for a start of {most:g} A.",
        )


@rule("power.fuse_place", "Fuse at the battery", "mm", hazard="fire")
def fuse_near(job: Job, this: Rule) -> Iterator[Finding]:
    """Nothing protects the cable before its fuse."""
    run, band = lead_run(job, "supply"), limit_band(job, "fuse_battery_mm")
    if run is None or band is None:
        return
    for fuse in run.lead.of_kind("fuse")[:1]:
        at = run.geometry.point_at(min(fuse.at_mm, run.drawn_mm))
        yield this.finding(
            job,
            subject=fuse.id,
            subject_name="fuse",
            measured=fuse.at_mm,
            band=band,
            sentence=f"The fuse sits {fuse.at_mm:.0f} mm along the cable from the battery.",
            marks=(Mark(run.geometry.points[0], at),),
        )


@rule("power.fuses", "One fuse in the line", "count", hazard="fire")
def one_fuse(job: Job, this: Rule) -> Iterator[Finding]:
    """Without a fuse a chafed cable burns; of two in a line nobody finds the second one."""
    run = lead_run(job, "supply")
    if run is None:
        return
    count = len(run.lead.of_kind("fuse"))
    words = {0: "There is no fuse in the supply.", 1: "One fuse in the supply."}
    yield this.finding(
        job,
        measured=float(count),
        band=Band(1, 1, Whose.WORKSHOP, source="workshop rule 50: one fuse, at the battery"),
        tolerance=0.0,
        sentence=words.get(count, f"{count} fuses stand in one line, one behind the other."),
    )


@rule("power.switched", "Fed until the fan has stopped", "yes-no", hazard="fire")
def fed_in_after_run(job: Job, this: Rule) -> Iterator[Finding]:
    """A feed that is cut while the fan still cools the chamber cooks the control board."""
    power = job.plan.power
    feed = job.catalogue.power_equipment.feed(power.feed)
    if power.battery is None:
        return
    sheet = heater_sheet(job)
    seconds = sheet.electrical.after_run_s if sheet is not None else 0.0
    yield this.yes_no(
        job,
        answer=feed.is_switched,
        wanted=False,
        source=feed.source,
        left_to_taste=power.switch == "with-care",
        sentence=f"Fed at {feed.label}. {feed.after_run} It runs on for {seconds:.0f} s.",
    )


@rule("power.old_wires", "Wires of an older appliance", "yes-no", hazard="fire")
def old_wires(job: Job, this: Rule) -> Iterator[Finding]:
    """What was laid for something else is looked at before it carries a heater's start."""
    power = job.plan.power
    if power.feed == "old-wires":
        feed = job.catalogue.power_equipment.feed(power.feed)
        yield this.yes_no(
            job,
            answer=power.old_wires_checked,
            wanted=True,
            source=feed.source,
            sentence=f"{feed.risks} {feed.needs}",
        )


@rule("power.return", "Cable back to the battery", "yes-no")
def return_by_cable(job: Job, this: Rule) -> Iterator[Finding]:
    """The body's joints rust: the current comes back by a cable of its own, unless there is a
    reason.
    """
    power = job.plan.power
    if power.battery is None:
        return
    reason = power.body_return_reason.strip()
    told = f" Reason: {reason}" if power.body_return and reason else ""
    words = (
        "The current comes back through the vehicle's body."
        if power.body_return
        else ("The current comes back by a cable of its own.")
    )
    yield this.yes_no(
        job,
        answer=power.body_return,
        wanted=False,
        source="workshop rule 50: a joint of the body rusts, and the voltage goes with it",
        left_to_taste=bool(reason),
        sentence=f"{words}{told}",
    )
