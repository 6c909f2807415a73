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


LEVEL = Parked("level", (0.0, 0.0, -1.0))
SIDEWAYS = math.sin(math.radians(22.5))
EIGHTHS = ((1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (1, -1), (-1, 1), (-1, -1))


def leaning(tilt_deg: float, towards: tuple[float, float]) -> Parked:
    """Return the vehicle leaning by an angle, lowest towards a direction in plan (rearward,
    right); nose up where there is none.
    """
    x, y = towards
    length = math.hypot(x, y)
    x, y = (x / length, y / length) if length > 1e-9 else (1.0, 0.0)
    s, c = math.sin(math.radians(tilt_deg)), math.cos(math.radians(tilt_deg))
    return Parked(_leaning_words(x, y), (s * x, s * y, -c))


def _leaning_words(x: float, y: float) -> str:
    """How it stands, to the nearest eighth of a turn."""
    parts = []
    if abs(x) > SIDEWAYS:
        parts.append("nose up" if x > 0 else "nose down")
    if abs(y) > SIDEWAYS:
        parts.append("right side down" if y > 0 else "left side down")
    return ", ".join(parts)


def parked_attitudes(tilt_deg: float) -> tuple[Parked, ...]:
    """Return the vehicle leaning by an angle to each eighth of a turn: nose up and down, left and
    right side down, and between.
    """
    return tuple(leaning(tilt_deg, (x, y)) for x, y in EIGHTHS)
