"""Closed-form distances of a moving box against the exact shapes of the checker, over random parts
and places.
"""

from __future__ import annotations

import math
import random
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.geometry.shapes import box_shape, separation, solid_shape
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, Solid, TubeSolid
from gale_nook.core.spot.convex_pieces import (
    Capsule,
    MovingBox,
    Prism,
    box_to_piece_mm,
    footprint,
    pieces_of_solid,
    plan_distance_mm,
    ring_distance_mm,
    spans_in_strips,
)
from gale_nook.core.spot.field import Grid, grid_over
from gale_nook.core.spot.footprints import Footprints, paint

NAMED: Any = {"id": "a", "name": "a", "kind": "member"}
at = st.floats(-400, 400)
size = st.floats(5, 500)
boxes = st.builds(
    BoxSolid,
    **{k: st.just(v) for k, v in NAMED.items()},
    x_mm=at,
    y_mm=at,
    z_mm=at,
    length_mm=size,
    width_mm=size,
    height_mm=size,
    yaw_deg=st.sampled_from([0.0, 30.0, 90.0, -57.0]),
)
cylinders = st.builds(
    CylinderSolid,
    **{k: st.just(v) for k, v in NAMED.items()},
    axis=st.sampled_from(["x", "y", "z"]),
    x_mm=at,
    y_mm=at,
    z_mm=at,
    diameter_mm=size,
    length_mm=size,
)
points = st.lists(st.tuples(at, at, at), min_size=2, max_size=3)
tubes = points.map(lambda p: TubeSolid(**NAMED, points=tuple(p), diameter_mm=20))
triangles = st.tuples(size, size).map(
    lambda s: OutlineSolid(
        **NAMED, outline=((0, 0), (s[0], 20), (30, s[1])), z_mm=-50, height_mm=80
    )
)
solids = boxes | cylinders | tubes | triangles
HALF = (60.0, 35.0, 40.0)


@settings(max_examples=400)
@given(solids, at, at, at)
def test_distances_are_those_of_the_checker(solid: Solid, x: float, y: float, z: float) -> None:
    """Apart: within a thousandth. One in the other: the same sign; there the library finds its
    depth by approximation.
    """
    box = MovingBox(HALF[0], HALF[1], z - HALF[2], z + HALF[2])
    ours = min(
        float(np.ravel(box_to_piece_mm(part, box, np.array([[x]]), np.array([[y]])))[0])
        for part in pieces_of_solid(solid)
    )
    moved = box_shape(
        (x - HALF[0], y - HALF[1], z - HALF[2]), (2 * HALF[0], 2 * HALF[1], 2 * HALF[2])
    )
    exact = separation(moved, solid_shape(solid)).distance_mm
    if exact > 1e-3:
        assert ours == pytest.approx(exact, abs=2e-3)
    elif exact < -0.5:
        assert ours == pytest.approx(exact, abs=0.5)
    else:
        assert ours == pytest.approx(exact, abs=0.6)


@given(tubes, at, at, at)
def test_an_upright_stretch_has_a_closed_form(
    solid: TubeSolid, x: float, y: float, z: float
) -> None:
    """A box of no width is a line: the closed form against the general search with a box of a
    billionth.
    """
    thin, line = MovingBox(1e-9, 1e-9, z - 70, z), MovingBox(0.0, 0.0, z - 70, z)
    for part in pieces_of_solid(solid):
        one = box_to_piece_mm(part, line, np.array([[x]]), np.array([[y]]))
        other = box_to_piece_mm(part, thin, np.array([[x]]), np.array([[y]]))
        assert float(np.ravel(one)[0]) == pytest.approx(float(np.ravel(other)[0]), abs=2e-3)


@settings(max_examples=300)
@given(solids, at, at, st.floats(5, 200), st.floats(5, 200))
def test_plan_overlap_and_distance_agree_with_planar_geometry(
    solid: Solid, x: float, y: float, hx: float, hy: float
) -> None:
    rectangle = shapely.box(x - hx, y - hy, x + hx, y + hy)
    for part in pieces_of_solid(solid):
        corners, swell = footprint(part)
        shape: Any = shapely.MultiPoint(corners).convex_hull
        away = float(shapely.distance(shape, rectangle)) - swell
        ours = (
            float(np.ravel(plan_distance_mm(corners, hx, hy, np.array([[x]]), np.array([[y]])))[0])
            - swell
        )
        if away > -swell + 1e-6:
            assert ours == pytest.approx(away, abs=1e-6)
        if abs(ours) > 1e-3:  # at the very rim the row's own tolerance decides
            covered = Footprints([part], hx, hy).rows(
                Grid(np.array([x]), np.array([y])), (0.0, 0.0)
            )
            assert (len(covered.row) == 1) == (ours < 0)


