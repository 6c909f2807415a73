"""Friction in ducts: Colebrook's law, its slope, and the way over from laminar flow."""

from __future__ import annotations

import numpy as np
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
    found, _ = colebrook(np.array(reynolds), np.array(rough))
    assert float(found) == pytest.approx(Colebrook(reynolds, rough), rel=1e-9)


def test_laminar_flow_is_the_closed_form() -> None:
    """64/Re: Hagen and Poiseuille."""
    reynolds = np.array([1.0, 300.0, 1999.0])
    load, slope = friction_load(reynolds, np.full(3, 0.01))
    assert load == pytest.approx(64 * reynolds, rel=1e-12)
    assert slope == pytest.approx([64.0] * 3)


@given(st.floats(10.0, 2e5), st.floats(0.0, 0.05))
def test_the_slope_is_that_of_differences(reynolds: float, rough: float) -> None:
    step = 1e-4 * reynolds
    at = np.array([reynolds - step, reynolds, reynolds + step])
    load, slope = friction_load(at, np.full(3, rough))
    if not any(abs(reynolds - edge) < 2 * step for edge in (LAMINAR_RE, TURBULENT_RE)):
        assert slope[1] == pytest.approx((load[2] - load[0]) / (2 * step), rel=1e-4)


@given(st.floats(1.0, 3e5), st.floats(1.0, 3e5), st.floats(0.0, 0.05))
def test_more_flow_always_loses_more(one: float, other: float, rough: float) -> None:
    """Laminar, in between and turbulent: without that a network could have two solutions."""
    low, high = sorted((one, other))
    load, slope = friction_load(np.array([low, high]), np.full(2, rough))
    assert load[0] <= load[1] * (1 + 1e-12)
    assert (slope > 0).all()
