"""Where an outlet that was pointed at can be, and which way it can blow from there."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import replace

from gale_nook.core.air.duct_space import box_of, in_the_way
from gale_nook.core.air.heat_rules import AT_HOLE_MM, INSIDE, JET_FAR_MM, bearing_parts
from gale_nook.core.air.hot import Jet
from gale_nook.core.ducts.layout import fan_of
from gale_nook.core.ducts.places import place_of, set_c
from gale_nook.core.geometry.frames import Vec3, sub
from gale_nook.core.geometry.shapes import box_shape
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.plan.air import WantedOutlet
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.routing.square_search import DIRECTIONS, Box, Lattice, Node
from gale_nook.core.spot.obstacles import walls
from gale_nook.core.vehicle.parts import surveyed_where

SNAP_MM, SNAP_COSTS = 90.0, 4.0  # an outlet may be so far from where it was pointed at
FACE_WAYS = {"front": 0, "rear": 1, "left": 2, "right": 3, "down": 4, "up": 5}
DOWN = FACE_WAYS["down"]


def ends_of(job: Job, lattice: Lattice, wanted: WantedOutlet) -> Mapping[Node, float]:
    """Return the points of a lattice near to where an outlet was pointed at, in the same zone, with
    what the distance costs.
    """
    place, things = place_of(job, wanted.at), in_the_way(job)
    near: list[list[int]] = []
    for axis in range(3):
        line = lattice.axes[axis]
        near.append([i for i, c in enumerate(line) if abs(c - wanted.at[axis]) <= SNAP_MM])
    results = {}
    for node in itertools.product(*near):
        point = lattice.point((node[0], node[1], node[2]))
        distance = math.dist(point, wanted.at)
        if distance > SNAP_MM or place_of(job, point) != place:
            continue
        if not any(_between(each.box, wanted.at, point) for each in things):
            results[node[0], node[1], node[2]] = SNAP_COSTS * distance
    return results


def _between(box: Box, one: Vec3, other: Vec3) -> bool:
    """Whether something lies between two points near one another: each is outside of it, on either
    side.
    """
    for axis in range(3):
        low, high = sorted((one[axis], other[axis]))
        across = [i for i in range(3) if i != axis]
        beside = all(
            box[0][i] < max(one[i], other[i]) and min(one[i], other[i]) < box[1][i] for i in across
        )
        if low <= box[0][axis] and box[1][axis] <= high and beside:
            return True
    return False


def ways_it_may_blow(job: Job, wanted: WantedOutlet, bore_mm: float) -> frozenset[int]:
    """Return the ways in which an outlet can blow from where it was pointed at: the one that is
    asked for, else those that are free in front and meet nothing that heat harms; places in
    DIRECTIONS. Where there is none, all but down.
    """
    if wanted.blows is not None:
        return frozenset({FACE_WAYS[wanted.blows]})
    ways = [way for way in range(6) if way != DOWN]
    good = [way for way in ways if _may_blow(job, wanted, bore_mm, way)]
    return frozenset(good or ways)


def _holds(box: Box, point: Vec3) -> bool:
    return all(box[0][i] < point[i] < box[1][i] for i in range(3))


def _may_blow(job: Job, wanted: WantedOutlet, bore_mm: float, way: int) -> bool:
    fan, physics = fan_of(job), job.catalogue.air_equipment.physics
    if fan is None:
        return False
    jet = Jet(
        wanted.id,
        wanted.name,
        wanted.at,
        DIRECTIONS[way],
        bore_mm,
        fan.outlet_limit_c,
        set_c(job, wanted.zone),
        physics.jet_core,
        physics.jet_spread_deg,
    )
    for _, shape, bears in bearing_parts(job, INSIDE):
        at = jet.meets(shape, JET_FAR_MM, AT_HOLE_MM)
        if at is not None and jet.celsius_at(at) > bears.rating_c:
            return False
    narrow = replace(jet, bore_mm=bore_mm / 2, core=2 * physics.jet_core, spread_deg=0.0)
    free_mm = least_of(job, "outlet_free_mm", 0.0)
    shapes = [shape for _, _, shape in surveyed_where(job, INSIDE)]
    shapes += [wall.shape for wall in walls(job)]
    boxes = [s for s in job.plan.vehicle.solids if isinstance(s, BoxSolid) and s.hollow is not None]
    shapes += [
        box_shape(low, sub(high, low))
        for low, high in map(box_of, boxes)
        if not _holds((low, high), wanted.at)
    ]
    return all(narrow.meets(shape, free_mm + SNAP_MM, AT_HOLE_MM) is None for shape in shapes)
