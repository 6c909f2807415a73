"""The grid search alone: an empty space, walls with known ways round, limits and ends."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.geometry.cloud import Grid3
from gale_nook.core.geometry.frames import Vec3, angle_deg, sub
from gale_nook.core.routing.free_space import FAR, FreeSpace
from gale_nook.core.routing.grid_search import Cost, FoundRoute, GridSearch, Limits, Start

STEP = 20.0
LIMITS = Limits(length_mm=4000.0, bend_sum_deg=720.0, radius_mm=50.0, slopes_deg=(3.0, 15.0))


@dataclass(frozen=True)
class Wall:
    """Ends: the plane x = at_mm, reached going forward."""

    at_mm: float
    only_y_mm: tuple[float, float] = (-math.inf, math.inf)

    def columns(self, space: FreeSpace) -> Any:
        x = space.grid.axes[0]
        return np.broadcast_to((x >= self.at_mm - STEP)[None, :], space.free_somewhere.shape)

    def reach_mm(self, point: Vec3, direction: Vec3, step_mm: float) -> float | None:
        missing = self.at_mm - point[0]
        if direction[0] < 0.5 or not -1e-6 <= missing <= 1.5 * step_mm:
            return None
        return missing / direction[0]

    def may_end(self, point: Vec3, _direction: Vec3) -> bool:
        return self.only_y_mm[0] <= point[1] <= self.only_y_mm[1]


def _space(
    *blocks: tuple[tuple[float, float], tuple[float, float]], step: float = STEP
) -> FreeSpace:
    """A space of 1600 × 1200 × 400 with upright blocks from low to high (x, y)."""
    count = (round(1600 / step) + 1, round(1200 / step) + 1, round(400 / step) + 1)
    grid = Grid3((0.0, 0.0, -400.0), step, count)
    blocked = np.zeros(grid.shape, dtype=bool)
    x, y = np.arange(count[0]) * step, np.arange(count[1]) * step
    for (x0, y0), (x1, y1) in blocks:
        met = ((x >= x0) & (x <= x1))[None, :] & ((y >= y0) & (y <= y1))[:, None]
        blocked |= met[None]
    at = (round(200 / step), round(600 / step))
    return FreeSpace(grid, blocked, at, -400.0, 0.0)


def _search(
    space: FreeSpace, limits: Limits = LIMITS, ends: Wall | None = None, cost: Cost | None = None
) -> FoundRoute | None:
    start = Start((200.0, 600.0, 0.0), (0.0, 0.0, -1.0))
    weights = cost or Cost(bend_mm_per_deg=2.0, corner_mm=30.0)
    return GridSearch(space, start, limits, weights, ends or Wall(1500.0)).run()


def test_with_nothing_in_the_way_one_bend_does() -> None:
    """Down past the bend's tangent, then straight: by hand from the two legs and the arc."""
    found = _search(_space())
    assert found is not None
    corner, end = found.corners
    assert corner[:2] == (200.0, 600.0)
    assert end[:2] == pytest.approx((1500.0, 600.0))
    fall, radius = math.radians(3.0), LIMITS.radius_mm
    bend = math.radians(90.0) - fall
    legs = -corner[2] + 1300.0 / math.cos(fall)
    by_hand = legs - 2 * radius * math.tan(bend / 2) + radius * bend
    assert found.length_mm == pytest.approx(by_hand)
    assert found.bends_deg == pytest.approx(87.0)


def test_round_a_wall_it_goes_the_short_way() -> None:
    """A wall with a gap on the right only: every straight keeps to what is free."""
    space = _space(((800.0, 0.0), (840.0, 900.0)))
    found = _search(space)
    assert found is not None
    assert max(corner[1] for corner in found.corners) > 900.0
    _assert_free(space, found)
    assert _search(_space(((800.0, 0.0), (840.0, 1200.0)))) is None


def test_limits_of_length_and_of_bends_are_kept() -> None:
    space = _space(((800.0, 0.0), (840.0, 900.0)))
    found = _search(space)
    assert found is not None
    assert _search(space, replace(LIMITS, length_mm=found.length_mm - 100.0)) is None
    less = _search(space, replace(LIMITS, bend_sum_deg=found.bends_deg - 1.0))
    assert less is None or less.bends_deg < found.bends_deg
    assert _search(space, replace(LIMITS, bend_sum_deg=80.0)) is None


