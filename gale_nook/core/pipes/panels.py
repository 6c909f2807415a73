"""Panels that a burner pipe passes through: where it does, and which bulkhead
fitting carries it.
"""

from __future__ import annotations

import math

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.geometry.shapes import Shape, separation, tube_shape
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.plan.solids import Solid
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.parts import surveyed_parts

STEP_MM = 2.0
PROUD_MM = 5.0  # a fitting stands out of its panel by this much on both sides
Panel = tuple[Solid, SolidKind, Shape]


def panels(job: Job) -> list[Panel]:
    """Return the surveyed parts that a pipe may pass through in a fitting."""
    return [part for part in surveyed_parts(job) if part[1].through]


def ring_mm(job: Job, tube: Tube) -> float:
    """Return what a bulkhead fitting keeps between the panel's edge and the pipe's skin."""
    works = job.catalogue.pipe_physics
    return works.sleeve_mm if tube == "exhaust" else works.grommet_mm


def fitting_shape(job: Job, tube: Tube, fitting: Fitting) -> Shape | None:
    """Return the piece of pipe that lies in a bulkhead fitting."""
    run = pipe_run(job, tube)
    if run is None:
        return None
    end = min(fitting.end_mm, run.passed_mm[-1])
    return tube_shape(run.stretch(min(fitting.at_mm, end), end), heater_port(job, tube).diameter_mm)


def passed(job: Job, tube: Tube) -> dict[str, Fitting]:
    """Return the bulkhead fitting by the id of the panel that it carries the pipe through."""
    route = job.plan.pipes.route(tube)
    results: dict[str, Fitting] = {}
    for fitting in route.of_kind("bulkhead") if route is not None else ():
        piece = fitting_shape(job, tube, fitting)
        for solid, _, shape in panels(job) if piece is not None else ():
            if piece is not None and separation(piece, shape).distance_mm < 0:
                results.setdefault(solid.id, fitting)
    return results


def crossing(run: RouteGeometry, shape: Shape) -> tuple[float, float] | None:
    """Return where a pipe's centre line is first inside a shape and where it leaves it, in mm from
    the port.
    """
    inside: list[float] = []
    for step in range(math.ceil(run.length_mm / STEP_MM) + 1):
        at = min(step * STEP_MM, run.length_mm)
        point = run.point_at(at)
        if any(math.dist(piece.nearest(point), point) == 0 for piece in shape.pieces):
            inside.append(at)
        elif inside:
            break
    return (inside[0], inside[-1]) if inside else None
