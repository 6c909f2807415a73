"""A way for a lead that shares its place with nothing: along a wall, over what stands there, or
farther in.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Literal

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import separation
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body
from gale_nook.core.ledger.pairs import too_near
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.plan.power import Lead, LeadKind
from gale_nook.core.power.before import BEFORE_POWER
from gale_nook.core.power.bodies import lead_body
from gale_nook.core.power.leads import lead_run
from gale_nook.core.vehicle.floor import floor_finish_z_mm, floor_underside_z_mm

Wall = Literal["left", "right"]
# what is hot, and by which limit, but the exhaust at its port: the heater's own leads begin there
HOT = {
    "exhaust": "cable_hot_mm",
    "silencer": "cable_hot_mm",
    "vehicle-exhaust": "cable_hot_mm",
    "bay-hot": "cable_hot_mm",
    "unit-exhaust": "cable_hot_mm",
    "duct": "cable_duct_mm",
}
RADIUS_MM = 20.0
UNDER_HOLE_MM = 40.0  # so far below the floor a lead turns that came through a hole
LEAD_HOLE_MM = 24.0  # smallest old opening that a lead with its grommet goes through
WALL_GAPS_MM = (60.0, 140.0, 260.0, 400.0, 560.0)
OVER_FLOOR_MM = (60.0, 330.0, 480.0, 700.0)


def clear_way(
    job: Job, kind: LeadKind, start: Vec3, end: Vec3, wall: Wall | None
) -> tuple[RouteNode, ...]:
    """Return the corners of the first way that shares its place with nothing; of the one that does
    with the fewest things where there is none.

    Args:
        wall: that it follows; the nearer one first where none is named.
    """
    best: tuple[int, tuple[RouteNode, ...]] | None = None
    for points in _ways(job, start, end, wall):
        nodes = _nodes(points)
        count = _meets(job, Lead(id=kind, nodes=nodes))
        if best is None or count < best[0]:
            best = (count, nodes)
        if count == 0:
            break
    return best[1] if best is not None else ()


def _ways(job: Job, start: Vec3, end: Vec3, wall: Wall | None) -> Iterator[list[Vec3]]:
    """Ways, the nearest to wall and floor first: up or down, out to the wall, along it, and to the
    end. One that leads below goes through an old opening of the floor first, if there is one.
    """
    below = end[2] < floor_underside_z_mm(job)
    for hole in old_holes(job, start, end) if below else ():
        for corners in _along_walls(job, start, (*hole, floor_finish_z_mm(job)), wall):
            under = floor_underside_z_mm(job) - UNDER_HOLE_MM
            yield [*corners, (*hole, corners[-1][2]), (*hole, under)]
    yield from _along_walls(job, start, end, wall)


def old_holes(job: Job, start: Vec3, end: Vec3) -> list[tuple[float, float]]:
    """Return old openings of the floor that a lead may go through, the least way round first."""
    found = [
        (old.along_mm, old.up_mm)
        for old in job.plan.vehicle.old_openings
        if old.face == "floor"
        and old.use in {"open", "cable"}
        and min(old.length_mm, old.length_mm if old.is_round else old.height_mm) >= LEAD_HOLE_MM
    ]
    return sorted(found, key=lambda at: math.dist(start[:2], at) + math.dist(at, end[:2]))


def _along_walls(job: Job, start: Vec3, end: Vec3, wall: Wall | None) -> Iterator[list[Vec3]]:
    half, floor = job.plan.vehicle.shell.floor_width_mm / 2, floor_finish_z_mm(job)
    nearer: Wall = "left" if start[1] + end[1] < 0 else "right"
    farther: Wall = "right" if nearer == "left" else "left"
    for on in (wall,) if wall is not None else (nearer, farther):
        side = -1 if on == "left" else 1
        for over in OVER_FLOOR_MM:
            for gap in WALL_GAPS_MM:
                if gap < half:
                    yield _corners(job, start, end, (side * (half - gap), floor + over))


def _corners(job: Job, start: Vec3, end: Vec3, lane: tuple[float, float]) -> list[Vec3]:
    across, low = lane
    corners: list[Vec3] = []
    if abs(start[2] - low) > RADIUS_MM:
        corners.append((start[0], start[1], low))
    corners += [(start[0], across, low), (end[0], across, low)]
    if end[2] < floor_underside_z_mm(job) or abs(end[2] - low) > RADIUS_MM:
        corners.append((end[0], end[1], low))
    return [c for n, c in enumerate(corners) if n == 0 or math.dist(c, corners[n - 1]) > 1]


def _nodes(points: list[Vec3]) -> tuple[RouteNode, ...]:
    return tuple(
        RouteNode(id=f"n{n}", x_mm=round(x), y_mm=round(y), z_mm=round(z), radius_mm=RADIUS_MM)
        for n, (x, y, z) in enumerate(points, 1)
    )


def _meets(job: Job, lead: Lead) -> int:
    """With how many things a lead would share its place, and how many it would be too near to for
    their heat.
    """
    there = with_lead(job, lead)
    run = lead_run(there, lead.id)
    if run is None:
        return 0
    body, others = lead_body(there, run), _others(job)
    shares = sum(1 for _ in too_near(job.catalogue.room, [body], others))
    hot = (other for other in others if other.kind in HOT)
    return shares + sum(
        separation(body.shape, other.shape).distance_mm < least_of(job, HOT[other.kind], 0.0)
        for other in hot
    )


@fact
def _others(job: Job) -> tuple[Body, ...]:
    """Everything that a lead may not share its place with."""
    return tuple(body for bodies in BEFORE_POWER for body in bodies(job))


def with_lead(job: Job, lead: Lead) -> Job:
    """Return the job with a lead in the place of what there was of its kind."""
    power = job.plan.power
    leads = (*(other for other in power.leads if other.id != lead.id), lead)
    changed = power.model_copy(update={"leads": leads})
    return job.with_parts(power=changed)
