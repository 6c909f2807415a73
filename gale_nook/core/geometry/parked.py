"""Ways in which the vehicle stands: level, or parked askew."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3


@dataclass(frozen=True, slots=True)
class Parked:
    """One way of standing: its name, and the unit vector that points down in the
    vehicle's frame.
    """

    name: str
    down: Vec3

    @property
    def slopes(self) -> tuple[float, float]:
        """Rise of a liquid's surface in the vehicle's frame per length rearward
        and to the right.
        """
        x, y, z = self.down
        return (-x / z, -y / z)


@dataclass(frozen=True, slots=True)
class Lean:
    """How far something leans at its worst, in degrees: lengthwise and across.

    Attributes:
        together: fully both ways at once, as a boat heels and trims; else by one angle in whatever
            direction, as a vehicle is parked.
    """

    along_deg: float
    across_deg: float
    together: bool = False

    @property
    def most_deg(self) -> float:
        """The most that anything on it can lean by."""
        if not self.together:
            return max(self.along_deg, self.across_deg)
        along, across = (math.tan(math.radians(a)) for a in (self.along_deg, self.across_deg))
        return math.degrees(math.atan(math.hypot(along, across)))


LEVEL = Parked("level", (0.0, 0.0, -1.0))
SIDEWAYS = math.sin(math.radians(22.5))
EIGHTHS = ((1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (1, -1), (-1, 1), (-1, -1))


def leaning(lean: Lean, towards: tuple[float, float]) -> Parked:
    """Return the vehicle leaning at its worst, lowest towards a direction in plan (rearward,
    right); nose up where there is none.
    """
    x, y = towards
    if lean.together:
        return _heeled(lean, x, y)
    length = math.hypot(x, y)
    x, y = (x / length, y / length) if length > 1e-9 else (1.0, 0.0)
    tilt = math.radians(max(lean.along_deg, lean.across_deg))
    s, c = math.sin(tilt), math.cos(tilt)
    return Parked(_leaning_words(x, y), (s * x, s * y, -c))


def _heeled(lean: Lean, x: float, y: float) -> Parked:
    """Heeled and trimmed as far as it does, each to the side that a direction points to."""
    if abs(x) < 1e-9 and abs(y) < 1e-9:
        x = 1.0
    sides = (
        math.copysign(1.0, x) if abs(x) > 1e-9 else 0.0,
        math.copysign(1.0, y) if abs(y) > 1e-9 else 0.0,
    )
    slopes = (
        sides[0] * math.tan(math.radians(lean.along_deg)),
        sides[1] * math.tan(math.radians(lean.across_deg)),
    )
    length = math.sqrt(1.0 + slopes[0] ** 2 + slopes[1] ** 2)
    return Parked(_leaning_words(*sides), (slopes[0] / length, slopes[1] / length, -1.0 / length))


def _leaning_words(x: float, y: float) -> str:
    """How it stands, to the nearest eighth of a turn."""
    parts = []
    if abs(x) > SIDEWAYS:
        parts.append("nose up" if x > 0 else "nose down")
    if abs(y) > SIDEWAYS:
        parts.append("right side down" if y > 0 else "left side down")
    return ", ".join(parts)


def parked_attitudes(lean: Lean) -> tuple[Parked, ...]:
    """Return the vehicle leaning at its worst to each eighth of a turn: nose up and down, left and
    right side down, and between.
    """
    return tuple(leaning(lean, (x, y)) for x, y in EIGHTHS)
