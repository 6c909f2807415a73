"""Hoses as they lie: from one end of a part to one of another, with bends."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import LoopSide
from gale_nook.core.catalogue.coolant import HoseKind, LoopPartKind
from gale_nook.core.geometry.frames import Vec3, norm, sub, turn_xy, unit
from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.coolant import HEATER, Hose, LoopPart
from gale_nook.core.spot.placement import port_point

End = tuple[str, str]  # a part and which of its ends
HEATER_ENDS = ("flow", "back")


@dataclass(frozen=True)
class HoseRun:
    """A hose as it is drawn."""

    hose: Hose
    kind: HoseKind
    geometry: RouteGeometry
    name: str

    @property
    def length_mm(self) -> float:
        return self.geometry.length_mm

    @property
    def outside_mm(self) -> float:
        """With its lagging."""
        return self.kind.outside_mm + 2 * self.hose.lagging_mm


@fact
def loop_side(job: Job) -> LoopSide | None:
    """Return the heater's side of the loop; usual values where its sheet has none, None without a
    coolant heater.
    """
    sheet = heater_sheet(job)
    if sheet is None or sheet.medium != "coolant":
        return None
    return sheet.loop if sheet.loop is not None else job.catalogue.coolant_equipment.typical


def kind_of(job: Job, part: LoopPart) -> LoopPartKind:
    """Return what a part is."""
    return job.catalogue.coolant_equipment.part(part.kind)


@fact
def loop_parts(job: Job) -> tuple[tuple[LoopPart, LoopPartKind], ...]:
    """Return every part of the loop with its kind."""
    return tuple((part, kind_of(job, part)) for part in job.plan.coolant.parts)


@fact
def part_places(job: Job) -> dict[str, LoopPart]:
    """Return every part by its id."""
    return {part.id: part for part in job.plan.coolant.parts}


def parts_of(job: Job, *kinds: str) -> list[LoopPart]:
    """Return the parts of some kinds."""
    return [part for part, kind in loop_parts(job) if kind.kind in kinds]


def end_point(job: Job, end: End) -> Vec3 | None:
    """Return where an end of a part lies; None where it is not known."""
    part_id, name = end
    if part_id == HEATER:
        side = loop_side(job)
        if side is None or job.plan.spot is None or name not in HEATER_ENDS:
            return None
        return port_point(job, side.flow if name == "flow" else side.back)
    part = job.plan.coolant.part(part_id)
    offset = kind_of(job, part).ports.get(name) if part is not None else None
    if part is None or offset is None:
        return None
    dx, dy = turn_xy(offset[0], offset[1], part.yaw_deg)
    return (part.x_mm + dx, part.y_mm + dy, part.z_mm + offset[2])


def port_mm(job: Job, end: End) -> float | None:
    """Return the outside diameter of an end, that a hose is pushed over; None where there is no
    such end. A reducer's two ends differ.
    """
    part_id, name = end
    if part_id == HEATER:
        side = loop_side(job)
        return side.port_outside_mm if side is not None else None
    part = job.plan.coolant.part(part_id)
    if part is None:
        return None
    kind = kind_of(job, part)
    return kind.port_mms.get(name, kind.port_mm) if name in kind.ports else None


@fact
def hose_runs(job: Job) -> tuple[HoseRun, ...]:
    """Return every hose whose two ends are known."""
    results = []
    for hose in job.plan.coolant.hoses:
        start = end_point(job, (hose.from_part, hose.from_end))
        end = end_point(job, (hose.to_part, hose.to_end))
        if start is not None and end is not None:
            results.append(_run(job, hose, start, end))
    return tuple(results)


def hose_run(job: Job, hose_id: str) -> HoseRun | None:
    return next((run for run in hose_runs(job) if run.hose.id == hose_id), None)


def end_name(job: Job, end: End) -> str:
    """Return an end in words: its part's name, and which end where it has several."""
    part_id, name = end
    if part_id == HEATER:
        return f"heater's {name}"
    part = job.plan.coolant.part(part_id)
    return f"{part.name}, {name}" if part is not None else part_id


def _run(job: Job, hose: Hose, start: Vec3, end: Vec3) -> HoseRun:
    nodes = [((n.x_mm, n.y_mm, n.z_mm), n.radius_mm) for n in hose.nodes]
    first = nodes[0][0] if nodes else end
    away = sub(first, start)
    leaving = unit(away) if norm(away) > 1e-6 else (0.0, 0.0, 1.0)
    geometry = route_geometry(start, leaving, [*nodes, (end, 0.0)])
    kind = job.catalogue.coolant_equipment.hose(hose.kind)
    names = [_short(job, part) for part in (hose.from_part, hose.to_part)]
    return HoseRun(hose, kind, geometry, f"hose {names[0]} to {names[1]}")


def _short(job: Job, part_id: str) -> str:
    part = job.plan.coolant.part(part_id)
    return "heater" if part_id == HEATER else part.name if part is not None else part_id
