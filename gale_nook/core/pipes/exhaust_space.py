"""The space that an exhaust can be led through: a grid under the vehicle, with what is too near to
anything taken out.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from gale_nook.core.geometry.cloud import Grid3, block, block_line
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.clearance_rules import outside_parts
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.routing.free_space import FreeSpace
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.floor import floor_underside_z_mm

PAST_EDGE_MM = 15.0  # the mouth stands out this far
BESIDE_MM = 60.0  # of grid beyond the edges


def edge_columns(job: Job, space: FreeSpace, edge: EdgeName) -> Any:
    """Return which columns lie at an edge, a step wide, (ny, nx)."""
    x, y, _ = space.grid.axes
    shell = job.plan.vehicle.shell
    half, step = shell.outer_width_mm / 2 + PAST_EDGE_MM, space.grid.step_mm
    found = {
        "left": (y <= -half + step)[:, None],
        "right": (y >= half - step)[:, None],
        "rear": (x >= shell.rear_x_mm + PAST_EDGE_MM - step)[None, :],
    }[edge]
    return np.broadcast_to(found, space.free_somewhere.shape)


def exhaust_space(
    job: Job,
    port: Vec3,
    reach_mm: float,
    step_mm: float,
    gap_share: float = 1.0,
    extra_mm: float = 0.0,
) -> FreeSpace:
    """Return the space round a port.

    Args:
        reach_mm: how far from the port the grid goes, where the vehicle does.
        gap_share: of the gaps that the kinds of parts ask for; 0 looks only for what is not in the
            way at all.
        extra_mm: kept on top of every gap, for what bends cut off their corners.
    """
    run = pipe_run(job, "intake")
    shell, radius = job.plan.vehicle.shell, heater_port(job, "exhaust").diameter_mm / 2
    half = shell.outer_width_mm / 2 + BESIDE_MM
    ranges = (
        (
            max(shell.front_x_mm, port[0] - reach_mm),
            min(shell.rear_x_mm + BESIDE_MM, port[0] + reach_mm),
        ),
        (max(-half, port[1] - reach_mm), min(half, port[1] + reach_mm)),
    )
    low, count, at = [], [], []
    for axis, (first, last) in enumerate(ranges):
        # a port may lie outside the vehicle: the space then holds just it
        before, after = (
            max(int((port[axis] - first) // step_mm), 0),
            max(int((last - port[axis]) // step_mm), 0),
        )
        low.append(port[axis] - before * step_mm)
        count.append(before + after + 1)
        at.append(before)
    floor, ground = (
        limit_band(job, "exhaust_floor_mm"),
        limit_band(job, "exhaust_ground_mm"),
    )
    top = floor_underside_z_mm(job) - radius - (floor.minimum or 0.0 if floor is not None else 0.0)
    bottom = shell.ground_z_mm + radius + (ground.minimum or 0.0 if ground is not None else 0.0)
    deepest = max(bottom, top - reach_mm)  # no run gets farther down
    layers = max(int((top - deepest) // step_mm) + 1, 1)
    grid = Grid3(
        (low[0], low[1], top - (layers - 1) * step_mm), step_mm, (count[0], count[1], layers)
    )
    blocked = np.zeros(grid.shape, dtype=bool)
    for solid, kind, shape in outside_parts(job):
        if kind.exhaust_mm is not None:
            block(blocked, grid, solid, shape, radius + kind.exhaust_mm * gap_share + extra_mm)
    apart = limit_band(job, "tubes_apart_mm")
    if run is not None and apart is not None:
        reach = (
            radius + heater_port(job, "intake").diameter_mm / 2 + (apart.minimum or 0.0) * gap_share
        )
        block_line(blocked, grid, run.centre_line, reach + extra_mm / 2)
    return FreeSpace(grid, blocked, (at[0], at[1]), bottom, top)
