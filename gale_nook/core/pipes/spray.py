"""What the wheels throw up: a wedge behind each of them, and how far a point lies outside it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.wheels import assumed_wheels


@dataclass(frozen=True, slots=True)
class Wedge:
    """The spray behind a wheel: from where the tyre stands, rearward, rising and spreading (mm,
    degrees).

    Attributes:
        foot: middle of where the tyre stands on the ground.
        half_mm: half the tyre's width.
        reach_mm: rearward; what flies farther is mist.
    """

    name: str
    foot: Vec3
    half_mm: float
    reach_mm: float
    rise_deg: float
    spread_deg: float

    def outside_mm(self, point: Vec3) -> float:
        """Return how far a point lies outside the wedge; negative inside.

        Inside it is the least way out; outside, the largest distance to a face, which is rather too
        little at an edge.
        """
        behind = point[0] - self.foot[0]
        aside = abs(point[1] - self.foot[1])
        up = point[2] - self.foot[2]
        rise, spread = math.radians(self.rise_deg), math.radians(self.spread_deg)
        over = (up - behind * math.tan(rise)) * math.cos(rise)
        beside = (aside - self.half_mm - behind * math.tan(spread)) * math.cos(spread)
        return max(-behind, behind - self.reach_mm, beside, over)

    def height_mm(self, x_mm: float) -> float:
        """Return how high over the ground the spray's upper face is at a place along the vehicle; 0
        where there is none.
        """
        behind = x_mm - self.foot[0]
        return (
            behind * math.tan(math.radians(self.rise_deg)) if 0 < behind <= self.reach_mm else 0.0
        )


def wedges(job: Job) -> tuple[Wedge, ...]:
    """Return the spray of every wheel: of the surveyed ones, and of those at the axles that were
    not.
    """
    shell, works = job.plan.vehicle.shell, job.catalogue.pipe_physics
    wheels = [
        (solid.name, shape.bounds)
        for solid, kind, shape in surveyed_parts(job)
        if kind.id == "wheel"
    ]
    feet = [(name, ((b[0] + b[3]) / 2, (b[1] + b[4]) / 2), (b[4] - b[1]) / 2) for name, b in wheels]
    feet += [
        (wheel.name, (wheel.hub[0], wheel.hub[1]), wheel.width_mm / 2)
        for wheel in assumed_wheels(job)
    ]
    return tuple(
        Wedge(
            name,
            (x, y, shell.ground_z_mm),
            wide,
            works.spray_reach_mm,
            works.spray_rise_deg,
            works.spray_spread_deg,
        )
        for name, (x, y), wide in feet
    )
