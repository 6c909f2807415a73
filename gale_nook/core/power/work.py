"""What the electrics bring to the work: parts, lengths to cut, steps, and the wiring table."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import Pin
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.power.leads import LeadRun, lead_run, lead_runs
from gale_nook.core.quantities.sentences import q
from gale_nook.core.saws import saw_for
from gale_nook.core.station import CutLine, HoleLine, Step, over_floor_mm


@dataclass(frozen=True, slots=True)
class WireRow:
    """A row of the wiring table: a pin, and what is done with its wire."""

    plug: str
    pin: int
    colour: str
    function: str
    done: str


def wiring_table(job: Job) -> tuple[WireRow, ...]:
    """Return every pin of the heater's plugs with what is cut, lengthened and crimped."""
    sheet = heater_sheet(job)
    pins = sheet.wiring.pins if sheet is not None else ()
    return tuple(
        WireRow(pin.plug, pin.pin, pin.colour, pin.function, _done(job, pin)) for pin in pins
    )


def _done(job: Job, pin: Pin) -> str:
    run = lead_run(job, pin.lead)
    if run is None:
        return "not laid yet"
    if pin.lead == "supply":
        return f"crimped to {run.lead.area_mm2:g} mm²"
    if run.missing_mm <= 0:
        return "as it comes, spare looped"
    if not run.lead.of_kind("joint"):
        return f"too short by {q(round(run.missing_mm))}"
    area = run.kit.area_mm2 if run.kit is not None else run.lead.area_mm2
    return f"cut, lengthened by {q(round(run.missing_mm))} of {area:g} mm², crimped"


def cable_part(area_mm2: float) -> str:
    """Return the id of a cable in the parts list."""
    return f"cable-{area_mm2:g}".replace(".", "-")


def power_parts(job: Job) -> dict[str, float]:
    """Return what the electrics need."""
    results: dict[str, float] = {}
    for run in lead_runs(job):
        if run.lead.id == "supply":
            part = cable_part(run.lead.area_mm2)
            conductors = 1 if job.plan.power.body_return else 2
            if part in job.catalogue.parts:
                results[part] = math.ceil(conductors * _own_mm(run))
            results["ring-terminal"] = 4
        elif run.missing_mm > 0:
            results["lead-extension"] = results.get("lead-extension", 0) + math.ceil(run.missing_mm)
        if sleeved := _sleeved_mm(run):
            results["cable-sleeve"] = results.get("cable-sleeve", 0) + math.ceil(sleeved)
        for kind, part in PARTS.items():
            count = len(run.lead.of_kind(kind))  # type: ignore[arg-type]
            if count:
                results[part] = results.get(part, 0) + count
    alarms = job.plan.power.alarms
    for kind, part in (("co", "co-alarm"), ("smoke", "smoke-alarm")):
        count = sum(alarm.kind == kind for alarm in alarms)
        if count and part != "co-alarm":
            results[part] = count
    return results


PARTS = {
    "fuse": "inline-fuse",
    "clip": "cable-clip",
    "joint": "crimp-joint",
    "hole": "cable-grommet",
}


def _sleeved_mm(run: LeadRun) -> float:
    return sum(sleeve.length_mm for sleeve in run.lead.of_kind("guard"))


def _own_mm(run: LeadRun) -> float:
    """Of the supply, what does not come with the heater, one way."""
    return max(run.length_mm - (run.kit.length_mm if run.kit is not None else 0.0), 0.0)


def power_holes(job: Job) -> Iterator[HoleLine]:
    """Yield the holes for leads; their plugs' size is in their diameter."""
    for run in lead_runs(job):
        for hole in run.lead.of_kind("hole"):
            x, y, z = run.geometry.point_at(min(hole.at_mm, run.geometry.length_mm))
            yield HoleLine(
                f"hole of the {run.name}",
                x,
                y,
                hole.diameter_mm,
                saw_for(hole.diameter_mm),
                over_floor_mm(z),
                run.geometry.direction_at(min(hole.at_mm, run.geometry.length_mm)),
            )


LEADS = "lay-leads"


def power_cuts(job: Job) -> Iterator[CutLine]:
    """Yield the lengths to cut."""
    run = lead_run(job, "supply")
    if run is not None:
        area = f"{run.lead.area_mm2:g} mm²"
        yield CutLine(
            f"supply cable, feed, {area}", _own_mm(run), "red, from the fuse", "supply-feed", LEADS
        )
        if not job.plan.power.body_return:
            yield CutLine(
                f"supply cable, return, {area}",
                _own_mm(run),
                "black, to the battery",
                "supply-return",
                LEADS,
            )
    for each in lead_runs(job):
        for sleeve in each.lead.of_kind("guard"):
            place = f"{q(round(sleeve.at_mm))} from its start"
            yield CutLine(
                f"sleeve of the {each.name}",
                sleeve.length_mm,
                place,
                f"sleeve-{each.lead.id}-{sleeve.id}",
                LEADS,
            )


def power_steps(job: Job) -> Iterator[Step]:
    """Laying leads, connecting, hanging controller and alarms."""
    run, power = lead_run(job, "supply"), job.plan.power
    if run is None or power.battery is None:
        return
    feed = job.catalogue.power_equipment.feed(power.feed)
    fuse = next(iter(run.lead.of_kind("fuse")), None)
    fused = f" The fuse of {fuse.rating_a:g} A goes in last." if fuse is not None else ""
    yield Step(
        LEADS,
        "Lay the leads",
        "; ".join(_lead_words(each) for each in lead_runs(job))
        + ". A grommet in every hole, clips as drawn, away from exhaust and hot ducts.",
        ("electricity", "edges"),
    )
    yield Step(
        "connect",
        "Connect the supply",
        f"{run.lead.area_mm2:g} mm², at {feed.label}. {feed.needs}{fused}",
        ("electricity", "battery"),
    )
    if power.pump_marked:
        yield Step(
            "mark-pump",
            "Mark the pump's lead",
            "At both ends, before anything is plugged in.",
            ("electricity",),
        )
    controller = power.controller
    if controller is not None:
        yield Step(
            "controller",
            "Hang the controller",
            f"{q(controller.x_mm)} behind the datum, {q(abs(controller.y_mm))} "
            f"{'right' if controller.y_mm >= 0 else 'left'} of centre, {q(controller.z_mm)} above "
            "the load floor.",
            ("manual",),
        )
    for alarm in power.alarms:
        name = "CO" if alarm.kind == "co" else "smoke"
        yield Step(
            "alarm",
            f"Hang the {name} alarm",
            f"{q(alarm.x_mm)} behind the datum, {q(alarm.z_mm)} above the load floor, as its own "
            "manual says. Press its button.",
            ("fumes",),
            about=alarm.id,
        )


def _lead_words(run: LeadRun) -> str:
    longer = run.kit is not None and run.lead.id != "supply" and run.missing_mm > 0
    more = f", lengthened by {q(round(run.missing_mm))}" if longer else ""
    sleeved = _sleeved_mm(run)
    over = f", sleeved over {q(round(sleeved))}" if sleeved else ""
    return f"the {run.name}, {q(round(run.length_mm))} one way{more}{over}"
