"""How deep two cylinders reach into one another.

The least way out of one another is the least sum of their supports over all directions (the
separating axis theorem for convex bodies). It is looked for on a grid of directions, then between
its best ones.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from gale_nook.core.geometry.frames import Vec3

GRID = 24  # directions on each of the two angles of a half sphere
ROUNDS, SPREAD = 14, 7  # of the search between them, and how many it looks at each way


@dataclass(frozen=True, slots=True)
class Cylinder:
    """A cylinder: its middle, the unit vector of its axis, half its length, its radius (mm)."""

    centre: Vec3
    axis: Vec3
    half_mm: float
    radius_mm: float


def overlap_mm(one: Cylinder, other: Cylinder) -> float:
    """Return how far one has to be moved until it no longer reaches into the other; negative when
    they are apart, by no more than they are.

    The result is never less than the true depth, and above it by less than 0.01 mm on the sizes of
    a vehicle.
    """
    between = np.subtract(other.centre, one.centre)
    axes = _candidates(one, other, between)
    values = _way_out_mm(one, other, between, axes)
    best, angle = axes[int(values.argmin())], 1.6 / GRID
    for _ in range(ROUNDS):
        axes = _round_about(best, angle)
        values = _way_out_mm(one, other, between, axes)
        best, angle = axes[int(values.argmin())], angle / 2.5
    return float(values.min())


def _way_out_mm(one: Cylinder, other: Cylinder, between: Any, axes: Any) -> Any:
    """How far to move along each of many directions (n, 3)."""
    reach = sum(
        cylinder.half_mm * np.abs(along)
        + cylinder.radius_mm * np.sqrt(np.maximum(1.0 - along * along, 0.0))
        for cylinder in (one, other)
        for along in (axes @ np.array(cylinder.axis),)
    )
    return reach - np.abs(axes @ between)


def _candidates(one: Cylinder, other: Cylinder, between: Any) -> Any:
    """The directions that solve the simple cases, and a grid of others."""
    own = [np.array(one.axis), np.array(other.axis)]
    simple = [*own, np.cross(own[0], own[1]), between]
    simple += [between - (between @ axis) * axis for axis in own]
    lengths = [float(np.linalg.norm(axis)) for axis in simple]
    units = [axis / length for axis, length in zip(simple, lengths, strict=True) if length > 1e-9]
    return np.concatenate([np.array(units), _grid()])


@cache
def _grid() -> Any:
    """Unit vectors all over a half sphere, (n, 3)."""
    turns, rises = np.meshgrid(
        np.linspace(0.0, 2 * np.pi, 2 * GRID, endpoint=False),
        np.arcsin(np.linspace(0.0, 1.0, GRID)),
    )
    level = np.cos(rises)
    stacked = np.stack([level * np.cos(turns), level * np.sin(turns), np.sin(rises)], axis=-1)
    return stacked.reshape(-1, 3)


def _round_about(axis: Any, angle: float) -> Any:
    """The axis and a patch of directions round it, within an angle (radians)."""
    helper = np.eye(3)[int(np.abs(axis).argmin())]
    first = np.cross(axis, helper)
    first /= np.linalg.norm(first)
    second = np.cross(axis, first)
    steps = np.linspace(-angle, angle, SPREAD)
    a, b = (each.ravel()[:, None] for each in np.meshgrid(steps, steps))
    turned = axis + a * first + b * second
    return turned / np.linalg.norm(turned, axis=1)[:, None]
