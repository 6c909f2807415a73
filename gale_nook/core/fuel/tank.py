"""Litres in a tank against level, also where the vehicle stands askew.

A tank is a cross-section drawn out along or across the vehicle. What of a section lies below a
sloping surface is exact (shoelace formula over the clipped edges); along the tank it is summed by
Simpson's rule.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.turning import turning
from gale_nook.core.physics.roots import root_of
from gale_nook.core.plan.fuel import Indent, OwnTank
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, Solid

ARC_STEPS, CIRCLE_STEPS, SLICES = 16, 720, 65
MM3_PER_L = 1e6
STEEP = 0.05  # least upward part of a surface's normal in a tank's own frame
NEAR_MM = 1e-7


@dataclass(frozen=True)
class Vessel:
    """The inside of a tank.

    Attributes:
        section: corners (n, 2), across the extrusion and up, in the vehicle's frame;
            counter-clockwise.
        lying: "along" the vehicle (the section is y, z) or "across" it (the section is x, z).
        start_mm, end_mm: of the extrusion.
        turn_deg, tilt_along_deg, tilt_across_deg: of the whole about its middle, from where it is
            given, as a tank of one's own is turned and tilted.
        less: dents in it, each what they take of the room inside; they are turned with it.
        about_z_mm: height that it is tilted about; None for the middle of the section.
    """

    section: Any
    lying: str
    start_mm: float
    end_mm: float
    turn_deg: float = 0.0
    tilt_along_deg: float = 0.0
    tilt_across_deg: float = 0.0
    less: tuple[Vessel, ...] = ()
    about_z_mm: float | None = None

    @property
    def rotation(self) -> Any:
        """From its own directions to the vehicle's, (3, 3)."""
        return turning(self.turn_deg, self.tilt_along_deg, self.tilt_across_deg)

    @cached_property
    def centre(self) -> Vec3:
        """What it is turned and tilted about."""
        z = self.section[:, 1]
        middle = float(z.min() + z.max()) / 2
        return (*self.middle, self.about_z_mm if self.about_z_mm is not None else middle)

    def _own(self, level_mm: float, slope_x: float, slope_y: float) -> tuple[float, float, float]:
        """A surface over its middle, with its slopes, in its own frame before it was turned. As far
        as a tank may be tilted and a boat heel, none stands on end there.

        With n the surface's normal and R the rotation, the normal in the own frame is R^T n; what
        passes through a point of the middle's upright keeps its distance along n.
        """
        if not (self.turn_deg or self.tilt_along_deg or self.tilt_across_deg):
            return level_mm, slope_x, slope_y
        m_x, m_y, m_z = (float(v) for v in self.rotation.T @ np.array((-slope_x, -slope_y, 1.0)))
        m_z = max(m_z, STEEP)
        return (
            self.centre[2] + (level_mm - self.centre[2]) / m_z,
            -m_x / m_z,
            -m_y / m_z,
        )

    @cached_property
    def corners(self) -> Any:
        """Its corners as it stands, (2n, 3), in the vehicle's frame."""
        section, count = self.section, len(self.section)
        along = np.concatenate([np.full(count, self.start_mm), np.full(count, self.end_mm)])
        across, up = np.tile(section[:, 0], 2), np.tile(section[:, 1], 2)
        own = (along, across, up) if self.lying == "along" else (across, along, up)
        centre = np.array(self.centre)
        return centre + (np.stack(own, axis=1) - centre) @ self.rotation.T

    @cached_property
    def bottom_mm(self) -> float:
        return float(self.corners[:, 2].min())

    @cached_property
    def top_mm(self) -> float:
        return float(self.corners[:, 2].max())

    @cached_property
    def middle(self) -> tuple[float, float]:
        """x and y of its middle, in plan."""
        across = float(self.section[:, 0].min() + self.section[:, 0].max()) / 2
        along = (self.start_mm + self.end_mm) / 2
        return (along, across) if self.lying == "along" else (across, along)

    @cached_property
    def full_l(self) -> float:
        return self.litres(self.top_mm + 1.0)

    def litres(self, level_mm: float, slope_x: float = 0.0, slope_y: float = 0.0) -> float:
        """Return what is below a surface.

        Args:
            level_mm: height of the surface over the tank's middle.
            slope_x, slope_y: rise of the surface in the vehicle's frame per length rearward and to
                the right.
        """
        own = self._own(level_mm, slope_x, slope_y)
        level, own_x, own_y = own
        dents = sum(dent._at(self.centre, own) for dent in self.less)
        along, across = (own_x, own_y) if self.lying == "along" else (own_y, own_x)
        length = self.end_mm - self.start_mm
        s = np.linspace(-length / 2, length / 2, SLICES if along else 1)
        centre = self.middle[1] if self.lying == "along" else self.middle[0]
        levels = level + along * s
        areas = area_below_mm2(self.section[:, 0] - centre, self.section[:, 1], levels, across)
        if not along:
            return float(areas[0]) * length / MM3_PER_L - dents
        weights = np.ones(SLICES)
        weights[1:-1:2], weights[2:-1:2] = 4.0, 2.0
        return float((weights * areas).sum() * length / (SLICES - 1) / 3) / MM3_PER_L - dents

    def _at(self, centre: Vec3, surface: tuple[float, float, float]) -> float:
        """Litres of a dent below the surface of the tank that it is in, in the tank's own frame."""
        level, slope_x, slope_y = surface
        x, y = self.middle
        return self.litres(
            level + slope_x * (x - centre[0]) + slope_y * (y - centre[1]), slope_x, slope_y
        )

    def level_mm(self, litres: float, slope_x: float = 0.0, slope_y: float = 0.0) -> float:
        """Return the height of the surface, over the tank's middle, with so much in it."""
        plan = np.ptp(self.corners[:, :2], axis=0)
        reach = math.hypot(slope_x, slope_y) * 0.5 * float(np.hypot(*plan))
        low, high = self.bottom_mm - reach, self.top_mm + reach
        result = root_of(
            lambda level: self.litres(level, slope_x, slope_y) - litres, low, high, NEAR_MM
        )
        # a tank that is full holds no more however high the surface
        return min(result, self.full_mm(slope_x, slope_y))

    def full_mm(self, slope_x: float, slope_y: float) -> float:
        """Return the height over the tank's middle of the surface that touches its highest corner:
        full to the brim.
        """
        x, y = self.middle
        corners = self.corners
        heights = corners[:, 2] - slope_x * (corners[:, 0] - x) - slope_y * (corners[:, 1] - y)
        return float(heights.max())

    def unusable_l(self, tip: Vec3, slope_x: float = 0.0, slope_y: float = 0.0) -> float:
        """Return what stays in the tank once the surface has fallen to the tip of a pick-up."""
        x, y = self.middle
        return self.litres(
            tip[2] - slope_x * (tip[0] - x) - slope_y * (tip[1] - y), slope_x, slope_y
        )


