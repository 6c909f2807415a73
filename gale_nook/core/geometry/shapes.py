"""Shapes for distances: each solid as convex pieces of the collision library, with its footprint in
plan.

Clearances in space come from python-fcl (signed distances, right to a few thousandths of a mm
against an independent minimisation in the tests); clearances in plan come from shapely.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial
from itertools import pairwise
from typing import Any

import fcl
import numpy as np
import shapely

from gale_nook.core.geometry.cylinders import Cylinder, overlap_mm
from gale_nook.core.geometry.frames import Vec3, norm, sub, turn_xy
from gale_nook.core.geometry.hollow import panel_boxes
from gale_nook.core.geometry.projection import (
    nearest_in_box,
    nearest_in_capsule,
    nearest_in_cylinder,
    nearest_in_prism,
    nearest_of_segments,
)
from gale_nook.core.geometry.uncertain import widened
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, Solid, TubeSolid

_REQUEST = fcl.DistanceRequest(enable_nearest_points=True, enable_signed_distance=True)
MAX_PROJECTIONS = 200
POLISHED_MM, TINY_MM = 1e-5, 1e-12
Bounds = tuple[float, float, float, float, float, float]

STEER_STEP_DEG = 10.0

# several rules look at a pair, and most pairs stay while one thing of a plan is moved
KEPT_SEPARATIONS = 4096


@dataclass(frozen=True, slots=True)
class Piece:
    """One convex part: the collision object, its axis-aligned bounds (low x, y, z, high x, y, z),
    and its projection.

    Attributes:
        nearest: returns the point of the part that is nearest to a point (the point itself inside).
        cylinder: its measures where it is one.
    """

    body: Any
    bounds: Bounds
    nearest: Callable[[Vec3], Vec3]
    cylinder: Cylinder | None = None


@dataclass(frozen=True)
class Plan2D:
    """A footprint: a shapely geometry swollen by a radius (exact for tubes and
    upright cylinders).
    """

    geometry: Any
    swell_mm: float = 0.0

    def signed_distance_mm(self, x_mm: float, y_mm: float) -> float:
        """Return the distance in plan from a point to the edge; negative inside."""
        point = shapely.Point(x_mm, y_mm)
        outside = float(shapely.distance(self.geometry, point))
        if outside > 0 or self.geometry.geom_type != "Polygon":
            return outside - self.swell_mm
        return -float(shapely.distance(self.geometry.exterior, point)) - self.swell_mm

    def nearest_xy(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """Return the point of the edge (before swelling) nearest to (x, y)."""
        target = self.geometry.exterior if self.geometry.geom_type == "Polygon" else self.geometry
        line = shapely.shortest_line(target, shapely.Point(x_mm, y_mm))
        nearest = line.coords[0]
        return (float(nearest[0]), float(nearest[1]))

    @cached_property
    def area(self) -> Any:
        """The footprint as a plain polygon (round ends approximated, within 0.1 %
        of the radius).
        """
        return self.geometry.buffer(self.swell_mm, quad_segs=24) if self.swell_mm else self.geometry


@dataclass(frozen=True, slots=True)
class Axes:
    """The centre line of a tube of one radius: its points, (n, 3) in mm."""

    points: Any
    radius_mm: float


@dataclass(frozen=True, eq=False)
class Shape:
    """A solid as convex pieces with its footprint and height band.

    Attributes:
        axes: of a tube.
        fills_bounds: it is the box of its own bounds, so planar geometry is not needed for it.
    """

    pieces: tuple[Piece, ...]
    footprint: Plan2D
    bounds: Bounds
    fills_bounds: bool = False
    axes: Axes | None = None

    @cached_property
    def piece_bounds(self) -> Any:
        """Bounds of the pieces as an array, (n, 6)."""
        return np.array([piece.bounds for piece in self.pieces])

    @property
    def low_z_mm(self) -> float:
        return self.bounds[2]

    @property
    def high_z_mm(self) -> float:
        return self.bounds[5]


@dataclass(frozen=True, slots=True)
class Separation:
    """Distance between two shapes (negative when they overlap) and where it is measured."""

    distance_mm: float
    start: Vec3
    end: Vec3


@lru_cache(maxsize=KEPT_SEPARATIONS)
def separation(first: Shape, second: Shape) -> Separation:
    """Return the least distance between two shapes, in mm; negative is the depth of overlap.

    Two tubes are told in closed form. Of other shapes, pairs of pieces are tried nearest bounds
    first and left out once their bounds lie farther apart than the best found, which cannot change
    the answer.
    """
    if first.axes is not None and second.axes is not None:
        return _between_tubes(first.axes, second.axes)
    gaps = _bounds_gaps(first.piece_bounds, second.piece_bounds).ravel()
    columns = len(second.pieces)
    best = Separation(math.inf, (0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    for flat in np.argsort(gaps, kind="stable").tolist():
        if gaps[flat] > max(best.distance_mm, 0.0):
            break
        i, j = divmod(flat, columns)
        one, other = first.pieces[i], second.pieces[j]
        distance, start, end = _between_pieces(one, other)
        if distance < best.distance_mm:
            best = Separation(float(distance), start, end)
    return best


def _between_pieces(one: Piece, other: Piece) -> tuple[float, Vec3, Vec3]:
    if one.cylinder is not None and other.cylinder is not None:
        depth = overlap_mm(one.cylinder, other.cylinder)
        if depth >= 0:  # here the library's own search for the depth may never end
            middle = one.nearest(other.cylinder.centre)
            return -depth, middle, other.nearest(middle)
    result = fcl.DistanceResult()
    distance = fcl.distance(one.body, other.body, _REQUEST, result)
    start, end = _vec(result.nearest_points[0]), _vec(result.nearest_points[1])
    if distance > 0:
        return _polished(one, other, start, distance)
    return distance, start, end


def _between_tubes(first: Axes, second: Axes) -> Separation:
    """Return the separation of two tubes: that of their centre lines less both radii."""
    one, other = nearest_of_segments(
        first.points[:-1], first.points[1:], second.points[:-1], second.points[1:]
    )
    between = other - one
    apart = np.sqrt(np.einsum("ijk,ijk->ij", between, between))
    i, j = divmod(int(apart.argmin()), apart.shape[1])
    away = between[i, j] / max(float(apart[i, j]), TINY_MM)
    start, end = one[i, j] + first.radius_mm * away, other[i, j] - second.radius_mm * away
    return Separation(
        float(apart[i, j]) - first.radius_mm - second.radius_mm, _vec(start), _vec(end)
    )


def _polished(a: Piece, b: Piece, start: Vec3, distance_mm: float) -> tuple[float, Vec3, Vec3]:
    """Improve the library's answer by projecting to and fro between the two convex parts.

    The library stops early where edges lie parallel, as they do all over a vehicle, and then
    reports too much clearance; its points lie on the parts all the same. Each projection can only
    shorten the distance, and between convex sets the sequence has no other rest than the least one.
    """
    end = b.nearest(start)
    for _ in range(MAX_PROJECTIONS):
        start = a.nearest(end)
        end = b.nearest(start)
        shorter = norm(sub(end, start))
        if shorter > distance_mm - POLISHED_MM:
            return min(shorter, distance_mm), start, end
        distance_mm = shorter
    return distance_mm, start, end


def least_separations_mm(shape: Shape, others: Sequence[Shape]) -> list[float]:
    """Return a distance that each other shape's separation cannot fall below, unless they overlap
    (then 0).
    """
    if not others:
        return []
    bounds = np.concatenate([other.piece_bounds for other in others])
    nearest = _bounds_gaps(shape.piece_bounds, bounds).min(axis=0)
    starts = np.cumsum([0, *(len(other.pieces) for other in others[:-1])])
    return [float(gap) for gap in np.minimum.reduceat(nearest, starts)]


def _bounds_gaps(a: Any, b: Any) -> Any:
    """Distances between axis-aligned bounds: (m, 6) and (n, 6) -> (m, n), 0 where they overlap."""
    low, high = a[:, None, :3], a[:, None, 3:]
    apart = np.maximum(np.maximum(low - b[None, :, 3:], b[None, :, :3] - high), 0.0)
    return np.sqrt(np.einsum("ijk,ijk->ij", apart, apart))


def _vec(point: Any) -> Vec3:
    return (float(point[0]), float(point[1]), float(point[2]))


def _joined(pieces: Sequence[Piece]) -> Bounds:
    low = [min(piece.bounds[axis] for piece in pieces) for axis in range(3)]
    high = [max(piece.bounds[axis] for piece in pieces) for axis in range(3, 6)]
    return (low[0], low[1], low[2], high[0], high[1], high[2])


def box_shape(low: Vec3, size: Vec3, yaw_deg: float = 0.0) -> Shape:
    """Return a box from its low corner and size (x, y, z), turned about its own centre."""
    centre = (low[0] + size[0] / 2, low[1] + size[1] / 2, low[2] + size[2] / 2)
    corners = []
    for sx, sy in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
        dx, dy = turn_xy(sx * size[0] / 2, sy * size[1] / 2, yaw_deg)
        corners.append((centre[0] + dx, centre[1] + dy))
    ux, uy = turn_xy(1, 0, yaw_deg)
    rotation = np.array([[ux, -uy, 0.0], [uy, ux, 0.0], [0.0, 0.0, 1.0]])
    xs, ys = [c[0] for c in corners], [c[1] for c in corners]
    bounds = (min(xs), min(ys), low[2], max(xs), max(ys), low[2] + size[2])
    body = fcl.CollisionObject(fcl.Box(*size), fcl.Transform(rotation, np.array(centre)))
    piece = Piece(body, bounds, partial(nearest_in_box, centre, size, (ux, uy)))
    return Shape((piece,), Plan2D(shapely.Polygon(corners)), bounds, fills_bounds=yaw_deg % 90 == 0)


def tube_shape(points: Sequence[Vec3], diameter_mm: float) -> Shape:
    """Return a tube through points, as one capsule a stretch; kept by value."""
    return _tube_shape(tuple(points), diameter_mm)


@lru_cache(maxsize=512)
def _tube_shape(points: tuple[Vec3, ...], diameter_mm: float) -> Shape:
    radius = diameter_mm / 2
    stretches = [pair for pair in pairwise(points) if norm(sub(pair[1], pair[0])) > 1e-9]
    stretches = stretches or [(points[0], points[0])]
    pieces = tuple(_capsule(start, end, radius) for start, end in stretches)
    line = shapely.LineString([(p[0], p[1]) for p in points])
    flat: Any = line if line.length > 0 else shapely.Point(points[0][0], points[0][1])
    axes = Axes(np.array(points if len(points) > 1 else [points[0]] * 2), radius)
    return Shape(pieces, Plan2D(flat, radius), _joined(pieces), axes=axes)


def _capsule(start: Vec3, end: Vec3, radius: float) -> Piece:
    along = sub(end, start)
    length = norm(along)
    centre = np.array([(start[i] + end[i]) / 2 for i in range(3)])
    rotation = _z_onto(along, length)
    bounds = (
        *(min(start[i], end[i]) - radius for i in range(3)),
        *(max(start[i], end[i]) + radius for i in range(3)),
    )
    geometry = fcl.Capsule(radius, length) if length > 0 else fcl.Sphere(radius)
    body = fcl.CollisionObject(geometry, fcl.Transform(rotation, centre))
    return Piece(body, bounds, partial(nearest_in_capsule, start, end, radius))  # type: ignore[arg-type]


def _z_onto(along: Vec3, length: float) -> Any:
    """Return a rotation matrix whose third column is `along` made a unit vector."""
    if length == 0:
        return np.eye(3)
    w = (along[0] / length, along[1] / length, along[2] / length)
    # any vector that is not parallel to w will do to begin the other two columns
    helper = (0.0, 0.0, 1.0) if abs(w[2]) < 0.9 else (1.0, 0.0, 0.0)
    u = (
        helper[1] * w[2] - helper[2] * w[1],
        helper[2] * w[0] - helper[0] * w[2],
        helper[0] * w[1] - helper[1] * w[0],
    )
    size = norm(u)
    u = (u[0] / size, u[1] / size, u[2] / size)
    v = (w[1] * u[2] - w[2] * u[1], w[2] * u[0] - w[0] * u[2], w[0] * u[1] - w[1] * u[0])
    return np.array([[u[0], v[0], w[0]], [u[1], v[1], w[1]], [u[2], v[2], w[2]]])


def _cylinder_shape(solid: CylinderSolid) -> Shape:
    centre = (solid.x_mm, solid.y_mm, solid.z_mm)
    axis: Vec3 = (float(solid.axis == "x"), float(solid.axis == "y"), float(solid.axis == "z"))
    piece = _cylinder(centre, axis, solid.length_mm / 2, solid.diameter_mm / 2)
    low_x, low_y, _, high_x, high_y, _ = piece.bounds
    footprint = (
        Plan2D(shapely.Point(solid.x_mm, solid.y_mm), solid.diameter_mm / 2)
        if solid.axis == "z"
        else Plan2D(shapely.box(low_x, low_y, high_x, high_y))
    )
    return Shape((piece,), footprint, piece.bounds)


def _cylinder(centre: Vec3, axis: Vec3, half_mm: float, radius_mm: float) -> Piece:
    """A cylinder about any axis, which is a unit vector."""
    reach = [half_mm * abs(a) + radius_mm * math.sqrt(max(1 - a * a, 0.0)) for a in axis]
    low, high = (
        sub(centre, (reach[0], reach[1], reach[2])),
        [centre[i] + reach[i] for i in range(3)],
    )
    body = fcl.CollisionObject(
        fcl.Cylinder(radius_mm, 2 * half_mm), fcl.Transform(_z_onto(axis, 1.0), np.array(centre))
    )
    nearest = partial(nearest_in_cylinder, centre, axis, half_mm, radius_mm)
    cylinder = Cylinder(centre, axis, half_mm, radius_mm)
    return Piece(body, (*low, high[0], high[1], high[2]), nearest, cylinder)


def joined(shapes: Sequence[Shape]) -> Shape:
    """Return several shapes as one, for distances in space; at least one."""
    pieces = tuple(piece for shape in shapes for piece in shape.pieces)
    area = shapely.union_all([shape.footprint.area for shape in shapes])
    return Shape(pieces, Plan2D(area), _joined(pieces))


def wheel_shape(
    hub: Vec3, diameter_mm: float, width_mm: float, up_mm: float, down_mm: float, steer_deg: float
) -> Shape:
    """Return the room that a wheel takes through its travel, turned by up to an angle to both
    sides.

    Discs at both ends of the travel with a box between, at turns of at most 10°.
    """
    turns = math.ceil(steer_deg / STEER_STEP_DEG)
    shapes = []
    for step in range(-turns, turns + 1):
        yaw = steer_deg * step / turns if turns else 0.0
        (x, y, z), axis = hub, (*turn_xy(0.0, 1.0, yaw), 0.0)
        ends = [
            _cylinder((x, y, height), axis, width_mm / 2, diameter_mm / 2)
            for height in (z - down_mm, z + up_mm)
        ]
        low = (x - diameter_mm / 2, y - width_mm / 2, z - down_mm)
        between = box_shape(low, (diameter_mm, width_mm, up_mm + down_mm), yaw)
        pieces = (*ends, *between.pieces)
        shapes.append(Shape(pieces, between.footprint, _joined(pieces)))
    return joined(shapes)


def outline_crosses(solid: OutlineSolid) -> bool:
    """Return whether the outline crosses itself or encloses nothing."""
    polygon = shapely.Polygon(solid.outline)
    return not polygon.is_valid or polygon.area <= 0


def _outline_shape(solid: OutlineSolid) -> Shape:
    polygon = shapely.Polygon(solid.outline)
    if outline_crosses(solid):
        polygon = polygon.convex_hull  # a crossed outline is widened, never thinned
    low, high = solid.z_mm, solid.z_mm + solid.height_mm
    triangles = [g for g in shapely.constrained_delaunay_triangles(polygon).geoms if g.area > 1e-6]
    pieces = tuple(_prism(list(t.exterior.coords)[:3], low, high) for t in triangles)
    if not pieces:
        x0, y0, x1, y1 = polygon.bounds
        return box_shape((x0, y0, low), (max(x1 - x0, 0.1), max(y1 - y0, 0.1), solid.height_mm))
    return Shape(pieces, Plan2D(polygon), _joined(pieces))


def _prism(corners: list[Any], low: float, high: float) -> Piece:
    if not shapely.LinearRing(corners).is_ccw:
        corners = corners[::-1]
    vertices = np.array([(x, y, z) for z in (low, high) for x, y in corners], dtype=float)
    faces = np.array([3, 0, 2, 1, 3, 3, 4, 5, 4, 0, 1, 4, 3, 4, 1, 2, 5, 4, 4, 2, 0, 3, 5])
    body = fcl.CollisionObject(fcl.Convex(vertices, 5, faces), fcl.Transform())
    low_corner, high_corner = vertices.min(axis=0), vertices.max(axis=0)
    bounds = (*map(float, low_corner), *map(float, high_corner))
    plan = [(float(x), float(y)) for x, y in corners]
    return Piece(body, bounds, partial(nearest_in_prism, plan, low, high))  # type: ignore[arg-type]


@lru_cache(maxsize=4096)
def solid_shape(solid: Solid) -> Shape:
    """Return the shape of a plan solid, swept through its suspension travel where it has one, with
    all the room that it may take where its place is not known exactly.

    Kept by value: an edit of one solid leaves the others' shapes as they are.
    """
    solid = widened(solid)
    if isinstance(solid, BoxSolid) and solid.hollow is not None:
        boxes = panel_boxes(solid)
        if boxes:
            panels = joined([box_shape(low, size, solid.yaw_deg) for low, size in boxes])
            start = (solid.x_mm, solid.y_mm, solid.z_mm)
            sizes = (solid.length_mm, solid.width_mm, solid.height_mm)
            whole = box_shape(start, sizes, solid.yaw_deg)
            return Shape(panels.pieces, whole.footprint, panels.bounds)
    if isinstance(solid, BoxSolid):
        low = (solid.x_mm, solid.y_mm, solid.z_mm - solid.travel_down_mm)
        height = solid.height_mm + solid.travel_down_mm + solid.travel_up_mm
        return box_shape(low, (solid.length_mm, solid.width_mm, height), solid.yaw_deg)
    if isinstance(solid, TubeSolid):
        return tube_shape(solid.points, solid.diameter_mm)
    if isinstance(solid, CylinderSolid):
        return _cylinder_shape(solid)
    return _outline_shape(solid)
