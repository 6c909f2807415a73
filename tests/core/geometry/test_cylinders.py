"""The depth of two cylinders in one another: closed forms, another search, and no case without an
end.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize

from gale_nook.core.geometry.cylinders import Cylinder, overlap_mm
from gale_nook.core.geometry.shapes import separation, solid_shape
from gale_nook.core.plan.solids import CylinderSolid

X, Y, Z = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)
MIDDLE = (0.0, 0.0, 0.0)


@pytest.mark.parametrize(
    ("one", "other", "depth"),
    [
        # one way up, side by side: what is left of both radii
        (Cylinder(MIDDLE, Z, 100, 40), Cylinder((60.0, 0, 0), Z, 100, 30), 10.0),
        # on top of one another: what is left of both half lengths
        (Cylinder(MIDDLE, Z, 100, 40), Cylinder((5.0, 0, 190.0), Z, 100, 30), 10.0),
        # the same one twice: out by its diameter
        (Cylinder(MIDDLE, Y, 80, 45), Cylinder(MIDDLE, Y, 80, 45), 90.0),
        # crosswise, one over the other
        (Cylinder(MIDDLE, X, 200, 30), Cylinder((0.0, 0.0, 45.0), Y, 200, 20), 5.0),
        # crosswise, its end face in the other's side
        (Cylinder(MIDDLE, X, 200, 30), Cylinder((0.0, 0.0, 125.0), Z, 100, 20), 5.0),
        # apart
        (Cylinder(MIDDLE, X, 50, 10), Cylinder((0.0, 0.0, 45.0), Y, 50, 10), -25.0),
    ],
)
def test_simple_cases_by_hand(one: Cylinder, other: Cylinder, depth: float) -> None:
    assert overlap_mm(one, other) == pytest.approx(depth, abs=0.01)
    assert overlap_mm(other, one) == pytest.approx(depth, abs=0.01)


@settings(max_examples=25)
@given(
    st.tuples(*[st.floats(-60.0, 60.0)] * 3),
    st.floats(0.0, math.pi),
    st.floats(-1.0, 1.0),
)
def test_no_direction_leads_out_sooner(
    at: tuple[float, float, float], turn: float, rise: float
) -> None:
    """Against a minimiser of another library that starts in many directions."""
    level = math.sqrt(1 - rise * rise)
    axis = (level * math.cos(turn), level * math.sin(turn), rise)
    one, other = Cylinder(MIDDLE, X, 90, 45), Cylinder(at, axis, 70, 30)

    def way_out(angles: np.ndarray) -> float:
        flat = math.cos(angles[1])
        d = np.array([flat * math.cos(angles[0]), flat * math.sin(angles[0]), math.sin(angles[1])])
        reach = 0.0
        for body in (one, other):
            along = float(d @ np.array(body.axis))
            reach += body.half_mm * abs(along) + body.radius_mm * math.sqrt(max(1 - along**2, 0))
        return reach - abs(float(d @ np.array(at)))

    starts = [(a, b) for a in np.linspace(0, 5.5, 8) for b in (-1.2, -0.4, 0.4, 1.2)]
    least = min(
        float(minimize(way_out, start, method="Nelder-Mead", options={"xatol": 1e-7}).fun)
        for start in starts
    )
    assert overlap_mm(one, other) <= least + 0.01


@pytest.mark.parametrize("off", [0.0, 1.0, -1.0, 1e-5, -1e-5, 2.0**-20, 90.0])
@pytest.mark.parametrize("axes", ["yy", "xy", "zy"])
def test_cylinders_almost_in_one_place_have_an_end(off: float, axes: str) -> None:
    """The collision library's own search never ends for some of these."""
    one, other = (
        CylinderSolid(
            id=f"c-{number}",
            name="drum",
            kind="water-tank",
            axis=axis,  # type: ignore[arg-type]
            x_mm=1500 + number * off,
            y_mm=0,
            z_mm=-250 - number * off,
            diameter_mm=90,
            length_mm=160,
        )
        for number, axis in enumerate(axes)
    )
    told = separation(solid_shape(one), solid_shape(other)).distance_mm
    if off < 90:
        assert told == pytest.approx(-90, abs=2.5)
    else:
        assert told > -60
