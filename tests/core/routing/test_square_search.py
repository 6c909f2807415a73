"""The square search alone: round boxes, through panels, with room for every bend."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.routing.square_search import (
    DIRECTIONS,
    Box,
    Lattice,
    SquareCosts,
    SquareSearch,
    SquareStart,
    lattice_of,
)

RADIUS = 60.0
COSTS = SquareCosts(bend_mm=300.0, panel_mm=100.0, open_share=0.0)
REARWARD, RIGHT = 1, 3
EVERY_WAY = frozenset(range(6))
START = (0.0, 500.0, 300.0)


def _lattice(step: float = 100.0) -> Lattice:
    """A room of 2000 × 1000 × 600."""
    x, y, z = ([n * step for n in range(int(size / step) + 1)] for size in (2000, 1000, 600))
    return lattice_of((x, y, z))


def _led(
    lattice: Lattice,
    end: Vec3,
    arrives: frozenset[int] = EVERY_WAY,
    start: SquareStart | None = None,
    costs: SquareCosts = COSTS,
) -> tuple[Vec3, ...] | None:
    begin = start or SquareStart(lattice.nearest(START), (REARWARD,), 100.0)
    ends = {lattice.nearest(end): 0.0}
    return SquareSearch(lattice, lattice, (begin,), RADIUS, ends, arrives, costs).run()


def _length(points: Sequence[Vec3]) -> float:
    return sum(math.dist(a, b) for a, b in itertools.pairwise(points))


def _enters(points: Sequence[Vec3], box: Box) -> bool:
    """Whether a straight comes into a box, looked at every 5 mm."""
    for start, end in itertools.pairwise(points):
        count = max(int(math.dist(start, end) / 5), 1)
        for number in range(count + 1):
            at = [a + (b - a) * number / count for a, b in zip(start, end, strict=True)]
            if all(box[0][i] + 1e-6 < at[i] < box[1][i] - 1e-6 for i in range(3)):
                return True
    return False


def test_straight_ahead_it_is_one_straight() -> None:
    assert _led(_lattice(), (2000.0, 500.0, 300.0)) == (START, (2000.0, 500.0, 300.0))


def test_to_the_side_it_has_one_bend() -> None:
    found = _led(_lattice(), (1000.0, 0.0, 300.0))
    assert found == (START, (1000.0, 500.0, 300.0), (1000.0, 0.0, 300.0))


def test_the_way_of_arriving_is_kept() -> None:
    found = _led(_lattice(), (1000.0, 0.0, 300.0), frozenset({REARWARD}))
    assert found is not None
    (x0, y0, z0), (x1, y1, z1) = found[-2:]
    assert x1 > x0
    assert (y0, z0) == (y1, z1)


def test_round_a_box_it_takes_the_short_side() -> None:
    lattice = _lattice()
    box: Box = ((900.0, -1.0, -1.0), (1100.0, 750.0, 601.0))
    lattice.block(box)
    found = _led(lattice, (2000.0, 500.0, 300.0))
    assert found is not None
    assert not _enters(found, box)
    assert max(point[1] for point in found) == 800.0


def test_what_is_shut_off_is_not_reached() -> None:
    lattice = _lattice()
    lattice.block(((900.0, -1.0, -1.0), (1100.0, 1001.0, 601.0)))
    assert _led(lattice, (2000.0, 500.0, 300.0)) is None


def test_a_panel_is_passed_square_and_where_a_hole_finds_room() -> None:
    lattice = _lattice()
    panel: Box = ((950.0, -1.0, -1.0), (1050.0, 1001.0, 601.0))
    lattice.let_pass(panel, 0, ((0.0, 150.0, 150.0), (0.0, 250.0, 250.0)))
    found = _led(lattice, (2000.0, 500.0, 300.0))
    assert found is not None
    through = [
        (a, b) for a, b in itertools.pairwise(found) if min(a[0], b[0]) < 1000 < max(a[0], b[0])
    ]
    assert [(a[1], a[2], b[1], b[2]) for a, b in through] == [(200.0, 200.0, 200.0, 200.0)]
    lattice = _lattice()
    lattice.let_pass(panel, 0, ((0.0, 110.0, 110.0), (0.0, 190.0, 190.0)))  # no line leads there
    assert _led(lattice, (2000.0, 500.0, 300.0)) is None


def test_a_bend_does_not_lie_in_a_panel() -> None:
    lattice = _lattice(20.0)
    panel: Box = ((480.0, -1.0, -1.0), (520.0, 1001.0, 601.0))
    lattice.let_pass(panel, 0, ((0.0, 0.0, 0.0), (0.0, 1000.0, 600.0)))
    found = _led(lattice, (700.0, 0.0, 300.0))
    assert found is not None
    corners = [point[0] for point in found[1:-1]]
    assert corners
    assert all(abs(x - 500.0) >= 20.0 + RADIUS - 1e-6 for x in corners)


def test_a_detour_is_made_for_the_straight_that_is_wanted_and_no_more_where_there_is_none() -> None:
    lattice = _lattice()
    begin = SquareStart(lattice.nearest(START), (REARWARD,), 30.0, wanted_mm=800.0)
    found = _led(lattice, (300.0, 0.0, 300.0), start=begin)
    assert found is not None
    assert found[1][0] >= 800.0 + RADIUS
    lattice.block(((600.0, -1.0, -1.0), (700.0, 1001.0, 601.0)))
    found = _led(lattice, (300.0, 0.0, 300.0), start=begin)
    assert found is not None
    assert found[1][0] == 600.0  # as far as it goes


def test_in_the_open_is_dearer_than_out_of_the_way() -> None:
    costs = SquareCosts(300.0, 100.0, 3.0)
    lattice = _lattice()
    lattice.shelter(((-1.0, -1.0, -1.0), (2001.0, 150.0, 601.0)))
    found = _led(lattice, (2000.0, 500.0, 300.0), costs=costs)
    assert found is not None
    assert min(point[1] for point in found) <= 100.0


@settings(max_examples=30)
@given(
    boxes=st.lists(
        st.tuples(
            *(st.integers(1, top) for top in (17, 9, 5)),
            *(st.integers(1, top) for top in (6, 8, 5)),
        ),
        max_size=6,
    ),
    end=st.tuples(st.integers(0, 20), st.integers(0, 10), st.integers(0, 6)),
    haste=st.sampled_from([1.0, 1.5]),
)
def test_any_run_keeps_out_of_every_box_and_has_room_for_its_bends(
    boxes: list[tuple[int, ...]], end: tuple[int, int, int], haste: float
) -> None:
    """And no search in a hurry is dearer than it may be, nor one that is guided than one that looks
    everywhere.
    """
    lattice = _lattice()
    blocked: list[Box] = []
    for x, y, z, length, width, height in boxes:
        low = (x * 100.0 - 50, y * 100.0 - 50, z * 100.0 - 50)
        high = (low[0] + length * 100.0, low[1] + width * 100.0, low[2] + height * 100.0)
        blocked.append((low, high))
        lattice.block(blocked[-1])
    goal = (end[0] * 100.0, end[1] * 100.0, end[2] * 100.0)
    costs = SquareCosts(300.0, 100.0, 0.0, haste)
    found = _led(lattice, goal, costs=costs)
    blind = _led(lattice, goal, costs=SquareCosts(300.0, 100.0, 0.0, 0.0))
    assert (found is None) == (blind is None)
    if found is None or blind is None:
        return
    assert not any(_enters(found, box) for box in blocked)
    assert found[0] == START
    assert found[-1] == goal
    lengths = [math.dist(a, b) for a, b in itertools.pairwise(found)]
    bends = [RADIUS] * (len(found) - 2)
    room = [b - a for a, b in zip([0.0, *bends], lengths, strict=True)]
    assert all(left >= taken - 1e-6 for left, taken in zip(room, [*bends, 0.0], strict=True))
    cost, least = (_length(run) + 300.0 * (len(run) - 2) for run in (found, blind))
    assert cost <= haste * least + 1e-6


def test_every_direction_is_one_step_along_one_axis() -> None:
    for way, direction in enumerate(DIRECTIONS):
        assert direction[way // 2] == (1.0 if way % 2 else -1.0)
        assert sum(map(abs, direction)) == 1.0


@pytest.mark.parametrize("own_mm", [0.0, 200.0])
def test_what_it_begins_at_is_only_out_of_the_way_for_its_first_stretch(own_mm: float) -> None:
    lattice, own = _lattice(), _lattice()
    lattice.block(((-1.0, 350.0, -1.0), (150.0, 650.0, 601.0)))  # what it comes out of
    begin = SquareStart(lattice.nearest(START), (REARWARD,), 100.0, own_mm=own_mm)
    ends = {lattice.nearest((2000.0, 500.0, 300.0)): 0.0}
    found = SquareSearch(lattice, own, (begin,), RADIUS, ends, EVERY_WAY, COSTS).run()
    assert (found is not None) == (own_mm > 0)
