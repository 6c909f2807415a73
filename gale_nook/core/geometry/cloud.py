"""Where a solid leaves no room for a tube's middle: over a whole grid of points at once (mm)."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from gale_nook.core.geometry.frames import Vec3, norm, sub
from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.geometry.uncertain import widened
from gale_nook.core.plan.solids import CylinderSolid, Solid, TubeSolid


@dataclass(frozen=True)
class Grid3:
    """Points at even steps, the first of them at `low`; arrays over it have the
    shape (nz, ny, nx).
    """

    low: Vec3
    step_mm: float
    count: tuple[int, int, int]

    @cached_property
    def axes(self) -> tuple[Any, Any, Any]:
        """The coordinates along x, y and z."""
        x, y, z = (self.low[i] + self.step_mm * np.arange(self.count[i]) for i in range(3))
        return x, y, z

    @property
    def shape(self) -> tuple[int, int, int]:
        return (self.count[2], self.count[1], self.count[0])

    def window(
        self, bounds: tuple[float, ...], reach_mm: float
    ) -> tuple[slice, slice, slice] | None:
        """Return the part of the grid within reach of bounds, as slices along z, y and x; None
        where there is none.
        """
        results = []
        for i in (2, 1, 0):
            first = int(np.ceil((bounds[i] - reach_mm - self.low[i]) / self.step_mm))
            last = int(np.floor((bounds[i + 3] + reach_mm - self.low[i]) / self.step_mm))
            first, last = max(first, 0), min(last, self.count[i] - 1)
            if first > last:
                return None
            results.append(slice(first, last + 1))
        return (results[0], results[1], results[2])


def block(blocked: Any, grid: Grid3, solid: Solid | None, shape: Shape, reach_mm: float) -> None:
    """Mark in `blocked`, in place, every point nearer than `reach_mm` to a shape.

    Args:
        solid: of the plan, whose shape it is; None for a tube that is no surveyed part.
    """
    window = grid.window(shape.bounds, reach_mm)
    if window is None:
        return
    x, y, z = grid.axes
    z = z[window[0]][:, None, None]
    y = y[window[1]][None, :, None]
    x = x[window[2]][None, None, :]
    solid = widened(solid) if solid is not None else None
    if isinstance(solid, CylinderSolid) and solid.axis != "z":
        distance = _to_lying_cylinder(solid, x, y, z)
    elif isinstance(solid, TubeSolid):
        distance = _to_line(solid.points, x, y, z) - solid.diameter_mm / 2
    else:
        distance = _to_upright(shape, x, y, z)
    blocked[window] |= distance < reach_mm


def block_line(blocked: Any, grid: Grid3, points: tuple[Vec3, ...], reach_mm: float) -> None:
    """Mark in `blocked`, in place, every point nearer than `reach_mm` to a polyline."""
    bounds = (
        *(min(p[i] for p in points) for i in range(3)),
        *(max(p[i] for p in points) for i in range(3)),
    )
    window = grid.window(bounds, reach_mm)
    if window is None:
        return
    x, y, z = grid.axes
    distance = _to_line(
        points,
        x[window[2]][None, None, :],
        y[window[1]][None, :, None],
        z[window[0]][:, None, None],
    )
    blocked[window] |= distance < reach_mm


def block_body(blocked: Any, grid: Grid3, shape: Shape, reach_mm: float) -> None:
    """Mark in `blocked`, in place, every point nearer than `reach_mm` to a tube, or to the bounds
    of another shape.
    """
    if shape.axes is not None:
        points = tuple((float(x), float(y), float(z)) for x, y, z in shape.axes.points)
        block_line(blocked, grid, points, reach_mm + shape.axes.radius_mm)
        return
    window = grid.window(shape.bounds, reach_mm)
    if window is None:
        return
    x, y, z = grid.axes
    b = shape.bounds
    x = x[window[2]][None, None, :]
    y = y[window[1]][None, :, None]
    z = z[window[0]][:, None, None]
    out = [
        np.maximum(np.maximum(b[axis] - at, at - b[axis + 3]), 0.0)
        for axis, at in enumerate((x, y, z))
    ]
    blocked[window] |= np.sqrt(out[0] ** 2 + out[1] ** 2 + out[2] ** 2) < reach_mm


def _to_upright(shape: Shape, x: Any, y: Any, z: Any) -> Any:
    """Distance to what is the same at every height: boxes, outlines, upright
    cylinders. 0 inside.
    """
    b = shape.bounds
    dz = np.maximum(np.maximum(b[2] - z, z - b[5]), 0.0)
    if shape.fills_bounds:
        dx = np.maximum(np.maximum(b[0] - x, x - b[3]), 0.0)
        dy = np.maximum(np.maximum(b[1] - y, y - b[4]), 0.0)
        return np.sqrt(dx**2 + dy**2 + dz**2)
    xs, ys = np.broadcast_arrays(x[0], y[0])
    flat = (
        shapely.distance(shape.footprint.geometry, shapely.points(xs, ys))
        - shape.footprint.swell_mm
    )
    return np.hypot(np.maximum(flat, 0.0)[None, :, :], dz)


def _to_line(points: tuple[Vec3, ...], x: Any, y: Any, z: Any) -> Any:
    """Distance to a polyline."""
    best: Any = np.inf
    for start, end in itertools.pairwise(points):
        along = sub(end, start)
        length2 = norm(along) ** 2
        px, py, pz = x - start[0], y - start[1], z - start[2]
        share = (px * along[0] + py * along[1] + pz * along[2]) / length2 if length2 > 0 else 0.0
        share = np.clip(share, 0.0, 1.0)
        dx = px - share * along[0]
        dy = py - share * along[1]
        dz = pz - share * along[2]
        best = np.minimum(best, np.sqrt(dx**2 + dy**2 + dz**2))
    return best


def _to_lying_cylinder(solid: CylinderSolid, x: Any, y: Any, z: Any) -> Any:
    """Distance to a cylinder along x or y with flat ends. 0 inside."""
    along, across = (
        (x - solid.x_mm, y - solid.y_mm) if solid.axis == "x" else (y - solid.y_mm, x - solid.x_mm)
    )
    past_end = np.maximum(np.abs(along) - solid.length_mm / 2, 0.0)
    out = np.maximum(np.hypot(across, z - solid.z_mm) - solid.diameter_mm / 2, 0.0)
    return np.hypot(past_end, out)
