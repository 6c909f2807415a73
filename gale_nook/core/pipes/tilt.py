"""Falls of a run when the vehicle is parked askew: which way each straight drains, and where water
stands.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3, dot, sub, unit
from gale_nook.core.geometry.parked import Parked, leaning
from gale_nook.core.geometry.route import RouteGeometry, Straight


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
    run: RouteGeometry, tilt_deg: float, backwards: frozenset[int] = frozenset()
) -> tuple[WorstFall, ...]:
    """Return the least fall of every straight, with the way of standing that brings it about:
    leaning by the angle against its own way, whichever that is.

    Args:
        backwards: straights, by index, that drain the other way: their fall counts from the mouth's
            end.
    """
    results = []
    for straight in run.straights:
        sign = -1.0 if straight.index in backwards else 1.0
        along = sub(straight.end, straight.start)
        parked = leaning(tilt_deg, (-sign * along[0], -sign * along[1]))
        results.append(WorstFall(straight, sign * fall_deg(straight, parked.down), parked))
    return tuple(results)


def standing_water(
    run: RouteGeometry, drained: frozenset[int], down: Vec3
) -> tuple[tuple[Vec3, Vec3], ...]:
    """Return the stretches in which water stands for one way of standing: (from, to) within one
    straight each.

    At a corner without a drain that the run comes down to and rises from, water stands on both
    sides up to the height of the lower rim: what lies ahead of it, or the port behind.
    """
    heights = [-dot(point, down) for point in run.points]
    results: list[tuple[Vec3, Vec3]] = []
    for corner in range(1, len(run.points) - 1):
        if corner in drained or not (
            heights[corner] <= heights[corner - 1] and heights[corner] < heights[corner + 1]
        ):
            continue
        level = min(max(heights[: corner + 1]), _rim_ahead(heights, corner, drained))
        results += _filled(run, heights, corner, level)
    return tuple(results)


def _rim_ahead(heights: list[float], corner: int, drained: frozenset[int]) -> float:
    """Return the highest point that water has to pass from a corner to the mouth or
    the next drain.
    """
    rim = heights[corner]
    for index in range(corner + 1, len(heights)):
        rim = max(rim, heights[index])
        if index in drained:
            break
    return rim


def _filled(
    run: RouteGeometry, heights: list[float], corner: int, level: float
) -> list[tuple[Vec3, Vec3]]:
    """Return the stretches next to a corner that lie under a level."""
    results = []
    for step in (-1, 1):
        index = corner
        while 0 <= index + step < len(heights) and heights[index] < level - 1e-9:
            here, there = run.points[index], run.points[index + step]
            rise = heights[index + step] - heights[index]
            share = 1.0 if rise <= 0 else min((level - heights[index]) / rise, 1.0)
            reached = (
                here[0] + share * (there[0] - here[0]),
                here[1] + share * (there[1] - here[1]),
                here[2] + share * (there[2] - here[2]),
            )
            results.append((here, reached))
            if share < 1.0:
                break
            index += step
    return results
