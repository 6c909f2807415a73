"""Things that stand turned and tilted about their own middle."""

from __future__ import annotations

import math
from functools import lru_cache, partial
from typing import Any

import fcl
import numpy as np
import shapely

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Piece, Plan2D, Shape


@lru_cache(maxsize=64)
def turning(turn_deg: float, along_deg: float = 0.0, across_deg: float = 0.0) -> Any:
    """Return the rotation, (3, 3), from a thing's own directions to the vehicle's: tilted with its
    right side up, then with its rear end up, then turned from rearward towards the right.
    """
    (ct, st), (ca, sa), (cb, sb) = (
        (math.cos(math.radians(a)), math.sin(math.radians(a)))
        for a in (turn_deg, along_deg, across_deg)
    )
    turned = np.array([[ct, -st, 0.0], [st, ct, 0.0], [0.0, 0.0, 1.0]])
    lengthwise = np.array([[ca, 0.0, -sa], [0.0, 1.0, 0.0], [sa, 0.0, ca]])
    sideways = np.array([[1.0, 0.0, 0.0], [0.0, cb, -sb], [0.0, sb, cb]])
    return turned @ lengthwise @ sideways


def about(middle: Vec3, rotation: Any, point: Vec3) -> Vec3:
    """Return where a point of a thing comes to lie when it is turned about its middle."""
    offset = [point[n] - middle[n] for n in range(3)]
    x, y, z = (middle[n] + float(rotation[n] @ offset) for n in range(3))
    return (x, y, z)


def turned_box_shape(low: Vec3, size: Vec3, rotation: Any) -> Shape:
    """Return a box from its low corner and size, turned about its own middle."""
    x, y, z = (low[n] + size[n] / 2 for n in range(3))
    centre, half = np.array((x, y, z)), np.array(size) / 2
    signs = np.array([[a, b, c] for a in (-1, 1) for b in (-1, 1) for c in (-1, 1)])
    corners = centre + (signs * half) @ rotation.T
    (x0, y0, z0), (x1, y1, z1) = corners.min(axis=0).tolist(), corners.max(axis=0).tolist()
    bounds = (x0, y0, z0, x1, y1, z1)
    body = fcl.CollisionObject(fcl.Box(*size), fcl.Transform(rotation, centre))
    piece = Piece(body, bounds, partial(_nearest, centre, half, rotation))
    footprint = shapely.MultiPoint(corners[:, :2]).convex_hull
    return Shape((piece,), Plan2D(footprint), bounds)


def _nearest(centre: Any, half: Any, rotation: Any, point: Vec3) -> Vec3:
    """The point of a turned box that is nearest to a point."""
    own = np.clip(rotation.T @ (np.array(point) - centre), -half, half)
    x, y, z = map(float, centre + rotation @ own)
    return (x, y, z)