def test_straights_have_room_for_their_bends() -> None:
    space = _space(((500.0, 500.0), (540.0, 1200.0)), ((1000.0, 0.0), (1040.0, 700.0)))
    limits = replace(LIMITS, radius_mm=80.0, slopes_deg=(3.0,))
    found = _search(space, limits, cost=Cost(2.0, 30.0, haste=1.5))
    assert found is not None
    points = [(200.0, 600.0, 0.0), *found.corners]
    directions = [sub(b, a) for a, b in pairwise(points)]
    angles = [math.radians(angle_deg(a, b)) for a, b in pairwise(directions)]
    tangents = [0.0, *(80.0 * math.tan(angle / 2) for angle in angles), 0.0]
    for number, (a, b) in enumerate(pairwise(points)):
        assert math.dist(a, b) >= tangents[number] + tangents[number + 1] - 1e-6
    _assert_free(space, found)


def test_ends_may_refuse_a_place() -> None:
    found = _search(_space(), ends=Wall(1500.0, (760.0, 1100.0)))
    assert found is not None
    assert 760.0 <= found.corners[-1][1] <= 1100.0


def test_a_level_start_goes_straight_on() -> None:
    start = Start((200.0, 600.0, -100.0), (1.0, 0.0, 0.0), straight_mm=100.0)
    space = _space(((700.0, 500.0), (740.0, 700.0)))
    found = GridSearch(space, start, LIMITS, Cost(), Wall(1500.0)).run()
    assert found is not None
    assert found.corners[0][0] >= 300.0
    _assert_free(space, found)


def test_a_run_may_rise_where_its_limits_let_it() -> None:
    start = Start((200.0, 600.0, -300.0), (1.0, 0.0, 0.0))
    limits = replace(LIMITS, slopes_deg=(-5.0,))
    found = GridSearch(_space(), start, limits, Cost(), Wall(1500.0)).run()
    assert found is not None
    assert found.corners[-1][2] == pytest.approx(-300.0 + 1300.0 * math.tan(math.radians(5.0)))


def test_halving_the_step_keeps_the_length() -> None:
    blocks = ((600.0, 0.0), (640.0, 780.0))
    coarse, fine = (_search(_space(blocks, step=step)) for step in (20.0, 10.0))
    assert coarse is not None
    assert fine is not None
    assert fine.length_mm == pytest.approx(coarse.length_mm, rel=0.03)
    assert fine.length_mm <= coarse.length_mm + 1.0


@settings(max_examples=25)
@given(
    st.lists(
        st.tuples(st.integers(320, 1300), st.integers(0, 1000), st.integers(40, 300)), max_size=5
    )
)
def test_what_is_left_is_never_more_than_any_route_takes(
    blocks: list[tuple[int, int, int]],
) -> None:
    """The lower bound that the search trusts; whatever it finds is free and within its limits."""
    space = _space(*(((x, y), (x + 40.0, y + size)) for x, y, size in blocks))
    ahead = space.ahead_mm(Wall(1500.0).columns(space))
    found = _search(space)
    if found is None:
        return
    _assert_free(space, found)
    assert found.length_mm <= LIMITS.length_mm
    at = ahead[space.at[1], space.at[0]]
    assert at < FAR
    # the bound is in plan, to the column before the end: bends cut their corners by a little
    cut = sum(2 * LIMITS.radius_mm for _ in found.corners)
    assert at <= found.length_mm + STEP + cut


def _assert_free(space: FreeSpace, found: FoundRoute) -> None:
    """No point of any straight lies in a blocked cell, a few millimetres of rounding apart."""
    grid = space.grid
    for a, b in pairwise(found.corners):
        for number in range(200):
            share = number / 200
            point = [a[i] + share * (b[i] - a[i]) for i in range(3)]
            index = [round((point[i] - grid.low[i]) / grid.step_mm) for i in range(3)]
            beside = [abs(point[i] - grid.low[i] - index[i] * grid.step_mm) for i in range(2)]
            inside = all(0 <= index[i] < grid.count[i] for i in range(3))
            if inside and max(beside) < 0.3 * grid.step_mm:
                assert not space.blocked[index[2], index[1], index[0]], point
