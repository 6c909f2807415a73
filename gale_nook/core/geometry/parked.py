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


def parked_attitudes(tilt_deg: float) -> tuple[Parked, ...]:
    """Return nose up, nose down, left and right side down by an angle."""
    s, c = math.sin(math.radians(tilt_deg)), math.cos(math.radians(tilt_deg))
    return (
        Parked("nose up", (s, 0.0, -c)),
        Parked("nose down", (-s, 0.0, -c)),
        Parked("right side down", (0.0, s, -c)),
        Parked("left side down", (0.0, -s, -c)),
    )
