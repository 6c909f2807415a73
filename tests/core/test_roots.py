"""Where a function crosses zero, against functions whose zero is known."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.physics.roots import root_of


@given(st.floats(-50, 50), st.floats(0.01, 9), st.sampled_from([1, 3, 5]))
def test_the_zero_of_an_odd_power_is_found(zero: float, steep: float, power: int) -> None:
    """Lines, and curves that lie flat at their zero: as near to 0 as asked for."""
    found = root_of(lambda x: steep * (x - zero) ** power, -100.0, 120.0, 1e-6)
    assert abs(steep * (found - zero) ** power) < 1e-4


@pytest.mark.parametrize(("low", "high", "end"), [(3.0, 9.0, 3.0), (-9.0, 1.0, 1.0)])
def test_without_a_crossing_the_nearer_end_is_returned(low: float, high: float, end: float) -> None:
    assert root_of(lambda x: x - 2, low, high, 1e-9) == end