def area_below_mm2(t: Any, z: Any, levels: Any, slope: float) -> Any:
    """Return the area of a section below sloping lines.

    Args:
        t, z: corners (n,), counter-clockwise.
        levels: (m,), height of each line at t = 0.
        slope: of the lines.

    In the frame (t, height over the line) areas are the same, and the new edges along the line add
    nothing to the shoelace sum.
    """
    w = z[None, :] - levels[:, None] - slope * t[None, :]
    following = np.arange(1, len(t) + 1) % len(t)
    t1, w1 = t, w
    t2, w2 = t[following], w[:, following]
    with np.errstate(divide="ignore", invalid="ignore"):
        cut = np.where(w1 == w2, 0.0, w1 / (w1 - w2))
    first, last = np.where(w1 > 0, cut, 0.0), np.where(w2 > 0, cut, 1.0)
    ta, wa = t1 + first * (t2 - t1), w1 + first * (w2 - w1)
    tb, wb = t1 + last * (t2 - t1), w1 + last * (w2 - w1)
    below = np.minimum(w1, w2) < 0
    return np.where(below, ta * wb - tb * wa, 0.0).sum(axis=1) / 2


# --- where vessels come from ---


def vessel_of(tank: OwnTank) -> Vessel:
    """Return the inside of a tank of one's own."""
    size_x, size_y, height = tank.size_mm
    across, low = (size_y, tank.y_mm) if tank.lying == "along" else (size_x, tank.x_mm)
    start, length = (tank.x_mm, size_x) if tank.lying == "along" else (tank.y_mm, size_y)
    w, z = tank.wall_mm, tank.z_mm
    if tank.shape == "profile":
        section = _inset(np.array(tank.profile, dtype=float) + np.array((low, z)), w)
    else:
        radius = (across - 2 * w) / 2 if tank.shape == "cylinder" else max(tank.edge_mm - w, 0.0)
        section = _rounded(low + w, z + w, across - 2 * w, height - 2 * w, radius)
    return Vessel(
        section,
        tank.lying,
        start + w,
        start + length - w,
        tank.turn_deg,
        tank.tilt_along_deg,
        tank.tilt_across_deg,
        tuple(_dent(tank, indent) for indent in tank.indents),
        tank.middle_mm[2],
    )


