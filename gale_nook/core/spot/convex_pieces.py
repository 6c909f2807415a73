"""Solids as convex parts with closed-form distances to an upright box at many places at once.

The exact checker asks a collision library for one place; here the same distances come as arrays
over a grid. A part is either a prism (a convex outline in plan between two heights, its rim swollen
by a radius), a lying cylinder, or a capsule. Prisms and lying cylinders are products of sets in
orthogonal directions, as is an upright box, so their distances combine by Pythagoras outside and by
the least depth inside.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import shapely

from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.geometry.hollow import panel_boxes
from gale_nook.core.geometry.shapes import outline_crosses
from gale_nook.core.geometry.uncertain import widened
from gale_nook.core.plan.solids import (
    BoxSolid,
    CylinderSolid,
    Direction,
    OutlineSolid,
    Solid,
    TubeSolid,
)

Corner = tuple[float, float]
FOUND_MM = 1e-2  # the search along a line comes this near to its end
TOUCHING_MM = 1e-6  # side by side is not yet over one another


@dataclass(frozen=True, slots=True)
class Prism:
    """A convex outline in plan (a point, a segment or a polygon), swollen by a radius, from one
    height to another.
    """

    corners: tuple[Corner, ...]
    low_z_mm: float
    high_z_mm: float
    swell_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class LyingCylinder:
    """A cylinder along x (axis 0) or y (axis 1)."""

    axis: int
    centre: Vec3
    half_mm: float
    radius_mm: float


@dataclass(frozen=True, slots=True)
class Capsule:
    """A stretch of tube with round ends."""

    start: Vec3
    end: Vec3
    radius_mm: float


ConvexPiece = Prism | LyingCylinder | Capsule


@dataclass(frozen=True, slots=True)
class MovingBox:
    """An upright box that is moved about in plan: half sizes, and the heights that it fills."""

    half_x_mm: float
    half_y_mm: float
    low_z_mm: float
    high_z_mm: float


def box_prism(low: Vec3, size: Vec3, yaw_deg: float = 0.0) -> Prism:
    """Return a box from its low corner and size, turned about its own centre."""
    cx, cy = low[0] + size[0] / 2, low[1] + size[1] / 2
    turned = [
        turn_xy(sx * size[0] / 2, sy * size[1] / 2, yaw_deg)
        for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    ]
    return Prism(tuple((cx + dx, cy + dy) for dx, dy in turned), low[2], low[2] + size[2])


def pieces_of_solid(
    solid: Solid, without: frozenset[Direction] = frozenset()
) -> tuple[ConvexPiece, ...]:
    """Return the convex parts of a solid, swept through its travel, with all the room that it may
    take where its place is not known exactly; of hollow furniture its panels.

    Args:
        without: panels that are off.
    """
    solid = widened(solid)
    if isinstance(solid, BoxSolid) and solid.hollow is not None:
        boxes = panel_boxes(solid, without)
        return tuple(box_prism(low, size, solid.yaw_deg) for low, size in boxes)
    if isinstance(solid, BoxSolid):
        height = solid.height_mm + solid.travel_down_mm + solid.travel_up_mm
        low = (solid.x_mm, solid.y_mm, solid.z_mm - solid.travel_down_mm)
        return (box_prism(low, (solid.length_mm, solid.width_mm, height), solid.yaw_deg),)
    if isinstance(solid, TubeSolid):
        return tube_parts(solid.points, solid.diameter_mm / 2)
    if isinstance(solid, CylinderSolid):
        return (_cylinder(solid),)
    return _outline(solid)


def tube_parts(points: Sequence[Vec3], radius_mm: float) -> tuple[ConvexPiece, ...]:
    """Return a tube as one capsule a stretch; stretches without length are left out unless there is
    no other.
    """
    pairs = [(a, b) for a, b in itertools.pairwise(points) if math.dist(a, b) > 1e-9]
    return tuple(Capsule(a, b, radius_mm) for a, b in pairs or [(points[0], points[0])])


def _cylinder(solid: CylinderSolid) -> ConvexPiece:
    radius = solid.diameter_mm / 2
    half = solid.length_mm / 2
    centre = (solid.x_mm, solid.y_mm, solid.z_mm)
    if solid.axis == "z":
        return Prism(((solid.x_mm, solid.y_mm),), solid.z_mm - half, solid.z_mm + half, radius)
    return LyingCylinder("xy".index(solid.axis), centre, half, radius)


def _outline(solid: OutlineSolid) -> tuple[ConvexPiece, ...]:
    polygon: Any = shapely.Polygon(solid.outline)
    if outline_crosses(solid):
        polygon = polygon.convex_hull
    low, high = solid.z_mm, solid.z_mm + solid.height_mm
    triangles = [g for g in shapely.constrained_delaunay_triangles(polygon).geoms if g.area > 1e-6]
    results = tuple(
        Prism(tuple(map(tuple, list(t.exterior.coords)[:3])), low, high) for t in triangles
    )
    if results:
        return results
    x0, y0, x1, y1 = polygon.bounds
    return (box_prism((x0, y0, low), (max(x1 - x0, 0.1), max(y1 - y0, 0.1), solid.height_mm)),)


# --- distances over arrays ---


def box_to_piece_mm(part: ConvexPiece, box: MovingBox, x_mm: Any, y_mm: Any) -> Any:
    """Return the signed distance between a part and a box centred at each place; negative is the
    depth of overlap.

    Args:
        x_mm, y_mm: arrays that broadcast to one another, such as (1, n) and (m, 1).
    """
    if isinstance(part, Prism):
        plan = (
            plan_distance_mm(part.corners, box.half_x_mm, box.half_y_mm, x_mm, y_mm) - part.swell_mm
        )
        return _product(plan, max(part.low_z_mm - box.high_z_mm, box.low_z_mm - part.high_z_mm))
    if isinstance(part, LyingCylinder):
        return _to_lying(part, box, x_mm, y_mm)
    return _to_capsule(part, box, x_mm, y_mm) - part.radius_mm


def _product(one: Any, other: Any) -> Any:
    """Combine signed distances in orthogonal directions."""
    first, second = np.maximum(one, 0.0), np.maximum(other, 0.0)
    return np.sqrt(first * first + second * second) + np.minimum(np.maximum(one, other), 0.0)


def plan_distance_mm(
    corners: Sequence[Corner], half_x: float, half_y: float, x_mm: Any, y_mm: Any
) -> Any:
    """Return the signed distance in plan from a rectangle centred at each place to a convex
    outline.

    It is the distance of the centre to the outline widened by the rectangle.
    """
    if _upright(corners):
        return _product(*_upright_gaps(corners, half_x, half_y, x_mm, y_mm))
    ring = _widened(tuple(corners), half_x, half_y)
    if ring is None:
        return _segment_distance_mm(corners[0], corners[-1], x_mm, y_mm)
    return convex_distance_mm(ring, x_mm, y_mm)


def _upright_gaps(
    corners: Sequence[Corner], half_x: float, half_y: float, x_mm: Any, y_mm: Any
) -> tuple[Any, Any]:
    """Signed gaps along x and along y between a rectangle and an upright outline."""
    xs, ys = [c[0] for c in corners], [c[1] for c in corners]
    dx = np.abs(x_mm - (min(xs) + max(xs)) / 2) - (max(xs) - min(xs)) / 2 - half_x
    dy = np.abs(y_mm - (min(ys) + max(ys)) / 2) - (max(ys) - min(ys)) / 2 - half_y
    return dx, dy


def _upright(corners: Sequence[Corner]) -> bool:
    """Whether the outline is a point, or a rectangle along the axes."""
    if len(corners) == 1:
        return True
    if len(corners) == 2:
        return corners[0][0] == corners[1][0] or corners[0][1] == corners[1][1]
    xs, ys = {round(c[0], 6) for c in corners}, {round(c[1], 6) for c in corners}
    return len(corners) == 4 and len(xs) == 2 and len(ys) == 2


def convex_distance_mm(ring: Sequence[Corner], x_mm: Any, y_mm: Any) -> Any:
    """Return the signed distance of points to a closed convex ring."""
    beyond = _beyond(ring, x_mm, y_mm)
    nearest = np.full(beyond.shape, np.inf)
    for a, b in itertools.pairwise(ring):
        np.minimum(nearest, _segment_distance_mm(a, b, x_mm, y_mm), out=nearest)
    return np.where(beyond > 0, nearest, beyond)


@lru_cache(maxsize=8192)
def _widened(
    corners: tuple[Corner, ...], half_x: float, half_y: float
) -> tuple[Corner, ...] | None:
    """Return the ring of an outline widened by a rectangle; None where it is upright or has no
    area.
    """
    if _upright(corners) or (len(corners) == 2 and half_x == half_y == 0):
        return None
    wide = [
        (x + sx * half_x, y + sy * half_y) for x, y in corners for sx in (-1, 1) for sy in (-1, 1)
    ]
    hull: Any = shapely.MultiPoint(wide).convex_hull
    return tuple(hull.exterior.coords) if hull.geom_type == "Polygon" else None


def _beyond(ring: Sequence[Corner], x_mm: Any, y_mm: Any) -> Any:
    """Return how far points lie beyond the outermost side of a closed convex ring;
    negative inside.
    """
    turn = 1.0 if shapely.LinearRing(ring).is_ccw else -1.0
    result = np.full(np.broadcast_shapes(np.shape(x_mm), np.shape(y_mm)), -np.inf)
    for (ax, ay), (bx, by) in itertools.pairwise(ring):
        length = math.hypot(bx - ax, by - ay)
        if length > 1e-9:
            nx, ny = turn * (by - ay) / length, -turn * (bx - ax) / length
            np.maximum(result, (nx * x_mm - nx * ax - ny * ay) + ny * y_mm, out=result)
    return result


def ring_distance_mm(ring: Sequence[Corner], x_mm: Any, y_mm: Any) -> Any:
    """Return the signed distance of points to any closed ring: to its nearest edge, negative
    inside.
    """
    nearest = np.full(np.broadcast_shapes(np.shape(x_mm), np.shape(y_mm)), np.inf)
    inside = np.zeros(nearest.shape, dtype=bool)
    for (ax, ay), (bx, by) in itertools.pairwise(ring):
        nearest = np.minimum(nearest, _segment_distance_mm((ax, ay), (bx, by), x_mm, y_mm))
        if ay != by:
            crosses = (ay > y_mm) != (by > y_mm)
            inside ^= crosses & (x_mm < (bx - ax) * (y_mm - ay) / (by - ay) + ax)
    return np.where(inside, -nearest, nearest)


def _segment_distance_mm(a: Corner, b: Corner, x_mm: Any, y_mm: Any) -> Any:
    dx, dy = b[0] - a[0], b[1] - a[1]
    squared = dx * dx + dy * dy
    if squared < 1e-18:
        return np.hypot(x_mm - a[0], y_mm - a[1])
    along = np.clip(((x_mm - a[0]) * dx + (y_mm - a[1]) * dy) / squared, 0.0, 1.0)
    off_x, off_y = x_mm - a[0] - along * dx, y_mm - a[1] - along * dy
    return np.sqrt(off_x * off_x + off_y * off_y)


def _to_lying(part: LyingCylinder, box: MovingBox, x_mm: Any, y_mm: Any) -> Any:
    halves = (box.half_x_mm, box.half_y_mm)
    along, across = (x_mm, y_mm) if part.axis == 0 else (y_mm, x_mm)
    lengthwise = np.abs(along - part.centre[part.axis]) - part.half_mm - halves[part.axis]
    sideways = np.abs(across - part.centre[1 - part.axis]) - halves[1 - part.axis]
    upright = max(box.low_z_mm - part.centre[2], part.centre[2] - box.high_z_mm)
    return _product(lengthwise, _product(sideways, upright) - part.radius_mm)


def _to_capsule(part: Capsule, box: MovingBox, x_mm: Any, y_mm: Any) -> Any:
    """Signed distance between a box and the capsule's middle line."""
    a, b = part.start, part.end
    if abs(a[2] - b[2]) < 1e-9:
        plan = plan_distance_mm((a[:2], b[:2]), box.half_x_mm, box.half_y_mm, x_mm, y_mm)
        return _product(plan, max(box.low_z_mm - a[2], a[2] - box.high_z_mm))
    pole = box.half_x_mm == 0 and box.half_y_mm == 0
    outside = np.sqrt(
        _pole_squared(part, box, x_mm, y_mm) if pole else _least_squared(part, box, x_mm, y_mm)
    )
    inside = outside <= FOUND_MM
    if inside.any():
        x, y = (np.broadcast_to(each, outside.shape)[inside] for each in (x_mm, y_mm))
        outside[inside] = _overlap(part, box, x, y)
    return outside


