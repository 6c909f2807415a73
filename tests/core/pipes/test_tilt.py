"""Falls as parked, and where water stands."""

from __future__ import annotations

import math
import random
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.parked import Lean, parked_attitudes
from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.pipes.tilt import deepest_water, fall_deg, standing_water, worst_falls
from gale_nook.core.plan.document import Plan

LEVEL = (0.0, 0.0, -1.0)


def _run(*points: Vec3) -> RouteGeometry:
    return route_geometry(points[0], LEVEL, [(point, 40.0) for point in points[1:]])


def test_level_standing_gives_the_level_fall() -> None:
    for straight in _run((0, 0, 0), (0, 0, -100), (-400, 30, -120), (-300, -900, -150)).straights:
        assert fall_deg(straight, LEVEL) == pytest.approx(straight.fall_deg)


def test_nose_up_lifts_what_runs_forward_by_the_whole_angle() -> None:
    """A straight that falls 2° towards the nose rises 1° with the nose 3° up, and falls 5° with it
    down.
    """
    run = _run((0, 0, 0), (-1000 * math.cos(math.radians(2)), 0, -1000 * math.sin(math.radians(2))))
    ways = {
        parked.name: fall_deg(run.straights[0], parked.down)
        for parked in parked_attitudes(Lean(3, 3))
    }
    assert ways["nose up"] == pytest.approx(-1)
    assert ways["nose down"] == pytest.approx(5)
    assert ways["left side down"] == pytest.approx(2, abs=0.01)
    worst = worst_falls(run, Lean(3, 3))[0]
    assert (worst.parked.name, worst.fall_deg) == ("nose up", pytest.approx(-1))


def test_a_run_to_the_right_is_lifted_by_the_left_side_down() -> None:
    run = _run((0, 0, 0), (0, 1000, -35))
    assert worst_falls(run, Lean(3, 3))[0].parked.name == "left side down"


@given(st.tuples(*[st.floats(-900, 900)] * 3), st.floats(0, 10), st.floats(0, 10))
def test_more_tilt_never_drains_better(end: Vec3, one: float, other: float) -> None:
    run = _run((0, 0, 0), (end[0], end[1], end[2] - 1000))
    less, more = sorted((one, other))
    assert (
        worst_falls(run, Lean(more, more))[0].fall_deg
        <= worst_falls(run, Lean(less, less))[0].fall_deg + 1e-9
    )
    assert worst_falls(run, Lean(0, 0))[0].fall_deg == pytest.approx(run.straights[0].fall_deg)


def test_water_stands_up_to_the_lower_rim() -> None:
    """Down 100 and up again 40 over 400: water up to 40, so 40 mm up the drop and the whole of the
    rise.
    """
    run = _run((0, 0, 0), (0, 0, -100), (400, 0, -60), (800, 0, -90))
    drop, rise = standing_water(run, frozenset(), LEVEL)
    assert drop.start == pytest.approx((0, 0, -60))
    assert drop.end == rise.start == (0, 0, -100)
    assert rise.end == pytest.approx((400, 0, -60))
    assert drop.depth_mm == rise.depth_mm == pytest.approx(40)


def _rain(
    run: RouteGeometry, drained: frozenset[int], step_mm: float = 0.25
) -> tuple[float, float]:
    """Length and greatest depth of water in a run, filled point by point: a way of its own."""
    places = [(run.points[0], True)]
    for number, (a, b) in enumerate(pairwise(run.points), 1):
        count = max(1, math.ceil(math.dist(a, b) / step_mm))
        for k in range(1, count + 1):
            point = tuple(p + (q - p) * k / count for p, q in zip(a, b, strict=True))
            is_last = number == len(run.points) - 1 and k == count
            places.append((point, is_last or (k == count and number in drained)))
    heights = [point[2] for point, _ in places]
    outs = [number for number, (_, out) in enumerate(places) if out]
    length = depth = 0.0
    for number, height in enumerate(heights):
        before = max(out for out in outs if out <= number)
        after = min(out for out in outs if out >= number)
        level = min(max(heights[before : number + 1]), max(heights[number : after + 1]))
        if level > height + 1e-9:
            depth = max(depth, level - height)
            length += math.dist(places[number][0], places[number - 1][0])
    return length, depth


