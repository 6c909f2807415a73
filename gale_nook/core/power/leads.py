"""Cables and leads as they lie: their ends, their lengths, and what is made longer."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import KitLead
from gale_nook.core.ducts.ends import heater_inlet
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.geometry.frames import Vec3, norm, sub, unit
from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.power import Lead, LeadKind

MOVED_MM = 20.0  # that an end may move without its way being another
LEAD_WORDS: dict[LeadKind, str] = {
    "supply": "supply cable",
    "pump": "pump's lead",
    "controller": "controller's lead",
    "sensor": "sensor's lead",
}


@dataclass(frozen=True)
class LeadRun:
    """A lead as it is drawn.

    Attributes:
        kit: what of it comes with the heater; None where nothing does.
        length_mm: one way, that counts: typed, or drawn with the allowance and the loops' slack.
    """

    lead: Lead
    geometry: RouteGeometry
    kit: KitLead | None
    length_mm: float

    @property
    def name(self) -> str:
        return LEAD_WORDS[self.lead.id]

    @property
    def drawn_mm(self) -> float:
        return self.geometry.length_mm

    @property
    def moved_mm(self) -> float:
        """How far one of its ends has moved since it was laid."""
        laid = (self.lead.laid_from, self.lead.laid_to)
        ends = (self.geometry.points[0], self.geometry.points[-1])
        return max((math.dist(a, b) for a, b in zip(laid, ends, strict=True) if a), default=0.0)

    @property
    def is_settled(self) -> bool:
        """Whether its ends are where they were when it was laid."""
        return self.moved_mm <= MOVED_MM

    @property
    def missing_mm(self) -> float:
        """What the kit's lead is too short by; negative for what is left over."""
        return self.length_mm - (self.kit.length_mm if self.kit is not None else 0.0)


@fact
def lead_ends(job: Job) -> dict[LeadKind, tuple[Vec3, Vec3]]:
    """Return where each lead that can be drawn begins and ends."""
    power, heater, run = job.plan.power, heater_inlet(job), fuel_run(job)
    if heater is None:
        return {}
    at, results = heater[0], {}
    battery, controller = power.battery, power.controller
    if battery is not None:
        results["supply"] = ((battery.x_mm, battery.y_mm, battery.z_mm), at)
    if run is not None and run.pump_at is not None:
        results["pump"] = (at, run.pump_at)
    if controller is not None:
        results["controller"] = (at, (controller.x_mm, controller.y_mm, controller.z_mm))
        sensor = sensor_place(job)
        if controller.sensor == "lead" and sensor is not None:
            results["sensor"] = (at, sensor)
    return results  # type: ignore[return-value]


def sensor_place(job: Job) -> Vec3 | None:
    """Return where the sensor hangs by which the heater regulates; None where that is not known."""
    controller, inlet = job.plan.power.controller, heater_inlet(job)
    if controller is None:
        return None
    if controller.sensor == "heater":
        return inlet[0] if inlet is not None else None
    if controller.sensor == "controller":
        return (controller.x_mm, controller.y_mm, controller.z_mm)
    x, y, z = controller.sensor_x_mm, controller.sensor_y_mm, controller.sensor_z_mm
    return (x, y, z) if x is not None and y is not None and z is not None else None


@fact
def lead_runs(job: Job) -> tuple[LeadRun, ...]:
    """Return every lead that is laid and whose ends are known, the supply first."""
    ends = lead_ends(job)
    laid = (job.plan.power.lead(kind) for kind in LEAD_WORDS)
    return tuple(_run(job, lead, *ends[lead.id]) for lead in laid if lead and lead.id in ends)


def settled_runs(job: Job) -> tuple[LeadRun, ...]:
    """Return the leads that lie as they were laid: of others the way is to be laid anew."""
    return tuple(run for run in lead_runs(job) if run.is_settled)


def lead_run(job: Job, kind: str) -> LeadRun | None:
    return next((run for run in lead_runs(job) if run.lead.id == kind), None)


def kit_lead(job: Job, kind: str) -> KitLead | None:
    """Return what comes with the heater of a lead; None where nothing does."""
    sheet = heater_sheet(job)
    leads = sheet.wiring.leads if sheet is not None else ()
    return next((lead for lead in leads if lead.id == kind), None)


def leads_to_lay(job: Job) -> list[LeadKind]:
    """Return the leads whose ends are known and that were not laid yet: the supply, and those that
    come with the heater.
    """
    laid = {run.lead.id for run in lead_runs(job)}
    known = (kind for kind in lead_ends(job) if kind not in laid)
    return [kind for kind in known if kind == "supply" or kit_lead(job, kind) is not None]


def passing_mm(job: Job, run: LeadRun, plug_off: bool) -> float:
    """Return the width of what has to pass a hole: the plug's diagonal, or the bare conductors side
    by side.
    """
    works, kit = job.catalogue.power_equipment, run.kit
    if run.lead.id != "supply" and kit is not None and not plug_off:
        return math.hypot(kit.plug_width_mm, kit.plug_height_mm)
    bare = 2 * math.sqrt(run.lead.area_mm2 / works.strand_fill / math.pi)
    return 2 * (bare + 2 * works.insulation_mm)


def _run(job: Job, lead: Lead, start: Vec3, end: Vec3) -> LeadRun:
    nodes = [((n.x_mm, n.y_mm, n.z_mm), n.radius_mm) for n in lead.nodes]
    first = nodes[0][0] if nodes else end
    away = sub(first, start)
    leaving = unit(away) if norm(away) > 1e-6 else (0.0, 0.0, 1.0)
    geometry = route_geometry(start, leaving, [*nodes, (end, 0.0)])
    slack = sum(part.length_mm for part in lead.of_kind("loop"))
    drawn = (geometry.length_mm + slack) * (1 + job.plan.power.allowance_percent / 100)
    length = lead.one_way_mm if lead.one_way_mm is not None else drawn
    return LeadRun(lead, geometry, kit_lead(job, lead.id), length)