def _least_squared(part: Capsule, box: MovingBox, x_mm: Any, y_mm: Any) -> Any:
    """Least squared distance from a box to a sloping line.

    It is convex along the line and its slope is straight between the places where the line passes a
    face of the box: so the place where the slope changes sign follows from its values there.
    """
    way = [part.end[i] - part.start[i] for i in range(3)]

    def slope(along: Any) -> Any:
        return sum(w * gap for w, gap in zip(way, _gaps(part, box, x_mm, y_mm, along), strict=True))

    shape = np.broadcast_shapes(np.shape(x_mm), np.shape(y_mm))
    low, high = np.zeros(shape), np.ones(shape)
    at_low, at_high = slope(low), slope(high)
    faces = (
        (x_mm - box.half_x_mm, x_mm + box.half_x_mm),
        (y_mm - box.half_y_mm, y_mm + box.half_y_mm),
        (box.low_z_mm, box.high_z_mm),
    )
    for axis in range(3):
        if way[axis] == 0:
            continue
        for face in faces[axis]:
            along = np.broadcast_to(np.clip((face - part.start[axis]) / way[axis], 0.0, 1.0), shape)
            value = slope(along)
            rises, falls = (value >= 0) & (along < high), (value < 0) & (along > low)
            low, at_low = np.where(falls, along, low), np.where(falls, value, at_low)
            high, at_high = np.where(rises, along, high), np.where(rises, value, at_high)
    rise = at_high - at_low
    share = np.divide(-at_low, rise, out=np.zeros(shape), where=rise > 0)
    result = low + (high - low) * np.clip(share, 0.0, 1.0)
    return sum(gap * gap for gap in _gaps(part, box, x_mm, y_mm, result))


