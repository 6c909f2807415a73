"""The two ends of what blows into ducts: where it blows out, and where it draws in."""

from __future__ import annotations

import math

from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, fact
from gale_nook.core.spot.placement import at_spot, body_corners, heater_body, port_point

End = tuple[Vec3, Vec3]


@fact
def warm_end(job: Job) -> End | None:
    """Return where the warm air leaves the heater, or the convector that ducts begin at, and the
    way in which; None without a place.
    """
    if (found := ducted_convector(job)) is not None:
        return _convector_end(job, found[1].air_out)
    return _heater_end(job, "warm", 1.0)


@fact
def cold_end(job: Job) -> End | None:
    """Return where the same draws in, and the way out of it; None without a place."""
    if (found := ducted_convector(job)) is not None:
        return _convector_end(job, found[1].air_in)
    return heater_inlet(job)


@fact
def heater_inlet(job: Job) -> End | None:
    """Return the heater's own cold end; None without a place."""
    return _heater_end(job, "cold", -1.0)


def _convector_end(job: Job, offset: Vec3) -> End | None:
    found = ducted_convector(job)
    if found is None:
        return None
    part, _ = found
    axis = max(range(3), key=lambda n: abs(offset[n]))
    x, y, z = (math.copysign(1.0, offset[n]) if n == axis else 0.0 for n in range(3))
    dx, dy = turn_xy(offset[0], offset[1], part.yaw_deg)
    at = (part.x_mm + dx, part.y_mm + dy, part.z_mm + offset[2])
    return at, (*turn_xy(x, y, part.yaw_deg), z)


def _heater_end(job: Job, name: str, sign: float) -> End | None:
    mount, corners, spot = chosen_mount(job), body_corners(job), job.plan.spot
    if mount is None or corners is None or spot is None:
        return None
    port = mount.ports.get(name)  # type: ignore[call-overload]
    if port is not None:
        dx, dy = turn_xy(port.direction[0], port.direction[1], spot.yaw_deg)
        return port_point(job, port), (dx, dy, port.direction[2])
    body = heater_body(job)
    x, y = at_spot(job, body.x_mm + sign * body.length_mm / 2, body.y_mm)
    dx, dy = turn_xy(sign, 0.0, spot.yaw_deg)
    return (x, y, (corners[0][2] + corners[1][2]) / 2), (dx, dy, 0.0)
