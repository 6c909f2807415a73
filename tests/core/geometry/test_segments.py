"""Pairs of segments in closed form, against minimising by brute force."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.geometry.projection import nearest_of_segments, nearest_on_segment
from gale_nook.core.geometry.shapes import separation, tube_shape

COORDINATE = st.floats(-500, 500, allow_nan=False).map(lambda value: round(value, 1))
POINT = st.tuples(COORDINATE, COORDINATE, COORDINATE)


def _least(a: tuple, b: tuple, c: tuple, d: tuple) -> float:
    """By golden section over the first segment: the distance from a moving point to a segment has
    one valley.
    """
    low, high, golden = 0.0, 1.0, (math.sqrt(5) - 1) / 2

    def away(share: float) -> float:
        point = tuple(a[i] + share * (b[i] - a[i]) for i in range(3))
        return math.dist(point, nearest_on_segment(c, d, point))

    for _ in range(80):
        first, second = high - golden * (high - low), low + golden * (high - low)
        low, high = (low, second) if away(first) < away(second) else (first, high)
    return min(away(low), away(high), away(0.0), away(1.0))


@given(POINT, POINT, POINT, POINT)
def test_as_near_as_brute_force_finds(a: tuple, b: tuple, c: tuple, d: tuple) -> None:
    """Any four points, also segments that have no length or lie parallel."""
    one, other = nearest_of_segments(*(np.array([point]) for point in (a, b, c, d)))
    assert math.dist(one[0, 0], other[0, 0]) == pytest.approx(_least(a, b, c, d), abs=2e-3)


@pytest.mark.parametrize(
    ("first", "second", "apart"),
    [
        ([(0, 0, 0), (100, 0, 0)], [(50, 40, 0), (50, 140, 0)], 40 - 15),  # square to each other
        ([(0, 0, 0), (100, 0, 0)], [(20, 0, 30), (80, 0, 30)], 30 - 15),  # parallel
        (
            [(0, 0, 0), (100, 0, 0)],
            [(103, 4, 0), (200, 4, 0)],
            5 - 15,
        ),  # end to end: they overlap by 10
        ([(0, 0, 0), (100, 0, 0), (100, 100, 0)], [(140, 50, 10), (140, 50, -10)], 40 - 15),
    ],
)
def test_tubes_by_hand(first: list, second: list, apart: float) -> None:
    """Distances of tubes of 20 and 10 mm that can be told without a computer, whichever is named
    first.
    """
    one, other = tube_shape(first, 20), tube_shape(second, 10)
    for a, b in itertools.permutations((one, other)):
        found = separation(a, b)
        assert found.distance_mm == pytest.approx(apart, abs=1e-9)
        if apart > 0:
            assert math.dist(found.start, found.end) == pytest.approx(apart, abs=1e-9)