@pytest.mark.parametrize("seed", range(25))
def test_standing_water_against_filling_it_point_by_point(seed: int) -> None:
    """Random runs with ponds beside and within one another, and drains before, in and behind them:
    each millimetre counts once.
    """
    chance = random.Random(seed)
    x, corners = 0.0, [(0.0, 0.0, 0.0)]
    for _ in range(chance.randrange(2, 8)):
        x += chance.uniform(20, 60)
        corners.append((x, 0.0, chance.uniform(-60, 20)))
    run = _run(*corners)
    drained = frozenset(k for k in range(1, len(corners) - 1) if chance.random() < 0.25)
    waters = standing_water(run, drained, LEVEL)
    length, depth = _rain(run, drained)
    assert sum(math.dist(w.start, w.end) for w in waters) == pytest.approx(length, abs=3.0)
    assert max((w.depth_mm for w in waters), default=0.0) == pytest.approx(depth, abs=0.7)


def test_water_behind_a_drain_leaves_by_it() -> None:
    """A pond whose way back leads over a drain hole that is lower than its rim ahead: dry."""
    run = _run((0, 0, 0), (100, 0, -80), (200, 0, -40), (300, 0, -60), (400, 0, 30), (500, 0, -90))
    assert _depths(run, frozenset()) == pytest.approx([80, 80, 60, 60])
    # the hole at the first corner takes what stands over the sill between the two, no more
    assert _depths(run, frozenset({1})) == pytest.approx([20, 20])
    assert _depths(run, frozenset({1, 3})) == []


def _depths(run: RouteGeometry, drained: frozenset[int]) -> list[float]:
    return [water.depth_mm for water in standing_water(run, drained, LEVEL)]


def test_a_riser_that_drains_back_does_not_hold_water(heron: Plan, catalogue: Catalogue) -> None:
    """It falls back to its hole level, but parked along it 8 mm stand at its far end's low bend:
    that used to pass, since the riser's own fall is judged from the hole.
    """
    run = _run((0, 0, 0), (0, 0, -100), (300, 0, -85), (500, 0, -100), (700, 0, -92))
    waters, _ = deepest_water(run, frozenset({1}), Lean(3, 3))
    assert max(water.depth_mm for water in waters) >= 7.99
    result = check(heron, catalogue, ("pipes",)).find("pipes.standing", "exhaust")
    assert result is not None
    assert result.verdict == "clear"


def test_a_drain_leaves_no_water() -> None:
    run = _run((0, 0, 0), (0, 0, -100), (400, 0, -60))
    assert standing_water(run, frozenset({1}), LEVEL) == ()
    assert standing_water(run, frozenset(), LEVEL) != ()


def test_what_drains_level_can_stand_as_parked(heron: Plan, catalogue: Catalogue) -> None:
    """Heron's run falls 3.5° and more: clear at 3°, over at 4°; a drain hole settles it."""
    assert (
        check(heron, catalogue, ("pipes",)).find("pipes.parked", "n-2") is None
        or _verdict(heron, catalogue, "n-2") != "over"
    )
    steep = apply(heron, set_value("settings.parked_tilt_deg", 4), catalogue)
    assert _verdict(steep, catalogue, "n-2") == "over"
    finding = check(steep, catalogue, ("pipes",)).find("pipes.parked", "n-2")
    assert finding is not None
    assert "water stands before it" in finding.sentence
    drained = apply(steep, set_value("pipes.exhaust.nodes.n-1.drain", True), catalogue)
    assert _verdict(drained, catalogue, "n-2") != "over"


def _verdict(plan: Plan, catalogue: Catalogue, node: str) -> str:
    finding = check(plan, catalogue, ("pipes",)).find("pipes.parked", node)
    return finding.verdict.value if finding is not None else "clear"
