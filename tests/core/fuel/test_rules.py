"""The fuel's checks, their remedies, the six sources, and first proposals."""

from __future__ import annotations

from typing import Any

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import parts_list, steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.commands import PutLine, SetSource, StartLine
from gale_nook.core.fuel.hydraulics import fuel_heads
from gale_nook.core.fuel.items import AddLinePart
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.sources import against, night_fuel_l, offers
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import LinePart, OwnTank
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.demo.load import demo_plan


def _find(plan: Plan, catalogue: Catalogue, rule: str, subject: str = "-") -> Finding:
    found = check(plan, catalogue, ("fuel",)).find(rule, subject)
    assert found is not None, rule
    return found


def _with(plan: Plan, catalogue: Catalogue, *pairs: tuple[str, Any]) -> Plan:
    for address, value in pairs:
        plan = apply(plan, set_value(f"fuel.{address}", value), catalogue)
    return plan


def test_heron_is_clean_and_wren_has_every_main_mistake(
    heron: Plan, wren: Plan, catalogue: Catalogue
) -> None:
    assert check(heron, catalogue, ("fuel",)).tally()["over"] == 0
    over = {f.rule for f in check(wren, catalogue, ("fuel",)).findings if f.verdict is Verdict.OVER}
    assert over >= {
        "fuel.pump",
        "fuel.pump_tilt",
        "fuel.rubber",
        "fuel.hump",
        "fuel.suction",
        "fuel.tank_vent",
        "fuel.tank_guard",
        "fuel.order",
        "fuel.exhaust",
        "fuel.wax",
        "fuel.soft",
        "fuel.clips",
        "fuel.filler",
    }


SECOND_FILTER = LinePart(id="f-2", kind="filter", at_mm=90)
MEMBER_UNDER_THE_PORT = ("fuel.near", "fuel", "member-2")


@pytest.mark.slow
def test_every_mistake_in_wren_is_mended_through_its_remedies(
    wren: Plan, catalogue: Catalogue
) -> None:
    plan = wren
    for _ in range(30):
        done = check(plan, catalogue, ("fuel",))
        over = [
            f for f in done.findings if f.verdict is Verdict.OVER and f.key != MEMBER_UNDER_THE_PORT
        ]
        if not over:
            break
        cures = next((found for f in over if (found := remedies_for(done.job, f))), ())
        assert cures, [say(f.sentence) for f in over]
        plan = apply(plan, cures[0].command, catalogue)
    left = [f.key for f in check(plan, catalogue, ("fuel",)).findings if f.verdict is Verdict.OVER]
    assert left in ([], [MEMBER_UNDER_THE_PORT])


@pytest.mark.parametrize(
    ("address", "value", "rule", "subject"),
    [
        ("line.pump.forwards", False, "fuel.pump", "-"),
        ("line.pump.rubber", False, "fuel.rubber", "-"),
        ("line.pump.tilt_deg", 5, "fuel.pump_tilt", "-"),
        ("line.pump.tilt_deg", -45, "fuel.pump_tilt", "-"),
        ("line.parts.filter.at_mm", 600, "fuel.order", "-"),
        ("grade", "summer", "fuel.wax", "summer"),
        ("line.pressure", "rubber-35", "fuel.soft", "pressure"),
        ("line.suction", "rubber-35", "fuel.soft", "suction"),
        ("stand_pipe_mm", 20, "fuel.reserve", "tip"),
    ],
)
def test_each_slip_is_over(
    heron: Plan, catalogue: Catalogue, address: str, value: Any, rule: str, subject: str
) -> None:
    assert (
        _find(_with(heron, catalogue, (address, value)), catalogue, rule, subject).verdict
        is Verdict.OVER
    )


def test_the_settings_decide_on_soft_suction_and_the_filter(
    heron: Plan, catalogue: Catalogue
) -> None:
    soft = _with(heron, catalogue, ("line.suction", "rubber-35"), ("soft_suction", "allowed"))
    assert check(soft, catalogue, ("fuel",)).find("fuel.soft", "suction") is None
    bare = apply(heron, RemoveItem(collection="fuel.line.parts", item_id="filter"), catalogue)
    assert _find(bare, catalogue, "fuel.order").verdict is Verdict.OVER
    assert (
        check(_with(bare, catalogue, ("filter", "optional")), catalogue, ("fuel",)).find(
            "fuel.order", "-"
        )
        is None
    )


