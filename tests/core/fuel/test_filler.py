"""Filling a tank: corridor, angle, reach, flank; the pump's ticking at the bed; a profile of one's
own; ways for the line.
"""

from __future__ import annotations

import math

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.commands import SetProfile, SetSource
from gale_nook.core.fuel.filler import neck_of
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.line_proposals import line_proposals
from gale_nook.core.fuel.noise import at_distance_db, floor_loss_db, floor_mass_kg_m2
from gale_nook.core.fuel.tank import outline_of, span_at, vessel_of
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import OwnTank
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.remedies import remedies_for
from gale_nook.core.vehicle.commands import AddSolid


def _find(plan: Plan, catalogue: Catalogue, rule: str, subject: str = "filler") -> Finding:
    found = check(plan, catalogue, ("fuel",)).find(rule, subject)
    assert found is not None
    return found


def _tank(plan: Plan, catalogue: Catalogue, **values: object) -> Plan:
    for leaf, value in values.items():
        plan = apply(plan, set_value(f"fuel.tank.{leaf}", value), catalogue)  # type: ignore[arg-type]
    return plan


# --- filler ---


def test_a_filler_points_where_it_is_told() -> None:
    tank = OwnTank(
        x_mm=0,
        y_mm=0,
        z_mm=0,
        length_mm=400,
        width_mm=200,
        height_mm=160,
        filler="right",
        filler_deg=30,
    )
    at, way = neck_of(tank)
    assert at == (200, 200, 120)
    assert way == pytest.approx((0, math.cos(math.radians(30)), 0.5))
    assert neck_of(tank.model_copy(update={"filler": "top"}))[1] == (0, 0, 1)


def test_a_tank_that_was_just_begun_can_be_filled(heron: Plan, catalogue: Catalogue) -> None:
    """Outside and inside, from the flank that it is on."""
    outside = apply(heron, SetSource(source="tank-outside"), catalogue)
    for rule in ("fuel.filler", "fuel.filler_fall", "fuel.filler_reach"):
        assert _find(outside, catalogue, rule).verdict is not Verdict.OVER, rule


def test_from_above_under_the_floor_it_cannot_be_filled(wren: Plan, catalogue: Catalogue) -> None:
    """The nozzle runs into the body; from the side at an angle it does not. Every
    remedy clears it.
    """
    finding = _find(wren, catalogue, "fuel.filler")
    assert finding.verdict is Verdict.OVER
    assert finding.subject_name == "the body"
    offered = remedies_for(Job(wren, catalogue), finding)
    assert offered
    for remedy in offered:
        assert (
            _find(apply(wren, remedy.command, catalogue), catalogue, "fuel.filler").verdict
            is not Verdict.OVER
        )


def test_a_can_needs_a_steeper_filler_than_a_nozzle(wren: Plan, catalogue: Catalogue) -> None:
    flat = _tank(wren, catalogue, filler="right", filler_deg=20.0)
    assert _find(flat, catalogue, "fuel.filler_fall").verdict is Verdict.CLEAR
    can = _tank(flat, catalogue, filled_with="can")
    assert _find(can, catalogue, "fuel.filler_fall").verdict is Verdict.OVER
    assert (
        _find(can, catalogue, "fuel.filler").measured
        < _find(flat, catalogue, "fuel.filler").measured
    )  # type: ignore[operator]


def test_reach_is_measured_to_the_edge_that_it_is_filled_from(
    wren: Plan, catalogue: Catalogue
) -> None:
    right = _tank(wren, catalogue, filler="right")
    half = wren.vehicle.shell.outer_width_mm / 2
    tank = wren.fuel.tank
    assert tank is not None
    assert _find(right, catalogue, "fuel.filler_reach").measured == pytest.approx(
        half - tank.y_mm - tank.width_mm
    )
    left = _tank(wren, catalogue, filler="left")
    assert _find(left, catalogue, "fuel.filler_reach").verdict is Verdict.OVER


def test_the_other_flank_is_a_nuisance_not_more(wren: Plan, catalogue: Catalogue) -> None:
    filler = BoxSolid(
        id="cap",
        name="fuel filler",
        kind="fuel-filler",
        material="steel",
        x_mm=0,
        y_mm=-900,
        z_mm=100,
        length_mm=80,
        width_mm=40,
        height_mm=80,
    )
    surveyed = apply(
        _tank(wren, catalogue, filler="right"),
        AddSolid(item=filler),
        catalogue,
    )
    assert _find(surveyed, catalogue, "fuel.filler_flank").verdict is Verdict.TIGHT
    same = apply(surveyed, set_value("vehicle.solids.cap.y_mm", 860.0), catalogue)
    assert _find(same, catalogue, "fuel.filler_flank").verdict is Verdict.CLEAR


