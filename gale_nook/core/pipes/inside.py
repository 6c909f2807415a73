"""A burner pipe that runs inside the cabin for a stretch: where it does, what is round it there,
and how warm its box gets.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heat.film import pressure_pa
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.gas import Outer, exhaust_gas, outside_w_m
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Fitting, Route, Tube
from gale_nook.core.spot.placement import floor_holes, heater_port
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.inside import is_inside, route_passes_mm, route_stretches

AT_PORT_MM = 150.0  # so far a pipe is in the mount's own hole, where others look at it
STEP_MM = 25.0
SPAN_STEP_MM, BEYOND_MM = 4.0, 10.0
SHELL_KINDS = {"floor", "floor-ribs", "wall", "roof"}
WARMED_SHARE = 0.75  # of a box's sides give heat off: one lies at furniture or wall
BOX_FILM_W_M2K = 9.0  # still air and radiation; VDI Heat Atlas, F2


@dataclass(frozen=True, slots=True)
class InsideStretch:
    """A stretch of a pipe within the cabin, from and to along it."""

    from_mm: float
    to_mm: float

    @property
    def length_mm(self) -> float:
        return self.to_mm - self.from_mm

    def holds(self, at_mm: float) -> bool:
        """Return whether a place along the pipe lies in it."""
        return self.from_mm - 1e-6 <= at_mm <= self.to_mm + 1e-6


@fact
def inside_stretches(job: Job, tube: Tube) -> tuple[InsideStretch, ...]:
    """Return where a pipe is in the cabin, but for what of it is in the mount's own hole."""
    run = pipe_run(job, tube)
    if run is None:
        return ()
    found = [InsideStretch(s.from_mm, s.to_mm) for s in route_stretches(job, run) if s.inside]
    return tuple(s for s in found if not _in_the_mount(job, run.point_at(s.from_mm), s))


def _in_the_mount(job: Job, start: Vec3, stretch: InsideStretch) -> bool:
    if stretch.from_mm > 0 or stretch.to_mm > AT_PORT_MM:
        return False
    return any(
        math.hypot(start[0] - hole.x_mm, start[1] - hole.y_mm) <= max(hole.reach_mm)
        for hole in floor_holes(job)
    )


@fact
def passes_mm(job: Job, tube: Tube) -> tuple[float, ...]:
    """Return where a pipe passes from inside to outside or back, but for the mount's own hole."""
    run, stretches = pipe_run(job, tube), inside_stretches(job, tube)
    if run is None:
        return ()
    ends = {round(s.from_mm, 3) for s in stretches} | {round(s.to_mm, 3) for s in stretches}
    return tuple(at for at in route_passes_mm(job, run) if round(at, 3) in ends)


@fact
def sleeve_spans_mm(job: Job, tube: Tube) -> tuple[tuple[float, float], ...]:
    """Return, for every pass of a pipe through floor or wall, from where to where along it a sleeve
    has to reach: through all that it passes there, and a little beyond.
    """
    run = pipe_run(job, tube)
    if run is None:
        return ()
    radius = heater_port(job, tube).diameter_mm / 2 + BEYOND_MM  # and its lagging
    pieces = [piece for body in shell_bodies(job) for piece in body.shape.pieces]

    def is_through(at_mm: float) -> bool:
        point = run.point_at(at_mm)
        return any(math.dist(piece.nearest(point), point) < radius for piece in pieces)

    results = []
    for at in passes_mm(job, tube):
        low = high = at
        while low > 0 and is_through(low - SPAN_STEP_MM):
            low -= SPAN_STEP_MM
        while high < run.length_mm and is_through(high + SPAN_STEP_MM):
            high += SPAN_STEP_MM
        results.append((max(low - BEYOND_MM, 0.0), min(high + BEYOND_MM, run.length_mm)))
    return tuple(results)


def shell_bodies(job: Job) -> list[Body]:
    """Return floor, walls and roof."""
    return [body for body in vehicle_bodies(job) if body.kind in SHELL_KINDS]


