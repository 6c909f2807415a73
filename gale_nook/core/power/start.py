"""First proposals: a battery, a controller, an alarm, and leads square to the vehicle."""

from __future__ import annotations

import math
from typing import Any

import shapely

from gale_nook.core.errors import BadInput
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import most_of
from gale_nook.core.job import Job
from gale_nook.core.plan.power import Alarm, Battery, Controller, Lead, LeadKind, LeadPart
from gale_nook.core.power.alarm_places import BEDS, alarm_area, head_z_mm
from gale_nook.core.power.bodies import LEAD_MM
from gale_nook.core.power.choice import carries_a, fitting_fuses, smallest_cable
from gale_nook.core.power.clear_way import Wall, clear_way, with_lead
from gale_nook.core.power.leads import (
    LEAD_WORDS,
    LeadRun,
    kit_lead,
    lead_ends,
    lead_run,
    passing_mm,
)
from gale_nook.core.power.passes import passes_mm, stretches_mm
from gale_nook.core.vehicle.floor import floor_finish_z_mm
from gale_nook.core.vehicle.inside import sleeve_spans
from gale_nook.core.vehicle.old_use import Way, passage
from gale_nook.core.vehicle.parts import surveyed_parts

NO_HEATER = "Leads begin at the heater: choose one and a spot first."
CLIP_MM, FUSE_AT_MM = 300.0, 150.0
FROM_WALL_MM = 60.0
HAND_MM = 1150.0
ALARM_SPARE_MM = 60.0  # an alarm's own half, and a little
HOLE_SPARE_MM = 4.0
TRIED_MM2 = 6.0
ROUNDS = 4


def starting_battery(job: Job) -> Battery:
    """Return a battery where one was surveyed, else on the floor behind the bulkhead."""
    shell, sheet = job.plan.vehicle.shell, heater_sheet(job)
    nominal = 24 if sheet is not None and sheet.electrical.voltage_v > 18 else 12
    found = next((shape for _, kind, shape in surveyed_parts(job) if kind.id == "battery"), None)
    if found is not None:
        b = found.bounds
        at = ((b[0] + b[3]) / 2, (b[1] + b[4]) / 2, b[5])
    else:
        at = (shell.bulkhead_x_mm + 250, 300.0, floor_finish_z_mm(job) + 200)
    x, y, z = (round(value) for value in at)
    return Battery(x_mm=x, y_mm=y, z_mm=z, nominal_v=nominal)


def starting_controller(job: Job) -> Controller:
    """Return the controller on furniture near the bed, at the height of a hand."""
    x, y = bed_middle(job)
    side = -1 if y > 0 else 1
    half = job.plan.vehicle.shell.floor_width_mm / 2
    across = side * min(abs(y) / 2 + 200, half - 150)
    front = job.plan.vehicle.body_front_x_mm + FROM_WALL_MM
    return Controller(x_mm=round(max(x - 500, front)), y_mm=round(across), z_mm=HAND_MM)


def starting_alarm(job: Job) -> Alarm:
    """Return a CO alarm beside the bed, at the height of a sleeper's head: where it is clear, if
    there is such a place, as near as can be to the usual one.
    """
    x, y = bed_middle(job)
    half = job.plan.vehicle.shell.floor_width_mm / 2
    side = -1 if y > 0 else 1
    usual = (x - 700, side * (half - 120))
    found = alarm_area(job)
    at = usual if found is None else _nearest_in(found.area.buffer(-ALARM_SPARE_MM), usual)
    return Alarm(id="co", x_mm=round(at[0]), y_mm=round(at[1]), z_mm=round(head_z_mm(job)))


def _nearest_in(area: Any, at: tuple[float, float]) -> tuple[float, float]:
    if area.is_empty:
        return at
    nearest = shapely.shortest_line(area, shapely.Point(at)).coords[0]
    return float(nearest[0]), float(nearest[1])


def bed_middle(job: Job) -> tuple[float, float]:
    """Return the middle of the bed in plan; of the load space where none was surveyed."""
    shell = job.plan.vehicle.shell
    bed = next((s for _, kind, s in surveyed_parts(job) if kind.id in BEDS), None)
    if bed is None:
        return (shell.bulkhead_x_mm + shell.rear_x_mm) / 2, 0.0
    b = bed.bounds
    return (b[0] + b[3]) / 2, (b[1] + b[4]) / 2


