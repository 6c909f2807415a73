"""The spot's checks against distances that can be measured on the drawing by hand."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import AddItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.search import nearest_clear
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import demo_plan


def _box(
    solid_id: str, kind: str, low: tuple[float, float, float], size: tuple[float, float, float]
) -> BoxSolid:
    return BoxSolid(
        id=solid_id,
        name=solid_id,
        kind=kind,
        x_mm=low[0],
        y_mm=low[1],
        z_mm=low[2],
        length_mm=size[0],
        width_mm=size[1],
        height_mm=size[2],
    )


def _found(rule: str, subject: str, *commands: Command) -> Finding:
    """The finding of an almost empty van with the Bothy 40 at 1500 behind the datum, on the centre
    line.
    """
    book, plan = load_catalogue(), demo_plan("blank")
    for command in (ChooseHeater(sheet="bothy-40"), PlaceHeater(x_mm=1500, y_mm=0), *commands):
        plan = apply(plan, command, book)
    finding = check(plan, book, ("spot",)).find(rule, subject)
    assert finding is not None
    return finding


def _add(solid: BoxSolid) -> AddItem:
    return AddSolid(item=solid)


def test_hole_to_a_member() -> None:
    """Hole of 127 round x = 1500: its edge at 1563.5. A member from 1580: 16.5 left, 15 wanted."""
    finding = _found(
        "spot.hole", "turret-hole:m", _add(_box("m", "member", (1580, -800, -70), (60, 1600, 60)))
    )
    assert finding.measured == pytest.approx(16.5)
    assert (finding.verdict, finding.margin, finding.hazard) == (
        "tight",
        pytest.approx(1.5),
        "structure",
    )


def test_a_hole_into_a_member_is_negative() -> None:
    finding = _found(
        "spot.hole", "turret-hole:m", _add(_box("m", "member", (1540, -800, -70), (60, 1600, 60)))
    )
    assert finding.measured == pytest.approx(-23.5)
    assert "cuts \ue00023.5 mm\ue001 into m" in finding.sentence


def test_what_a_drill_cannot_reach_does_not_stop_the_hole() -> None:
    low = _box("low", "spare-wheel", (1400, -300, -400), (600, 600, 150))
    with pytest.raises(AssertionError):
        _found("spot.hole", "turret-hole:low", _add(low))
    assert _found("spot.pipe_room", "exhaust-port", _add(low)).subject_name == "low"


def test_room_below_a_port() -> None:
    """The floor's underside lies at -7 (1 steel, 6 ribs); a tank's top at -107 leaves 100 of the
    140 wanted.
    """
    finding = _found(
        "spot.pipe_room",
        "exhaust-port",
        _add(_box("t", "fuel-tank", (1300, -300, -300), (500, 600, 193))),
    )
    assert finding.measured == pytest.approx(100)
    assert finding.verdict == "over"


def test_floor_stack_against_the_collar() -> None:
    """9 plywood, 1 steel, 6 ribs: 16 to pass."""
    assert _found("spot.stack", "turret").measured == pytest.approx(16)
    assert (
        _found(
            "spot.stack", "turret", set_value("vehicle.floor.layers.l1.thickness_mm", 60)
        ).verdict
        == "over"
    )
    assert _found(
        "spot.stack", "turret-long", set_value("spot.mount", "turret-long")
    ).margin == pytest.approx(10 - 45)  # its ribs' pitch is not known: they do not count


def test_packing_and_rebate_count() -> None:
    assert _found(
        "spot.stack", "turret", set_value("spot.packing_mm", 20)
    ).measured == pytest.approx(36)
    assert _found("spot.stack", "turret", set_value("spot.rebate_mm", 5)).measured == pytest.approx(
        11
    )


def test_clear_air_at_both_ends() -> None:
    """Body 386 long, its middle 20 before the mount: from 1287 to 1673. The bulkhead at 140, a box
    at 1800.
    """
    box = _add(_box("b", "furniture", (1800, -200, 0), (300, 400, 500)))
    assert _found("spot.inlet", "inlet", box).measured == pytest.approx(1147)
    outlet = _found("spot.outlet", "outlet", box)
    assert (outlet.measured, outlet.subject_name) == (pytest.approx(127), "b")
    assert outlet.verdict == "over"


def test_the_air_turns_with_the_heater() -> None:
    """Turned to 90° the warm end points right: from the middle line 173 to the wall at 840."""
    outlet = _found("spot.outlet", "outlet", set_value("spot.yaw_deg", 90))
    assert (outlet.measured, outlet.subject_name) == (pytest.approx(840 - 173), "the right wall")


def test_what_stands_beside_the_strip_does_not_stop_the_air() -> None:
    beside = _add(_box("b", "furniture", (1700, 74, 0), (300, 400, 500)))
    assert _found("spot.outlet", "outlet", beside).subject_name == "the rear doors"


def test_a_turned_box_counts_with_its_own_outline_not_its_bounds() -> None:
    """A box turned 45° reaches into the strip with one corner only."""
    turned = _box("b", "furniture", (2000, 273, 0), (400, 400, 500)).model_copy(
        update={"yaw_deg": 45.0}
    )
    outlet = _found("spot.outlet", "outlet", _add(turned))
    # its nearest point in the strip |y| <= 73: the lower corner is at (2200, 190.2), so none at all
    assert outlet.subject_name == "the rear doors"


def test_gap_above() -> None:
    """The floor's top at 9, the body 154 high: a shelf at 200 leaves 37 of the 35 wanted."""
    finding = _found(
        "spot.top", "top", _add(_box("s", "furniture", (1200, -400, 200), (700, 800, 30)))
    )
    assert (finding.measured, finding.verdict) == (pytest.approx(37), "tight")


