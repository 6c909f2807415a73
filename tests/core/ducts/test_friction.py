"""Friction in ducts: Colebrook's law, its slope, and the way over from laminar flow."""

from __future__ import annotations

import pytest
from fluids.friction import Colebrook
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.ducts.friction import (
    LAMINAR_RE,
    TURBULENT_RE,
    colebrook,
    friction_load,
)


@pytest.mark.parametrize("reynolds", [4000.0, 1.2e4, 5e4, 3e5, 1e7])
@pytest.mark.parametrize("rough", [0.0, 1e-5, 1e-3, 0.012, 0.04])
def test_colebrook_is_the_librarys(reynolds: float, rough: float) -> None:
    """Against the general library's own solution of the same law, over all that ducts have."""
    found, _ = colebrook(reynolds, rough)
    assert found == pytest.approx(Colebrook(reynolds, rough), rel=1e-9)


def test_laminar_flow_is_the_closed_form() -> None:
    """64/Re: Hagen and Poiseuille."""
    for reynolds in (0.0, 1.0, 300.0, 1999.0):
        assert friction_load(reynolds, 0.01) == pytest.approx((64 * reynolds, 64.0), rel=1e-12)


@given(st.floats(10.0, 2e5), st.floats(0.0, 0.05))
def test_the_slope_is_that_of_differences(reynolds: float, rough: float) -> None:
    step = 1e-4 * reynolds
    (low, _), (_, slope), (high, _) = (
        friction_load(at, rough) for at in (reynolds - step, reynolds, reynolds + step)
    )
    if not any(abs(reynolds - edge) < 2 * step for edge in (LAMINAR_RE, TURBULENT_RE)):
        assert slope == pytest.approx((high - low) / (2 * step), rel=1e-4)


@given(st.floats(1.0, 3e5), st.floats(1.0, 3e5), st.floats(0.0, 0.05))
def test_more_flow_always_loses_more(one: float, other: float, rough: float) -> None:
    """Laminar, in between and turbulent: without that a network could have two solutions."""
    low, high = sorted((one, other))
    (less, slope), (more, steeper) = friction_load(low, rough), friction_load(high, rough)
    assert less <= more * (1 + 1e-12)
    assert min(slope, steeper) > 0
