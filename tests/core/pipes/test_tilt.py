"""Falls as parked, and where water stands."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.parked import parked_attitudes
from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.pipes.tilt import fall_deg, standing_water, worst_falls
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
    ways = {parked.name: fall_deg(run.straights[0], parked.down) for parked in parked_attitudes(3)}
    assert ways["nose up"] == pytest.approx(-1)
    assert ways["nose down"] == pytest.approx(5)
    assert ways["left side down"] == pytest.approx(2, abs=0.01)
    worst = worst_falls(run, 3)[0]
    assert (worst.parked.name, worst.fall_deg) == ("nose up", pytest.approx(-1))


def test_a_run_to_the_right_is_lifted_by_the_left_side_down() -> None:
    run = _run((0, 0, 0), (0, 1000, -35))
    assert worst_falls(run, 3)[0].parked.name == "left side down"


@given(st.tuples(*[st.floats(-900, 900)] * 3), st.floats(0, 10), st.floats(0, 10))
def test_more_tilt_never_drains_better(end: Vec3, one: float, other: float) -> None:
    run = _run((0, 0, 0), (end[0], end[1], end[2] - 1000))
    less, more = sorted((one, other))
    assert worst_falls(run, more)[0].fall_deg <= worst_falls(run, less)[0].fall_deg + 1e-9
    assert worst_falls(run, 0)[0].fall_deg == pytest.approx(run.straights[0].fall_deg)


def test_water_stands_up_to_the_lower_rim() -> None:
    """Down 100 and up again 40 over 400: water up to 40, so 40 mm up the drop and the whole of the
    rise.
    """
    run = _run((0, 0, 0), (0, 0, -100), (400, 0, -60), (800, 0, -90))
    (start, up), (same, along) = standing_water(run, frozenset(), LEVEL)
    assert start == same == (0, 0, -100)
    assert up == pytest.approx((0, 0, -60))
    assert along == pytest.approx((400, 0, -60))


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