def _pole_squared(part: Capsule, box: MovingBox, x_mm: Any, y_mm: Any) -> Any:
    """Least squared distance from an upright stretch to a sloping line, in closed form.

    Over the heights of the stretch the distance in plan counts; past an end, the distance to that
    end. The sum is convex along the line, so the plan's nearest point tells on which of the three
    parts the least one lies.
    """
    a, way = part.start, [part.end[i] - part.start[i] for i in range(3)]
    flat = way[0] * way[0] + way[1] * way[1]
    dx, dy = x_mm - a[0], y_mm - a[1]
    along_plan = dx * way[0] + dy * way[1]
    level = np.clip(along_plan / max(flat, 1e-12), 0.0, 1.0)
    height = a[2] + level * way[2]
    past = np.clip(height, box.low_z_mm, box.high_z_mm)
    beyond = np.clip((along_plan + (past - a[2]) * way[2]) / (flat + way[2] ** 2), 0.0, 1.0)
    turn = (past - a[2]) / way[2]  # where the line passes the end of the stretch
    above = height > box.high_z_mm
    rising = (way[2] > 0) == above
    kept = np.where(rising, np.maximum(beyond, turn), np.minimum(beyond, turn))
    along = np.where(height == past, level, np.clip(kept, 0.0, 1.0))
    return sum(gap * gap for gap in _gaps(part, box, x_mm, y_mm, along))