def starting_lead(job: Job, kind: LeadKind, wall: Wall | None = None) -> Lead:
    """Return a lead from its start along the wall just over the floor to its end, clipped; where it
    leads outside it has a hole with its grommet. A supply gets its fuse at the battery, and
    the smallest cable that does.

    Raises:
        BadInput: an end of it is not known yet.
    """
    ends = lead_ends(job).get(kind)
    if ends is None:
        raise BadInput(LEAD_WORDS[kind], None, NEEDS[kind])
    start, end = ends
    nodes = clear_way(job, kind, start, end, wall)
    kit = kit_lead(job, kind)
    area = kit.area_mm2 if kit is not None and kind != "supply" else TRIED_MM2
    lead = Lead(id=kind, nodes=nodes, area_mm2=area, laid_from=start, laid_to=end)
    there = with_lead(job, lead)
    run = lead_run(there, kind)
    if run is None:
        return lead
    places = enumerate(passes_mm(there)[kind], 1)
    holes = (hole_at(there, run, f"hole-{n}", mm) for n, mm in places)
    parts = [*even_clips(job, run.drawn_mm), *holes, *sleeves(there, kind)]
    if kit is not None and kind != "supply" and run.missing_mm > 0:
        at = max(kit.length_mm - 100, 0.0)
        parts.append(LeadPart(id="joint-1", kind="joint", at_mm=round(min(at, run.drawn_mm))))
    lead = lead.model_copy(update={"parts": tuple(parts)})
    return _supplied(job, lead) if kind == "supply" else lead


def opening_passed(job: Job, lead: Lead) -> str | None:
    """Return the id of the old opening of the floor that a lead goes through; None for none."""
    run = lead_run(with_lead(job, lead), lead.id)
    if run is None:
        return None
    way = Way(run.name, run.geometry, LEAD_MM)
    for opening in job.plan.vehicle.old_openings:
        if opening.face == "floor" and passage(job, opening, way)[1] > 0:
            return opening.id
    return None


NEEDS: dict[LeadKind, str] = {
    "supply": "It leads from the battery to the heater: say first where both are.",
    "pump": "It leads to the pump: lay the fuel line with its pump first.",
    "controller": "It leads to the controller: say first where that hangs.",
    "sensor": "It leads to a sensor of its own: say first where that hangs.",
}


def even_clips(job: Job, length_mm: float) -> tuple[LeadPart, ...]:
    """Return clips evenly along a lead, a little nearer to one another than they may be."""
    apart = 0.9 * most_of(job, "cable_clip_mm", CLIP_MM)
    count = math.ceil(length_mm / apart)
    return tuple(
        LeadPart(id=f"clip-{n}", kind="clip", at_mm=round(length_mm * n / count))
        for n in range(1, count)
    )


def sleeves(job: Job, kind: LeadKind) -> tuple[LeadPart, ...]:
    """Return sleeves over what of a lead lies outside."""
    spans = sleeve_spans(stretches_mm(job).get(kind, ()))
    return tuple(
        LeadPart(id=f"guard-{n}", kind="guard", at_mm=at, length_mm=length)
        for n, (at, length) in enumerate(spans, 1)
    )


def hole_at(job: Job, run: LeadRun, hole_id: str, at_mm: float) -> LeadPart:
    """Return a hole with its grommet that the lead's plug passes."""
    size = float(math.ceil(passing_mm(job, run, plug_off=False) + HOLE_SPARE_MM))
    return LeadPart(id=hole_id, kind="hole", at_mm=round(at_mm), diameter_mm=size)


def _supplied(job: Job, lead: Lead) -> Lead:
    """A supply with its fuse, and the smallest cable that does with it."""
    sheet = heater_sheet(job)
    wanted = sheet.wiring.fuse_a if sheet is not None else None
    fuse = LeadPart(id="fuse-1", kind="fuse", at_mm=FUSE_AT_MM, rating_a=wanted or 20.0)
    lead = lead.model_copy(update={"parts": (fuse, *lead.parts)})
    for _ in range(ROUNDS):  # the fuse is part of the circuit that the cable is chosen for
        best = smallest_cable(with_lead(job, lead))
        if best is None:
            return lead
        lead = lead.model_copy(update={"area_mm2": _carrying(job, lead, best.cable.area_mm2)})
        fuses = fitting_fuses(with_lead(job, lead))
        rating = wanted if wanted in fuses or not fuses else fuses[-1]
        parts = tuple(
            part.model_copy(update={"rating_a": rating}) if part.id == "fuse-1" else part
            for part in lead.parts
        )
        if parts == lead.parts:
            break
        lead = lead.model_copy(update={"parts": parts})
    return lead


def _carrying(job: Job, lead: Lead, least_mm2: float) -> float:
    """The thinnest standard cable, of an area at least, that carries the sheet's fuse; that area
    where none does.
    """
    rating = lead.of_kind("fuse")[0].rating_a
    areas = (c.area_mm2 for c in job.catalogue.power_equipment.cables)
    fitting = (a for a in areas if a >= least_mm2 and carries_a(job, a) >= rating)
    return next(fitting, least_mm2)
