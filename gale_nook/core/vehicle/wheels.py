"""Wheels: those that were surveyed, and those that stand at the axles all the same."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, joined, solid_shape, wheel_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.solids import BoxSolid, Solid
from gale_nook.core.vehicle.parts import surveyed_parts


@dataclass(frozen=True, slots=True)
class AssumedWheel:
    """A wheel that was not surveyed, drawn from the main dimensions.

    Attributes:
        steers: it is a front wheel.
    """

    id: str
    name: str
    hub: Vec3
    diameter_mm: float
    width_mm: float
    steers: bool


@fact
def assumed_wheels(job: Job) -> tuple[AssumedWheel, ...]:
    """Return the wheels at the axles of the main dimensions that no surveyed wheel stands for."""
    vehicle = job.plan.vehicle
    if vehicle.afloat:
        return ()
    shell, width = vehicle.shell, job.catalogue.room.wheel.width_mm
    out, radius = shell.outer_width_mm / 2 - width / 2, shell.wheel_diameter_mm / 2
    surveyed = [shape.bounds for _, kind, shape in surveyed_parts(job) if kind.id == "wheel"]
    steers = vehicle.moves != "towed"
    results = []
    for end, x in (("front", shell.front_axle_x_mm), ("rear", shell.rear_axle_x_mm)):
        for side, y in (("left", -out), ("right", out)):
            if any(b[0] <= x <= b[3] and (b[1] + b[4]) * y > 0 for b in surveyed):
                continue
            hub = (x, y, shell.ground_z_mm + radius)
            wheel_id, name = f"wheel-{end}-{side}", f"the {end} {side} wheel"
            results.append(
                AssumedWheel(wheel_id, name, hub, 2 * radius, width, steers and end == "front")
            )
    return tuple(results)


def assumed_wheel_shape(job: Job, wheel: AssumedWheel) -> Shape:
    """Return the room that a wheel takes as it moves and steers."""
    usual = job.catalogue.room.wheel
    steer = usual.steer_deg if wheel.steers else 0.0
    return wheel_shape(
        wheel.hub, wheel.diameter_mm, wheel.width_mm, usual.up_mm, usual.down_mm, steer
    )


def steered_shape(job: Job, solid: Solid, shape: Shape) -> Shape:
    """Return a surveyed part's shape, of a front wheel as it steers."""
    if solid.kind != "wheel" or not isinstance(solid, BoxSolid):
        return shape
    low_x, high_x = shape.bounds[0], shape.bounds[3]
    if not low_x <= job.plan.vehicle.shell.front_axle_x_mm <= high_x:
        return shape
    return _turned(solid, job.catalogue.room.wheel.steer_deg)


@lru_cache(maxsize=64)
def _turned(wheel: BoxSolid, most_deg: float) -> Shape:
    turns = [wheel.yaw_deg + most_deg * share / 3 for share in range(-3, 4)]
    return joined([solid_shape(wheel.model_copy(update={"yaw_deg": yaw})) for yaw in turns])