# --- ticking ---


def test_a_source_spreads_and_a_floor_keeps_back() -> None:
    """6 dB for twice the distance, and 6 for twice the mass; 10 kg/m² at 500 Hz keep 27 dB back."""
    assert at_distance_db(54, 2) == pytest.approx(54 - 6.02 - 8, abs=0.01)
    assert floor_loss_db(20) - floor_loss_db(10) == pytest.approx(6.02, abs=0.01)
    assert floor_loss_db(10) == pytest.approx(26.98, abs=0.01)
    assert floor_loss_db(0) == 0


def test_a_pump_fixed_hard_is_heard_more_and_rubber_cures_it(
    heron: Plan, catalogue: Catalogue
) -> None:
    bed = next(s.id for s in heron.vehicle.solids if s.kind == "bed")
    soft = _find(heron, catalogue, "fuel.noise", bed)
    hard_plan = apply(heron, set_value("fuel.line.pump.rubber", False), catalogue)
    hard = _find(hard_plan, catalogue, "fuel.noise", bed)
    assert hard.measured - soft.measured == pytest.approx(catalogue.fuel_equipment.pump.hard_db)  # type: ignore[operator]
    assert floor_mass_kg_m2(Job(heron, catalogue)) > 7.8  # a millimetre of steel at least
    assert hard.verdict is Verdict.OVER
    words = [remedy.sentence for remedy in remedies_for(Job(hard_plan, catalogue), hard)]
    assert "Hang the pump in a rubber mount." in words


# --- profile ---

L_SHAPE = ((0.0, 0.0), (300.0, 0.0), (300.0, 100.0), (150.0, 100.0), (150.0, 200.0), (0.0, 200.0))


def test_a_profile_holds_what_its_area_says(wren: Plan, catalogue: Catalogue) -> None:
    """An L of 45,000 mm² without walls, 380 mm long; filled to the step it is the lower bar."""
    plan = _tank(apply(wren, SetProfile(corners=L_SHAPE), catalogue), catalogue, wall_mm=0.0)
    tank = plan.fuel.tank
    assert tank is not None
    assert tank.size_mm == (380, 300, 200)
    vessel = vessel_of(tank)
    assert vessel.full_l == pytest.approx(45_000 * 380 / 1e6)
    assert vessel.litres(tank.z_mm + 100) == pytest.approx(30_000 * 380 / 1e6)
    assert supply(Job(plan, catalogue)) is not None


def test_the_surface_reaches_from_wall_to_wall() -> None:
    tank = OwnTank(
        shape="profile",
        profile=L_SHAPE,
        x_mm=1000,
        y_mm=0,
        z_mm=-300,
        width_mm=400,
        lying="across",
        wall_mm=0,
    )
    section = outline_of(tank)
    assert span_at(section, -250) == pytest.approx((1000, 1300))
    assert span_at(section, -150) == pytest.approx((1000, 1150))
    assert span_at(section, 50) is None


@pytest.mark.parametrize(
    ("corners", "problem"),
    [
        (((0, 0), (300, 0), (0, 200), (300, 200)), "crosses itself"),
        (((0, 0), (-10, 0), (50, 90)), "none lies left"),
        (((0, 0), (100, 0), (200, 0)), "next to nothing"),
    ],
)
def test_profiles_that_cannot_be_are_refused(
    wren: Plan, catalogue: Catalogue, corners: tuple, problem: str
) -> None:
    with pytest.raises(BadInput, match=problem):
        apply(wren, SetProfile(corners=corners), catalogue)


# --- ways ---


def test_ways_for_the_line_differ_and_the_first_breaks_the_fewest_limits(
    heron: Plan, catalogue: Catalogue
) -> None:
    ways = line_proposals(Job(heron, catalogue))
    assert 2 <= len(ways) <= 3
    assert ways[0].over == ()
    assert len({way.line.nodes for way in ways}) == len(ways)
    counts = [len(way.over) for way in ways]
    assert counts == sorted(counts)
    for way in ways:
        taken = apply(heron, way.command, catalogue)
        over = [f for f in check(taken, catalogue, ("fuel",)).findings if f.verdict is Verdict.OVER]
        assert len(over) == len(way.over)
        assert 0 <= way.clipped_percent <= 100
        assert way.line.of_kind("pump")
