"""The space that a run can be led through: a grid with what is too near to anything taken out."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from gale_nook.core.geometry.cloud import Grid3
from gale_nook.core.geometry.frames import Vec3

DIAGONAL = math.sqrt(2)
FAR = 1e9


@dataclass(frozen=True)
class FreeSpace:
    """The grid and what is free in it. One of its columns stands on the start.

    Attributes:
        blocked: (nz, ny, nx), the run's middle cannot be there.
        at: index (ix, iy) of the start's column.
        low_mm, high_mm: heights between which the run's middle has to stay.
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
        """Whether a column has space at any height, (ny, nx)."""
        return ~self.blocked.all(axis=0)

    def ahead_mm(self, ends: Any) -> Any:
        """Return a length in plan that no run from a column to one of the ends falls below; FAR
        where there is none.

        Args:
            ends: columns, (ny, nx).
        """
        start = np.where(ends & self.free_somewhere, 0.0, FAR)
        return spread_mm(start, self.free_somewhere, self.grid.step_mm)


def grid_round(
    start: Vec3,
    reach_mm: float,
    step_mm: float,
    sides: tuple[tuple[float, float], tuple[float, float]],
    heights: tuple[float, float],
) -> tuple[Grid3, tuple[int, int]]:
    """Return a grid with a column on a start, and the index (ix, iy) of that column.

    Args:
        reach_mm: how far from the start it goes at most.
        sides: from where to where along x and along y; a start outside these has just its column.
        heights: lowest and highest; a layer lies on the highest.
    """
    low, count, at = [], [], []
    for axis, (first, last) in enumerate(sides):
        before = max(int(min(start[axis] - first, reach_mm) // step_mm), 0)
        after = max(int(min(last - start[axis], reach_mm) // step_mm), 0)
        low.append(start[axis] - before * step_mm)
        count.append(before + after + 1)
        at.append(before)
    bottom, top = heights
    layers = max(int((top - max(bottom, top - reach_mm)) // step_mm) + 1, 1)
    lowest = top - (layers - 1) * step_mm
    return Grid3((low[0], low[1], lowest), step_mm, (count[0], count[1], layers)), (at[0], at[1])


def spread_mm(start: Any, free: Any, step_mm: float) -> Any:
    """Return the shortest path over eight neighbours through what is free, from everywhere to what
    is not FAR at the start, with what it is there on top.
    """
    lengths = start.copy()
    neighbours = [(dy, dx) for dy in (-1, 0, 1) for dx in (-1, 0, 1) if dx or dy]
    while True:
        before = lengths.copy()
        padded = np.pad(lengths, 1, constant_values=FAR)
        for dy, dx in neighbours:
            shifted = padded[1 + dy : 1 + dy + lengths.shape[0], 1 + dx : 1 + dx + lengths.shape[1]]
            np.minimum(lengths, shifted + step_mm * (DIAGONAL if dx and dy else 1.0), out=lengths)
        lengths[~free] = FAR
        if np.array_equal(before, lengths):
            return lengths


def descended(lengths: Any, at: tuple[int, int]) -> list[tuple[int, int]]:
    """Return the cells (iy, ix) of a shortest path from one to where it began; empty where there is
    none.

    Args:
        lengths: as `spread_mm` gives.
    """
    iy, ix = at
    if lengths[iy, ix] >= FAR:
        return []
    path = [at]
    while True:
        y0, x0 = max(iy - 1, 0), max(ix - 1, 0)
        around = lengths[y0 : iy + 2, x0 : ix + 2]
        dy, dx = np.unravel_index(int(around.argmin()), around.shape)
        if around[dy, dx] >= lengths[iy, ix]:
            return path
        iy, ix = y0 + int(dy), x0 + int(dx)
        path.append((iy, ix))
