"""The first proposal of a run, to be dragged from there."""

from __future__ import annotations

import math

from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import add, scale, turn_xy
from gale_nook.core.geometry.route import route_geometry
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import clamps_for
from gale_nook.core.plan.pipes import Fitting, Route, RouteNode, Tube
from gale_nook.core.spot.placement import heater_port, port_direction, port_point
from gale_nook.core.vehicle.lean import lean_of

DROP_MM = 70.0
PAST_EDGE_MM = 15.0
EXTRA_FALL_DEG = 1.5
SILENCER_MM = 120.0
FILTER_MM = 80.0
LEVEL, WALL_RUN_MM = 0.7, 340.0
AIR_LEVEL_MM = 260.0
AIR_FALL_DEG = 5.0
PORTS_FIRST = "The burner's pipes start at the heater's ports: choose a heater and a spot first."


def starting_run(job: Job, tube: Tube) -> Route:
    """Return a run straight down from the port and on.

    The exhaust falls to the nearer side's edge with a silencer on its long straight; the combustion
    air turns away from the exhaust and falls a little, with its filter at the end.

    Raises:
        BadInput: there is no heater, spot or mount yet.
    """
    if job.plan.spot is None or heater_sheet(job) is None or chosen_mount(job) is None:
        raise BadInput(f"pipes.{tube}", None, PORTS_FIRST)
    return _with_clamps(job, tube, _exhaust(job) if tube == "exhaust" else _intake(job))


def _with_clamps(job: Job, tube: Tube, route: Route) -> Route:
    nodes = [((n.x_mm, n.y_mm, n.z_mm), n.radius_mm) for n in route.nodes]
    run = route_geometry(port_point(job, heater_port(job, tube)), port_direction(job, tube), nodes)
    return route.model_copy(
        update={"fittings": (*route.fittings, *clamps_for(route, run.length_mm))}
    )


def _exhaust(job: Job) -> Route:
    if port_direction(job, "exhaust")[2] > -LEVEL:
        return _along_the_wall(job)
    x, y, z = port_point(job, heater_port(job, "exhaust"))
    side = 1.0 if y >= 0 else -1.0
    mouth_y = side * (job.plan.vehicle.shell.outer_width_mm / 2 + PAST_EDGE_MM)
    fall_deg = max(least_of(job, "exhaust_fall_deg", 0.0), lean_of(job).most_deg) + EXTRA_FALL_DEG
    radius_mm = least_of(job, "exhaust_radius_mm", 50.0) + 5.0
    low_z = z - max(DROP_MM, radius_mm + least_of(job, "first_straight_mm", 0.0) + 10)
    mouth_z = low_z - abs(mouth_y - y) * math.tan(math.radians(fall_deg))
    nodes = (
        RouteNode(id="n-1", x_mm=round(x), y_mm=round(y), z_mm=round(low_z), radius_mm=radius_mm),
        RouteNode(
            id="n-2",
            x_mm=round(x),
            y_mm=round(mouth_y),
            z_mm=math.floor(mouth_z),
            radius_mm=radius_mm,
        ),
    )
    level = abs(mouth_y - y)
    drop = z - low_z
    fittings: tuple[Fitting, ...] = ()
    if level > SILENCER_MM + 2 * radius_mm + 40:
        at = round(drop + (level - SILENCER_MM) / 2)
        fittings = (Fitting(id="silencer", kind="silencer", at_mm=at, length_mm=SILENCER_MM),)
    return Route(nodes=nodes, fittings=fittings)


def _along_the_wall(job: Job) -> Route:
    """Out of a level port, then rearward and down beside the wall."""
    port, leaving = port_point(job, heater_port(job, "exhaust")), port_direction(job, "exhaust")
    radius_mm = least_of(job, "exhaust_radius_mm", 50.0) + 5.0
    out_mm = radius_mm + least_of(job, "first_straight_mm", 0.0) + 10
    x, y, z = add(port, scale(leaving, out_mm))
    fall_deg = max(least_of(job, "exhaust_fall_deg", 0.0), lean_of(job).most_deg) + EXTRA_FALL_DEG
    z -= out_mm * math.tan(math.radians(fall_deg))
    nodes = (
        RouteNode(id="n-1", x_mm=round(x), y_mm=round(y), z_mm=math.floor(z), radius_mm=radius_mm),
        RouteNode(
            id="n-2",
            x_mm=round(x + WALL_RUN_MM),
            y_mm=round(y),
            z_mm=math.floor(z - WALL_RUN_MM / 2),
            radius_mm=radius_mm,
        ),
    )
    silencer = Fitting(
        id="silencer", kind="silencer", at_mm=round(out_mm + 90), length_mm=SILENCER_MM
    )
    return Route(nodes=nodes, fittings=(silencer,))


def _intake(job: Job) -> Route:
    spot = job.plan.spot
    yaw = spot.yaw_deg if spot is not None else 0
    x, y, z = port_point(job, heater_port(job, "intake"))
    ex, ey, _ = port_point(job, heater_port(job, "exhaust"))
    radius_mm = least_of(job, "intake_radius_mm", 40.0) + 5.0
    low_z = z - radius_mm - least_of(job, "first_straight_mm", 0.0) - 10
    # away from the exhaust, and never forward
    away = (x - ex, y - ey)
    length = math.hypot(*away)
    dx, dy = (away[0] / length, away[1] / length) if length > 1 else turn_xy(0.0, 1.0, yaw)
    if dx < 0:
        dx, dy = 0.0, 1.0 if dy >= 0 else -1.0
    end_z = low_z - AIR_LEVEL_MM * math.tan(math.radians(AIR_FALL_DEG))
    nodes = (
        RouteNode(id="n-1", x_mm=round(x), y_mm=round(y), z_mm=round(low_z), radius_mm=radius_mm),
        RouteNode(
            id="n-2",
            x_mm=round(x + dx * AIR_LEVEL_MM),
            y_mm=round(y + dy * AIR_LEVEL_MM),
            z_mm=math.floor(end_z),
            radius_mm=radius_mm,
        ),
    )
    at = round(z - low_z + AIR_LEVEL_MM - FILTER_MM - 30)
    return Route(
        nodes=nodes, fittings=(Fitting(id="filter", kind="filter", at_mm=at, length_mm=FILTER_MM),)
    )
