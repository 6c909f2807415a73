"""Heights of the floors: steel, finish and underside, over the load floor's steel (mm)."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.vehicle import Floor, FloorArea


@dataclass(frozen=True, slots=True)
class FloorHere:
    """The floor at a place.

    Attributes:
        area: a floor of its own; None for the load floor.
        finish_z_mm: of the walked-on surface; underside_z_mm: of the lowest face, under the steel
            and its ribs.
    """

    floor: Floor
    area: FloorArea | None
    top_z_mm: float
    steel_mm: float
    finish_z_mm: float
    underside_z_mm: float

    @property
    def steel_z_mm(self) -> float:
        """Height of the steel's lower face, between its ribs."""
        return self.top_z_mm - self.steel_mm


@fact
def every_floor(job: Job) -> tuple[FloorHere, ...]:
    """Return the load floor, and those that differ from it."""
    vehicle = job.plan.vehicle
    return (_here(vehicle.floor, None), *(_here(area, area) for area in vehicle.floors))


def _here(floor: Floor, area: FloorArea | None) -> FloorHere:
    steel = floor.layers[-1].thickness_mm if floor.layers else 0.0
    top = area.top_z_mm if area is not None else 0.0
    finish = top + sum(layer.thickness_mm for layer in floor.layers[:-1])
    return FloorHere(floor, area, top, steel, finish, top - steel - floor.corrugation_mm)


def floor_at(job: Job, x_mm: float, y_mm: float) -> FloorHere:
    """Return the floor at a place: the first of those that differ there, else the load floor."""
    load, *others = every_floor(job)
    return next((f for f in others if f.area is not None and f.area.holds(x_mm, y_mm)), load)


def underside_at_mm(job: Job, x_mm: float, y_mm: float, within_mm: float = 0.0) -> float:
    """Return the height of the lowest face of the floor at a place, and of any other that comes
    within a distance of it.
    """
    load, *others = every_floor(job)
    inside = [(f, _inside_mm(f.area, x_mm, y_mm)) for f in others if f.area is not None]
    near = [floor.underside_z_mm for floor, mm in inside if mm >= -within_mm]
    if any(mm > within_mm for _, mm in inside):  # the load floor does not come so near
        return min(near)
    return min([load.underside_z_mm, *near])


def _inside_mm(area: FloorArea, x_mm: float, y_mm: float) -> float:
    """How far inside an area a place lies; negative outside (at a corner the larger of the two)."""
    return min(
        x_mm - area.from_x_mm,
        area.to_x_mm - x_mm,
        y_mm - area.left_y_mm,
        area.right_y_mm - y_mm,
    )


def edge_crossings(job: Job, points: Sequence[Vec3]) -> list[Vec3]:
    """Return where a line through points passes under the edge of a floor of its own."""
    results = []
    for area in job.plan.vehicle.floors:
        edges = ((0, area.from_x_mm), (0, area.to_x_mm), (1, area.left_y_mm), (1, area.right_y_mm))
        for (axis, at), (a, b) in itertools.product(edges, itertools.pairwise(points)):
            if (a[axis] - at) * (b[axis] - at) < 0:
                share = (at - a[axis]) / (b[axis] - a[axis])
                x, y, z = (p + share * (q - p) for p, q in zip(a, b, strict=True))
                results.append((x, y, z))
    return results


def steel_thickness_mm(job: Job) -> float:
    """Return the thickness of the lowest layer of the load floor's stack: the steel."""
    return every_floor(job)[0].steel_mm


def floor_finish_z_mm(job: Job) -> float:
    """Return the height of the load floor's walked-on surface."""
    return every_floor(job)[0].finish_z_mm


def floor_underside_z_mm(job: Job) -> float:
    """Return the height of the load floor's lowest face: under the steel and its ribs."""
    return every_floor(job)[0].underside_z_mm
