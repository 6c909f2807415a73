"""How far it is free from a face of the heater's body, and below a port, at many places at once.

Exact for upright solids; sloping tubes and lying cylinders count with their full height.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from gale_nook.core.spot.convex_pieces import (
    TOUCHING_MM,
    ConvexPiece,
    footprint,
    is_upright,
    piece_bounds,
    piece_heights,
    plan_distance_mm,
    spans_in_strips,
)
from gale_nook.core.spot.footprints import Footprints, paint
from gale_nook.core.spot.moving import MovingPart
from gale_nook.core.spot.obstacles import Obstacle
from gale_nook.core.spot.places import Places

FAR_MM = 3000.0


@dataclass(frozen=True, slots=True)
class FreeReach:
    """Free distances from a face.

    Attributes:
        distance_mm: at each place, (ny, nx).
        met: what ends it, of a single place; None where nothing does.
    """

    distance_mm: Any
    met: Obstacle | None


def free_along(
    at: Places,
    body: MovingPart,
    direction: tuple[int, int],
    others: Sequence[Obstacle],
    wanted_mm: float,
) -> FreeReach:
    """Return the free distance from a face of a moving body along the floor: at most FAR_MM, and
    exact up to what is wanted and the cap.

    Args:
        direction: one of ±x, ±y.
    """
    axis = 0 if direction[0] else 1
    sweep = _sweep(at, body, axis, direction[axis] > 0, min(wanted_mm + at.cap_mm, FAR_MM))
    free = np.full((len(sweep.low_mm), len(sweep.face_mm)), FAR_MM)
    met, single = None, free.shape == (1, 1)
    reach = sweep.reach_mm
    for obstacle in others:
        if not sweep.meets(obstacle, body, reach):
            continue
        for piece in obstacle.pieces:
            if obstacle.is_hollow and not _beside(body, piece):
                continue  # a panel over it or under it
            sweep.shorten(free, piece, reach)
        if single and free[0, 0] < reach:
            met, reach = obstacle, float(free[0, 0])
    return FreeReach(free if axis == 0 else free.T, met)


def _beside(body: MovingPart, piece: ConvexPiece) -> bool:
    """Whether a piece is as high up as a moving body."""
    low, high = piece_heights(piece)
    return low < body.box.high_z_mm and high > body.box.low_z_mm


@dataclass(frozen=True, slots=True)
class _Sweep:
    """A face of the body moved along the floor, at every place of a row.

    Attributes:
        axis, forward: along which it looks, and whether towards higher coordinates.
        reach_mm: up to which a free distance matters.
        face_mm: where the face stands, rising (n,).
        low_mm, high_mm: the strips that it sweeps (m,).
        ends_mm: first and last face, lowest and highest edge of a strip.
    """

    axis: int
    forward: bool
    reach_mm: float
    face_mm: Any
    low_mm: Any
    high_mm: Any
    ends_mm: tuple[float, float, float, float]

    def meets(self, obstacle: Obstacle, body: MovingPart, reach_mm: float) -> bool:
        """Return whether a thing's bounds come before the face at any place, within reach."""
        b, axis, across = obstacle.shape.bounds, self.axis, 1 - self.axis
        first, last, lowest, highest = self.ends_mm
        if b[2] >= body.box.high_z_mm or b[5] <= body.box.low_z_mm:
            return False
        if b[across] >= highest or b[across + 3] <= lowest:
            return False
        if self.forward:
            return b[axis + 3] > first and b[axis] < last + reach_mm
        return b[axis] < last and b[axis + 3] > first - reach_mm

    def shorten(self, free: Any, piece: ConvexPiece, reach_mm: float) -> None:
        """Lower free distances (m, n) to those up to one piece, where they come within reach."""
        b, axis = piece_bounds(piece), self.axis
        start = b[axis] - (reach_mm if self.forward else 0.0)
        stop = b[axis + 2] + (0.0 if self.forward else reach_mm)
        columns = slice(
            int(np.searchsorted(self.face_mm, start)),
            int(np.searchsorted(self.face_mm, stop, side="right")),
        )
        met = np.nonzero((b[1 - axis] < self.high_mm) & (b[3 - axis] > self.low_mm))[0]
        if len(met) == 0 or columns.start >= columns.stop:
            return
        rows, face = slice(int(met[0]), int(met[-1]) + 1), self.face_mm[columns]
        if is_upright(piece):
            ahead = _ahead(b[axis], b[axis + 2], face, self.forward)
        else:
            low, high = spans_in_strips(piece, axis, self.low_mm[rows], self.high_mm[rows])
            ahead = _ahead(low[:, None], high[:, None], face[None, :], self.forward)
        np.minimum(free[rows, columns], ahead, out=free[rows, columns])