def test_a_hump_is_a_high_point_after_which_the_line_falls(
    heron: Plan, catalogue: Catalogue
) -> None:
    line = heron.fuel.line
    assert line is not None
    end = port_point(Job(heron, catalogue), heater_port(Job(heron, catalogue), "fuel"))
    run = fuel_run(Job(heron, catalogue))
    assert run is not None
    high, low = max(run.supply.start[2], end[2]) + 40, min(run.supply.start[2], end[2]) - 60
    middle = ((run.supply.start[0] + end[0]) / 2, (run.supply.start[1] + end[1]) / 2)

    def over(z: float) -> list[str]:
        node = RouteNode(id="n-9", x_mm=middle[0], y_mm=middle[1], z_mm=z)
        plan = apply(heron, PutLine(line=line.model_copy(update={"nodes": (node,)})), catalogue)
        return [
            f.subject
            for f in check(plan, catalogue, ("fuel",)).findings
            if f.rule == "fuel.hump" and f.verdict is Verdict.OVER
        ]

    assert over(high) == ["corner-1"]
    assert over(low) == []


# --- sources ---


def test_sources_that_cannot_be_say_why(wren: Plan, heron: Plan, catalogue: Catalogue) -> None:
    quarto = demo_plan("quarto")
    electric = {offer.source: offer.against for offer in offers(Job(wren, catalogue), None)}
    assert [source for source, why in electric.items() if not why] == [
        "tank-outside",
        "tank-inside",
    ]
    assert "no fuel tank" in electric["take-off"]
    tee = against(Job(quarto, catalogue), "tee-feed")
    assert "Croft 52 forbids a tee" in tee
    plan = apply(quarto, SetSource(source="tee-feed"), catalogue)
    assert _find(plan, catalogue, "fuel.source", "tee-feed").verdict is Verdict.OVER
    petrol = heron.model_copy(
        update={"vehicle": heron.vehicle.model_copy(update={"fuel": "petrol"})}
    )
    assert "petrol" in against(Job(petrol, catalogue), "stand-pipe")


def test_a_feed_under_pressure_is_never_tapped(heron: Plan, catalogue: Catalogue) -> None:
    """A sheet that allows a tee is not enough: the lift pump has to be found out, and must not sit
    in the tank.
    """
    byre = apply(heron, ChooseHeater(sheet="byre-50"), catalogue)
    wanted = _with(byre, catalogue, ("tee", "feed"))

    def why(where: str) -> str:
        return against(Job(_with(wanted, catalogue, ("lift_pump", where)), catalogue), "tee-feed")

    assert "Find out first" in against(Job(wanted, catalogue), "tee-feed")
    assert "under pressure" in why("tank")
    assert why("engine") == ""
    back = _with(byre, catalogue, ("tee", "return"))
    assert against(Job(back, catalogue), "tee-return") == ""
    settled = _with(back, catalogue, ("lift_pump", "engine"))
    assert "does not want" in against(Job(settled, catalogue), "tee-feed")


