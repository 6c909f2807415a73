"""Tanks of one's own turned, tilted and dented; their brackets, outlets and lids."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import parts_list, steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.filler import neck_of
from gale_nook.core.fuel.items import AddIndent
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.tank import vessel_of
from gale_nook.core.fuel.tank_fit_rules import needed_plate_mm, tank_weight_kg
from gale_nook.core.fuel.tank_pose import as_it_stands, tank_rotation, tank_shape
from gale_nook.core.geometry.parked import Lean, parked_attitudes
from gale_nook.core.geometry.shapes import box_shape, separation
from gale_nook.core.geometry.turning import turned_box_shape, turning
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import Indent, OwnTank
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.demo.load import demo_plan

OVER, CLEAR = Verdict.OVER, Verdict.CLEAR
TANK = OwnTank(
    x_mm=2000.0,
    y_mm=-400.0,
    z_mm=-450.0,
    length_mm=500.0,
    width_mm=260.0,
    height_mm=220.0,
    edge_mm=40.0,
    wall_mm=4.0,
)
ANGLES = st.tuples(st.floats(-180, 180), st.floats(-30, 30), st.floats(-30, 30))


def _stood(turn: float = 0.0, along: float = 0.0, across: float = 0.0, **more: object) -> OwnTank:
    posed = {"turn_deg": turn, "tilt_along_deg": along, "tilt_across_deg": across, **more}
    return OwnTank.model_validate({**TANK.model_dump(), **posed})


@pytest.fixture
def dunlin() -> Plan:
    return demo_plan("dunlin")


def _set(plan: Plan, catalogue: Catalogue, **values: object) -> Plan:
    changes = tuple(Change(address=f"fuel.tank.{k}", value=v) for k, v in values.items())
    return apply(plan, SetValues(changes=changes), catalogue)


def _find(plan: Plan, catalogue: Catalogue, rule: str, subject: str = "tank") -> Finding:
    found = check(plan, catalogue, ("fuel",)).find(rule, subject)
    assert found is not None
    return found


# --- as it stands ---


@given(ANGLES)
def test_turning_keeps_lengths_and_right_angles(angles: tuple[float, float, float]) -> None:
    rotation = turning(*angles)
    assert np.allclose(rotation @ rotation.T, np.eye(3), atol=1e-12)
    assert np.linalg.det(rotation) == pytest.approx(1.0)


def test_each_angle_does_what_its_name_says() -> None:
    """Turned by 90° its rear end points right; tilted its rear end, its right side come up."""
    rear, right = np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])
    assert turning(90.0) @ rear == pytest.approx([0, 1, 0])
    assert (turning(0.0, 30.0) @ rear)[2] == pytest.approx(0.5)
    assert (turning(0.0, 0.0, 30.0) @ right)[2] == pytest.approx(0.5)
    # tilted about its own axes first, turned as it lies then
    assert turning(90.0, 30.0) @ rear == pytest.approx([0, math.cos(math.radians(30)), 0.5])


@given(ANGLES, st.tuples(*[st.floats(-900, 900)] * 3))
def test_a_turned_box_is_as_far_from_a_point_as_it_is_in_its_own_frame(
    angles: tuple[float, float, float], point: tuple[float, float, float]
) -> None:
    size, rotation = (500.0, 260.0, 220.0), turning(*angles)
    shape = turned_box_shape((-250.0, -130.0, -110.0), size, rotation)
    own = rotation.T @ np.array(point)
    outside = np.maximum(np.abs(own) - np.array(size) / 2, 0.0)
    expected = float(np.linalg.norm(outside))
    nearest = shape.pieces[0].nearest(point)
    assert math.dist(nearest, point) == pytest.approx(expected, abs=1e-6)
    if expected > 1.0:
        probe = box_shape((point[0] - 0.05, point[1] - 0.05, point[2] - 0.05), (0.1, 0.1, 0.1))
        assert separation(shape, probe).distance_mm == pytest.approx(expected, abs=0.2)
    low, high = shape.bounds[:3], shape.bounds[3:]
    assert all(low[n] - 1e-6 <= nearest[n] <= high[n] + 1e-6 for n in range(3))


@given(ANGLES)
def test_a_full_tank_holds_the_same_however_it_stands(
    angles: tuple[float, float, float],
) -> None:
    vessel = vessel_of(_stood(*angles))
    assert vessel.full_l == pytest.approx(vessel_of(TANK).full_l, rel=2e-4)
    assert vessel.litres(vessel.bottom_mm - 1) == pytest.approx(0.0, abs=1e-6)


@pytest.mark.parametrize(
    "angles", [(0, 20, 0), (0, 0, -25), (35, 15, 10), (90, 30, 0), (-120, -18, 22)]
)
@pytest.mark.parametrize("share", [0.2, 0.5, 0.8])
@pytest.mark.parametrize(("slope_x", "slope_y"), [(0.0, 0.0), (0.06, -0.05)])
def test_tilted_against_counting_small_cubes(
    angles: tuple[float, float, float], share: float, slope_x: float, slope_y: float
) -> None:
    """Small cubes of the tank as if it stood straight, each turned to where it really is, counted
    where they lie under the surface.
    """
    tank, n = _stood(*angles), 90
    straight, vessel = vessel_of(TANK), vessel_of(tank)
    x = np.linspace(straight.start_mm, straight.end_mm, 2 * n + 1)[1::2]
    t0, t1 = straight.section[:, 0].min(), straight.section[:, 0].max()
    z0, z1 = straight.section[:, 1].min(), straight.section[:, 1].max()
    t, z = (np.linspace(a, b, 2 * n + 1)[1::2] for a, b in ((t0, t1), (z0, z1)))
    inside = shapely.contains_xy(
        shapely.Polygon(straight.section), *np.meshgrid(t, z, indexing="ij")
    )
    grid = np.stack(np.meshgrid(x, t, z, indexing="ij"), axis=-1)
    middle = np.array(tank.middle_mm)
    real = middle + (grid - middle) @ tank_rotation(tank).T
    level = vessel.bottom_mm + share * (vessel.top_mm - vessel.bottom_mm)
    surface = level + slope_x * (real[..., 0] - middle[0]) + slope_y * (real[..., 1] - middle[1])
    count = ((real[..., 2] < surface) & inside[None]).sum()
    cube_l = (straight.end_mm - straight.start_mm) * (t1 - t0) * (z1 - z0) / n**3 / 1e6
    expected = count * cube_l
    assert vessel.litres(level, slope_x, slope_y) == pytest.approx(expected, rel=0.012, abs=0.03)


@given(ANGLES, st.floats(0.05, 0.95))
def test_level_and_litres_are_each_others_inverse_tilted_too(
    angles: tuple[float, float, float], share: float
) -> None:
    vessel = vessel_of(_stood(*angles))
    litres = share * vessel.full_l
    assert vessel.litres(vessel.level_mm(litres)) == pytest.approx(litres, abs=1e-5)


@given(ANGLES)
def test_outlet_and_neck_stay_on_the_tank(angles: tuple[float, float, float]) -> None:
    """They are turned with it: as far from its middle as they were, on its skin."""
    for filler in ("top", "left", "front"):
        tank = _stood(*angles, filler=filler)
        at, direction = neck_of(tank)
        before, _ = neck_of(
            tank.model_copy(update={"turn_deg": 0.0, "tilt_along_deg": 0.0, "tilt_across_deg": 0.0})
        )
        assert math.dist(at, tank.middle_mm) == pytest.approx(math.dist(before, tank.middle_mm))
        assert math.hypot(*direction) == pytest.approx(1.0)
        shape = tank_shape(tank)
        assert math.dist(shape.pieces[0].nearest(at), at) == pytest.approx(0.0, abs=1e-6)


def test_what_stays_in_it_depends_on_its_tilt(dunlin: Plan, catalogue: Catalogue) -> None:
    """Dunlin's outlet is at the bottom near the rear end: level it gives all, with that end down a
    little stays behind it, with that end up much before it.
    """
    left = []
    for tilt in (-10.0, 0.0, 10.0):
        found = supply(Job(_set(dunlin, catalogue, tilt_along_deg=tilt), catalogue))
        assert found is not None
        left.append(found.unusable_l)
    assert left[1] == pytest.approx(0.0, abs=1e-6)
    assert 0.01 < left[0] < left[2] / 3


def test_a_tilted_tank_takes_the_room_that_it_takes(dunlin: Plan, catalogue: Catalogue) -> None:
    """Its low corner hangs lower: the ground comes nearer by (l/2) sin a + (h/2) (cos a - 1)."""
    straight = _find(dunlin, catalogue, "fuel.tank_ground")
    tilted = _find(_set(dunlin, catalogue, tilt_along_deg=20.0), catalogue, "fuel.tank_ground")
    tank = dunlin.fuel.tank
    assert tank is not None
    a = math.radians(20)
    lower = tank.length_mm / 2 * math.sin(a) + tank.height_mm / 2 * (math.cos(a) - 1)
    assert straight.measured is not None
    assert tilted.measured == pytest.approx(straight.measured - lower, abs=0.01)


def test_a_filler_that_is_turned_away_is_told(dunlin: Plan, catalogue: Catalogue) -> None:
    same = _find(dunlin, catalogue, "fuel.filler_flank", "filler")
    turned = _set(dunlin, catalogue, turn_deg=180.0)
    other = _find(turned, catalogue, "fuel.filler_flank", "filler")
    assert (same.verdict, other.verdict) == (CLEAR, Verdict.TIGHT)
    steep = _set(dunlin, catalogue, tilt_across_deg=30.0)  # its left side down: the neck sinks
    assert _find(steep, catalogue, "fuel.filler_fall", "filler").verdict is OVER


# --- dents ---


def test_dents_take_what_they_are_large(dunlin: Plan, catalogue: Catalogue) -> None:
    dent = Indent(
        id="d", of="top", x_mm=100.0, y_mm=60.0, length_mm=80.0, width_mm=100.0, depth_mm=30.0
    )
    tank = _stood(indents=(dent,))
    lost = vessel_of(TANK).full_l - vessel_of(tank).full_l
    assert lost == pytest.approx(80 * 100 * 30 / 1e6, rel=1e-6)
    half = vessel_of(tank).bottom_mm + 100.0  # under the dent nothing is lost
    assert vessel_of(tank).litres(half) == pytest.approx(vessel_of(TANK).litres(half))
    tilted = vessel_of(_stood(20.0, 12.0, -9.0, indents=(dent,)))
    assert tilted.full_l == pytest.approx(vessel_of(tank).full_l, rel=2e-4)
    added = apply(dunlin, AddIndent(item=dent.model_copy(update={"length_mm": 60.0})), catalogue)
    assert added.fuel.tank is not None
    assert len(added.fuel.tank.indents) == 1


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"length_mm": 900.0}, "beyond the tank"),
        ({"depth_mm": 150.0}, "half as deep"),
    ],
)
def test_dents_that_cannot_be_are_refused(values: dict[str, float], words: str) -> None:
    dent = {"id": "d", "x_mm": 10.0, "y_mm": 10.0, "length_mm": 40.0, "width_mm": 40.0, **values}
    with pytest.raises(ValidationError, match=words):
        _stood(indents=({**dent},))


# --- how it is fitted ---


def test_plates_behind_a_thin_sheet_on_paper(dunlin: Plan, catalogue: Catalogue) -> None:
    """Five times the full weight on four bolts, sheared off round a square plate's edge at 1 N/mm²
    of a sheet of 0.8 mm.
    """
    plan = _set(dunlin, catalogue, bracket_on="sheet", sheet_mm=0.8)
    tank = plan.fuel.tank
    assert tank is not None
    job = Job(plan, catalogue)
    weight = vessel_of(tank).full_l * (
        catalogue.fuel_equipment.grade(plan.fuel.grade).density_kg_m3 / 1000 + 0.12
    )
    assert tank_weight_kg(job, tank) == pytest.approx(weight)
    side = weight * 9.80665 * 5 / 4 / (4 * 0.8 * 1.0)
    assert needed_plate_mm(job, tank) == pytest.approx(max(side, 40.0))
    finding = _find(plan, catalogue, "fuel.bracket_plate")
    assert finding.verdict is OVER
    offered = remedies_for(job, finding)
    assert len(offered) == 2
    for remedy in offered:
        cured = apply(plan, remedy.command, catalogue)
        assert check(cured, catalogue, ("fuel",)).find("fuel.bracket_plate", "tank") is None or (
            _find(cured, catalogue, "fuel.bracket_plate").verdict is not OVER
        )
    plated = apply(plan, offered[0].command, catalogue)
    needed = {line.part: line.needed for line in parts_list(Job(plated, catalogue))}
    assert needed["spreader-plate"] == 4
    told = {step.title: say(step.text) for step in steps(Job(plated, catalogue))}
    assert "Plates of" in told["Fit the tank"]


def test_thinner_sheet_never_needs_smaller_plates(dunlin: Plan, catalogue: Catalogue) -> None:
    sides = []
    for sheet in (0.5, 0.8, 1.2, 3.0):
        plan = _set(dunlin, catalogue, bracket_on="sheet", sheet_mm=sheet)
        assert plan.fuel.tank is not None
        sides.append(needed_plate_mm(Job(plan, catalogue), plan.fuel.tank))
    assert sides == sorted(sides, reverse=True)


@pytest.mark.parametrize(
    ("x", "y", "is_flat"),
    [(115.0, 210.0, True), (10.0, 210.0, False), (115.0, 20.0, False), (60.0, 210.0, False)],
)
def test_a_cut_outlet_needs_a_flat(
    dunlin: Plan, catalogue: Catalogue, x: float, y: float, is_flat: bool
) -> None:
    """Away from the ends, the rounded edges, and a dent from 40 to 70 along its bottom."""
    dent = Indent(
        id="d", of="bottom", x_mm=40.0, y_mm=0.0, length_mm=30.0, width_mm=420.0, depth_mm=10.0
    )
    plan = apply(dunlin, AddIndent(item=dent), catalogue)
    plan = _set(plan, catalogue, outlet_made="cut", outlet_x_mm=x, outlet_y_mm=y)
    finding = _find(plan, catalogue, "fuel.outlet_flat", "outlet")
    assert (finding.verdict is OVER) is not is_flat


def test_a_dent_under_the_outlet_is_left(dunlin: Plan, catalogue: Catalogue) -> None:
    dent = Indent(
        id="d", of="bottom", x_mm=170.0, y_mm=60.0, length_mm=40.0, width_mm=100.0, depth_mm=8.0
    )
    plan = apply(dunlin, AddIndent(item=dent), catalogue)
    plan = _set(plan, catalogue, outlet_made="cut")
    finding = _find(plan, catalogue, "fuel.outlet_flat", "outlet")
    assert finding.verdict is OVER
    offered = remedies_for(Job(plan, catalogue), finding)
    assert offered
    cured = apply(plan, offered[0].command, catalogue)
    assert _find(cured, catalogue, "fuel.outlet_flat", "outlet").verdict is not OVER


def test_a_filler_under_a_lid(catalogue: Catalogue) -> None:
    """Coot's can is filled in under a lid of the locker: 200 mm of can with a hand round it."""
    coot = demo_plan("coot")
    wide = _find(coot, catalogue, "fuel.filler_lid", "filler")
    assert (wide.measured, wide.band.minimum, wide.verdict) == (320.0, 280.0, CLEAR)
    narrow = _set(coot, catalogue, lid_mm=230.0)
    finding = _find(narrow, catalogue, "fuel.filler_lid", "filler")
    assert finding.verdict is OVER
    cured = apply(narrow, remedies_for(Job(narrow, catalogue), finding)[0].command, catalogue)
    assert _find(cured, catalogue, "fuel.filler_lid", "filler").verdict is not OVER
    for leaf in ("lid_drain", "lid_tight"):
        leaks = apply(coot, set_value(f"fuel.tank.{leaf}", False), catalogue)
        spilt = _find(leaks, catalogue, "fuel.lid_drain", "filler")
        assert spilt.verdict is OVER
        mended = apply(leaks, remedies_for(Job(leaks, catalogue), spilt)[0].command, catalogue)
        assert _find(mended, catalogue, "fuel.lid_drain", "filler").verdict is CLEAR
    bare = _set(coot, catalogue, lid="none")
    assert check(bare, catalogue, ("fuel",)).find("fuel.filler_lid", "filler") is None