def _sweep(at: Places, body: MovingPart, axis: int, forward: bool, reach_mm: float) -> _Sweep:
    halves = (body.box.half_x_mm, body.box.half_y_mm)
    places = (at.grid.x_mm + body.offset_mm[0], at.grid.y_mm + body.offset_mm[1])
    face = places[axis] + (halves[axis] if forward else -halves[axis])
    low, high = places[1 - axis] - halves[1 - axis], places[1 - axis] + halves[1 - axis]
    ends = (float(face[0]), float(face[-1]), float(low[0]), float(high[-1]))
    return _Sweep(axis, forward, reach_mm, face, low, high, ends)


def _ahead(low: Any, high: Any, face: Any, forward: bool) -> Any:
    """Free distance from faces to what reaches from low to high along the axis; FAR_MM where it
    lies wholly behind.
    """
    gap = low - face if forward else face - high
    behind = high <= face if forward else low >= face
    return np.where(behind | (gap >= FAR_MM), FAR_MM, np.maximum(gap, 0.0))


def free_above(at: Places, part: MovingPart, others: Sequence[Obstacle]) -> FreeReach:
    """Return the free distance above a moving part."""
    top = part.box.high_z_mm
    over = [
        (piece, obstacle, max(low - top, 0.0))
        for piece, obstacle, (low, high) in _pieces_crossed(at, part, others)
        if low >= top or high > top
    ]
    return _up_or_down(at, part, over, FAR_MM)


def free_below(
    at: Places, part: MovingPart, others: Sequence[Obstacle], far_mm: float
) -> FreeReach:
    """Return the free distance below the top of a moving part, at most `far_mm`."""
    top = part.box.high_z_mm
    under = [
        (piece, obstacle, max(top - high, 0.0))
        for piece, obstacle, (low, high) in _pieces_crossed(at, part, others)
        if low < top  # not wholly above it
    ]
    return _up_or_down(at, part, under, far_mm)


def _pieces_crossed(
    at: Places, part: MovingPart, others: Sequence[Obstacle]
) -> Iterator[tuple[ConvexPiece, Obstacle, tuple[float, float]]]:
    """Yield the pieces of what the part meets in plan, with the heights that each counts with: its
    own in hollow furniture, else those of the whole.
    """
    for obstacle in others:
        if not _crosses(at, part, obstacle):
            continue
        whole = (obstacle.shape.bounds[2], obstacle.shape.bounds[5])
        for piece in obstacle.pieces:
            yield piece, obstacle, piece_heights(piece) if obstacle.is_hollow else whole


def _up_or_down(
    at: Places,
    part: MovingPart,
    pieces: Sequence[tuple[ConvexPiece, Obstacle, float]],
    far_mm: float,
) -> FreeReach:
    """Return the least distance of those pieces whose footprint a moving part lies over or under.

    Args:
        pieces: with the distance to each.
    """
    free = np.full(at.grid.shape, far_mm)
    if not pieces:
        return FreeReach(free, None)
    if at.grid.is_one_place:
        return _at_one(at, part, pieces, far_mm)
    gaps = np.minimum([gap for _, _, gap in pieces], far_mm)
    prints = _footprints(
        tuple(piece for piece, _, _ in pieces), part.box.half_x_mm, part.box.half_y_mm
    )
    paint(free, prints.rows(at.grid, part.offset_mm), gaps)
    return FreeReach(free, None)


def _at_one(
    at: Places,
    part: MovingPart,
    pieces: Sequence[tuple[ConvexPiece, Obstacle, float]],
    far_mm: float,
) -> FreeReach:
    """The same at a single place, where it costs less to look at each footprint by itself."""
    x, y = at.grid.x_mm[0] + part.offset_mm[0], at.grid.y_mm[0] + part.offset_mm[1]
    half_x, half_y = part.box.half_x_mm, part.box.half_y_mm
    for piece, obstacle, gap in sorted(pieces, key=lambda each: each[2]):
        if gap >= far_mm:
            break
        low_x, low_y, high_x, high_y = piece_bounds(piece)
        if (
            low_x < x + half_x
            and high_x > x - half_x
            and low_y < y + half_y
            and high_y > y - half_y
        ):
            corners, swell = footprint(piece)
            away = plan_distance_mm(corners, half_x, half_y, x, y)
            if away < swell - TOUCHING_MM:
                return FreeReach(np.array([[gap]]), obstacle)
    return FreeReach(np.array([[far_mm]]), None)


def _crosses(at: Places, part: MovingPart, obstacle: Obstacle) -> bool:
    """Return whether a thing's bounds in plan meet the part at any of the places."""
    b, box, (dx, dy) = obstacle.shape.bounds, part.box, part.offset_mm
    low_x, low_y, high_x, high_y = at.grid.span
    return (
        b[0] < high_x + dx + box.half_x_mm
        and b[3] > low_x + dx - box.half_x_mm
        and b[1] < high_y + dy + box.half_y_mm
        and b[4] > low_y + dy - box.half_y_mm
    )


@lru_cache(maxsize=64)
def _footprints(pieces: tuple[ConvexPiece, ...], half_x_mm: float, half_y_mm: float) -> Footprints:
    """Widened footprints: two of the quarter turns share them."""
    return Footprints(pieces, half_x_mm, half_y_mm)
