"""A tank of one's own as it stands: turned, and tilted."""

from __future__ import annotations

from typing import Any

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, box_shape
from gale_nook.core.geometry.turning import about, turned_box_shape, turning
from gale_nook.core.plan.fuel import OwnTank


def tank_shape(tank: OwnTank) -> Shape:
    """Return the tank as the box that it takes up, turned and tilted as it stands."""
    low = (tank.x_mm, tank.y_mm, tank.z_mm)
    if not (tank.tilt_along_deg or tank.tilt_across_deg):
        return box_shape(low, tank.size_mm, tank.turn_deg)
    return turned_box_shape(low, tank.size_mm, tank_rotation(tank))


def tank_rotation(tank: OwnTank) -> Any:
    """Return the rotation, (3, 3), from the tank's own directions to the vehicle's."""
    return turning(tank.turn_deg, tank.tilt_along_deg, tank.tilt_across_deg)


def as_it_stands(tank: OwnTank, point: Vec3) -> Vec3:
    """Return where a point of the tank, measured as if it stood straight, really is."""
    return about(tank.middle_mm, tank_rotation(tank), point)
