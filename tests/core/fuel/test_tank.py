"""Litres in tanks: against formulas and numeric integration, under tilt, and their properties."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate

from gale_nook.core.fuel.tank import Vessel, dip_stick, fallen_l, vessel_of, vessel_of_solid
from gale_nook.core.geometry.shapes import solid_shape
from gale_nook.core.plan.fuel import OwnTank
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid

BOX = OwnTank(
    x_mm=1000,
    y_mm=-900,
    z_mm=-380,
    length_mm=508,
    width_mm=258,
    height_mm=208,
    edge_mm=44,
    wall_mm=4,
)
# a cylinder is as wide as it is high, whatever width is kept from another shape
DRUM = OwnTank(
    shape="cylinder",
    x_mm=0,
    y_mm=0,
    z_mm=-300,
    length_mm=608,
    width_mm=90,
    height_mm=258,
    wall_mm=4,
)


def _rounded_width(z: float, width: float, height: float, radius: float) -> float:
    """Width of a rounded box at a height over its bottom, from Pythagoras."""
    inset = max(radius - z, z - (height - radius), 0.0)
    return width - 2 * (radius - math.sqrt(max(radius**2 - inset**2, 0.0)))


@pytest.mark.parametrize("share", [0.03, 0.2, 0.5, 0.81, 0.99, 1.0])
def test_a_rounded_box_against_numeric_integration(share: float) -> None:
    vessel = vessel_of(BOX)
    width, height, radius = 250.0, 200.0, 40.0
    area, _ = integrate.quad(
        lambda z: _rounded_width(z, width, height, radius), 0, share * height, limit=200
    )
    assert vessel.litres(vessel.bottom_mm + share * height) == pytest.approx(
        area * 500 / 1e6, rel=0.002
    )


@pytest.mark.parametrize("share", [0.02, 0.25, 0.5, 0.9, 1.0])
def test_a_lying_cylinder_against_the_segments_formula(share: float) -> None:
    vessel, r = vessel_of(DRUM), 125.0
    h = share * 2 * r
    segment = r**2 * math.acos(1 - h / r) - (r - h) * math.sqrt(2 * r * h - h**2)
    assert vessel.litres(vessel.bottom_mm + h) == pytest.approx(segment * 600 / 1e6, rel=0.002)


@pytest.mark.parametrize(
    ("slope_x", "slope_y"), [(0.05, 0.0), (0.0, -0.08), (0.09, 0.05), (-0.3, 0.2)]
)
@pytest.mark.parametrize(
    "tank",
    [BOX, DRUM, DRUM.model_copy(update={"lying": "across", "length_mm": 90.0, "width_mm": 608.0})],
)
def test_under_tilt_against_counting_small_cubes(
    tank: OwnTank, slope_x: float, slope_y: float
) -> None:
    vessel = vessel_of(tank)
    x0, y0 = vessel.middle
    n = 120
    along = (np.arange(n) + 0.5) / n * (vessel.end_mm - vessel.start_mm) + vessel.start_mm
    low, high = vessel.section[:, 0].min(), vessel.section[:, 0].max()
    across = (np.arange(n) + 0.5) / n * (high - low) + low
    z = (np.arange(n) + 0.5) / n * (vessel.top_mm - vessel.bottom_mm) + vessel.bottom_mm
    inside = shapely.contains_xy(
        shapely.Polygon(vessel.section), *np.meshgrid(across, z, indexing="ij")
    )
    a, t, up = np.meshgrid(along, across, z, indexing="ij")
    x, y = (a, t) if vessel.lying == "along" else (t, a)
    level = (vessel.top_mm + vessel.bottom_mm) / 2 - 17
    below = (up < level + slope_x * (x - x0) + slope_y * (y - y0)) & inside[None]
    cube = (
        (vessel.end_mm - vessel.start_mm)
        * (high - low)
        * (vessel.top_mm - vessel.bottom_mm)
        / n**3
        / 1e6
    )
    assert vessel.litres(level, slope_x, slope_y) == pytest.approx(below.sum() * cube, rel=0.006)


def _both(share: float, slope_x: float, slope_y: float) -> tuple[Vessel, float]:
    vessel = vessel_of(BOX)
    return vessel, vessel.bottom_mm + share * (vessel.top_mm - vessel.bottom_mm)


@given(st.floats(0, 1), st.floats(0, 1), st.floats(-0.2, 0.2), st.floats(-0.2, 0.2))
def test_more_level_is_never_less_fuel(
    one: float, other: float, slope_x: float, slope_y: float
) -> None:
    vessel, level = _both(min(one, other), slope_x, slope_y)
    _, higher = _both(max(one, other), slope_x, slope_y)
    assert vessel.litres(level, slope_x, slope_y) <= vessel.litres(higher, slope_x, slope_y) + 1e-9


@given(st.floats(0.02, 0.98), st.floats(-0.2, 0.2), st.floats(-0.2, 0.2))
def test_level_and_litres_are_each_others_inverse(
    share: float, slope_x: float, slope_y: float
) -> None:
    vessel = vessel_of(BOX)
    litres = share * vessel.full_l
    assert vessel.litres(
        vessel.level_mm(litres, slope_x, slope_y), slope_x, slope_y
    ) == pytest.approx(litres, abs=1e-6)


@given(st.floats(-0.1, 0.1), st.floats(-0.1, 0.1))
def test_what_is_below_and_what_is_above_make_the_whole(slope_x: float, slope_y: float) -> None:
    """The tank is symmetrical: turned upside down, what was air is fuel."""
    vessel = vessel_of(BOX)
    middle = (vessel.top_mm + vessel.bottom_mm) / 2
    below = vessel.litres(middle + 30, slope_x, slope_y)
    assert below + vessel.litres(middle - 30, slope_x, slope_y) == pytest.approx(
        vessel.full_l, rel=1e-6
    )


def test_what_stays_under_a_pick_up_grows_where_the_tank_leans_away_from_it() -> None:
    vessel = vessel_of(BOX)
    tip = (vessel.start_mm + 40, vessel.middle[1], vessel.bottom_mm + 15)
    level = vessel.unusable_l(tip)
    assert level == pytest.approx(vessel.litres(vessel.bottom_mm + 15))
    assert vessel.unusable_l(tip, slope_x=0.08) > level > vessel.unusable_l(tip, slope_x=-0.01)


def test_a_cylinder_takes_up_its_diameter_both_ways() -> None:
    assert DRUM.size_mm == (608, 258, 258)
    assert DRUM.model_copy(update={"lying": "across"}).size_mm == (258, 90, 258)


def test_the_dip_stick_says_what_a_fall_of_the_level_used() -> None:
    vessel = vessel_of(BOX)
    rows = dip_stick(vessel, 10)
    assert [row.height_mm for row in rows] == [*range(0, 200, 10), 200]
    assert (rows[0].litres, rows[-1].litres) == (
        pytest.approx(0, abs=1e-9),
        pytest.approx(vessel.full_l),
    )
    by_rows = rows[15].litres - rows[9].litres
    assert fallen_l(vessel, 150, 60) == pytest.approx(by_rows)
    assert fallen_l(vessel, 150, 60) == pytest.approx(0.06 * 0.25 * 0.5 * 1000, rel=0.001)


def test_a_profile_is_drawn_in_by_its_walls() -> None:
    """A wedge of 300 × 200 with 5 mm walls: the inner triangle's sides are scaled by the incircle's
    loss.
    """
    wedge = OwnTank(
        shape="profile",
        x_mm=0,
        y_mm=0,
        z_mm=0,
        length_mm=410,
        width_mm=300,
        height_mm=200,
        wall_mm=5,
        profile=((0, 0), (300, 0), (0, 200)),
    )
    inradius = (300 + 200 - math.hypot(300, 200)) / 2
    area = 300 * 200 / 2 * ((inradius - 5) / inradius) ** 2
    assert vessel_of(wedge).full_l == pytest.approx(area * 400 / 1e6, rel=1e-6)


def test_surveyed_tanks_of_each_shape() -> None:
    box = BoxSolid(
        id="t",
        name="t",
        kind="fuel-tank",
        x_mm=0,
        y_mm=0,
        z_mm=-300,
        length_mm=500,
        width_mm=400,
        height_mm=200,
    )
    drum = CylinderSolid(
        id="t",
        name="t",
        kind="fuel-tank",
        axis="x",
        x_mm=0,
        y_mm=0,
        z_mm=-300,
        diameter_mm=300,
        length_mm=600,
    )
    saddle = OutlineSolid(
        id="t",
        name="t",
        kind="fuel-tank",
        z_mm=-300,
        height_mm=200,
        outline=((0, 0), (600, 0), (600, 200), (300, 200), (300, 400), (0, 400)),
    )
    for solid, litres in ((box, 40.0), (drum, math.pi * 0.15**2 * 0.6 * 1000), (saddle, 36.0)):
        vessel = vessel_of_solid(solid, 0.0)
        assert vessel is not None
        assert vessel.full_l == pytest.approx(litres, rel=0.001)
        bounds = solid_shape(solid).bounds
        assert (vessel.start_mm, vessel.end_mm) == pytest.approx((bounds[0], bounds[3]))
        assert (vessel.bottom_mm, vessel.top_mm) == pytest.approx((bounds[2], bounds[5]), abs=0.01)


def test_walls_are_taken_off_and_a_tank_that_is_all_wall_holds_nothing() -> None:
    box = BoxSolid(
        id="t",
        name="t",
        kind="fuel-tank",
        x_mm=0,
        y_mm=0,
        z_mm=-300,
        length_mm=500,
        width_mm=400,
        height_mm=200,
    )
    vessel = vessel_of_solid(box, 5.0)
    assert vessel is not None
    assert vessel.full_l == pytest.approx(490 * 390 * 190 / 1e6)
    assert (vessel.bottom_mm, vessel.top_mm) == (-295, -105)
    assert vessel_of_solid(box, 100.0) is None


@pytest.mark.parametrize("slopes", [(0.05, 0.0), (0.0, 0.05), (0.04, -0.03)])
def test_a_tank_turned_a_quarter_is_the_one_laid_the_other_way(slopes: tuple[float, float]) -> None:
    """A box turned by 90° about its middle against a box of swapped sides in the same place; also
    at any other turn by symmetry.
    """
    turned = BoxSolid(
        id="t",
        name="t",
        kind="fuel-tank",
        x_mm=0,
        y_mm=0,
        z_mm=0,
        length_mm=500,
        width_mm=300,
        height_mm=200,
        yaw_deg=90,
    )
    laid = BoxSolid(
        id="t",
        name="t",
        kind="fuel-tank",
        x_mm=100,
        y_mm=-100,
        z_mm=0,
        length_mm=300,
        width_mm=500,
        height_mm=200,
    )
    one, other = vessel_of_solid(turned, 0.0), vessel_of_solid(laid, 0.0)
    assert one is not None
    assert other is not None
    assert one.middle == pytest.approx(other.middle)
    for level in (20.0, 90.0, 150.0, 195.0):
        assert one.litres(level, *slopes) == pytest.approx(other.litres(level, *slopes), rel=1e-4)
    assert one.full_mm(*slopes) == pytest.approx(other.full_mm(*slopes))
    assert one.level_mm(12.0, *slopes) == pytest.approx(other.level_mm(12.0, *slopes), abs=0.05)
