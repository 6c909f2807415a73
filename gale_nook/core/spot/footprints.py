"""Where a moved rectangle lies over any of many footprints: row by row of a grid, for all of them
at once.

A convex footprint widened by the rectangle covers one stretch of each row; its ends follow from its
sides in closed form.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from gale_nook.core.spot.convex_pieces import TOUCHING_MM, ConvexPiece, footprint
from gale_nook.core.spot.field import Grid


@dataclass(frozen=True, slots=True)
class RowSpans:
    """Stretches of rows: of which footprint, in which row, from which column to before which;
    arrays (k,).
    """

    part: Any
    row: Any
    first: Any
    stop: Any


class Footprints:
    """Footprints of parts, each widened by a rectangle.

    Args:
        half_x_mm, half_y_mm: of the rectangle; more than nothing.
    """

    def __init__(self, parts: Sequence[ConvexPiece], half_x_mm: float, half_y_mm: float) -> None:
        outlines = [footprint(part) for part in parts]
        self._swell = np.array([swell for _, swell in outlines])
        wide = [
            (x + sx * half_x_mm, y + sy * half_y_mm)
            for corners, _ in outlines
            for x, y in corners
            for sx in (-1, 1)
            for sy in (-1, 1)
        ]
        of = np.repeat(np.arange(len(outlines)), [4 * len(corners) for corners, _ in outlines])
        self._rings = _padded(shapely.convex_hull(shapely.multipoints(wide, indices=of)))

    def rows(self, grid: Grid, offset: tuple[float, float]) -> RowSpans:
        """Return what each footprint covers of a grid whose places are moved by an offset."""
        x, y = grid.x_mm + offset[0], grid.y_mm + offset[1]
        bottom = self._rings[:, :, 1].min(axis=1) - self._swell
        top = self._rings[:, :, 1].max(axis=1) + self._swell
        start = np.searchsorted(y, bottom + TOUCHING_MM, side="right")
        count = np.maximum(np.searchsorted(y, top - TOUCHING_MM) - start, 0)
        part = np.repeat(np.arange(len(count)), count)
        row = np.arange(len(part)) - np.repeat(np.cumsum(count) - count, count) + start[part]
        low, high = self._ends(part, y[row])
        first = np.searchsorted(x, low + TOUCHING_MM, side="right")
        stop = np.searchsorted(x, high - TOUCHING_MM)
        met = first < stop
        return RowSpans(part[met], row[met], first[met], stop[met])

    def _ends(self, part: Any, at_mm: Any) -> tuple[Any, Any]:
        """Return from where to where along x footprints reach at heights across, both (k,)."""
        swell = self._swell[part]
        low, high = np.full(len(part), np.inf), np.full(len(part), -np.inf)
        for side in range(self._rings.shape[1] - 1):
            ax, ay = self._rings[part, side].T
            bx, by = self._rings[part, side + 1].T
            inside = np.maximum(swell * swell - (at_mm - ay) ** 2, -1.0)
            round_corner = np.sqrt(np.maximum(inside, 0.0))
            low = np.where(inside >= 0, np.minimum(low, ax - round_corner), low)
            high = np.where(inside >= 0, np.maximum(high, ax + round_corner), high)
            length = np.hypot(bx - ax, by - ay)
            tall = np.abs(by - ay) > 1e-9
            # the side moved outwards by the swelling; the rings run against the clock
            moved = np.divide(swell, length, out=np.zeros_like(length), where=length > 1e-9)
            out_x, out_y = (by - ay) * moved, (ax - bx) * moved
            share = np.divide(at_mm - ay - out_y, by - ay, out=np.full(len(part), -1.0), where=tall)
            met = tall & (share >= -1e-12) & (share <= 1 + 1e-12)
            along = ax + out_x + share * (bx - ax)
            low = np.where(met, np.minimum(low, along), low)
            high = np.where(met, np.maximum(high, along), high)
        return low, high


def _padded(hulls: Any) -> Any:
    """Return the closed rings of polygons, against the clock, as one array (n, k, 2); short ones
    repeat their last corner.
    """
    rings = shapely.get_exterior_ring(shapely.normalize(hulls))
    points, of = shapely.get_coordinates(rings, return_index=True)
    counts = np.bincount(of, minlength=len(hulls))
    longest = int(counts.max(initial=1))
    at = (
        np.minimum(np.arange(longest)[None, :], counts[:, None] - 1)
        + (np.cumsum(counts) - counts)[:, None]
    )
    padded = points[at]
    x, y = padded[:, :, 0], padded[:, :, 1]
    clockwise = (x[:, :-1] * y[:, 1:] - x[:, 1:] * y[:, :-1]).sum(axis=1) < 0
    padded[clockwise] = padded[clockwise][:, ::-1]
    return padded


def paint(free: Any, covered: RowSpans, value: Any) -> None:
    """Lower an array (ny, nx) to each footprint's value where it is covered.

    Args:
        value: of each footprint, (n,).
    """
    of = value[covered.part]
    order = np.argsort(-of, kind="stable")  # the lowest last, over the others
    stretches = (covered.row[order], covered.first[order], covered.stop[order], of[order])
    for row, first, stop, low in zip(*(each.tolist() for each in stretches), strict=True):
        free[row, first:stop] = low
