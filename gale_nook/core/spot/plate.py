"""The plates between heater and floor where they are: the mount's own, and one over an existing
opening.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.geometry.shapes import Shape, box_shape
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.spot import Adapter, Spot
from gale_nook.core.plan.vehicle import Feature
from gale_nook.core.spot.placement import (
    adapter_of,
    at_spot,
    body_corners,
    floor_holes,
    heater_finish_z_mm,
    mount_plane_z_mm,
    opening_used,
    shelf_of,
)
from gale_nook.core.spot.ribs import FLANGE_MM

RIM_MM = 25.0  # that a plate laps an opening by, where no limit says
SPARE_MM = 5.0  # more than that


@dataclass(frozen=True, slots=True)
class Extent:
    """An upright box in the vehicle's frame."""

    low_x_mm: float
    low_y_mm: float
    high_x_mm: float
    high_y_mm: float
    low_z_mm: float
    high_z_mm: float

    @property
    def middle_mm(self) -> tuple[float, float]:
        return (self.low_x_mm + self.high_x_mm) / 2, (self.low_y_mm + self.high_y_mm) / 2

    @property
    def half_mm(self) -> tuple[float, float]:
        return (self.high_x_mm - self.low_x_mm) / 2, (self.high_y_mm - self.low_y_mm) / 2

    @property
    def shape(self) -> Shape:
        low = (self.low_x_mm, self.low_y_mm, self.low_z_mm)
        size = (2 * self.half_mm[0], 2 * self.half_mm[1], self.high_z_mm - self.low_z_mm)
        return box_shape(low, size)


@fact
def mount_plate(job: Job) -> Extent | None:
    """Return the mount's plate or flange where it lies; None where the sheet gives none, or the
    heater does not stand inside over the floor.
    """
    mount, spot = chosen_mount(job), job.plan.spot
    if mount is None or spot is None or mount.plate is None or mount.place != "inside":
        return None
    plate = mount.plate
    x, y = at_spot(job, plate.x_mm, plate.y_mm)
    half = (plate.length_mm / 2, plate.width_mm / 2)
    half_x, half_y = half if spot.yaw_deg % 180 == 0 else half[::-1]
    plane = mount_plane_z_mm(job)
    return Extent(x - half_x, y - half_y, x + half_x, y + half_y, plane, plane + plate.thickness_mm)


@fact
def adapter_plate(job: Job) -> Extent | None:
    """Return the plate over an existing opening; None without one, or without its place."""
    adapter, opening = adapter_of(job), opening_used(job)
    if adapter is None or opening is None or opening.at is None:
        return None
    (x, y), half_x, half_y = opening.at, adapter.length_mm / 2, adapter.width_mm / 2
    low = shelf_top_z_mm(job)
    top = low + adapter.thickness_mm
    return Extent(x - half_x, y - half_y, x + half_x, y + half_y, low, top)


def shelf_top_z_mm(job: Job) -> float:
    """Return the height of what the mount or its adapter plate lies on."""
    under = shelf_of(job)
    return under.z_mm + under.height_mm if under is not None else heater_finish_z_mm(job)


@fact
def bearing(job: Job) -> Extent | None:
    """Return the area by which the heater bears on what is below it: its plate; without one the
    flange round each hole; without holes its body. None while it has no place.
    """
    plate, corners = mount_plate(job), body_corners(job)
    if plate is not None or corners is None:
        return plate
    (low_x, low_y, plane), (high_x, high_y, _) = corners
    holes = floor_holes(job)
    if not holes:
        return Extent(low_x, low_y, high_x, high_y, plane, plane)
    reach = [(hole, hole.reach_mm[0] + FLANGE_MM, hole.reach_mm[1] + FLANGE_MM) for hole in holes]
    return Extent(
        min(hole.x_mm - x for hole, x, _ in reach),
        min(hole.y_mm - y for hole, _, y in reach),
        max(hole.x_mm + x for hole, x, _ in reach),
        max(hole.y_mm + y for hole, _, y in reach),
        plane,
        plane,
    )


def over_opening(job: Job, spot: Spot, opening: Feature) -> Spot:
    """Return the spot with the mount's holes in the middle of an existing opening, and an adapter
    plate that laps the rim and carries the mount. Needs a place and a size of the opening.
    """
    if opening.at is None or opening.opening_mm is None:
        raise ValueError("the opening has no place or size")
    there = job.with_parts(spot=spot)
    (x, y), (length, width) = opening.at, opening.opening_mm
    low, high = _holes_extent_mm(there)
    moved = spot.model_copy(
        update={
            "x_mm": x + spot.x_mm - (low[0] + high[0]) / 2,
            "y_mm": y + spot.y_mm - (low[1] + high[1]) / 2,
        }
    )
    there = job.with_parts(spot=moved)
    rim, rests = least_of(job, "adapter_rim_mm", RIM_MM) + SPARE_MM, bearing(there)
    half_x, half_y = length / 2 + rim, width / 2 + rim
    if rests is not None:
        middle = rests.middle_mm
        half_x = max(half_x, abs(middle[0] - x) + rests.half_mm[0])
        half_y = max(half_y, abs(middle[1] - y) + rests.half_mm[1])
    plate = Adapter(opening=opening.id, length_mm=_up(2 * half_x), width_mm=_up(2 * half_y))
    return moved.model_copy(update={"adapter": plate})


def _up(length_mm: float) -> float:
    """The next length that is cut: whole 5 mm."""
    return min(5.0 * math.ceil(length_mm / 5.0 - 1e-9), 1000.0)


def _holes_extent_mm(job: Job) -> tuple[tuple[float, float], tuple[float, float]]:
    """The low and high corner of all holes; of the reference point without any."""
    spot, holes = job.plan.spot, floor_holes(job)
    if spot is None:
        raise ValueError("the heater has no place yet")
    if not holes:
        return (spot.x_mm, spot.y_mm), (spot.x_mm, spot.y_mm)
    low_x = min(hole.x_mm - hole.reach_mm[0] for hole in holes)
    low_y = min(hole.y_mm - hole.reach_mm[1] for hole in holes)
    high_x = max(hole.x_mm + hole.reach_mm[0] for hole in holes)
    high_y = max(hole.y_mm + hole.reach_mm[1] for hole in holes)
    return (low_x, low_y), (high_x, high_y)
