"""What lies in the cabin, and where a route passes from the inside to the outside: through the
floor, a wall or the bulkhead.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from itertools import pairwise
from typing import NamedTuple

from gale_nook.core.geometry.frames import Vec3, add, scale, sub
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.job import Job, fact
from gale_nook.core.vehicle.floor import every_floor, floor_at

SHORTEST_MM = 1.0  # of a stretch; less is where a route lies in a plane itself
Planes = tuple[tuple[float, ...], tuple[float, ...], tuple[float, ...]]


def within_shell(job: Job, point: Vec3) -> bool:
    """Return whether a point lies within the cabin's outline in plan; the engine bay ahead of it is
    open below.
    """
    vehicle, shell = job.plan.vehicle, job.plan.vehicle.shell
    bay = shell.firewall_x_mm
    front = bay if bay is not None else vehicle.body_front_x_mm
    return front <= point[0] <= shell.rear_x_mm and abs(point[1]) <= shell.outer_width_mm / 2


def is_inside(job: Job, point: Vec3) -> bool:
    """Return whether a point lies in the cabin: over the floor that is there, within its walls."""
    return within_shell(job, point) and point[2] >= floor_at(job, point[0], point[1]).underside_z_mm


def route_passes_mm(job: Job, geometry: RouteGeometry) -> list[float]:
    """Return where along a route it passes from inside to outside, or back."""
    results: list[float] = []
    before: bool | None = None
    for start, end, from_mm, length_mm in _segments(geometry):
        way = sub(end, start)
        for low, high in pairwise([0.0, *_cuts(_planes(job), start, way), 1.0]):
            here = is_inside(job, add(start, scale(way, (low + high) / 2)))
            if before is not None and here != before:
                results.append(from_mm + low * length_mm)
            before = here
    return results


class Stretch(NamedTuple):
    """Part of a route between two passes, along it from its start."""

    from_mm: float
    to_mm: float
    inside: bool


def route_stretches(job: Job, geometry: RouteGeometry) -> Iterator[Stretch]:
    """Yield the stretches of a route: inside and outside in turn."""
    passes = route_passes_mm(job, geometry)
    for from_mm, to_mm in pairwise([0.0, *passes, geometry.length_mm]):
        if to_mm - from_mm >= SHORTEST_MM:
            middle = geometry.point_at((from_mm + to_mm) / 2)
            yield Stretch(from_mm, to_mm, is_inside(job, middle))


def bare_mm(
    stretches: Iterable[Stretch], sleeves: Iterable[tuple[float, float]]
) -> Iterator[tuple[float, float]]:
    """Yield what of some stretches no sleeve covers, from and to along the route.

    Args:
        sleeves: where each begins, and its length, by where they begin.
    """
    covers = list(sleeves)
    for stretch in stretches:
        at_mm = stretch.from_mm
        for begins_mm, length_mm in covers:
            if begins_mm > at_mm:
                yield at_mm, min(begins_mm, stretch.to_mm)
            at_mm = max(at_mm, begins_mm + length_mm)
            if at_mm >= stretch.to_mm:
                break
        else:
            yield at_mm, stretch.to_mm


def _segments(geometry: RouteGeometry) -> Iterator[tuple[Vec3, Vec3, float, float]]:
    line, passed = geometry.centre_line, geometry.passed_mm
    for n in range(len(line) - 1):
        yield line[n], line[n + 1], passed[n], passed[n + 1] - passed[n]


def _cuts(planes: Planes, start: Vec3, way: Vec3) -> list[float]:
    """The shares of a segment at which it meets a plane where inside may end."""
    shares = (
        (plane - start[axis]) / way[axis]
        for axis in range(3)
        if abs(way[axis]) > 1e-9
        for plane in planes[axis]
    )
    return sorted(share for share in shares if 0 < share < 1)


@fact
def _planes(job: Job) -> Planes:
    """The planes that bound the cabin and its floors, by axis."""
    shell, floors = job.plan.vehicle.shell, every_floor(job)
    areas = [floor.area for floor in floors if floor.area is not None]
    front = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm
    half = shell.outer_width_mm / 2
    x = [front, shell.rear_x_mm, *(e for a in areas for e in (a.from_x_mm, a.to_x_mm))]
    y = [-half, half, *(e for a in areas for e in (a.left_y_mm, a.right_y_mm))]
    return tuple(x), tuple(y), tuple(floor.underside_z_mm for floor in floors)


def sleeve_spans(stretches: Iterable[Stretch]) -> list[tuple[int, int]]:
    """Return where sleeves begin over what lies outside, and how long they are, in whole mm."""
    ends = [(math.floor(s.from_mm), math.ceil(s.to_mm)) for s in stretches if not s.inside]
    return [(start, end - start) for start, end in ends]
