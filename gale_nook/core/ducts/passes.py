"""What a duct passes through: panels of furniture, the floor; and which hole is made for it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gale_nook.core.ducts.tree import DuctRun, duct_runs, return_run
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.air import Duct, DuctPart
from gale_nook.core.vehicle.bodies import vehicle_bodies

STEP_MM = 3.0
HOLE_MM = 30.0  # a hole is made where a duct passes within so far of it
PASSABLE_KINDS = ("furniture", "bed", "seat", "appliance", "step-locker", "lid", "panel")
PASSABLE_SHELL = ("floor", "floor-ribs")


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
    blown = duct_runs(job) if job.plan.air.warm_end == "duct" else ()
    return (*blown, *((back,) if back is not None else ()))


@fact
def passes(job: Job) -> tuple[Pass, ...]:
    """Return every place where the centre line of a duct passes through something that a hole can
    be cut in.
    """
    results = []
    for run in all_runs(job):
        steps = max(2, math.ceil(run.length_mm / STEP_MM))
        at = np.linspace(0.0, run.length_mm, steps + 1)
        points = [run.geometry.point_at(float(mm)) for mm in at]
        for body in vehicle_bodies(job):
            if body.kind not in (*PASSABLE_KINDS, *PASSABLE_SHELL):
                continue
            for first, last in _inside(points, body.shape):
                start, end = float(at[first]), float(at[last])
                middle = (start + end) / 2
                part = hole_at(run.duct, start, end)
                results.append(Pass(run.duct.id, body.id, body.name, middle, start, end, part))
    return tuple(results)


def hole_at(duct: Duct, from_mm: float, to_mm: float) -> DuctPart | None:
    """Return the hole that is made for a passage: the nearest one within reach of it."""
    near = [
        (max(from_mm - part.at_mm, part.at_mm - to_mm, 0.0), part) for part in duct.of_kind("panel")
    ]
    best = min(near, key=lambda pair: pair[0], default=None)
    return best[1] if best is not None and best[0] <= HOLE_MM else None


def _inside(points: Sequence[Vec3], shape: Shape) -> list[tuple[int, int]]:
    """Stretches of points (first, last) that lie inside a shape."""
    line = np.array(points)
    low, high = np.array(shape.bounds[:3]), np.array(shape.bounds[3:])
    near = np.all((line >= low - 1e-6) & (line <= high + 1e-6), axis=1)
    if not near.any():
        return []
    inside = np.zeros(len(points), dtype=bool)
    for index in np.flatnonzero(near).tolist():
        point = points[index]
        inside[index] = any(
            math.dist(piece.nearest(point), point) <= 1e-6 for piece in shape.pieces
        )
    edges = np.flatnonzero(np.diff(np.concatenate([[0], inside.astype(int), [0]])))
    return [(int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True)]


@fact
def passed_bodies(job: Job) -> dict[str, frozenset[str]]:
    """Return, for each duct, the ids of what it passes through in a hole made for it."""
    results: dict[str, set[str]] = {}
    for each in passes(job):
        if each.part is not None:
            results.setdefault(each.duct, set()).add(each.body)
    return {duct: frozenset(bodies) for duct, bodies in results.items()}
