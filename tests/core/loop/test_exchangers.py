"""Effectiveness of exchangers: book values, limits, and laws."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.loop.exchangers import counterflow, crossflow, one_side_constant

UNITS = st.floats(0.01, 8.0)
RATIOS = st.floats(0.0, 1.0)


def _by_grid(units: float, ratio: float) -> float:
    """Crossflow, both unmixed, by marching through a fine grid of both streams."""
    count = 220
    hot = [[1.0] * (count + 1) for _ in range(count + 1)]
    cold = [[0.0] * (count + 1) for _ in range(count + 1)]
    # hot flows along i with capacity 1, cold along j with capacity 1/ratio
    step = units / count
    for i in range(count):
        for j in range(count):
            difference = hot[i][j] - cold[i][j]
            # mid-point of the cell, implicit in both streams
            mean = difference / (1 + step / 2 * (1 + ratio))
            hot[i + 1][j] = hot[i][j] - step * mean
            cold[i][j + 1] = cold[i][j] + step * ratio * mean
    out = sum(hot[count][j] for j in range(count)) / count
    return 1.0 - out


@pytest.mark.parametrize(("units", "ratio"), [(0.5, 0.5), (1.0, 1.0), (2.0, 0.75), (3.0, 0.25)])
def test_crossflow_is_that_of_a_fine_grid(units: float, ratio: float) -> None:
    assert crossflow(units, ratio) == pytest.approx(_by_grid(units, ratio), rel=2e-3)


def test_counterflow_of_equal_streams() -> None:
    """N/(1 + N): Incropera, DeWitt, equation 11.29b."""
    assert counterflow(3.0, 1.0) == pytest.approx(0.75)
    assert counterflow(3.0, 1.0 - 1e-7) == pytest.approx(0.75, rel=1e-5)


def test_counterflow_by_hand() -> None:
    """N = 2, ratio 0.5: (1 − e^−1)/(1 − 0.5·e^−1)."""
    expected = (1 - math.exp(-1)) / (1 - 0.5 * math.exp(-1))
    assert counterflow(2.0, 0.5) == pytest.approx(expected)


@given(UNITS, RATIOS)
def test_against_one_another_is_best_and_nothing_passes_all(units: float, ratio: float) -> None:
    across, against = crossflow(units, ratio), counterflow(units, ratio)
    assert 0 < across <= one_side_constant(units) + 1e-9
    assert across <= against + 1e-9
    assert against <= one_side_constant(units) + 1e-9 < 1.0 + 1e-9


@given(UNITS, RATIOS)
def test_more_units_pass_more(units: float, ratio: float) -> None:
    assert counterflow(units * 1.1, ratio) >= counterflow(units, ratio) - 1e-12
    assert crossflow(units * 1.1, ratio) >= crossflow(units, ratio) - 1e-12


def test_a_stream_that_keeps_its_temperature_is_the_limit() -> None:
    assert crossflow(1.7, 1e-12) == pytest.approx(one_side_constant(1.7))
    assert counterflow(1.7, 0.0) == pytest.approx(one_side_constant(1.7))