def is_allowed(job: Job) -> bool:
    """Return whether the job lets the pipes run inside, with its reason."""
    return job.plan.pipes.inside == "allowed" and bool(job.plan.pipes.inside_reason.strip())


def exhaust_comes_in(job: Job) -> bool:
    """Return whether the exhaust runs inside and may: checks of the inside look at it then."""
    return comes_in(job, "exhaust")


def comes_in(job: Job, tube: Tube) -> bool:
    """Return whether a pipe runs inside, and may."""
    return is_allowed(job) and bool(inside_stretches(job, tube))


def mouth_inside(job: Job, tube: Tube) -> bool:
    """Return whether a pipe ends in the cabin."""
    run = pipe_run(job, tube)
    return run is not None and is_inside(job, run.mouth)


@dataclass(frozen=True, slots=True)
class Place:
    """A place along an inside stretch.

    Attributes:
        skin_c: of the pipe or its lagging, at most output on a warm day.
        diameter_mm: with the lagging; lost_w_m: what a metre gives off there.
        box: round it; None for none.
    """

    at_mm: float
    point: Vec3
    skin_c: float
    diameter_mm: float
    lost_w_m: float
    layers: int
    box: Fitting | None


@fact
def inside_places(job: Job) -> tuple[Place, ...]:
    """Return the exhaust's inside stretches in steps of STEP_MM, both ends with them."""
    run, route = pipe_run(job, "exhaust"), job.plan.pipes.exhaust
    works = job.catalogue.pipe_physics
    gas = exhaust_gas(job, works.warm_day_c)
    if run is None or route is None or gas is None:
        return ()
    bare = heater_port(job, "exhaust").diameter_mm
    results = []
    for stretch in inside_stretches(job, "exhaust"):
        count = max(math.ceil(stretch.length_mm / STEP_MM), 1)
        for n in range(count + 1):
            at = stretch.from_mm + stretch.length_mm * n / count
            layers = _layers(route, at)
            box = next((f for f in route.of_kind("box") if f.at_mm <= at <= f.end_mm), None)
            # between two places worked out the cover may change: look at one under the same cover
            alike = [a for a in gas.along if _alike(route, a.distance_mm, layers)] or gas.along
            near = min(alike, key=lambda a, mm=at: abs(a.distance_mm - mm))
            thick = bare + 2 * layers * works.lagging_mm
            results.append(
                Place(
                    at,
                    run.point_at(at),
                    near.skin_c,
                    thick,
                    _lost_w_m(job, near.skin_c, thick, layers),
                    layers,
                    box,
                )
            )
    return tuple(results)


def _alike(route: Route, at_mm: float, layers: int) -> bool:
    """Whether so many layers are on both sides of a place."""
    return all(_layers(route, at_mm + mm) == layers for mm in (-1.0, 1.0))


def _layers(route: Route, at_mm: float) -> int:
    return sum(f.layers for f in route.of_kind("lagging") if f.at_mm <= at_mm <= f.end_mm)


def _lost_w_m(job: Job, skin_c: float, diameter_mm: float, layers: int) -> float:
    """What a metre gives off from its skin in still air, as the march along the pipe has it."""
    works, kind = job.catalogue.pipe_physics, job.catalogue.pipes["exhaust"]
    emissivity = works.lagging_emissivity if layers else kind.emissivity
    air_pa = pressure_pa(job.plan.heat.altitude_m)
    outer = Outer(diameter_mm / 1000, emissivity, 0.0, air_pa)
    return outside_w_m(skin_c, outer, works.warm_day_c)


def box_c(job: Job, place: Place) -> float:
    """Return how warm the outside of a box gets: it gives off all that the pipe in it does, by half
    of its sides; without a box the pipe's own skin.
    """
    if place.box is None:
        return place.skin_c
    side_m = (place.diameter_mm + 2 * place.box.box_mm) / 1000
    area_m2_m = 4 * side_m * WARMED_SHARE
    ambient = job.catalogue.pipe_physics.warm_day_c
    return min(ambient + place.lost_w_m / (BOX_FILM_W_M2K * area_m2_m), place.skin_c)
