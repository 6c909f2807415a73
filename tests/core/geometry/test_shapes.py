"""Clearances against an independent minimisation, closed forms, and the laws of a distance."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.optimize import lsq_linear

from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.geometry.shapes import (
    box_shape,
    outline_crosses,
    separation,
    solid_shape,
    tube_shape,
)
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid

coordinate = st.floats(-2000, 2000)
size = st.floats(5, 1500)
box = st.tuples(
    st.tuples(coordinate, coordinate, coordinate), st.tuples(size, size, size), st.floats(-180, 180)
)
TOLERANCE_MM = 0.05


def _edges(low: Vec3, extent: Vec3, yaw: float) -> tuple[np.ndarray, np.ndarray]:
    """A turned box as corner + edges·u with u in [0, 1]³."""
    centre = np.array(low) + np.array(extent) / 2
    ux, uy = turn_xy(1, 0, yaw)
    turn = np.array([[ux, -uy, 0], [uy, ux, 0], [0, 0, 1]])
    edges = turn @ np.diag(extent)
    return centre - edges.sum(axis=1) / 2, edges


@given(box, box)
def test_boxes_against_bounded_least_squares(
    first: tuple[Vec3, Vec3, float], second: tuple[Vec3, Vec3, float]
) -> None:
    """The distance of two boxes is a bounded least-squares problem, solved by scipy (BVLS)."""
    corner_a, edges_a = _edges(*first)
    corner_b, edges_b = _edges(*second)
    solved = lsq_linear(
        np.hstack([edges_a, -edges_b]), corner_b - corner_a, bounds=(0, 1), method="bvls", tol=1e-14
    )
    wanted = math.sqrt(2 * solved.cost)
    found = separation(box_shape(*first), box_shape(*second)).distance_mm
    if wanted > 0.1:
        assert found == pytest.approx(wanted, abs=TOLERANCE_MM)
    else:
        assert found < 0.2


whole = st.integers(-20, 20).map(float)
small = st.integers(1, 20).map(float)
square_box = st.tuples(st.tuples(whole, whole, whole), st.tuples(small, small, small))


@pytest.mark.slow
@settings(max_examples=600)
@given(square_box, square_box)
def test_boxes_in_line_with_one_another(
    first: tuple[Vec3, Vec3], second: tuple[Vec3, Vec3]
) -> None:
    """Parallel edges and equal coordinates, as everywhere in a vehicle; closed form for boxes along
    the axes.
    """
    a, b = box_shape(*first), box_shape(*second)
    apart = [
        max(a.bounds[i] - b.bounds[i + 3], b.bounds[i] - a.bounds[i + 3], 0.0) for i in range(3)
    ]
    found = separation(a, b).distance_mm
    if any(apart):
        assert found == pytest.approx(math.hypot(*apart), abs=1e-3)
    elif all(a.bounds[i] < b.bounds[i + 3] and b.bounds[i] < a.bounds[i + 3] for i in range(3)):
        assert found < 0


def test_parallel_edges_are_not_called_farther_than_they_are() -> None:
    """5 across and 1 up: √26. The collision library alone stops at √51 here."""
    found = separation(box_shape((0, 0, 6), (5, 5, 5)), box_shape((0, 10, 0), (5, 9, 5)))
    assert found.distance_mm == pytest.approx(math.sqrt(26), abs=1e-6)
    assert math.dist(found.start, found.end) == pytest.approx(math.sqrt(26), abs=1e-6)


@given(st.tuples(whole, whole, whole), st.tuples(whole, whole, whole), square_box)
def test_a_projection_is_the_nearest_point(
    point: Vec3, toward: Vec3, box: tuple[Vec3, Vec3]
) -> None:
    """For every kind of part: projecting is idempotent, and no step from there towards any other
    part point is nearer.
    """
    triangle = OutlineSolid(
        id="o", name="o", kind="liner", outline=((-9, -9), (12, -5), (2, 14)), z_mm=-4, height_mm=9
    )
    rod = CylinderSolid(
        id="c",
        name="c",
        kind="liner",
        axis="x",
        x_mm=2,
        y_mm=3,
        z_mm=1,
        diameter_mm=8,
        length_mm=20,
    )
    for shape in (
        box_shape(*box, 30.0),
        tube_shape([(-5, 0, 0), (8, 4, 2)], 6),
        solid_shape(triangle),
        solid_shape(rod),
    ):
        for piece in shape.pieces:
            at = piece.nearest(point)
            assert math.dist(piece.nearest(at), at) < 1e-9
            other = piece.nearest(toward)
            inward = sum((point[i] - at[i]) * (other[i] - at[i]) for i in range(3))
            assert inward <= 1e-6


@given(
    st.tuples(coordinate, coordinate, coordinate),
    st.tuples(coordinate, coordinate, coordinate),
    st.floats(5, 120),
)
def test_a_tube_to_a_level_plate_is_its_lowest_point(
    start: Vec3, end: Vec3, diameter: float
) -> None:
    """A plate far wider than the tube: the gap is the height of the lower end less the radius."""
    plate = box_shape((-9000, -9000, -5000), (18000, 18000, 1000))
    gap = min(start[2], end[2]) - diameter / 2 + 4000
    assume(gap > 1)
    assert separation(tube_shape([start, end], diameter), plate).distance_mm == pytest.approx(
        gap, abs=TOLERANCE_MM
    )


@given(
    st.tuples(coordinate, coordinate, coordinate),
    st.floats(5, 120),
    st.floats(5, 400),
    st.floats(10, 1500),
)
def test_a_ball_to_an_upright_cylinder(
    point: Vec3, ball: float, radius: float, height: float
) -> None:
    """Closed form in the half-plane through the axis."""
    solid = CylinderSolid(
        id="c",
        name="c",
        kind="member",
        axis="z",
        x_mm=0,
        y_mm=0,
        z_mm=0,
        diameter_mm=2 * radius,
        length_mm=height,
    )
    outward = max(math.hypot(point[0], point[1]) - radius, 0.0)
    upward = max(abs(point[2]) - height / 2, 0.0)
    wanted = math.hypot(outward, upward) - ball / 2
    assume(wanted > 1)
    found = separation(tube_shape([point, point], ball), solid_shape(solid)).distance_mm
    assert found == pytest.approx(wanted, abs=0.5)


@given(box, box)
def test_distance_is_the_same_both_ways(
    first: tuple[Vec3, Vec3, float], second: tuple[Vec3, Vec3, float]
) -> None:
    there = separation(box_shape(*first), box_shape(*second)).distance_mm
    back = separation(box_shape(*second), box_shape(*first)).distance_mm
    assume(there > 0.5)
    assert there == pytest.approx(back, abs=TOLERANCE_MM)


@given(box, box, st.tuples(coordinate, coordinate, coordinate))
def test_distance_does_not_depend_on_where_both_are(
    first: tuple[Vec3, Vec3, float], second: tuple[Vec3, Vec3, float], by: Vec3
) -> None:
    here = separation(box_shape(*first), box_shape(*second)).distance_mm
    assume(here > 0.5)
    moved = [
        box_shape((b[0][0] + by[0], b[0][1] + by[1], b[0][2] + by[2]), b[1], b[2])
        for b in (first, second)
    ]
    assert separation(moved[0], moved[1]).distance_mm == pytest.approx(here, abs=TOLERANCE_MM)


def test_the_ends_of_a_separation_lie_that_far_apart() -> None:
    found = separation(box_shape((0, 0, 0), (10, 10, 10)), box_shape((40, 2, 3), (5, 5, 5)))
    assert found.distance_mm == pytest.approx(30)
    assert math.dist(found.start, found.end) == pytest.approx(30, abs=1e-3)


def test_overlap_is_negative() -> None:
    assert separation(
        box_shape((0, 0, 0), (10, 10, 10)), box_shape((8, 0, 0), (10, 10, 10))
    ).distance_mm == pytest.approx(-2)


def test_travel_sweeps_a_solid() -> None:
    wheel = BoxSolid(
        id="w",
        name="w",
        kind="wheel",
        x_mm=0,
        y_mm=0,
        z_mm=-300,
        length_mm=600,
        width_mm=200,
        height_mm=600,
        travel_up_mm=70,
        travel_down_mm=50,
    )
    shape = solid_shape(wheel)
    assert (shape.low_z_mm, shape.high_z_mm) == (-350, 370)


def test_an_outline_with_a_notch_keeps_its_notch() -> None:
    """An L: a point in the notch is outside, though inside the hull."""
    ell = OutlineSolid(
        id="o",
        name="o",
        kind="traction-battery",
        outline=((0, 0), (1000, 0), (1000, 300), (300, 300), (300, 1000), (0, 1000)),
        z_mm=-200,
        height_mm=100,
    )
    probe = tube_shape([(500, 500, -150), (500, 500, -150)], 20)
    assert separation(solid_shape(ell), probe).distance_mm == pytest.approx(190, abs=TOLERANCE_MM)
    assert solid_shape(ell).footprint.signed_distance_mm(500, 500) == pytest.approx(200)
    assert solid_shape(ell).footprint.signed_distance_mm(150, 150) == pytest.approx(-150)


def test_a_crossed_outline_is_widened_never_thinned() -> None:
    bow = OutlineSolid(
        id="o",
        name="o",
        kind="liner",
        outline=((0, 0), (100, 100), (100, 0), (0, 100)),
        z_mm=0,
        height_mm=10,
    )
    assert outline_crosses(bow)
    assert solid_shape(bow).footprint.signed_distance_mm(50, 95) < 0


def test_an_outline_without_area_is_still_something() -> None:
    flat = OutlineSolid(
        id="o", name="o", kind="liner", outline=((0, 0), (50, 0), (100, 0)), z_mm=0, height_mm=10
    )
    probe = tube_shape([(50, 100, 5), (50, 100, 5)], 20)
    assert separation(solid_shape(flat), probe).distance_mm == pytest.approx(90, abs=0.2)


def test_quarter_turns_are_exact() -> None:
    x, y = 123.456, -7.89
    for _ in range(4):
        x, y = turn_xy(x, y, 90)
    assert (x, y) == (123.456, -7.89)
