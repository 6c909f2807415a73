"""Room that what is planned keeps out of: spaces with a name, plates over closed openings, and the
way that a carrier takes from under its body.
"""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import box_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.plan.moves import Space
from gale_nook.core.vehicle.old_openings import AXES, middle_of, plate_mm
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.wheels import assumed_wheel_shape, assumed_wheels

PLATE_MM = 2.0
FAR_MM = 3000.0  # past the nose, a carrier that drives out is gone
CARRIERS = {
    "carrier",
    "wheel",
    "suspension",
    "brake-pipe",
    "handbrake-cable",
    "fuel-pipe",
    "fuel-tank",
    "spare-wheel",
    "traction-battery",
    "vehicle-exhaust",
}
SPARKLESS = ("petrol", "gas")  # in these nothing may spark
NOT_BREATHED = {
    "bilge": "from the bilge",
    "petrol": "from a space with petrol",
    "gas": "from a space with gas",
    "engine": "from the engine's space",
    "battery": "from a space with a battery",
}


@fact
def kept_free(job: Job) -> tuple[Body, ...]:
    """Return every room that what is planned keeps out of. The vehicle's own parts are not held
    against it.
    """
    return (*_spaces(job), *_plates(job), *_carrier_ways(job))


def _spaces(job: Job) -> Iterator[Body]:
    for space in job.plan.vehicle.spaces:
        low: Vec3 = (space.from_x_mm, space.left_y_mm, space.low_z_mm)
        high: Vec3 = (space.to_x_mm, space.right_y_mm, space.high_z_mm)
        yield body_of(
            job,
            f"{space.kind}-space",
            box_shape(low, (high[0] - low[0], high[1] - low[1], high[2] - low[2])),
            thing_id=f"space.{space.id}",
            name=space.name,
        )


def _plates(job: Job) -> Iterator[Body]:
    """The plates over what was closed: nothing new goes through one."""
    for opening in job.plan.vehicle.old_openings:
        if opening.use != "closed":
            continue
        along, up, across = AXES[opening.face]
        wide, high = plate_mm(opening)
        size, low = [0.0, 0.0, 0.0], list(middle_of(job, opening))
        size[along], size[up], size[across] = wide, high, PLATE_MM
        yield body_of(
            job,
            "closing-plate",
            box_shape(
                (low[0] - size[0] / 2, low[1] - size[1] / 2, low[2] - size[2] / 2),
                (size[0], size[1], size[2]),
            ),
            thing_id=f"plate.{opening.id}",
            name=f"the plate over {opening.name}",
        )


def _carrier_ways(job: Job) -> Iterator[Body]:
    """The way of each part that is the carrier's: down as the body is raised, then out under its
    front. Each counts as the box round it.
    """
    vehicle = job.plan.vehicle
    if vehicle.moves != "carried":
        return
    gone = vehicle.shell.front_x_mm - FAR_MM
    parts = [
        (s.id, s.name, shape.bounds) for s, k, shape in surveyed_parts(job) if k.id in CARRIERS
    ]
    parts += [
        (wheel.id, wheel.name, assumed_wheel_shape(job, wheel).bounds)
        for wheel in assumed_wheels(job)
    ]
    for part_id, name, (x0, y0, z0, x1, y1, z1) in parts:
        wide, high, lift = y1 - y0, z1 - z0, vehicle.lift_mm
        down = box_shape((x0, y0, z0 - lift), (x1 - x0, wide, high + lift))
        out = box_shape((gone, y0, z0 - lift), (x1 - gone, wide, high))
        for number, way in enumerate((down, out), 1):
            yield body_of(
                job,
                "carrier-way",
                way,
                thing_id=f"way.{part_id}.{number}",
                name=f"{name} as the carrier leaves",
                owner=f"way.{part_id}",
            )


def space_at(job: Job, point: Vec3, kinds: tuple[str, ...] = ()) -> Space | None:
    """Return the space with a name that a point lies in.

    Args:
        kinds: that are meant; all where none is given.
    """
    x, y, z = point
    for space in job.plan.vehicle.spaces:
        if kinds and space.kind not in kinds:
            continue
        along = space.from_x_mm <= x <= space.to_x_mm and space.left_y_mm <= y <= space.right_y_mm
        if along and space.low_z_mm <= z <= space.high_z_mm:
            return space
    return None
