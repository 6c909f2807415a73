"""The burner's pipes as they run: from the heater's port through their corners to the mouth."""

from __future__ import annotations

from typing import Literal

from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.geometry.shapes import Shape, tube_shape
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.pipes import Route, Tube
from gale_nook.core.spot.placement import body_corners, heater_port, port_direction, port_point

OUT_OF_BODY_MM = 5.0


@fact
def pipe_run(job: Job, tube: Tube) -> RouteGeometry | None:
    """Return a pipe's run from its port to its mouth; None while it has no corners or no port."""
    route = job.plan.pipes.route(tube)
    if (
        route is None
        or heater_sheet(job) is None
        or chosen_mount(job) is None
        or job.plan.spot is None
    ):
        return None
    nodes = [((n.x_mm, n.y_mm, n.z_mm), n.radius_mm) for n in route.nodes]
    start = port_point(job, heater_port(job, tube))
    return route_geometry(start, port_direction(job, tube), nodes)


@fact
def pipe_shape(job: Job, tube: Tube) -> Shape | None:
    """Return a pipe as a solid of its outside diameter; None without a run."""
    run = pipe_run(job, tube)
    return (
        tube_shape(run.centre_line, heater_port(job, tube).diameter_mm) if run is not None else None
    )


def without_route(job: Job, tube: Tube) -> Job:
    """Return the job without one pipe."""
    pipes = job.plan.pipes.model_copy(update={tube: None})
    return job.with_parts(pipes=pipes)


def with_route(job: Job, tube: Tube, route: Route) -> Job:
    """Return the job with another route of one pipe."""
    pipes = job.plan.pipes.model_copy(update={tube: route})
    return job.with_parts(pipes=pipes)


def through_body_mm(job: Job, tube: Tube | Literal["fuel"]) -> float:
    """Return how far a pipe goes straight down until it has left the heater's own body or box; 0
    where its port lies outside, or points elsewhere.
    """
    corners, port = body_corners(job), heater_port(job, tube)
    x, y, z = port_point(job, port)
    if corners is None or port_direction(job, tube)[2] > -0.9:
        return 0.0
    low, high = corners
    inside = low[0] < x < high[0] and low[1] < y < high[1] and low[2] < z
    return z - low[2] + port.diameter_mm / 2 + OUT_OF_BODY_MM if inside else 0.0
