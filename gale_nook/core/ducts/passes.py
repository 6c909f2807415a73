"""What a duct passes through: panels of furniture, the floor; and which hole is made for it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from gale_nook.core.ducts.convector import ducts_wanted
from gale_nook.core.ducts.tree import DuctRun, duct_runs, return_run
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.air import Duct, DuctPart
from gale_nook.core.vehicle.bodies import vehicle_bodies

STEP_MM = 3.0
TOUCHING_MM = 1e-6
HOLE_MM = 30.0  # a hole is made where a duct passes within so far of it
# bodies of the shell and of hollow furniture that a duct may pass, beside the kinds that say so
PASSABLE = ("floor", "floor-ribs", "lid")


@dataclass(frozen=True, slots=True)
class Pass:
    """Where a duct passes through something.

    Attributes:
        body: id of its body in the ledger.
        at_mm: middle of the passage, from the duct's start; from_mm, to_mm: its ends.
        part: the hole that is made for it; None where there is none.
    """

    duct: str
    body: str
    name: str
    at_mm: float
    from_mm: float
    to_mm: float
    part: DuctPart | None


def all_runs(job: Job) -> tuple[DuctRun, ...]:
    """Return the tree's ducts and the one back to the inlet."""
    back = return_run(job)
    blown = duct_runs(job) if ducts_wanted(job) else ()
    return (*blown, *((back,) if back is not None else ()))


@fact
def passes(job: Job) -> tuple[Pass, ...]:
    """Return every place where the centre line of a duct passes through something that a hole can
    be cut in.
    """
    results: list[Pass] = []
    holed = {kind.id for kind in job.catalogue.solid_kinds.values() if kind.duct_hole}
    bodies = [b for b in vehicle_bodies(job) if b.kind in holed or b.kind in PASSABLE]
    for run in all_runs(job):
        found = [
            Pass(run.duct.id, body.id, body.name, (start + end) / 2, start, end, None)
            for body in bodies
            for start, end in inside_stretches(run.geometry, body.shape)
        ]
        results += with_holes(run.duct, found)
    return tuple(results)


def with_holes(duct: Duct, found: Sequence[Pass]) -> Iterator[Pass]:
    """Yield the passages of a duct with the hole that is made for each: the nearest one within
    reach. A hole is made for one passage only, the one that it is nearest to.
    """
    made: dict[int, tuple[float, DuctPart]] = {}
    for part in duct.of_kind("panel"):
        near = [
            (_away_mm(each, part.at_mm), abs(each.at_mm - part.at_mm), number)
            for number, each in enumerate(found)
        ]
        away, _, number = min(near, default=(HOLE_MM + 1.0, 0.0, -1))
        if away <= HOLE_MM and (number not in made or away < made[number][0]):
            made[number] = (away, part)
    for number, each in enumerate(found):
        yield replace(each, part=made[number][1]) if number in made else each


def _away_mm(each: Pass, at_mm: float) -> float:
    return max(each.from_mm - at_mm, at_mm - each.to_mm, 0.0)


@lru_cache(maxsize=2048)
def inside_stretches(line: RouteGeometry, shape: Shape) -> tuple[tuple[float, float], ...]:
    """Return the stretches (from, to) of a line, in mm from its start, that lie inside a shape."""
    low, high = line_bounds(line)
    if np.any(low > shape.bounds[3:]) or np.any(high < shape.bounds[:3]):
        return ()
    at, points = sampled(line)
    inside = np.zeros(len(at), dtype=bool)
    for piece in shape.pieces:
        near = np.all((points >= piece.bounds[:3]) & (points <= piece.bounds[3:]), axis=1) & ~inside
        for index in np.flatnonzero(near).tolist():
            x, y, z = points[index]
            point = (float(x), float(y), float(z))
            inside[index] = math.dist(piece.nearest(point), point) <= TOUCHING_MM
    edges = np.flatnonzero(np.diff(np.concatenate([[0], inside.astype(int), [0]])))
    pairs = zip(edges[::2], edges[1::2], strict=True)
    return tuple((float(at[first]), float(at[last - 1])) for first, last in pairs)


@lru_cache(maxsize=512)
def sampled(line: RouteGeometry) -> tuple[Any, Any]:
    """Return places along a line, STEP_MM apart at the most, and their points, (n,) and (n, 3)."""
    steps = max(2, math.ceil(line.length_mm / STEP_MM))
    at = np.linspace(0.0, line.passed_mm[-1], steps + 1)
    known = np.array(line.centre_line)
    points = np.stack([np.interp(at, line.passed_mm, known[:, axis]) for axis in range(3)], axis=1)
    return at, points


@lru_cache(maxsize=512)
def line_bounds(line: RouteGeometry) -> tuple[Any, Any]:
    """Return low and high corner of a line's bounds."""
    points = np.array(line.centre_line)
    return points.min(axis=0), points.max(axis=0)


@fact
def passed_bodies(job: Job) -> dict[str, frozenset[str]]:
    """Return, for each duct, the ids of what it passes through in a hole made for it."""
    results: dict[str, set[str]] = {}
    for each in passes(job):
        if each.part is not None:
            results.setdefault(each.duct, set()).add(each.body)
    return {duct: frozenset(bodies) for duct, bodies in results.items()}