def test_many_footprints_are_painted_as_one_by_one() -> None:
    """The lowest value stays where several lie over one another, whatever their order."""
    chance = random.Random(4)
    parts = [
        part
        for number in range(60)
        for part in pieces_of_solid(
            TubeSolid(
                **NAMED,
                points=tuple(
                    (chance.uniform(0, 900), chance.uniform(0, 600), 0.0) for _ in range(3)
                ),
                diameter_mm=30,
            )
            if number % 2
            else BoxSolid(
                **NAMED,
                x_mm=chance.uniform(0, 900),
                y_mm=chance.uniform(0, 600),
                z_mm=0,
                length_mm=120,
                width_mm=50,
                height_mm=40,
                yaw_deg=chance.choice([0.0, 25.0, 90.0]),
            )
        )
    ]
    values = np.array([float(chance.randrange(5, 50)) for _ in parts])
    grid = grid_over((0.0, 0.0), (1000.0, 700.0), 10.0)
    free = np.full(grid.shape, 99.0)
    paint(free, Footprints(parts, 20.0, 35.0).rows(grid, (3.0, -4.0)), values)
    alone = np.full(grid.shape, 99.0)
    x, y = grid.x_mm[None, :] + 3.0, grid.y_mm[:, None] - 4.0
    for part, value in zip(parts, values, strict=True):
        corners, swell = footprint(part)
        inside = plan_distance_mm(corners, 20.0, 35.0, x, y) - swell < -1e-6
        alone = np.where(inside, np.minimum(alone, value), alone)
    assert (free == alone).all()


@settings(max_examples=300)
@given(solids, st.sampled_from([0, 1]), st.floats(-600, 600), st.floats(2, 300))
def test_spans_in_a_strip_are_those_of_the_cut_footprint(
    solid: Solid, axis: int, middle: float, half: float
) -> None:
    low, high = middle - half, middle + half
    strip = shapely.box(-9e3, low, 9e3, high) if axis == 0 else shapely.box(low, -9e3, high, 9e3)
    for part in pieces_of_solid(solid):
        corners, swell = footprint(part)
        shape: Any = (
            shapely.MultiPoint(corners).convex_hull.buffer(swell, quad_segs=256)
            if swell
            else shapely.MultiPoint(corners).convex_hull
        )
        cut = shape.intersection(strip)
        if cut.is_empty or cut.area < 1.0:
            continue
        found = spans_in_strips(part, axis, np.array([low]), np.array([high]))
        assert float(found[0][0]) == pytest.approx(cut.bounds[axis], abs=0.05)
        assert float(found[1][0]) == pytest.approx(cut.bounds[axis + 2], abs=0.05)


def test_a_ring_with_a_notch_by_hand() -> None:
    """An L of 100 × 100 with a 60 × 60 corner taken out: inside by the nearest edge, in the notch
    outside.
    """
    ring = [(0, 0), (100, 0), (100, 40), (40, 40), (40, 100), (0, 100), (0, 0)]
    x, y = np.array([[20.0, 70.0, 120.0]]), np.array([[70.0]])
    assert ring_distance_mm(ring, x, y).ravel().tolist() == pytest.approx(
        [-20, 30, math.hypot(20, 30)]
    )


def test_a_prism_beside_and_above_by_pythagoras() -> None:
    block = Prism(((0, 0), (100, 0), (100, 100), (0, 100)), 0, 50)
    box = MovingBox(10, 10, 90, 120)
    away = box_to_piece_mm(block, box, np.array([[140.0]]), np.array([[50.0]]))
    assert float(away[0, 0]) == pytest.approx(math.hypot(30, 40))
    level = Capsule((0, 0, 100), (100, 0, 100), 5)
    assert float(
        box_to_piece_mm(level, box, np.array([[50.0]]), np.array([[40.0]]))[0, 0]
    ) == pytest.approx(25)
