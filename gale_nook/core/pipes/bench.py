"""What is put on the heater before it goes in: how the bundle of pipes and fuel stub sits in the
mount's hole, how far each passes it, and what follows from below.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.spot.placement import PlacedHole, floor_holes, heater_port, port_point

STEP_MM = 5.0
CLAMPED_MM = 25.0  # so much of a pipe has to be past its port for it to be clamped on the bench
TUBES: tuple[Tube, ...] = ("exhaust", "intake")


@dataclass(frozen=True, slots=True)
class InHole:
    """A port in a hole of the mount, as thick as its clamp.

    Attributes:
        x_mm, y_mm: of its middle; radius_mm: with the clamp's band.
    """

    name: str
    x_mm: float
    y_mm: float
    radius_mm: float
    hole: PlacedHole


@dataclass(frozen=True, slots=True)
class Bundle:
    """Two things in one hole, or one and the hole's edge, where they are nearest."""

    one: str
    other: str
    gap_mm: float
    at: Vec3


@dataclass(frozen=True, slots=True)
class OnBench:
    """A pipe as it is put on before the heater goes in.

    Attributes:
        passes_mm: of it, from the port, that gets through the hole; all_of_it: nothing follows.
        follows: names of what sits on it beyond that.
    """

    tube: Tube
    passes_mm: float
    all_of_it: bool
    follows: tuple[str, ...]

    @property
    def before(self) -> bool:
        """Whether it can be clamped on the bench at all."""
        return self.passes_mm >= CLAMPED_MM


@fact
def in_holes(job: Job) -> tuple[InHole, ...]:
    """Return the ports that hang in the holes of a mount through the floor, with their clamps."""
    mount, sheet = chosen_mount(job), heater_sheet(job)
    if mount is None or sheet is None or job.plan.spot is None or mount.through != "floor":
        return ()
    clamp, results = job.catalogue.pipe_physics.clamp_mm, []
    for name in ("exhaust", "intake", "fuel"):
        port = heater_port(job, name)
        x, y, _ = port_point(job, port)
        radius = port.diameter_mm / 2 + clamp
        hole = _hole_of(job, x, y)
        if hole is not None:
            results.append(InHole(name, x, y, radius, hole))
    return tuple(results)


def _hole_of(job: Job, x: float, y: float) -> PlacedHole | None:
    inside = [hole for hole in floor_holes(job) if edge_mm(hole, x, y, 0.0) >= 0]
    return max(inside, key=lambda hole: edge_mm(hole, x, y, 0.0), default=None)


def edge_mm(hole: PlacedHole, x: float, y: float, radius_mm: float) -> float:
    """Return the gap between something round at a place and a hole's edge; negative outside it."""
    dx, dy = abs(x - hole.x_mm), abs(y - hole.y_mm)
    if hole.is_cut:
        return min(hole.half_x_mm - dx, hole.half_y_mm - dy) - radius_mm
    return hole.diameter_mm / 2 - math.hypot(dx, dy) - radius_mm


@fact
def bundle(job: Job) -> tuple[Bundle, ...]:
    """Return every pair in one hole, and each with the hole's edge."""
    found = in_holes(job)
    results = [
        Bundle(
            each.name,
            "the hole's edge",
            edge_mm(each.hole, each.x_mm, each.y_mm, each.radius_mm),
            (each.x_mm, each.y_mm, 0.0),
        )
        for each in found
    ]
    for one, other in itertools.combinations(found, 2):
        if one.hole == other.hole:
            apart = math.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)
            gap = apart - one.radius_mm - other.radius_mm
            middle = ((one.x_mm + other.x_mm) / 2, (one.y_mm + other.y_mm) / 2, 0.0)
            results.append(Bundle(one.name, other.name, gap, middle))
    return tuple(results)


@fact
def on_bench(job: Job) -> tuple[OnBench, ...]:
    """Return how far each pipe gets through its hole with the heater, let down straight."""
    results = []
    for each in in_holes(job):
        if each.name not in TUBES:
            continue
        tube: Tube = "exhaust" if each.name == "exhaust" else "intake"
        run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
        if run is None or route is None:
            continue
        radius = heater_port(job, tube).diameter_mm / 2
        at = 0.0
        while at < run.length_mm:
            x, y, _ = run.point_at(min(at + STEP_MM, run.length_mm))
            if edge_mm(each.hole, x, y, radius) < 0:
                break
            at += STEP_MM
        for fitting in sorted(route.of_kind("silencer", "filter", "lagging"), key=_begins):
            x, y, _ = run.point_at(min(fitting.at_mm, run.length_mm))
            if edge_mm(each.hole, x, y, _half_mm(job, fitting.kind)) < 0:
                at = min(at, fitting.at_mm)
        passes = min(at, run.length_mm)
        beyond = (f.kind for f in route.of_kind("silencer", "filter") if f.at_mm >= passes)
        whole = passes >= run.length_mm
        results.append(OnBench(tube, passes, whole, tuple(dict.fromkeys(beyond))))
    return tuple(results)


def _begins(fitting: Fitting) -> float:
    return fitting.at_mm


def _half_mm(job: Job, kind: str) -> float:
    works = job.catalogue.pipe_physics
    if kind == "silencer":
        return works.silencer_mm / 2
    if kind == "filter":
        return works.air_filter_mm / 2
    return heater_port(job, "exhaust").diameter_mm / 2 + works.lagging_mm
