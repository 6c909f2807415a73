"""How far it is free from a face of the heater's body, and below a port."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import shapely

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape

FAR_MM = 3000.0


@dataclass(frozen=True, slots=True)
class Obstacle:
    """Something that can stand in the way: a surveyed solid, or a wall of the room (without a
    kind).
    """

    id: str
    name: str
    shape: Shape
    kind: SolidKind | None = None


@dataclass(frozen=True, slots=True)
class FreeWay:
    """The free distance from a face, what ends it (None: nothing within FAR_MM), and its dimension
    line.
    """

    distance_mm: float
    obstacle: Obstacle | None
    start: Vec3
    end: Vec3


def free_way(
    low: Vec3, high: Vec3, direction: tuple[int, int, int], obstacles: Iterable[Obstacle]
) -> FreeWay:
    """Return how far a box can grow along one axis before it meets an obstacle.

    Exact for upright solids; sloping tubes and lying cylinders count with their full height.

    Args:
        low, high: corners of the box, mm.
        direction: one of ±x, ±y, ±z as a unit vector.
    """
    axis = next(i for i in range(3) if direction[i] != 0)
    forward = direction[axis] > 0
    face = high[axis] if forward else low[axis]
    best, met = FAR_MM, None
    for obstacle in obstacles:
        distance = _distance(low, high, axis, forward, obstacle.shape)
        if distance < best:
            best, met = distance, obstacle
    centre = [(low[i] + high[i]) / 2 for i in range(3)]
    start, end = list(centre), list(centre)
    start[axis] = face
    end[axis] = face + (best if forward else -best)
    return FreeWay(best, met, (start[0], start[1], start[2]), (end[0], end[1], end[2]))


def _distance(low: Vec3, high: Vec3, axis: int, forward: bool, shape: Shape) -> float:
    b = shape.bounds
    for other in range(3):
        if other != axis and (b[other] >= high[other] or b[other + 3] <= low[other]):
            return FAR_MM
    gap = b[axis] - high[axis] if forward else low[axis] - b[axis + 3]
    if gap >= FAR_MM or (b[axis + 3] <= high[axis] if forward else b[axis] >= low[axis]):
        return FAR_MM  # too far, or wholly behind the face
    if shape.fills_bounds:
        return max(gap, 0.0)
    if axis == 2:
        column = shapely.box(low[0], low[1], high[0], high[1])
        return max(gap, 0.0) if shape.footprint.area.intersection(column).area > 1e-6 else FAR_MM
    return _along_floor(low, high, axis, forward, shape)


def _along_floor(low: Vec3, high: Vec3, axis: int, forward: bool, shape: Shape) -> float:
    near = high[axis] if forward else low[axis]
    far = near + FAR_MM if forward else near - FAR_MM
    first, last = min(near, far), max(near, far)
    strip = (
        shapely.box(first, low[1], last, high[1])
        if axis == 0
        else shapely.box(low[0], first, high[0], last)
    )
    part = shape.footprint.area.intersection(strip)
    if part.is_empty or part.area <= 1e-6:
        return FAR_MM
    bounds = part.bounds
    return float(max(bounds[axis] - near if forward else near - bounds[axis + 2], 0.0))