def _dent(tank: OwnTank, indent: Indent) -> Vessel:
    """What a dent takes of the room inside, in the tank's own frame."""
    x, y, z = tank.x_mm + indent.x_mm, tank.y_mm + indent.y_mm, tank.z_mm + tank.wall_mm
    if indent.of == "top":
        z = tank.z_mm + tank.size_mm[2] - tank.wall_mm - indent.depth_mm
    section = _rounded(y, z, indent.width_mm, indent.depth_mm, 0.0)
    return Vessel(section, "along", x, x + indent.length_mm)


def vessel_of_solid(solid: Solid, wall_mm: float) -> Vessel | None:
    """Return the inside of a surveyed tank; None for a shape that holds nothing.

    Args:
        wall_mm: thickness of its walls.
    """
    w = wall_mm
    if isinstance(solid, BoxSolid):
        if min(solid.width_mm, solid.height_mm, solid.length_mm) <= 2 * w:
            return None
        section = _rounded(
            solid.y_mm + w, solid.z_mm + w, solid.width_mm - 2 * w, solid.height_mm - 2 * w, 0.0
        )
        return Vessel(
            section, "along", solid.x_mm + w, solid.x_mm + solid.length_mm - w, solid.yaw_deg
        )
    if isinstance(solid, CylinderSolid) and solid.axis in {"x", "y"}:
        across, along = (solid.y_mm, solid.x_mm) if solid.axis == "x" else (solid.x_mm, solid.y_mm)
        r = solid.diameter_mm / 2 - w
        if min(r, solid.length_mm / 2 - w) <= 0:
            return None
        section = _rounded(across - r, solid.z_mm - r, 2 * r, 2 * r, r)
        half = solid.length_mm / 2 - w
        return Vessel(
            section, "along" if solid.axis == "x" else "across", along - half, along + half
        )
    if isinstance(solid, OutlineSolid):
        points = np.array(solid.outline, dtype=float)
        x, y = points[:, 0], points[:, 1]
        area = abs(float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())) / 2
        length, width = float(np.ptp(x)), float(np.ptp(y))
        # as wide all along as its footprint is on the average
        mean = area / length if length else width
        if min(mean, length, solid.height_mm) <= 2 * w:
            return None
        section = _rounded(
            float(y.min()) + (width - mean) / 2 + w,
            solid.z_mm + w,
            mean - 2 * w,
            solid.height_mm - 2 * w,
            0.0,
        )
        return Vessel(section, "along", float(x.min()) + w, float(x.max()) - w)
    return None


