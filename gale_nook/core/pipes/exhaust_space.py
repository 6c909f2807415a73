"""The space that an exhaust can be led through: a grid under the vehicle, with what is too near to
anything taken out.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from gale_nook.core.geometry.cloud import block, block_body, block_line
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.limits import least_of, limit_band
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.clearance_rules import outside_parts
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.routing.free_space import FreeSpace, grid_round
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.bodies import floor_bodies
from gale_nook.core.vehicle.floor import every_floor

PAST_EDGE_MM = 15.0  # the mouth stands out this far
BESIDE_MM = 60.0  # of grid beyond the edges


def edge_columns(job: Job, space: FreeSpace, edge: EdgeName) -> Any:
    """Return which columns lie at an edge, a step wide, (ny, nx)."""
    x, y, _ = space.grid.axes
    shell = job.plan.vehicle.shell
    half, step = shell.outer_width_mm / 2 + PAST_EDGE_MM, space.grid.step_mm
    result = {
        "left": (y <= -half + step)[:, None],
        "right": (y >= half - step)[:, None],
        "rear": (x >= shell.rear_x_mm + PAST_EDGE_MM - step)[None, :],
    }[edge]
    return np.broadcast_to(result, space.free_somewhere.shape)


def exhaust_space(  # noqa: PLR0913 - each is named at the call
    job: Job,
    port: Vec3,
    reach_mm: float,
    step_mm: float,
    *,
    gap_share: float = 1.0,
    extra_mm: float = 0.0,
    others: tuple[Body, ...] = (),
) -> FreeSpace:
    """Return the space round a port.

    Args:
        reach_mm: how far from the port the grid goes, where the vehicle does.
        gap_share: of the gaps that the kinds of parts ask for; 0 looks only for what is not in the
            way at all.
        extra_mm: kept on top of every gap, for what bends cut off their corners.
        others: bodies of what was planned besides.
    """
    shell, radius = job.plan.vehicle.shell, heater_port(job, "exhaust").diameter_mm / 2
    half = shell.outer_width_mm / 2 + BESIDE_MM
    over = least_of(job, "exhaust_floor_mm", 0.0)
    top = max(floor.underside_z_mm for floor in every_floor(job)) - radius - over
    bottom = shell.ground_z_mm + radius + least_of(job, "exhaust_ground_mm", 0.0)
    sides = ((shell.front_x_mm, shell.rear_x_mm + BESIDE_MM), (-half, half))
    grid, at = grid_round(port, reach_mm, step_mm, sides, (bottom, top))
    blocked = np.zeros(grid.shape, dtype=bool)
    for solid, kind, shape in outside_parts(job):
        if kind.exhaust_mm is not None:
            block(blocked, grid, solid, shape, radius + kind.exhaust_mm * gap_share + extra_mm)
    for body in floor_bodies(job) if job.plan.vehicle.floors else ():
        block_body(blocked, grid, body.shape, radius + over)
    for body in others:
        asked = (body.gaps.exhaust_mm or 0.0) if body.gaps is not None else 0.0
        block_body(blocked, grid, body.shape, radius + asked * gap_share + extra_mm)
    intake, apart = pipe_run(job, "intake"), limit_band(job, "tubes_apart_mm")
    if intake is not None and apart is not None:
        reach = (
            radius + heater_port(job, "intake").diameter_mm / 2 + (apart.minimum or 0.0) * gap_share
        )
        block_line(blocked, grid, intake.centre_line, reach + extra_mm / 2)
    return FreeSpace(grid, blocked, at, bottom, top)
