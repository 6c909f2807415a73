"""Matching inside and below: known transforms, the ellipse's coverage, and the one that was
mismeasured.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.registration import (
    TAPE_MM,
    UNKNOWN_TURN_DEG,
    mismeasured,
    register,
)

FEATURES = np.array([[200, -700], [1900, 650], [3050, -820], [2500, 300], [900, -100]], dtype=float)
TRIALS = 1000


def _moved(points: Any, turn_deg: float, shift: tuple[float, float]) -> Any:
    a = math.radians(turn_deg)
    return points @ np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]]) + np.array(
        shift
    )


@given(st.floats(-179, 179), st.floats(-500, 500), st.floats(-500, 500))
def test_an_exact_match_is_found_again(turn: float, dx: float, dy: float) -> None:
    match = register(FEATURES, _moved(FEATURES, turn, (dx, dy)))
    assert match.turn_deg == pytest.approx(turn, abs=1e-6)
    assert max(match.residuals_mm) < 1e-6
    x, y = match.forward(1234, -321)
    assert match.back(x, y) == pytest.approx((1234, -321))
    assert (x, y) == pytest.approx(tuple(_moved(np.array([[1234, -321]]), turn, (dx, dy))[0]))


@pytest.mark.parametrize("count", [3, 4, 5])
def test_the_ellipse_holds_the_true_place_in_95_of_100_cases(count: int) -> None:
    """Coverage over 1,000 trials with 4 mm of noise in each coordinate, between 93 and 97 %."""
    chance, held = np.random.default_rng(count), 0
    points, hole = FEATURES[:count], np.array([[2760.0, -286.0]])
    truth = _moved(hole, 0.4, (6, -3))[0]
    for _ in range(TRIALS):
        match = register(points, _moved(points, 0.4, (6, -3)) + chance.normal(0, 4, points.shape))
        held += match.ellipse(*hole[0]).holds(*truth)
    assert 0.93 <= held / TRIALS <= 0.97


def test_the_ellipse_grows_away_from_what_was_measured() -> None:
    chance = np.random.default_rng(1)
    match = register(FEATURES, FEATURES + chance.normal(0, 3, FEATURES.shape))
    middle = FEATURES.mean(axis=0)
    near, far = match.ellipse(*middle), match.ellipse(middle[0] + 4000, middle[1])
    assert near.long_mm == pytest.approx(near.short_mm, rel=1e-6)
    assert far.long_mm > 2 * near.long_mm
    assert abs(math.cos(math.radians(far.turn_deg))) < 0.2  # across the arm


def test_one_pair_gives_a_shift_and_an_assumed_error() -> None:
    match = register([[100, 50]], [[118, 46]])
    assert match.shift_mm == (18, -4)
    assert match.turn_deg == 0
    by_tape = TAPE_MM * math.sqrt(-2 * math.log(0.05))
    there = match.ellipse(100, 50)
    assert (there.long_mm, there.short_mm) == pytest.approx((by_tape, by_tape))
    # 2 m away the turn that nobody knows counts for far more: 1° of it, 95 of 100
    away = match.ellipse(2100, 50)
    by_turn = 2000 * math.radians(UNKNOWN_TURN_DEG) * math.sqrt(-2 * math.log(0.05))
    assert away.short_mm == pytest.approx(by_tape)
    assert away.long_mm == pytest.approx(math.hypot(by_tape, by_turn))
    assert abs(math.cos(math.radians(away.turn_deg))) < 1e-6  # across the arm


@pytest.mark.parametrize("count", [1, 2, 3])
def test_pairs_at_one_place_do_not_make_a_turn_up(count: int) -> None:
    """Pilots a few millimetres apart, with the surveys turned by up to a degree or two: at a place
    1.2 m away the ellipse holds the truth in at least 93 of 100 cases, and is no wider than the
    turn makes it.
    """
    chance, held, widest = np.random.default_rng(count), 0, 0.0
    place = np.array([[3900.0, 200.0]])
    for _ in range(TRIALS):
        points = np.array([[2760.0, -286.0]]) + chance.uniform(-15, 15, (count, 2))
        turn = float(chance.normal(0, UNKNOWN_TURN_DEG))
        there = _moved(points, turn, (6, -3)) + chance.normal(0, TAPE_MM, points.shape)
        match = register(points, there)
        assert not match.has_turn
        ellipse = match.ellipse(*place[0])
        held += ellipse.holds(*_moved(place, turn, (6, -3))[0])
        widest = max(widest, ellipse.long_mm)
    assert held / TRIALS >= 0.93
    assert widest < 200


@pytest.mark.parametrize("wrong", range(5))
def test_the_mismeasured_feature_is_named(wrong: int) -> None:
    """One tape read 60 mm off among readings of 1.5 mm error: it is named, and no other."""
    chance = np.random.default_rng(wrong)
    target = FEATURES + chance.normal(0, 1.5, FEATURES.shape)
    target[wrong] += (60, -10)
    assert mismeasured(register(FEATURES, target)) == wrong


def test_honest_errors_are_seldom_called_mistakes() -> None:
    chance, called = np.random.default_rng(11), 0
    for _ in range(400):
        called += (
            mismeasured(register(FEATURES, FEATURES + chance.normal(0, 3, FEATURES.shape)))
            is not None
        )
    assert called / 400 < 0.08  # five chances of one in a hundred each


def test_three_features_are_too_few_to_accuse_one() -> None:
    off = FEATURES[:3] + np.array([[0, 0], [0, 0], [80, 0]])
    assert mismeasured(register(FEATURES[:3], off)) is None


def test_no_pair_is_refused() -> None:
    with pytest.raises(BadInput, match="at least one feature"):
        register([], [])
