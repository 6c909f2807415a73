"""Hoses as they lie: from one end of a part to one of another, with bends."""

from __future__ import annotations

import math
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
ELBOW_DEG = 45.0  # a short hose takes up less by itself


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
    def cut_mm(self) -> float:
        """As it is cut: with the slack of its flexible stretches."""
        return self.length_mm + sum(part.slack_mm for part in self.hose.of_kind("flex"))

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
    part = part_places(job).get(part_id)
    offset = kind_of(job, part).ports.get(name) if part is not None else None
    if part is None or offset is None:
        return None
    dx, dy = turn_xy(offset[0], offset[1], part.yaw_deg)
    return (part.x_mm + dx, part.y_mm + dy, part.z_mm + offset[2])


def end_direction(job: Job, end: End) -> Vec3 | None:
    """Return the way in which an end points, along one axis of its part; None where it is not
    known.
    """
    part_id, name = end
    if part_id == HEATER:
        side, spot = loop_side(job), job.plan.spot
        if side is None or spot is None:
            return None
        way = (side.flow if name == "flow" else side.back).direction
        return (*turn_xy(way[0], way[1], spot.yaw_deg), way[2])
    part = part_places(job).get(part_id)
    offset = kind_of(job, part).ports.get(name) if part is not None else None
    if part is None or offset is None or not any(offset):
        return None
    axis = max(range(3), key=lambda n: abs(offset[n]))
    x, y, z = (math.copysign(1.0, offset[n]) if n == axis else 0.0 for n in range(3))
    return (*turn_xy(x, y, part.yaw_deg), z)


@fact
def elbows(job: Job) -> tuple[tuple[HoseRun, End, float], ...]:
    """Return every end that a hose leaves at more than ELBOW_DEG from the way in which it points:
    an elbow turns it there. With each the angle.
    """
    results = []
    for run in hose_runs(job):
        hose, line = run.hose, run.geometry.points
        for end, start, onward in (
            ((hose.from_part, hose.from_end), line[0], line[1]),
            ((hose.to_part, hose.to_end), line[-1], line[-2]),
        ):
            way, away = end_direction(job, end), sub(onward, start)
            if way is None or norm(away) < 1.0:
                continue
            cosine = sum(a * b for a, b in zip(way, unit(away), strict=True))
            angle = math.degrees(math.acos(min(max(cosine, -1.0), 1.0)))
            if angle > ELBOW_DEG:
                results.append((run, end, angle))
    return tuple(results)


def port_mm(job: Job, end: End) -> float | None:
    """Return the outside diameter of an end, that a hose is pushed over; None where there is no
    such end. A reducer's two ends differ.
    """
    part_id, name = end
    if part_id == HEATER:
        side = loop_side(job)
        return side.port_outside_mm if side is not None else None
    part = part_places(job).get(part_id)
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
    part = part_places(job).get(part_id)
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
    part = part_places(job).get(part_id)
    return "heater" if part_id == HEATER else part.name if part is not None else part_id
