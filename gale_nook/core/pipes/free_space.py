"""The room that an exhaust can be led through: a grid under the vehicle, with what is too near to
anything taken out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from gale_nook.core.geometry.cloud import Grid3, block, block_line
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.clearance_rules import outside_parts
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.floor import floor_underside_z_mm

PAST_EDGE_MM = 15.0  # the mouth stands out this far
BESIDE_MM = 60.0  # of grid beyond the edges
DIAGONAL = math.sqrt(2)
FAR = 1e9


@dataclass(frozen=True)
class Room:
    """The grid and what is free in it. One of its columns stands on the exhaust's port.

    Attributes:
        blocked: (nz, ny, nx), the exhaust's middle cannot be there.
        at: index (ix, iy) of the port's column.
        low_mm, high_mm: heights between which the exhaust's middle has to stay.
    """

    grid: Grid3
    blocked: Any
    at: tuple[int, int]
    low_mm: float
    high_mm: float

    @cached_property
    def flat(self) -> bytes:
        """`blocked` as bytes, in C order; quick to look up one by one."""
        return np.ascontiguousarray(self.blocked, dtype=np.uint8).tobytes()

    @cached_property
    def free_somewhere(self) -> Any:
        """Whether a column has room at any height, (ny, nx)."""
        return ~self.blocked.all(axis=0)

    def beyond(self, job: Job, edge: EdgeName) -> Any:
        """Return which columns lie at an edge, a step wide, (ny, nx)."""
        x, y, _ = self.grid.axes
        shell = job.plan.vehicle.shell
        half, step = shell.outer_width_mm / 2 + PAST_EDGE_MM, self.grid.step_mm
        found = {
            "left": (y <= -half + step)[:, None],
            "right": (y >= half - step)[:, None],
            "rear": (x >= shell.rear_x_mm + PAST_EDGE_MM - step)[None, :],
        }[edge]
        return np.broadcast_to(found, self.free_somewhere.shape)

    def ahead_mm(self, ends: Any) -> Any:
        """Return a length in plan that no way from a column to one of the ends falls below; FAR
        where there is none.

        Args:
            ends: columns, (ny, nx).
        """
        start = np.where(ends & self.free_somewhere, 0.0, FAR)
        return _spread(start, self.free_somewhere, self.grid.step_mm)


def _spread(start: Any, free: Any, step: float) -> Any:
    """Shortest way over eight neighbours through what is free, from everywhere to what is 0 at the
    start.
    """
    lengths = start.copy()
    ways = [(dy, dx) for dy in (-1, 0, 1) for dx in (-1, 0, 1) if dx or dy]
    while True:
        before = lengths.copy()
        padded = np.pad(lengths, 1, constant_values=FAR)
        for dy, dx in ways:
            shifted = padded[1 + dy : 1 + dy + lengths.shape[0], 1 + dx : 1 + dx + lengths.shape[1]]
            np.minimum(lengths, shifted + step * (DIAGONAL if dx and dy else 1.0), out=lengths)
        lengths[~free] = FAR
        if np.array_equal(before, lengths):
            return lengths


def room_of(
    job: Job,
    port: Vec3,
    reach_mm: float,
    step_mm: float,
    gap_share: float = 1.0,
    extra_mm: float = 0.0,
) -> Room:
    """Return the room round a port.

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
        # a port may lie outside the vehicle: the room then holds just it
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
    return Room(grid, blocked, (at[0], at[1]), bottom, top)