def _gaps(part: Capsule, box: MovingBox, x_mm: Any, y_mm: Any, along: Any) -> tuple[Any, Any, Any]:
    """Signed shortfall of the line's point from the box in each direction; 0 within it."""
    point = [part.start[i] + along * (part.end[i] - part.start[i]) for i in range(3)]
    results = []
    for value, low, high in (
        (point[0], x_mm - box.half_x_mm, x_mm + box.half_x_mm),
        (point[1], y_mm - box.half_y_mm, y_mm + box.half_y_mm),
        (point[2], box.low_z_mm, box.high_z_mm),
    ):
        results.append(np.maximum(value - high, 0.0) - np.maximum(low - value, 0.0))
    return (results[0], results[1], results[2])


def _overlap(part: Capsule, box: MovingBox, x_mm: Any, y_mm: Any) -> Any:
    """Depth (negative) of a line in a box: the least over the faces of the two widened by one
    another.

    These faces are those of the box, and those spanned by the line and an edge of the box.
    """
    d = np.array([part.end[i] - part.start[i] for i in range(3)])
    middle = [(part.start[i] + part.end[i]) / 2 for i in range(3)]
    half = (box.half_x_mm, box.half_y_mm, (box.high_z_mm - box.low_z_mm) / 2)
    offset = (x_mm - middle[0], y_mm - middle[1], (box.low_z_mm + box.high_z_mm) / 2 - middle[2])
    deepest = np.full(np.broadcast_shapes(np.shape(x_mm), np.shape(y_mm)), -np.inf)
    for normal in (*np.eye(3), *np.cross(d, np.eye(3))):
        size = float(np.linalg.norm(normal))
        if size < 1e-9:
            continue
        n = normal / size
        reach = sum(abs(float(n[i])) * half[i] for i in range(3)) + abs(float(n @ d)) / 2
        apart = np.abs(sum(float(n[i]) * offset[i] for i in range(3))) - reach
        np.maximum(deepest, apart, out=deepest)
    return np.minimum(deepest, 0.0)


