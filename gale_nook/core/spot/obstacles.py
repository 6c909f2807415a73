"""What can stand in the heater's way at its spot."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
import shapely

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, box_shape, outline_crosses, solid_shape
from gale_nook.core.geometry.uncertain import widened
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.solids import BoxSolid, OutlineSolid, Solid
from gale_nook.core.plan.vehicle import Shell
from gale_nook.core.spot.convex_pieces import (
    ConvexPiece,
    Corner,
    box_prism,
    piece_bounds,
    piece_heights,
    pieces_of_solid,
)
from gale_nook.core.spot.placement import (
    free_shelf,
    heater_finish_z_mm,
    heater_underside_z_mm,
    under_shelf_z_mm,
)
from gale_nook.core.vehicle.parts import surveyed_where
from gale_nook.core.vehicle.wheels import assumed_wheels

WALL_MM = 400.0


@dataclass(frozen=True, slots=True)
class Obstacle:
    """Something that can stand in the way: a surveyed solid, or a wall of the room (without a
    kind).

    Attributes:
        pieces: it as convex pieces with closed-form distances.
        piece_bounds: low x, low y, low z, high x, high y, high z of each, (n, 6).
        ring: the closed outline in plan of a part that was surveyed as one; empty for others.
        is_hollow: there is room between its pieces.
    """

    id: str
    name: str
    shape: Shape
    pieces: tuple[ConvexPiece, ...]
    piece_bounds: Any
    kind: SolidKind | None = None
    ring: tuple[Corner, ...] = ()
    is_hollow: bool = False


def solid_obstacle(solid: Solid, kind: SolidKind, shape: Shape) -> Obstacle:
    """Return a surveyed solid with its pieces."""
    pieces, bounds, ring = _pieces(solid)
    hollow = isinstance(solid, BoxSolid) and solid.hollow is not None
    return Obstacle(solid.id, solid.name, shape, pieces, bounds, kind, ring, hollow)


@lru_cache(maxsize=2048)
def _pieces(solid: Solid) -> tuple[tuple[ConvexPiece, ...], Any, tuple[Corner, ...]]:
    pieces = pieces_of_solid(solid)
    return pieces, _bounds(pieces), _ring(solid)


def _ring(solid: Solid) -> tuple[Corner, ...]:
    solid = widened(solid)
    if not isinstance(solid, OutlineSolid):
        return ()
    polygon: Any = shapely.Polygon(solid.outline)
    polygon = polygon.convex_hull if outline_crosses(solid) else polygon
    # corners on one line enclose nothing: its pieces tell the distance
    return tuple(polygon.exterior.coords) if polygon.geom_type == "Polygon" else ()


def _bounds(pieces: tuple[ConvexPiece, ...]) -> Any:
    results = []
    for piece in pieces:
        (low_x, low_y, high_x, high_y), (low_z, high_z) = piece_bounds(piece), piece_heights(piece)
        results.append((low_x, low_y, low_z, high_x, high_y, high_z))
    return np.array(results)


@fact
def solid_obstacles(job: Job, where: str) -> tuple[Obstacle, ...]:
    """Return the solids that are "inside", "below", "outside" or in the "engine-bay"."""
    return tuple(solid_obstacle(*part) for part in surveyed_where(job, where))


@fact
def obstacles(job: Job) -> tuple[Obstacle, ...]:
    """Return everything that stands where the heater does: solids, and the walls of the cabin or of
    the engine bay.
    """
    mount = chosen_mount(job)
    place = mount.place if mount is not None else "inside"
    through = _reaching(job, place, heater_underside_z_mm(job), heater_finish_z_mm(job))
    solids, shell = (*solid_obstacles(job, place), *through), job.plan.vehicle.shell
    if place == "below":
        return solids
    return (*solids, *(walls(job) if place == "inside" else _bay_walls(shell)))


@fact
def _reaching(
    job: Job, place: str, underside_z_mm: float, finish_z_mm: float
) -> tuple[Obstacle, ...]:
    """What belongs elsewhere and reaches in through the heater's floor: a wheel in its arch, a tank
    that is too high.
    """
    if place == "engine-bay":
        return ()
    if place == "below":
        parts = solid_obstacles(job, "inside")
        return tuple(part for part in parts if part.shape.low_z_mm < underside_z_mm)
    parts = (
        *solid_obstacles(job, "below"),
        *solid_obstacles(job, "outside"),
        *assumed_wheel_obstacles(job),
    )
    return tuple(part for part in parts if part.shape.high_z_mm > finish_z_mm)


@fact
def assumed_wheel_obstacles(job: Job) -> tuple[Obstacle, ...]:
    """Return the wheels that were not surveyed, as boxes through their travel."""
    kind, usual = job.catalogue.solid_kinds["wheel"], job.catalogue.room.wheel
    results = []
    for wheel in assumed_wheels(job):
        (x, y, z), radius, half = wheel.hub, wheel.diameter_mm / 2, wheel.width_mm / 2
        box = BoxSolid(
            id=wheel.id,
            name=wheel.name,
            kind=kind.id,
            x_mm=x - radius,
            y_mm=y - half,
            z_mm=z - radius,
            length_mm=2 * radius,
            width_mm=2 * half,
            height_mm=2 * radius,
            travel_up_mm=usual.up_mm,
            travel_down_mm=usual.down_mm,
        )
        results.append(solid_obstacle(box, kind, solid_shape(box)))
    return tuple(results)


@fact
def obstacles_to_lift(job: Job) -> tuple[Obstacle, ...]:
    """Return what stands in the way of the heater being lifted out: the lids of hollow furniture
    are off.
    """
    solids = {solid.id: solid for solid in job.plan.vehicle.solids}
    results = []
    for obstacle in obstacles(job):
        solid = solids.get(obstacle.id)
        if not isinstance(solid, BoxSolid) or solid.hollow is None or not solid.hollow.lids:
            results.append(obstacle)
            continue
        pieces = pieces_of_solid(solid, frozenset(solid.hollow.lids))
        if pieces:
            results.append(replace(obstacle, pieces=pieces, piece_bounds=_bounds(pieces)))
    return tuple(results)


@fact
def obstacles_at_ports(job: Job) -> tuple[Obstacle, ...]:
    """Return the solids that pipes meet where they leave the heater: below it, outside the wall, or
    inside under the shelf that it stands on.
    """
    mount = chosen_mount(job)
    through = mount.through if mount is not None else "floor"
    shelf = free_shelf(job)
    if shelf is not None:
        finish = under_shelf_z_mm(job)
        inside = (each for each in solid_obstacles(job, "inside") if each.id != shelf.id)
        return (*inside, *_reaching(job, "inside", finish, finish))
    also = {"wall": "outside", "bulkhead": "engine-bay"}.get(through)
    others = solid_obstacles(job, also) if also is not None else ()
    return (*solid_obstacles(job, "below"), *others)


def walls(job: Job) -> tuple[Obstacle, ...]:
    """Return the walls of the room that the heater stands in: the load space, or the cab ahead of
    the bulkhead.
    """
    shell = job.plan.vehicle.shell
    return _walls(shell, job.plan.spot is not None and job.plan.spot.x_mm < shell.bulkhead_x_mm)


@lru_cache(maxsize=64)
def _walls(shell: Shell, in_cab: bool) -> tuple[Obstacle, ...]:
    x0, x1 = (
        (shell.front_x_mm, shell.bulkhead_x_mm)
        if in_cab
        else (shell.bulkhead_x_mm, shell.rear_x_mm)
    )
    half = shell.floor_width_mm / 2
    top = shell.inside_height_mm
    t = WALL_MM
    length, width = x1 - x0, 2 * half
    sides: tuple[tuple[str, str, Vec3, Vec3], ...] = (
        (
            "wall-front",
            "the bulkhead" if not in_cab else "the nose",
            (x0 - t, -half - t, 0.0),
            (t, width + 2 * t, top),
        ),
        (
            "wall-rear",
            "the rear doors" if not in_cab else "the bulkhead",
            (x1, -half - t, 0.0),
            (t, width + 2 * t, top),
        ),
        ("wall-left", "the left wall", (x0 - t, -half - t, 0.0), (length + 2 * t, t, top)),
        ("wall-right", "the right wall", (x0 - t, half, 0.0), (length + 2 * t, t, top)),
        ("wall-roof", "the roof", (x0 - t, -half - t, top), (length + 2 * t, width + 2 * t, t)),
    )
    return tuple(_wall(*side) for side in sides)


def _wall(wall_id: str, name: str, low: Vec3, size: Vec3) -> Obstacle:
    pieces = (box_prism(low, size),)
    return Obstacle(wall_id, name, box_shape(low, size), pieces, _bounds(pieces))


@lru_cache(maxsize=64)
def _bay_walls(shell: Shell) -> tuple[Obstacle, ...]:
    """What closes the engine bay in; nothing below."""
    firewall = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm
    half = shell.outer_width_mm / 2
    t = WALL_MM
    low = shell.ground_z_mm
    x0 = shell.front_x_mm
    length = firewall - shell.front_x_mm
    high = shell.bonnet_z_mm - shell.ground_z_mm
    sides: tuple[tuple[str, str, Vec3, Vec3], ...] = (
        ("bay-nose", "the nose", (x0 - t, -half - t, low), (t, 2 * (half + t), high)),
        ("bay-bulkhead", "the bulkhead", (firewall, -half - t, low), (t, 2 * (half + t), high)),
        ("bay-left", "the left wing", (x0 - t, -half - t, low), (length + 2 * t, t, high)),
        ("bay-right", "the right wing", (x0 - t, half, low), (length + 2 * t, t, high)),
        (
            "bay-bonnet",
            "the bonnet",
            (x0 - t, -half - t, shell.bonnet_z_mm),
            (length + 2 * t, 2 * (half + t), t),
        ),
    )
    return tuple(_wall(*side) for side in sides)
