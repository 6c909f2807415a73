"""Routes: lengths along the fillets, angles, falls and low points."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.route import RouteGeometry, route_geometry

DOWN = (0.0, 0.0, -1.0)
coordinate = st.floats(-3000, 3000)
point = st.tuples(coordinate, coordinate, coordinate)


def _quarter(radius: float = 60.0) -> RouteGeometry:
    """Down 300, then level 400 to the right."""
    return route_geometry((0, 0, 0), DOWN, [((0, 0, -300), radius), ((0, 400, -300), radius)])


def test_length_round_a_quarter_bend() -> None:
    """700 corner to corner; a 90° fillet of 60 saves 2·60 and adds 60·π/2."""
    assert _quarter().length_mm == pytest.approx(700 - 120 + 60 * math.pi / 2)


def test_sum_of_bends_counts_the_turn_at_the_port() -> None:
    assert _quarter().bend_sum_deg == pytest.approx(90)
    sideways = route_geometry((0, 0, 0), DOWN, [((0, 400, 0), 60)])
    assert sideways.bend_sum_deg == pytest.approx(90)


def test_fall_of_each_straight() -> None:
    """A drop of 40 over 1000 is atan(0.04) = 2.2906°."""
    run = route_geometry((0, 0, 0), DOWN, [((0, 0, -200), 50), ((0, 1000, -240), 50)])
    assert [s.fall_deg for s in run.straights] == pytest.approx([90, 2.290610])
    assert run.straights[1].drop_mm == pytest.approx(40)


def test_room_left_by_the_bends() -> None:
    run = route_geometry(
        (0, 0, 0), DOWN, [((0, 0, -100), 60), ((0, 100, -100), 60), ((0, 100, -300), 60)]
    )
    assert [s.room_mm for s in run.straights] == pytest.approx([40, -20, 140])


def test_low_points_are_where_it_rises_again() -> None:
    run = route_geometry(
        (0, 0, 0), DOWN, [((0, 0, -200), 50), ((0, 500, -150), 50), ((0, 900, -260), 50)]
    )
    assert run.low_corners == (1,)


def test_a_level_stretch_before_a_rise_holds_water_too() -> None:
    run = route_geometry(
        (0, 0, 0), DOWN, [((0, 0, -200), 50), ((0, 500, -200), 50), ((0, 900, -100), 50)]
    )
    assert run.low_corners == (2,)


def test_the_mouth_points_along_the_last_straight() -> None:
    assert _quarter().mouth_direction == pytest.approx((0, 1, 0))


@given(st.lists(st.tuples(point, st.floats(1, 200)), min_size=1, max_size=8))
def test_a_fillet_never_lengthens_and_its_line_stays_finite(
    nodes: list[tuple[Vec3, float]],
) -> None:
    run = route_geometry((0.0, 0.0, 0.0), DOWN, nodes)
    corners = sum(s.length_mm for s in run.straights)
    if all(s.room_mm >= 0 for s in run.straights):
        assert run.length_mm <= corners + 1e-6
    assert all(math.isfinite(value) for at in run.centre_line for value in at)
    assert math.isfinite(run.bend_sum_deg)


@given(point, point, st.floats(5, 80))
def test_the_drawn_line_is_as_long_as_the_computed_one(
    corner: Vec3, end: Vec3, radius: float
) -> None:
    """Chords of at most 10° fall short of an arc by at most 0.13 %."""
    run = route_geometry((0.0, 0.0, 0.0), DOWN, [(corner, radius), (end, radius)])
    assume(run.bends and run.bends[0].angle_deg < 150 and min(s.room_mm for s in run.straights) > 0)
    drawn = sum(math.dist(a, b) for a, b in zip(run.centre_line, run.centre_line[1:], strict=False))
    assert drawn == pytest.approx(run.length_mm, rel=2e-3)


def test_going_straight_back_stays_sharp() -> None:
    run = route_geometry((0, 0, 0), DOWN, [((0, 0, -200), 0.001), ((0, 0, -50), 50)])
    assert run.centre_line == ((0, 0, 0), (0, 0, -200), (0, 0, -50))


def test_places_along_a_run_and_back() -> None:
    run = route_geometry(
        (0, 0, 0), (0, 0, -1), [((0, 0, -200), 60), ((500, 0, -230), 60), ((500, 400, -260), 60)]
    )
    end = run.passed_mm[-1]
    assert run.point_at(0) == (0, 0, 0)
    assert run.point_at(end + 50) == pytest.approx(run.mouth)
    assert run.direction_at(20) == pytest.approx((0, 0, -1))
    for share in (0.1, 0.35, 0.5, 0.8, 0.97):
        at = share * end
        assert run.distance_of(run.point_at(at)) == pytest.approx(at, abs=1e-6)
    inner = run.stretch(100, 400)
    assert inner[0] == run.point_at(100)
    assert inner[-1] == run.point_at(400)
    assert sum(math.dist(a, b) for a, b in itertools.pairwise(inner)) == pytest.approx(300)


def test_a_bend_that_does_not_fit_shortens_nothing() -> None:
    """A hairpin whose fillet would be longer than its legs is as long as the line that is drawn."""
    hairpin = route_geometry((0, 0, 0), (1, 0, 0), [((500, 0, 0), 30.0), ((300, 40, 0), 30.0)])
    (bend,) = hairpin.bends
    assert bend.tangent_mm > 200
    assert hairpin.length_mm == pytest.approx(500 + math.hypot(200, 40))
    assert hairpin.passed_mm[-1] == pytest.approx(hairpin.length_mm)