def footprint(part: ConvexPiece) -> tuple[tuple[Corner, ...], float]:
    """Return a part's outline in plan, and the radius that it is swollen by."""
    if isinstance(part, Prism):
        return part.corners, part.swell_mm
    if isinstance(part, Capsule):
        return (part.start[:2], part.end[:2]), part.radius_mm
    low_x, low_y, high_x, high_y = piece_bounds(part)
    return ((low_x, low_y), (high_x, low_y), (high_x, high_y), (low_x, high_y)), 0.0


def is_upright(part: ConvexPiece) -> bool:
    """Return whether a part's footprint is a rectangle along the axes."""
    corners, swell = footprint(part)
    return swell == 0 and _upright(corners)


def spans_in_strips(part: ConvexPiece, axis: int, low_mm: Any, high_mm: Any) -> tuple[Any, Any]:
    """Return from where to where along an axis a part's footprint reaches in strips of the floor,
    as arrays (n,).

    The near edge of a convex outline is a convex function across, so its least value within a strip
    lies at the outline's nearest corner, moved into the strip.

    Args:
        axis: along which the strips run: 0 for x, 1 for y.
        low_mm, high_mm: the strips' edges across, (n,); each strip has to meet the footprint.
    """
    corners, swell = footprint(part)
    turned = [(c[axis], c[1 - axis]) for c in corners]
    across = [c[1] for c in turned]
    bottom, top = min(across) - swell, max(across) + swell
    results = []
    for sign in (1.0, -1.0):
        mirrored = [(sign * along, at) for along, at in turned]
        tip = min(mirrored)[1]
        at = np.clip(np.clip(tip, low_mm, high_mm), bottom, top)
        results.append(sign * _near_edge(mirrored, swell, at))
    return results[0], results[1]


def _near_edge(corners: Sequence[Corner], swell: float, at_mm: Any) -> Any:
    """Return the least coordinate along of a swollen convex outline at heights across, (n,)."""
    nearest = np.full(np.shape(at_mm), np.inf)
    ring = [*corners, corners[0]] if len(corners) > 2 else list(corners)
    for along, across in corners:
        inside = np.abs(at_mm - across) <= swell + 1e-9
        reach = along - np.sqrt(np.maximum(swell * swell - (at_mm - across) ** 2, 0.0))
        nearest = np.where(inside, np.minimum(nearest, reach), nearest)
    for (ax, ay), (bx, by) in itertools.pairwise(ring):
        length = math.hypot(bx - ax, by - ay)
        if length < 1e-9:
            continue
        nx, ny = (by - ay) / length * swell, -(bx - ax) / length * swell
        if nx > 0:
            nx, ny = -nx, -ny  # the side that faces the near end
        y0, y1 = ay + ny, by + ny
        if abs(y1 - y0) < 1e-12:
            continue
        share = (at_mm - y0) / (y1 - y0)
        inside = (share >= -1e-12) & (share <= 1 + 1e-12)
        nearest = np.where(inside, np.minimum(nearest, ax + nx + share * (bx - ax)), nearest)
    return nearest


def piece_bounds(part: ConvexPiece) -> tuple[float, float, float, float]:
    """Return low x, low y, high x, high y of a part."""
    if isinstance(part, Prism):
        xs = [c[0] for c in part.corners]
        ys = [c[1] for c in part.corners]
        r = part.swell_mm
    elif isinstance(part, Capsule):
        xs = [part.start[0], part.end[0]]
        ys = [part.start[1], part.end[1]]
        r = part.radius_mm
    else:
        reach = (part.half_mm, part.radius_mm) if part.axis == 0 else (part.radius_mm, part.half_mm)
        xs = [part.centre[0] - reach[0], part.centre[0] + reach[0]]
        ys, r = [part.centre[1] - reach[1], part.centre[1] + reach[1]], 0.0
    return min(xs) - r, min(ys) - r, max(xs) + r, max(ys) + r


def piece_heights(part: ConvexPiece) -> tuple[float, float]:
    """Return low and high z of a part."""
    if isinstance(part, Prism):
        return part.low_z_mm, part.high_z_mm
    if isinstance(part, Capsule):
        ends = (part.start[2], part.end[2])
        return min(ends) - part.radius_mm, max(ends) + part.radius_mm
    return part.centre[2] - part.radius_mm, part.centre[2] + part.radius_mm
