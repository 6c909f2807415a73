"""Checks of a take-off that two users share, and of what a take-off is made for."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Remedy, Rule, remedy_for, rule
from gale_nook.core.fuel.hydraulics import has_second
from gale_nook.core.fuel.items import AddLinePart
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.second import together
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.quantities.sentences import q

CHECKED = "workshop rule 74: a user that stands must not give its line's fuel to the other"
CHECK_AT_MM = 120.0


@rule("fuel.take_off_flow", "What a take-off is made for", "l/h", run="fuel")
def take_off_bears(job: Job, this: Rule) -> Iterator[Finding]:
    """All that is drawn through it at once, against what its kind allows."""
    fuel, sheet, run = job.plan.fuel, heater_sheet(job), fuel_run(job)
    kind = job.catalogue.fuel_equipment.take_off(fuel.take_off)
    if run is None or sheet is None or fuel.source not in {"take-off", "tee-auxiliary"}:
        return
    other = fuel.second.use_l_h if has_second(job) else 0.0
    drawn = sheet.output.fuel_l_h_maximum + other
    if kind is None:
        if not has_second(job):
            return  # one heater alone draws less than any of them gives
        yield this.finding(
            job,
            measured=None,
            band=Band(drawn, None, Whose.WORKSHOP, source="what both draw together"),
            sentence="Say which kind of take-off it is: two users draw through it.",
        )
        return
    words = f"{drawn:.2f} l/h are drawn through it at the most"
    if other:
        words += f", {other:.2f} l/h of them by {fuel.second.name}"
    at = run.supply.start
    yield this.finding(
        job,
        measured=round(drawn, 3),
        band=Band(None, kind.most_l_h, Whose.WORKSHOP, kind.id, kind.source),
        tolerance=0.05 * kind.most_l_h,
        title=f"{kind.label}: what it gives",
        sentence=f"{words}; {kind.label} gives {kind.most_l_h:g} l/h.",
        marks=(Mark(at, at),),
    )


@rule("fuel.second_suction", "Under-pressure at the other user's pump", "Pa", run="fuel")
def other_starves(job: Job, this: Rule) -> Iterator[Finding]:
    """With both running, the tank down to the pick-up, on the coldest night."""
    found, band = together(job), limit_band(job, "fuel_suction_pa")
    if found is None or band is None:
        return
    second = job.plan.fuel.second
    first = second.name if found.theirs_pa > found.ours_pa else "this heater"
    at = fuel_run(job)
    yield this.finding(
        job,
        measured=found.theirs_pa,
        band=band,
        sentence=(
            f"{found.theirs_pa:.0f} Pa under the air's pressure at the pump of {second.name}, "
            f"{found.ours_pa:.0f} Pa at this heater's, with both running: {first} runs short first."
        ),
        marks=(Mark(at.supply.start, at.supply.start),) if at is not None else (),
    )


@rule("fuel.second_check", "Check valves behind a shared tee", YES_NO, run="fuel")
def kept_apart(job: Job, this: Rule) -> Iterator[Finding]:
    """Each user's branch needs one: the pump that runs would draw the other's line empty, and air
    with it.
    """
    run = fuel_run(job)
    if run is None or not has_second(job):
        return
    before = run.suction_mm
    own = any(part.at_mm <= before for part in run.line.of_kind("check"))
    for subject, name, there in (
        ("own", "this heater", own),
        ("other", job.plan.fuel.second.name, job.plan.fuel.second.check_valve),
    ):
        words = "There is a check valve" if there else "There is no check valve"
        yield this.yes_no(
            job,
            subject=subject,
            subject_name=name,
            answer=there,
            wanted=True,
            source=CHECKED,
            title=f"Check valve in the branch to {name}",
            sentence=f"{words} between the tee and the pump of {name}.",
            marks=(Mark(run.supply.start, run.supply.start),),
        )


@remedy_for("fuel.second_check")
def put_check_valve(job: Job, finding: Finding) -> Iterator[Remedy]:
    """One right behind the tee."""
    run = fuel_run(job)
    if run is None:
        return
    if finding.subject == "other":
        yield Remedy(
            f"Put a check valve into the branch to {job.plan.fuel.second.name}.",
            set_value("fuel.second.check_valve", True),
        )
        return
    at = min(CHECK_AT_MM, run.suction_mm / 2)
    part = LinePart(id=fresh_id(run.line.parts, "check"), kind="check", at_mm=round(at))
    yield Remedy(f"Put a check valve in, {q(at)} behind the tee.", AddLinePart(item=part))


@remedy_for("fuel.second_suction")
@remedy_for("fuel.take_off_flow")
def wider_before(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A wider hose before the tee; another take-off."""
    works, fuel = job.catalogue.fuel_equipment, job.plan.fuel
    if finding.rule == "fuel.second_suction":
        for bore in works.bores_mm:
            if bore > fuel.second.shared_bore_mm:
                yield Remedy(
                    f"Take hose of {bore:g} mm up to the tee.",
                    set_value("fuel.second.shared_bore_mm", bore),
                )
        return
    for kind in works.take_offs:
        if kind.most_l_h >= (finding.measured or 0.0):
            yield Remedy(f"Fit {kind.label}.", set_value("fuel.take_off", kind.id))
