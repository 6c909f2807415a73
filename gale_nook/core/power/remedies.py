"""Candidate cures for the findings of the electrics; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.along import new_hole, sleeved
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import most_of
from gale_nook.core.job import Job
from gale_nook.core.plan.power import Alarm, Battery, Disconnect, LeadKind, LeadPart
from gale_nook.core.power.batteries import BLOCK_V
from gale_nook.core.power.choice import cable_offers, fitting_fuses
from gale_nook.core.power.clear_way import Wall
from gale_nook.core.power.commands import (
    AddAlarm,
    AddLeadPart,
    HangController,
    KeepLead,
    PutLeadParts,
    SetDisconnect,
    StartBattery,
    StartController,
    StartLead,
)
from gale_nook.core.power.lead_rules import PASSES
from gale_nook.core.power.leads import LEAD_WORDS, LeadRun, lead_ends, lead_run
from gale_nook.core.power.nights import nights
from gale_nook.core.power.start import (
    FUSE_AT_MM,
    HOLE_SPARE_MM,
    bed_middle,
    even_clips,
    hole_at,
    sleeves,
    starting_alarm,
    starting_controller,
)
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.inside import is_inside

WALLS: tuple[Wall, ...] = ("left", "right")
BANK_AH = (100.0, 130.0, 160.0, 200.0, 280.0, 400.0)


@remedy_for("power.supply")
def begin(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A battery, then its cable."""
    if job.plan.power.battery is None:
        yield Remedy("Put a battery in, and correct what differs.", StartBattery())
    elif job.plan.power.lead("supply") is None:
        yield Remedy("Lay the supply with the smallest cable that does.", StartLead(lead="supply"))


@remedy_for("power.laid")
def lay_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A first way, to be changed from there."""
    kind = _kind(finding)
    if kind is not None:
        yield Remedy(f"Lay the {LEAD_WORDS[kind]} along the wall.", StartLead(lead=kind))
        ends = lead_ends(job).get(kind)
        if ends is not None and finding.subject.endswith(":moved"):
            kept = KeepLead(lead=kind, laid_from=ends[0], laid_to=ends[1])
            yield Remedy("Keep its way: it holds for the new place too.", kept)


@remedy_for("power.nominal")
def other_voltage(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A battery of the heater's voltage."""
    sheet = heater_sheet(job)
    if sheet is not None:
        volts = 24 if sheet.electrical.voltage_v > 18 else 12
        change = set_value("power.battery.nominal_v", volts)
        yield Remedy(f"Feed it from a battery of {volts} V.", change)


