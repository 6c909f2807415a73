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
from gale_nook.core.physics.roots import root_of
from gale_nook.core.plan.fuel import OwnTank
from gale_nook.core.plan.vehicle import BoxSolid, CylinderSolid, OutlineSolid, Solid

ARC_STEPS, CIRCLE_STEPS, SLICES = 16, 720, 65
MM3_PER_L = 1e6
NEAR_MM = 1e-7


@dataclass(frozen=True)
class Vessel:
    """The inside of a tank.

    Attributes:
        section: corners (n, 2), across the extrusion and up, in the vehicle's frame;
            counter-clockwise.
        lying: "along" the vehicle (the section is y, z) or "across" it (the section is x, z).
        start_mm, end_mm: of the extrusion.
        turn_deg: of the whole about the upright through its middle, from where it is given.
    """

    section: Any
    lying: str
    start_mm: float
    end_mm: float
    turn_deg: float = 0.0

    def _own(self, slope_x: float, slope_y: float) -> tuple[float, float]:
        """Slopes of the vehicle's frame in that of the tank before it was turned."""
        cosine, sine = math.cos(math.radians(self.turn_deg)), math.sin(math.radians(self.turn_deg))
        return slope_x * cosine + slope_y * sine, slope_y * cosine - slope_x * sine

    @property
    def bottom_mm(self) -> float:
        return float(self.section[:, 1].min())

    @property
    def top_mm(self) -> float:
        return float(self.section[:, 1].max())

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
        own_x, own_y = self._own(slope_x, slope_y)
        along, across = (own_x, own_y) if self.lying == "along" else (own_y, own_x)
        length = self.end_mm - self.start_mm
        s = np.linspace(-length / 2, length / 2, SLICES if along else 1)
        centre = self.middle[1] if self.lying == "along" else self.middle[0]
        levels = level_mm + along * s
        areas = area_below_mm2(self.section[:, 0] - centre, self.section[:, 1], levels, across)
        if not along:
            return float(areas[0]) * length / MM3_PER_L
        weights = np.ones(SLICES)
        weights[1:-1:2], weights[2:-1:2] = 4.0, 2.0
        return float((weights * areas).sum() * length / (SLICES - 1) / 3) / MM3_PER_L

    def level_mm(self, litres: float, slope_x: float = 0.0, slope_y: float = 0.0) -> float:
        """Return the height of the surface, over the tank's middle, with so much in it."""
        reach = (
            math.hypot(slope_x, slope_y)
            * 0.5
            * math.hypot(self.end_mm - self.start_mm, float(np.ptp(self.section[:, 0])))
        )
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
        slope_x, slope_y = self._own(slope_x, slope_y)
        highest = -math.inf
        for end in (self.start_mm, self.end_mm):
            along, across = np.full(len(self.section), end), self.section[:, 0]
            at_x, at_y = (along, across) if self.lying == "along" else (across, along)
            highest = max(
                highest,
                float((self.section[:, 1] - slope_x * (at_x - x) - slope_y * (at_y - y)).max()),
            )
        return highest

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
    return Vessel(section, tank.lying, start + w, start + length - w)


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