def test_where_a_point_of_it_is(dunlin: Plan) -> None:
    """Turned by 90° about its middle the low front left corner comes to the right front."""
    tank = _stood(90.0)
    at = as_it_stands(tank, (2000.0, -400.0, -450.0))
    middle = tank.middle_mm
    assert at == pytest.approx((middle[0] + 130, middle[1] - 250, -450.0))
    assert dunlin.fuel.tank is not None
    assert as_it_stands(dunlin.fuel.tank, (1.0, 2.0, 3.0)) == pytest.approx((1.0, 2.0, 3.0))


@pytest.mark.parametrize("turn_deg", range(0, 360, 45))
def test_at_the_most_that_can_be_typed_it_still_holds_what_it_holds(turn_deg: int) -> None:
    """Tilted 30° both ways aboard a boat that heels 40° and trims 20°: every surface has its
    litres, more of them the higher it stands.
    """
    vessel = vessel_of(_stood(float((turn_deg + 180) % 360 - 180), 30.0, 30.0))
    for parked in parked_attitudes(Lean(20.0, 40.0, together=True)):
        slopes = parked.slopes
        levels = [vessel.level_mm(vessel.full_l * share, *slopes) for share in (0.1, 0.5, 0.9)]
        assert levels == sorted(levels)
        back = [vessel.litres(level, *slopes) / vessel.full_l for level in levels]
        assert back == pytest.approx([0.1, 0.5, 0.9], abs=1e-4)
        assert levels[-1] <= vessel.full_mm(*slopes) + 1e-6