@remedy_for("power.glow")
@remedy_for("power.second_glow")
@remedy_for("power.drop")
def thicker_cable(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """The next thicker cables, the thinnest that does first."""
    run = lead_run(job, "supply")
    if run is None:
        return
    for offer in cable_offers(job):
        if offer.cable.area_mm2 > run.lead.area_mm2:
            yield Remedy(
                f"Take {offer.cable.label} ({offer.awg}) for the supply, {offer.mass_kg:.1f} kg.",
                set_value("power.leads.supply.area_mm2", offer.cable.area_mm2),
            )
    if job.plan.power.feed != "posts":
        yield Remedy("Feed it at the battery's posts.", set_value("power.feed", "posts"))


@remedy_for("power.glow")
@remedy_for("power.second_glow")
@remedy_for("power.nights")
@remedy_for("power.standby")
def larger_battery(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A larger battery of its kind."""
    battery = job.plan.power.battery
    if battery is None:
        return
    for capacity in BANK_AH:
        if capacity > battery.capacity_ah:
            yield Remedy(
                f"Fit {capacity:g} Ah in the place of {battery.capacity_ah:g} Ah.",
                set_value("power.battery.capacity_ah", capacity),
            )


@remedy_for("power.standby")
def off_when_away(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Off at the controller after as many days as the battery stands."""
    if finding.measured and finding.band.maximum is not None:
        days = math.floor(0.9 * job.plan.power.idle_days * finding.band.maximum / finding.measured)
        yield Remedy(
            f"Switch it off altogether when nobody uses it for more than {days} days.",
            set_value("power.idle_days", float(days)),
        )


@remedy_for("power.nights")
def lithium(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Another chemistry, of which more may be drawn."""
    battery = job.plan.power.battery
    if battery is not None and battery.chemistry != "lifepo4":
        found = nights(job)
        need = found.night_ah if found is not None else battery.capacity_ah
        capacity = max(battery.capacity_ah, 20 * math.ceil(need / 0.8 / 20))
        changes = (
            Change(address="power.battery.chemistry", value="lifepo4"),
            Change(address="power.battery.capacity_ah", value=capacity),
        )
        yield Remedy(f"Fit {capacity:g} Ah of lithium iron phosphate.", SetValues(changes=changes))


@remedy_for("power.cable_fuse")
@remedy_for("power.fuse_load")
def fitting_fuse(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A standard fuse between what the heater draws and what the thinnest conductor carries; else a
    thicker cable.
    """
    run = lead_run(job, "supply")
    if run is None:
        return
    fuse = finding.subject.split(":", 1)[0]
    for rating in fitting_fuses(job):
        yield Remedy(
            f"Put in a fuse of {rating:g} A.",
            set_value(f"power.leads.supply.parts.{fuse}.rating_a", rating),
        )
    for offer in cable_offers(job):
        if offer.cable.area_mm2 > run.lead.area_mm2:
            yield Remedy(
                f"Lay {offer.cable.label} in the place of {run.lead.area_mm2:g} mm².",
                set_value("power.leads.supply.area_mm2", offer.cable.area_mm2),
            )


@remedy_for("power.fuse_place")
def nearer_fuse(job: Job, finding: Finding) -> Iterator[Remedy]:
    """As near to the battery as it is allowed, and nearer."""
    for at in (min(FUSE_AT_MM, most_of(job, "fuse_battery_mm", 300.0)), 60.0):
        yield Remedy(
            f"Set the fuse {q(at)} from the battery.",
            set_value(f"power.leads.supply.parts.{finding.subject}.at_mm", at),
        )


@remedy_for("power.fuses")
def one_fuse_only(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Put one in; or take out all but the first."""
    run, sheet = lead_run(job, "supply"), heater_sheet(job)
    if run is None or sheet is None:
        return
    fuses = run.lead.of_kind("fuse")
    if fuses:
        yield Remedy(
            "Leave the fuse nearest to the battery, take the others out.",
            PutLeadParts(lead="supply", kind="fuse", parts=fuses[:1]),
        )
        return
    for rating in fitting_fuses(job):
        fuse = LeadPart(id="fuse-1", kind="fuse", at_mm=FUSE_AT_MM, rating_a=rating)
        yield Remedy(
            f"Put in a fuse of {rating:g} A, {q(FUSE_AT_MM)} from the battery.",
            PutLeadParts(lead="supply", kind="fuse", parts=(fuse,)),
        )


@remedy_for("power.switched")
@remedy_for("power.old_wires")
def own_feed(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A fused feed of its own at the battery, ahead of the isolator."""
    yield Remedy(
        "Take the feed at the battery's posts, ahead of the isolator.",
        set_value("power.feed", "posts"),
    )


@remedy_for("power.return")
def own_return(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A cable back."""
    yield Remedy("Lay a cable back to the battery.", set_value("power.body_return", False))


@remedy_for("power.reach")
def lengthen(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A joint inside, a little before the kit's lead ends, then farther towards the heater."""
    kind = _kind(finding)
    run = lead_run(job, kind) if kind is not None else None
    if run is None or run.kit is None:
        return
    for share in (0.9, 0.6, 0.3, 0.1):
        at = round(min(run.kit.length_mm, run.drawn_mm) * share)
        joint = LeadPart(id=fresh_id(run.lead.parts, "joint"), kind="joint", at_mm=at)
        yield Remedy(
            f"Lengthen the {run.name} by {q(round(run.missing_mm))}, joined {q(at)} from the "
            "heater.",
            AddLeadPart(collection=f"power.leads.{run.lead.id}.parts", item=joint),
        )


@remedy_for("power.joints")
def joint_inside(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Along the lead to where it is inside, the nearest first."""
    kind, part = _part(finding)
    run = lead_run(job, kind)
    if run is None:
        return
    found = next((p for p in run.lead.parts if p.id == part), None)
    if found is None:
        return
    steps = range(20, int(run.drawn_mm), 20)
    inside = (mm for mm in steps if is_inside(job, run.geometry.point_at(float(mm))))
    for at in sorted(inside, key=lambda mm: abs(mm - found.at_mm)):
        yield Remedy(
            f"Move it to {q(float(at))} along the {run.name}, where it is dry.",
            set_value(f"power.leads.{kind}.parts.{part}.at_mm", float(at)),
        )


@remedy_for("power.holes")
def larger_hole(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A hole that the plug passes; or the plug taken off; or the hole that is not there yet."""
    kind, part = _part(finding)
    run = lead_run(job, kind)
    if run is None:
        return
    if part.startswith(PASSES):
        yield from _new_hole(job, run, finding)
        return
    place = f"power.leads.{kind}.parts.{part}"
    least = finding.band.minimum or 0.0
    size = float(math.ceil(least + HOLE_SPARE_MM))
    yield Remedy(f"Drill it {q(size)}.", set_value(f"{place}.diameter_mm", size))
    yield Remedy("Take the plug off to pass it.", set_value(f"{place}.plug_off", True))


def _new_hole(job: Job, run: LeadRun, finding: Finding) -> Iterator[Remedy]:
    at = min(
        (mm for mm in range(0, int(run.drawn_mm) + 1, 5)),
        key=lambda mm: math.dist(run.geometry.point_at(float(mm)), finding.marks[0].start),
    )
    hole = hole_at(job, run, fresh_id(run.lead.parts, "hole"), float(at))
    yield Remedy(
        new_hole(hole.diameter_mm),
        AddLeadPart(collection=f"power.leads.{run.lead.id}.parts", item=hole),
    )


@remedy_for("power.grommet")
def line_it(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """A grommet."""
    kind, part = _part(finding)
    yield Remedy("Put a grommet in.", set_value(f"power.leads.{kind}.parts.{part}.grommet", True))


@remedy_for("power.hot")
@remedy_for("power.moving")
def another_way(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Laid anew, by either wall."""
    kind = _kind(finding)
    if kind is None:
        return
    for wall in WALLS:
        yield Remedy(
            f"Lay the {LEAD_WORDS[kind]} anew, along the {wall} wall.",
            StartLead(lead=kind, wall=wall),
        )


@remedy_for("power.clips")
def more_clips(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Clips as far apart as they may be, evenly."""
    kind = _kind(finding)
    run = lead_run(job, kind) if kind is not None else None
    if run is None:
        return
    clips = even_clips(job, run.drawn_mm)
    yield Remedy(
        f"Clip the {run.name} at {len(clips)} places, evenly.",
        PutLeadParts(lead=run.lead.id, kind="clip", parts=clips),
    )


@remedy_for("power.chafe")
def sleeve_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A sleeve over all that lies outside."""
    kind = _kind(finding)
    if kind is None:
        return
    parts = sleeves(job, kind)
    yield Remedy(
        sleeved(sum(part.length_mm for part in parts)),
        PutLeadParts(lead=kind, kind="guard", parts=parts),
    )


@remedy_for("power.loops")
def loop(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A loop at the edge, as long as the travel."""
    kind, _ = _part(finding)
    run = lead_run(job, kind)
    slack = finding.band.minimum
    if run is None or slack is None:
        return
    at = min(
        range(0, int(run.drawn_mm) + 1, 10),
        key=lambda mm: math.dist(run.geometry.point_at(float(mm)), finding.marks[0].start),
    )
    item = LeadPart(
        id=fresh_id(run.lead.parts, "loop"), kind="loop", at_mm=float(at), length_mm=slack + 50
    )
    yield Remedy(
        f"Leave a loop of {q(item.length_mm)} at the slide-out's edge.",
        AddLeadPart(collection=f"power.leads.{kind}.parts", item=item),
    )


@remedy_for("power.pump_pair")
def mark_it(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A mark at both ends."""
    yield Remedy("Mark it at both ends.", set_value("power.pump_marked", True))


@remedy_for("power.disconnect")
def sensible_voltage(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The middle of what makes sense."""
    low, high = finding.band.minimum, finding.band.maximum
    if low is not None and high is not None:
        volts = round((low + high) / 2, 1)
        yield Remedy(f"Set it to {volts:g} V.", set_value("power.disconnect.acts_v", volts))


@remedy_for("power.disconnect_stops")
def stops_the_start(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """On the controller's wire, not on the feed."""
    yield Remedy(
        "Let it switch the heater off by its controller, not by its feed.",
        set_value("power.disconnect.stops", "start"),
    )


@remedy_for("power.protected")
def protect(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A device that stops the start."""
    battery = job.plan.power.battery
    if battery is not None:
        yield Remedy(
            "Put a disconnect in that stops the heater's start.",
            SetDisconnect(disconnect=starting_disconnect(job, battery)),
        )


def starting_disconnect(job: Job, battery: Battery) -> Disconnect:
    """Return one at the middle of what makes sense for the battery."""
    chemistry = job.catalogue.power_equipment.chemistry(battery.chemistry)
    low, high = chemistry.disconnect_v
    volts = round((low + high) / 2 * battery.nominal_v / BLOCK_V, 1)
    return Disconnect(acts_v=volts, stops="start")


@remedy_for("power.controller")
@remedy_for("power.controller_dry")
@remedy_for("power.bias")
def elsewhere(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """The usual place near the bed; then along the vehicle and across it; the heater's own sensor
    last.
    """
    controller = job.plan.power.controller
    if controller is None:
        yield Remedy("Hang it near the bed, at the height of a hand.", StartController())
        return
    usual, (bed_x, _) = starting_controller(job), bed_middle(job)
    high = job.plan.vehicle.shell.inside_height_mm - 200
    for x in (usual.x_mm, bed_x, bed_x - 900, bed_x + 500, bed_x - 1300):
        for y in (usual.y_mm, -usual.y_mm, usual.y_mm / 2):
            place = HangController(
                x_mm=float(round(x)), y_mm=float(round(y)), z_mm=min(usual.z_mm, high)
            )
            side = "right" if y >= 0 else "left"
            yield Remedy(
                f"Hang it {q(place.x_mm)} behind the datum, {q(abs(place.y_mm))} {side} "
                f"of centre, {q(place.z_mm)} high, on furniture, its lead laid anew.",
                place,
            )


@remedy_for("power.sensor")
def a_sensor_it_has(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """One that the sheet names."""
    sheet = heater_sheet(job)
    words = {"controller": "the controller's", "heater": "the heater's own", "lead": "a separate"}
    for sensor in sheet.wiring.sensors if sheet is not None else ():
        yield Remedy(
            f"Regulate by {words[sensor]} sensor.", set_value("power.controller.sensor", sensor)
        )


@remedy_for("power.co_alarm")
def add_alarm(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """At the height of a sleeper's head, beside the bed."""
    new = fresh_id(job.plan.power.alarms, "co")
    for x_mm, y_mm, z_mm in _alarm_places(job):
        item = Alarm(id=new, x_mm=x_mm, y_mm=y_mm, z_mm=z_mm)
        yield Remedy(
            f"Hang a CO alarm {q(x_mm)} behind the datum, {q(z_mm)} high, beside the bed.",
            AddAlarm(item=item),
        )


def _alarm_places(job: Job) -> Iterator[tuple[float, float, float]]:
    """The nearest clear place, then others round the bed at a sleeper's head."""
    usual, (bed_x, _) = starting_alarm(job), bed_middle(job)
    for x in (usual.x_mm, bed_x - 1100, bed_x + 600, bed_x, bed_x - 1600):
        for y in (usual.y_mm, -usual.y_mm, 0.0):
            yield float(round(x)), float(round(y)), usual.z_mm


@remedy_for("power.smoke_alarm")
def add_smoke_alarm(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Under the roof, beside the CO alarm."""
    alarm = starting_alarm(job)
    high = job.plan.vehicle.shell.inside_height_mm - 60
    item = Alarm(
        id=fresh_id(job.plan.power.alarms, "smoke"),
        kind="smoke",
        x_mm=alarm.x_mm,
        y_mm=0.0,
        z_mm=high,
    )
    yield Remedy("Hang a smoke alarm under the roof.", AddAlarm(item=item))


@remedy_for("power.alarm_place")
def alarm_elsewhere(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Along the vehicle and to the other side; out of what shuts it in."""
    alarm_id, what = _part(finding)
    if what == "room":
        yield Remedy(
            "Hang it in the room's own air.", set_value(f"power.alarms.{alarm_id}.shut_in", False)
        )
        return
    for x_mm, y_mm, z_mm in _alarm_places(job):
        changes = (
            Change(address=f"power.alarms.{alarm_id}.x_mm", value=x_mm),
            Change(address=f"power.alarms.{alarm_id}.y_mm", value=y_mm),
            Change(address=f"power.alarms.{alarm_id}.z_mm", value=z_mm),
        )
        yield Remedy(
            f"Hang it {q(x_mm)} behind the datum, {q(z_mm)} high.", SetValues(changes=changes)
        )


def _kind(finding: Finding) -> LeadKind | None:
    kind = finding.subject.split(":", 1)[0]
    return next((known for known in LEAD_WORDS if known == kind), None)


def _part(finding: Finding) -> tuple[str, str]:
    """The lead (or alarm) and the part of it that a finding is about."""
    first, _, rest = finding.subject.partition(":")
    return first, rest