def test_a_tee_is_told_by_its_tank_and_says_so_where_that_is_not_known(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Heads follow from the only surveyed tank; with the tank not surveyed the
    source asks for it.
    """
    byre = _with(
        apply(heron, ChooseHeater(sheet="byre-50"), catalogue),
        catalogue,
        ("tee", "feed"),
        ("lift_pump", "engine"),
    )
    plan = apply(byre, SetSource(source="tee-feed"), catalogue)
    for leaf, value in (("tap_x_mm", 900.0), ("tap_y_mm", -400.0), ("tap_z_mm", -180.0)):
        plan = _with(plan, catalogue, (leaf, value))
    assert fuel_heads(Job(plan, catalogue))
    tank = next(solid.id for solid in plan.vehicle.solids if solid.kind == "fuel-tank")
    blind = apply(plan, RemoveItem(collection="vehicle.solids", item_id=tank), catalogue)
    asked = _find(blind, catalogue, "fuel.source")
    assert asked.verdict is Verdict.UNKNOWN
    assert "Survey the tank" in asked.sentence


def test_nights_are_usable_litres_by_the_simulated_nights_use(
    heron: Plan, catalogue: Catalogue
) -> None:
    job = Job(heron, catalogue)
    per_night = night_fuel_l(job)
    assert per_night is not None
    offer = next(o for o in offers(job, per_night) if o.source == "take-off")
    assert offer.usable_l is not None
    assert offer.nights == pytest.approx(offer.usable_l / per_night)
    more = next(
        o
        for o in offers(Job(_with(heron, catalogue, ("reserve_l", 30)), catalogue), per_night)
        if o.source == "take-off"
    )
    assert more.usable_l is not None
    assert more.usable_l < offer.usable_l


def test_without_source_tank_or_heater_it_says_what_is_missing(catalogue: Catalogue) -> None:
    blank = demo_plan("blank")
    assert _find(blank, catalogue, "fuel.source").verdict is Verdict.UNKNOWN
    for plan in (blank, apply(blank, SetSource(source="tank-outside"), catalogue)):
        with pytest.raises(BadInput, match="choose a heater and a spot first"):
            apply(plan, StartLine(), catalogue)
    tee = apply(demo_plan("heron"), SetSource(source="tee-return"), catalogue)
    with pytest.raises(BadInput, match="say first where the fuel comes from"):
        apply(tee, StartLine(), catalogue)


def test_a_started_line_is_complete_and_breaks_nothing(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(apply(heron, PutLine(line=None), catalogue), StartLine(), catalogue)
    line = plan.fuel.line
    assert line is not None
    assert {part.kind for part in line.parts} == {"filter", "pump", "clip"}
    assert line.of_kind("filter")[0].at_mm < line.of_kind("pump")[0].at_mm
    assert check(plan, catalogue, ("fuel",)).tally()["over"] == 0


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"edge_mm": 200}, "larger than the box"),
        ({"shape": "profile"}, "three corners"),
        ({"wall_mm": 30, "height_mm": 50}, "no room"),
    ],
)
def test_a_tank_that_cannot_be_is_refused(changes: dict[str, Any], said: str) -> None:
    good = {
        "x_mm": 0,
        "y_mm": 0,
        "z_mm": -300,
        "length_mm": 400,
        "width_mm": 250,
        "height_mm": 200,
        "edge_mm": 20,
    }
    with pytest.raises(ValueError, match=said):
        OwnTank.model_validate({**good, **changes})


@pytest.mark.parametrize(
    "command",
    [
        SetSource(source="tank-inside"),
        PutLine(line=None),
        StartLine(),
        AddLinePart(item=SECOND_FILTER),
    ],
    ids=lambda c: c.op,
)
def test_edits_of_the_fuel_hold(heron: Plan, catalogue: Catalogue, command: Command) -> None:
    assert apply(heron, command, catalogue).fuel != heron.fuel or isinstance(command, StartLine)


@pytest.mark.parametrize("address", ["fuel.grade", "fuel.line.suction", "fuel.line.pressure"])
def test_names_that_the_catalogue_lacks_are_refused(
    heron: Plan, catalogue: Catalogue, address: str
) -> None:
    with pytest.raises(BadInput, match="there is no 'moonshine'"):
        apply(heron, set_value(address, "moonshine"), catalogue)


def test_the_build_sheet_tells_how_to_get_at_the_fuel(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(heron, catalogue)
    told = {step.title: say(step.text) for step in steps(job)}
    assert "Support it" in told["Get at the tank's top"]
    assert "strokes" in told["Prime the line"]
    parts = {line.part: line.needed for line in parts_list(job)}
    assert parts["fuel-pump"] == 1
    assert fuel_run(job) is not None
    assert parts["fuel-line"] >= fuel_run(job).length_mm
    assert parts["fuel-clip"] == len(fuel_run(job).line.of_kind("clip"))


@pytest.mark.parametrize("y_mm", [-840.0, -780.0])
def test_a_bend_that_does_not_fit_is_over_and_can_be_cured(
    y_mm: float, catalogue: Catalogue
) -> None:
    """A line that comes back to the heater from behind it turns sharper than its bend."""
    plan = demo_plan("plover")
    assert _find(plan, catalogue, "fuel.bend_room").verdict is Verdict.CLEAR
    behind = _with(plan, catalogue, ("line.nodes.n-1.y_mm", y_mm), ("line.nodes.n-1.z_mm", -34.0))
    found = _find(behind, catalogue, "fuel.bend_room")
    assert found.verdict is Verdict.OVER
    assert found.measured is not None
    assert found.measured < -50
    cures = remedies_for(Job(behind, catalogue), found)
    assert cures
    cured = apply(behind, cures[0].command, catalogue)
    assert _find(cured, catalogue, "fuel.bend_room").verdict is Verdict.CLEAR
