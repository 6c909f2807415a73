"""Turning points between the heater's own frame and the vehicle's, and small
vector helpers (mm).
"""

from __future__ import annotations

import math

Vec3 = tuple[float, float, float]

_QUARTER = {0: (1, 0), 90: (0, 1), 180: (-1, 0), 270: (0, -1)}


def turn_xy(x_mm: float, y_mm: float, yaw_deg: float) -> tuple[float, float]:
    """Return (x, y) turned by `yaw_deg` about the vertical, from rearward towards the right.

    Quarter turns are exact, so that a heater turned four times is where it was.
    """
    quarter = _QUARTER.get(int(yaw_deg) % 360) if float(yaw_deg).is_integer() else None
    if quarter is None:
        cosine, sine = math.cos(math.radians(yaw_deg)), math.sin(math.radians(yaw_deg))
    else:
        cosine, sine = quarter
    return (x_mm * cosine - y_mm * sine, x_mm * sine + y_mm * cosine)


def sub(a: Vec3, b: Vec3) -> Vec3:
    return (a[0] - b[0], a[1] - b[1], a[2] - b[2])


def add(a: Vec3, b: Vec3) -> Vec3:
    return (a[0] + b[0], a[1] + b[1], a[2] + b[2])


def scale(a: Vec3, factor: float) -> Vec3:
    return (a[0] * factor, a[1] * factor, a[2] * factor)


def dot(a: Vec3, b: Vec3) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def norm(a: Vec3) -> float:
    return math.sqrt(dot(a, a))


def unit(a: Vec3) -> Vec3:
    """Return a/|a|; the zero vector stays zero."""
    length = norm(a)
    return scale(a, 1 / length) if length > 0 else a


def angle_deg(a: Vec3, b: Vec3) -> float:
    """Return the angle between two vectors in degrees; 0 where one has no length."""
    lengths = norm(a) * norm(b)
    if lengths == 0:
        return 0.0
    return math.degrees(math.acos(max(-1.0, min(1.0, dot(a, b) / lengths))))
