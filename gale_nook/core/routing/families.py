"""The usual simple shapes of a run: short ones all round, and dog-legs along a lane."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise

from gale_nook.core.geometry.frames import Vec3, add, scale


def directions_round(count: int, falls_deg: Iterable[float]) -> Iterator[Vec3]:
    """Yield unit vectors all round, each falling by each of some angles.

    >>> [tuple(round(each, 3) for each in direction) for direction in directions_round(2, (30.0,))]
    [(0.866, 0.0, -0.5), (-0.866, 0.0, -0.5)]
    """
    falls = tuple(falls_deg)
    for number in range(count):
        turn = 2 * math.pi * number / count
        for fall in falls:
            slope = math.radians(fall)
            yield (
                math.cos(turn) * math.cos(slope),
                math.sin(turn) * math.cos(slope),
                -math.sin(slope),
            )


def fan(
    corner: Vec3, directions: Iterable[Vec3], reaches_mm: Sequence[float]
) -> Iterator[tuple[tuple[Vec3, Vec3], Vec3, float]]:
    """Yield runs of one bend at a corner: its corners, its last direction, and how far it reaches
    from there.
    """
    for direction in directions:
        for reach in reaches_mm:
            yield (corner, add(corner, scale(direction, reach))), direction, reach


def lanes_mm(start: Vec3, end: Vec3, step_mm: float, beside_mm: float) -> list[int]:
    """Return lanes along the vehicle, right of the centre line: those of the two ends and others at
    a distance from one another, the shortest run first.
    """
    count = int(beside_mm // step_mm)
    lanes = [start[1], end[1], *(lane * step_mm for lane in range(-count, count + 1))]
    lanes.sort(key=lambda lane: abs(lane - start[1]) + abs(lane - end[1]))
    return list(dict.fromkeys(round(lane) for lane in lanes))


def dog_leg(
    start: Vec3,
    lane_mm: float,
    end: Vec3,
    least_leg_mm: float,
    low_z_mm: float | None = None,
    rise_mm: float = 0.0,
) -> list[Vec3]:
    """Return the corners of a run that goes across to a lane, along it, and across to its end.

    Args:
        least_leg_mm: between corners, so that their bends find room; nearer ones are left out.
        low_z_mm: down at the start to this height, and up at the end; left out, the corners lie on
            a steady slope.
        rise_mm: of each level leg, on its way to the end.
    """
    flat = [(start[0], start[1]), (start[0], lane_mm), (end[0], lane_mm), (end[0], end[1])]
    if low_z_mm is not None:
        corners: list[Vec3] = [
            (*flat[0], low_z_mm),
            (*flat[1], low_z_mm),
            (*flat[2], low_z_mm + rise_mm),
            (*flat[3], low_z_mm + 2 * rise_mm),
        ]
        return _apart(start, corners, end, least_leg_mm)
    lengths = [math.dist(a, b) for a, b in pairwise(flat)]
    total = sum(lengths) or 1.0
    shares = (lengths[0] / total, (lengths[0] + lengths[1]) / total)
    first, second = (start[2] + share * (end[2] - start[2]) for share in shares)
    return _apart(start, [(*flat[1], first), (*flat[2], second)], end, least_leg_mm)


def _apart(start: Vec3, corners: Iterable[Vec3], end: Vec3, least_mm: float) -> list[Vec3]:
    """The corners that are far enough from one another, and from both ends."""
    kept: list[Vec3] = []
    for corner in corners:
        before = kept[-1] if kept else start
        if math.dist(corner, before) > least_mm and math.dist(corner, end) > least_mm:
            kept.append(corner)
    return kept


def length_mm(points: Sequence[Vec3]) -> float:
    """Return the length of straights between points.

    >>> length_mm([(0, 0, 0), (30, 40, 0), (30, 40, 10)])
    60.0
    """
    return sum(math.dist(a, b) for a, b in pairwise(points))
