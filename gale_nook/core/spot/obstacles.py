"""What can stand in the heater's way at its spot."""

from __future__ import annotations

from functools import lru_cache

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import box_shape
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.plan.vehicle import Shell
from gale_nook.core.spot.freeway import Obstacle
from gale_nook.core.vehicle.parts import surveyed_where

WALL_MM = 400.0


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
    half, top, t = shell.floor_width_mm / 2, shell.inside_height_mm, WALL_MM
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
    return tuple(
        Obstacle(wall_id, name, box_shape(low, size)) for wall_id, name, low, size in sides
    )


@lru_cache(maxsize=64)
def _bay_walls(shell: Shell) -> tuple[Obstacle, ...]:
    """What closes the engine bay in; nothing below."""
    firewall = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm
    half, t, low = shell.outer_width_mm / 2, WALL_MM, shell.ground_z_mm
    x0, length, high = (
        shell.front_x_mm,
        firewall - shell.front_x_mm,
        shell.bonnet_z_mm - shell.ground_z_mm,
    )
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
    return tuple(
        Obstacle(wall_id, name, box_shape(corner, size)) for wall_id, name, corner, size in sides
    )


def obstacles(job: Job) -> tuple[Obstacle, ...]:
    """Return everything that stands where the heater does: solids, and the walls of the cabin or of
    the engine bay.
    """
    mount = chosen_mount(job)
    place = mount.place if mount is not None else "inside"
    solids = tuple(
        Obstacle(solid.id, solid.name, shape, kind)
        for solid, kind, shape in surveyed_where(job, place)
    )
    if place == "below":
        return solids
    return (
        *solids,
        *(walls(job) if place == "inside" else _bay_walls(job.plan.vehicle.shell)),
    )