def outline_of(tank: OwnTank) -> Any:
    """Return the outside of a tank's cross-section, (n, 2), across the extrusion and up, in the
    vehicle's frame.
    """
    size_x, size_y, height = tank.size_mm
    across, low = (size_y, tank.y_mm) if tank.lying == "along" else (size_x, tank.x_mm)
    if tank.shape == "profile":
        return np.array(tank.profile, dtype=float) + np.array((low, tank.z_mm))
    if tank.shape == "cylinder":
        return _rounded(low, tank.z_mm, across, height, across / 2)[:: CIRCLE_STEPS // 48]
    return _rounded(low, tank.z_mm, across, height, tank.edge_mm)


def span_at(section: Any, level_mm: float) -> tuple[float, float] | None:
    """Return between which places across the extrusion a level surface reaches; None where it meets
    no wall.
    """
    t, z = section[:, 0], section[:, 1]
    t2, z2 = np.roll(t, -1), np.roll(z, -1)
    meets = (np.minimum(z, z2) <= level_mm) & (np.maximum(z, z2) >= level_mm) & (z != z2)
    if not meets.any():
        return None
    at = t[meets] + (level_mm - z[meets]) / (z2[meets] - z[meets]) * (t2[meets] - t[meets])
    return float(at.min()), float(at.max())


def _rounded(low: float, bottom: float, width: float, height: float, radius: float) -> Any:
    """A rectangle with rounded corners, counter-clockwise; a circle where the radius is half of
    both sides.
    """
    if radius <= 0:
        return np.array(
            [
                (low, bottom),
                (low + width, bottom),
                (low + width, bottom + height),
                (low, bottom + height),
            ]
        )
    steps = (
        CIRCLE_STEPS // 4
        if abs(2 * radius - width) < 1e-9 and abs(2 * radius - height) < 1e-9
        else ARC_STEPS
    )
    turn = math.pi / 2 / steps
    fair = radius * math.sqrt(turn / math.sin(turn))  # so that the polygon has the arc's area
    corners = (
        (low + width - radius, bottom + radius, -90),
        (low + width - radius, bottom + height - radius, 0),
        (low + radius, bottom + height - radius, 90),
        (low + radius, bottom + radius, 180),
    )
    points = []
    for x, z, begin in corners:
        for step in range(steps + 1):
            angle = math.radians(begin) + step * turn
            points.append((x + fair * math.cos(angle), z + fair * math.sin(angle)))
    result = np.array(points)
    return (
        np.clip(result, (low, bottom), (low + width, bottom + height))
        if steps == ARC_STEPS
        else result
    )


def _inset(points: Any, wall: float) -> Any:
    """A profile drawn in by its wall's thickness, counter-clockwise."""
    inner: Any = shapely.Polygon(points).buffer(-wall, join_style="mitre")
    ring = np.array(
        shapely.geometry.polygon.orient(
            max(getattr(inner, "geoms", [inner]), key=lambda p: p.area)
        ).exterior.coords
    )
    return ring[:-1]


# --- the dip-stick ---


@dataclass(frozen=True, slots=True)
class DipRow:
    """One mark of a dip-stick: its height over the inside of the bottom, and what is below it."""

    height_mm: float
    litres: float


def dip_stick(vessel: Vessel, step_mm: float) -> tuple[DipRow, ...]:
    """Return a mark every so many millimetres, the bottom and the top with them."""
    tall = vessel.top_mm - vessel.bottom_mm
    heights = [*np.arange(0.0, tall, step_mm), tall]
    return tuple(DipRow(float(h), vessel.litres(vessel.bottom_mm + float(h))) for h in heights)


def fallen_l(vessel: Vessel, from_mm: float, by_mm: float) -> float:
    """Return what was used when the level fell from a height over the bottom by so much."""
    high = vessel.bottom_mm + from_mm
    return vessel.litres(high) - vessel.litres(high - by_mm)
