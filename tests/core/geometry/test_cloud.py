"""What a grid of points has blocked agrees with the collision library's distances."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.geometry.cloud import Grid3, block, block_line
from gale_nook.core.geometry.shapes import Separation, separation, solid_shape, tube_shape
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, Solid, TubeSolid

GRID = Grid3((-300.0, -200.0, -250.0), 50.0, (13, 9, 6))
NAMED = {"id": "s", "name": "s", "kind": "member"}
SOLIDS: list[Solid] = [
    BoxSolid(
        **NAMED,
        x_mm=-120,
        y_mm=-60,
        z_mm=-160,
        length_mm=210,
        width_mm=90,
        height_mm=70,
        travel_up_mm=30,
    ),
    BoxSolid(
        **NAMED,
        x_mm=-120,
        y_mm=-60,
        z_mm=-160,
        length_mm=210,
        width_mm=90,
        height_mm=70,
        yaw_deg=31,
    ),
    CylinderSolid(**NAMED, axis="x", x_mm=10, y_mm=20, z_mm=-120, diameter_mm=120, length_mm=260),
    CylinderSolid(**NAMED, axis="y", x_mm=10, y_mm=20, z_mm=-120, diameter_mm=120, length_mm=160),
    CylinderSolid(**NAMED, axis="z", x_mm=10, y_mm=20, z_mm=-120, diameter_mm=120, length_mm=90),
    TubeSolid(**NAMED, points=((-280, -150, -200), (20, 30, -140), (200, 40, -60)), diameter_mm=24),
    OutlineSolid(
        **NAMED,
        outline=((-150, -100), (150, -80), (20, 0), (140, 120), (-140, 90)),
        z_mm=-180,
        height_mm=60,
    ),
]


def _distance(point: tuple[float, float, float], solid: Solid) -> Separation:
    return separation(tube_shape((point, point), 0.2), solid_shape(solid))


@pytest.mark.parametrize("solid", SOLIDS, ids=lambda s: s.shape)
@pytest.mark.parametrize("reach_mm", [15.0, 73.0])
def test_each_point_is_blocked_as_the_collision_library_says(solid: Solid, reach_mm: float) -> None:
    blocked = np.zeros(GRID.shape, dtype=bool)
    block(blocked, GRID, solid, solid_shape(solid), reach_mm)
    x, y, z = GRID.axes
    for (iz, iy, ix), found in np.ndenumerate(blocked):
        away = _distance((float(x[ix]), float(y[iy]), float(z[iz])), solid).distance_mm + 0.1
        if abs(away - reach_mm) > 0.5:
            assert found == (away < reach_mm), (ix, iy, iz, away)


@settings(max_examples=40)
@given(st.floats(-300, 300), st.floats(-200, 200), st.floats(-250, 0), st.floats(1, 200))
def test_a_line_blocks_what_is_nearer_than_its_reach(
    x: float, y: float, z: float, reach_mm: float
) -> None:
    points = ((-100.0, 0.0, -100.0), (x, y, z))
    blocked = np.zeros(GRID.shape, dtype=bool)
    block_line(blocked, GRID, points, reach_mm)
    gx, gy, gz = np.meshgrid(*GRID.axes, indexing="ij")
    fine = np.linspace(0, 1, 400)
    line = (
        np.array(points[0])[None, :]
        + fine[:, None] * (np.array(points[1]) - np.array(points[0]))[None, :]
    )
    cloud = np.stack([gx, gy, gz], axis=-1).reshape(-1, 1, 3)
    nearest = (
        np.linalg.norm(cloud - line[None, :, :], axis=-1)
        .min(axis=1)
        .reshape(gx.shape)
        .transpose(2, 1, 0)
    )
    settled = np.abs(nearest - reach_mm) > 1.0  # the line is cut fine, not infinitely so
    assert (blocked == (nearest < reach_mm))[settled].all()