def test_body_into_furniture() -> None:
    finding = _found(
        "spot.body", "b", _add(_box("b", "furniture", (1660, -400, 0), (500, 800, 700)))
    )
    assert finding.measured == pytest.approx(-13)


def test_a_heater_under_the_floor_looks_below(catalogue: Catalogue) -> None:
    quarto = demo_plan("quarto")
    found = check(quarto, catalogue, ("spot",))
    assert {f.subject for f in found.of("spot") if f.rule == "spot.body"} <= {
        s.id for s in quarto.vehicle.solids
    }
    assert found.find("spot.top", "top") is None


@pytest.mark.parametrize("command", [ChooseHeater(sheet=None), set_value("spot.mount", "hook")])
def test_what_is_missing_is_said(heron: Plan, catalogue: Catalogue, command: Command) -> None:
    findings = check(apply(heron, command, catalogue), catalogue, ("spot",)).findings
    assert [f.rule for f in findings] == ["spot.place"]
    assert findings[0].verdict == "unknown"


@given(st.integers(-400, 400), st.integers(-300, 300))
def test_shifting_everything_alike_changes_no_margin(dx: int, dy: int) -> None:
    """The checks know no place but relative ones: shift members and heater
    together, margins stay.
    """
    book, plan = load_catalogue(), demo_plan("wren")
    spot = plan.spot
    assert spot is not None
    before = {
        f.subject: f.measured
        for f in check(plan, book, ("spot",)).of("spot")
        if f.rule == "spot.hole" and "member" in f.subject
    }
    solids = tuple(
        s.model_copy(update={"x_mm": s.x_mm + dx, "y_mm": s.y_mm + dy})
        for s in plan.vehicle.solids
        if s.kind == "member"
    )
    moved = plan.model_copy(
        update={
            "vehicle": plan.vehicle.model_copy(update={"solids": solids}),
            "spot": spot.model_copy(update={"x_mm": spot.x_mm + dx, "y_mm": spot.y_mm + dy}),
        }
    )
    after = {
        f.subject: f.measured
        for f in check(moved, book, ("spot",)).of("spot")
        if f.rule == "spot.hole"
    }
    for subject, measured in before.items():
        assert after[subject] == pytest.approx(measured)


def test_the_nearest_clear_place_is_clear(catalogue: Catalogue) -> None:
    plan = apply(demo_plan("wren"), ChooseHeater(sheet="bothy-22"), catalogue)
    remedy = nearest_clear(check(plan, catalogue).job)
    assert remedy is not None
    after = check(apply(plan, remedy.command, catalogue), catalogue, ("spot",))
    assert after.tally()["over"] == 0


def test_no_clear_place_is_none(wren: Plan, catalogue: Catalogue) -> None:
    """The big body with its half metre of clear air has no place near the
    wished-for one in Wren.
    """
    assert nearest_clear(check(wren, catalogue).job) is None
