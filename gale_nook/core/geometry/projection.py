"""The nearest point of a convex part to a point, in closed form (mm)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from gale_nook.core.geometry.frames import Vec3, dot, sub

TINY, PARALLEL = 1e-18, 1e-12


def nearest_in_box(centre: Vec3, size: Vec3, along: tuple[float, float], point: Vec3) -> Vec3:
    """Return the nearest point of a box turned about the vertical; `along` is its first axis in
    plan.
    """
    ux, uy = along
    dx = point[0] - centre[0]
    dy = point[1] - centre[1]
    dz = point[2] - centre[2]
    a = _clamped(dx * ux + dy * uy, size[0] / 2)
    b = _clamped(-dx * uy + dy * ux, size[1] / 2)
    return (
        centre[0] + a * ux - b * uy,
        centre[1] + a * uy + b * ux,
        centre[2] + _clamped(dz, size[2] / 2),
    )


def nearest_in_capsule(start: Vec3, end: Vec3, radius: float, point: Vec3) -> Vec3:
    """Return the nearest point of a capsule."""
    return _towards(nearest_on_segment(start, end, point), point, radius)


def nearest_in_cylinder(centre: Vec3, axis: Vec3, half: float, radius: float, point: Vec3) -> Vec3:
    """Return the nearest point of a cylinder with flat ends; `axis` is a unit vector."""
    offset = sub(point, centre)
    along = dot(offset, axis)
    across = (offset[0] - along * axis[0], offset[1] - along * axis[1], offset[2] - along * axis[2])
    out = math.sqrt(dot(across, across))
    share = 1.0 if out <= radius else radius / out
    a = _clamped(along, half)
    return (
        centre[0] + a * axis[0] + share * across[0],
        centre[1] + a * axis[1] + share * across[1],
        centre[2] + a * axis[2] + share * across[2],
    )


def nearest_in_prism(
    corners: Sequence[tuple[float, float]], low: float, high: float, point: Vec3
) -> Vec3:
    """Return the nearest point of an upright prism over a convex polygon, corners anticlockwise."""
    z = min(max(point[2], low), high)
    x, y = point[0], point[1]
    edges = list(zip(corners, [*corners[1:], corners[0]], strict=True))
    if all((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0]) >= 0 for a, b in edges):
        return (x, y, z)
    flat = [nearest_on_segment((a[0], a[1], 0.0), (b[0], b[1], 0.0), (x, y, 0.0)) for a, b in edges]
    best = min(flat, key=lambda at: (at[0] - x) ** 2 + (at[1] - y) ** 2)
    return (best[0], best[1], z)


def nearest_on_segment(start: Vec3, end: Vec3, point: Vec3) -> Vec3:
    """Return the nearest point of a segment."""
    along = sub(end, start)
    length2 = dot(along, along)
    share = min(max(dot(sub(point, start), along) / length2, 0.0), 1.0) if length2 > 0 else 0.0
    return (start[0] + share * along[0], start[1] + share * along[1], start[2] + share * along[2])


def nearest_of_segments(
    starts: Any, ends: Any, other_starts: Any, other_ends: Any
) -> tuple[Any, Any]:
    """Return for every pair of segments the point of the first and that of the second at their
    least distance, (m, n, 3).

    Source: C. Ericson, Real-Time Collision Detection, 2005, 5.1.9.

    Args:
        starts, ends: of m segments, (m, 3); other_starts, other_ends: of n segments, (n, 3). They
            may have no length.
    """
    one, two = (ends - starts)[:, None, :], (other_ends - other_starts)[None, :, :]
    between = starts[:, None, :] - other_starts[None, :, :]
    a = np.maximum(np.einsum("ijk,ijk->ij", one, one), TINY)
    e = np.maximum(np.einsum("ijk,ijk->ij", two, two), TINY)
    b = (one * two).sum(2)
    c = (one * between).sum(2)
    f = (two * between).sum(2)
    parallel = np.maximum(a * e - b * b, 0.0)
    skew = parallel > PARALLEL * a * e
    s = np.where(skew, np.clip((b * f - c * e) / np.where(skew, parallel, 1.0), 0.0, 1.0), 0.0)
    t = (b * s + f) / e
    s = np.where(
        t < 0, np.clip(-c / a, 0.0, 1.0), np.where(t > 1, np.clip((b - c) / a, 0.0, 1.0), s)
    )
    t = np.clip(t, 0.0, 1.0)
    return starts[:, None, :] + s[..., None] * one, other_starts[None, :, :] + t[..., None] * two


def _clamped(value: float, half: float) -> float:
    return min(max(value, -half), half)


def _towards(core: Vec3, point: Vec3, radius: float) -> Vec3:
    """The point at a radius from a core towards a point, or the point itself where it is nearer."""
    away = sub(point, core)
    out = math.sqrt(dot(away, away))
    if out <= radius:
        return point
    share = radius / out
    return (core[0] + share * away[0], core[1] + share * away[1], core[2] + share * away[2])
