"""The two ends of an air heater: where it blows out, and where it draws in."""

from __future__ import annotations

from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, fact
from gale_nook.core.spot.placement import at_spot, body_corners, heater_body, port_point

End = tuple[Vec3, Vec3]


@fact
def warm_end(job: Job) -> End | None:
    """Return where the warm air leaves the heater, and the way in which; None without a place."""
    return _end(job, "warm", 1.0)


@fact
def cold_end(job: Job) -> End | None:
    """Return where the heater draws in, and the way out of it; None without a place."""
    return _end(job, "cold", -1.0)


def _end(job: Job, name: str, sign: float) -> End | None:
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
