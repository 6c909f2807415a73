"""Falls of a run when the vehicle is parked askew: which way each straight drains, and where water
stands.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3, dot, sub, unit
from gale_nook.core.geometry.parked import LEVEL, Lean, Parked, leaning, parked_attitudes
from gale_nook.core.geometry.route import RouteGeometry, Straight

DRY_MM = 1e-6  # less than that is rounding


@dataclass(frozen=True, slots=True)
class WorstFall:
    """The least fall of a straight over all ways of standing, in degrees; negative rises."""

    straight: Straight
    fall_deg: float
    parked: Parked


def fall_deg(straight: Straight, down: Vec3) -> float:
    """Return how steeply a straight falls along the run where `down` points down; negative rises, 0
    without length.
    """
    along = dot(unit(sub(straight.end, straight.start)), down)
    return math.degrees(math.asin(max(-1.0, min(1.0, along))))


def worst_falls(
    run: RouteGeometry, lean: Lean, backwards: frozenset[int] = frozenset()
) -> tuple[WorstFall, ...]:
    """Return the least fall of every straight, with the way of standing that brings it about:
    leaning against its own way, whichever that is.

    Args:
        backwards: straights, by index, that drain the other way: their fall counts from the mouth's
            end.
    """
    results = []
    for straight in run.straights:
        sign = -1.0 if straight.index in backwards else 1.0
        along = sub(straight.end, straight.start)
        parked = leaning(lean, (-sign * along[0], -sign * along[1]))
        results.append(WorstFall(straight, sign * fall_deg(straight, parked.down), parked))
    return tuple(results)


@dataclass(frozen=True, slots=True)
class Water:
    """A stretch of a straight in which water stands: its ends, and how deep it is at the deepest
    (mm).
    """

    start: Vec3
    end: Vec3
    depth_mm: float


def standing_water(run: RouteGeometry, drained: frozenset[int], down: Vec3) -> tuple[Water, ...]:
    """Return the stretches in which water stands for one way of standing, each within one straight.

    Water stands wherever it would have to climb both ways before it gets out: ahead to the mouth or
    the next drain hole, behind to the port or the last one. Drain holes are at corners.

    Args:
        drained: corners with a drain hole.
        down: unit vector that points down.
    """
    heights = [-dot(point, down) for point in run.points]
    behind, ahead = _rims(heights, drained), _rims(heights[::-1], _mirrored(heights, drained))[::-1]
    results = []
    for number in range(len(heights) - 1):
        level = min(behind[number], ahead[number + 1])
        stretch = _under(run.points[number], run.points[number + 1], heights, number, level)
        if stretch is not None:
            results.append(stretch)
    return tuple(results)


def _rims(heights: list[float], drained: frozenset[int]) -> list[float]:
    """Return, for each corner, the highest point between it and the last way out before it."""
    results: list[float] = []
    for number, height in enumerate(heights):
        starts_here = number == 0 or number in drained
        results.append(height if starts_here else max(results[-1], height))
    return results


def _mirrored(heights: list[float], drained: frozenset[int]) -> frozenset[int]:
    """The drained corners, counted from the other end."""
    return frozenset(len(heights) - 1 - corner for corner in drained)


def _under(start: Vec3, end: Vec3, heights: list[float], number: int, level: float) -> Water | None:
    """The stretch of a straight that lies under a level; None where that is none of it."""
    low, high = heights[number], heights[number + 1]
    depth = level - min(low, high)
    if depth <= DRY_MM:
        return None
    rise = high - low
    share = 1.0 if abs(rise) <= depth else depth / abs(rise)
    first, last = (0.0, share) if rise >= 0 else (1.0 - share, 1.0)
    return Water(_between(start, end, first), _between(start, end, last), depth)


def _between(start: Vec3, end: Vec3, share: float) -> Vec3:
    a, b = start, end
    return (
        a[0] + share * (b[0] - a[0]),
        a[1] + share * (b[1] - a[1]),
        a[2] + share * (b[2] - a[2]),
    )


def attitudes_against(run: RouteGeometry, lean: Lean) -> tuple[Parked, ...]:
    """Return the ways of standing to look for water in: level, every eighth of a turn, and leaning
    each way along every straight, which is when it falls least.
    """
    along = [leaning(lean, (s * d[0], s * d[1])) for d in _ways(run) for s in (1.0, -1.0)]
    return (LEVEL, *parked_attitudes(lean), *along)


def _ways(run: RouteGeometry) -> list[Vec3]:
    return [sub(straight.end, straight.start) for straight in run.straights]


def deepest_water(
    run: RouteGeometry, drained: frozenset[int], lean: Lean
) -> tuple[tuple[Water, ...], Parked]:
    """Return the water of the way of standing in which it is deepest, and that way; none of it and
    level where the run stays dry.
    """
    found: tuple[tuple[Water, ...], Parked] = ((), LEVEL)
    for parked in attitudes_against(run, lean):
        stands = standing_water(run, drained, parked.down)
        if max((w.depth_mm for w in stands), default=0.0) > _depth(found[0]):
            found = (stands, parked)
    return found


def _depth(stands: tuple[Water, ...]) -> float:
    return max((water.depth_mm for water in stands), default=0.0)
