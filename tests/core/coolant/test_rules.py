"""The loop's checks: each passes what it may, and stops what it must not pass."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.coolant.commands import (
    AddHoseBend,
    MixFloors,
    MoveLoopPart,
    PutHoseParts,
    SplitHose,
    StartLoop,
)
from gale_nook.core.coolant.report import coolant_report, coolant_words
from gale_nook.core.coolant.work import coolant_cuts, coolant_holes, coolant_parts, coolant_steps
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.job import Job
from gale_nook.core.loop.fill import filling
from gale_nook.core.loop.hoses import elbows, hose_run
from gale_nook.core.loop.night import loop_night
from gale_nook.core.loop.pockets import air_pockets
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.moves import SlideOut
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.power.supply import night_ah
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.vehicle.commands import SetSlide
from gale_nook.demo.load import demo_plan
from tests.core.coolant.loops import loop_plan

OVER, CLEAR, UNKNOWN = Verdict.OVER, Verdict.CLEAR, Verdict.UNKNOWN


def _found(catalogue: Catalogue, plan: Plan, rule: str, subject: str) -> Finding:
    done = check(plan, catalogue, ("coolant",))
    finding = done.find(rule, subject)
    assert finding is not None, [f.key for f in done.findings if f.rule == rule]
    return finding


def _part(part: str, leaf: str) -> str:
    return f"coolant.parts.{part}.{leaf}"


def _hose(plan: Plan, from_part: str, to_part: str) -> str:
    """The id of the hose between two parts."""
    return next(
        hose.id
        for hose in plan.coolant.hoses
        if (hose.from_part, hose.to_part) == (from_part, to_part)
    )


@pytest.mark.parametrize("usual", ["preheat", "convector", "convector-water", "floors", "whole"])
def test_a_usual_loop_is_clear(catalogue: Catalogue, usual: str) -> None:
    plan = loop_plan(catalogue, usual)
    done = check(plan, catalogue, ("coolant",))
    assert [say(f.sentence) for f in done.findings if f.verdict is OVER] == []
    assert [f.rule for f in done.findings if f.verdict is UNKNOWN] == []


@pytest.mark.parametrize(
    ("rule", "subject", "command", "verdict"),
    [
        (
            "coolant.header_high",
            "header",
            MoveLoopPart(part="header", x_mm=1930, y_mm=570, z_mm=300),
            OVER,
        ),
        (
            "coolant.header_size",
            "header",
            set_value(_part("header", "kind"), "header-vented"),
            OVER,
        ),
        ("coolant.floor_warm", "floor-1", set_value(_part("mixer", "mix_c"), 55.0), OVER),
        ("coolant.floor_warm", "floor-1", set_value(_part("mixer", "mix_c"), 28.0), CLEAR),
        (
            "coolant.floor_warm",
            "floor-1",
            set_value(_part("floor-pump", "level_percent"), 0.0),
            UNKNOWN,
        ),
        ("coolant.barrier", "floor-2", set_value(_part("floor-2", "kind"), "floor-open"), OVER),
        ("coolant.floor_panel", "floor-1", set_value(_part("floor-1", "panel_opens"), False), OVER),
        (
            "coolant.floor_screws",
            "floor-2",
            set_value(_part("floor-2", "screws_kept_off"), False),
            OVER,
        ),
        ("coolant.scald", "water", set_value(_part("water", "kind"), "calorifier-10"), OVER),
        ("coolant.relief", "water", set_value(_part("water", "kind"), "calorifier-10"), OVER),
        ("coolant.frost", "-", set_value("coolant.glycol_percent", 25.0), OVER),
        ("coolant.frost", "-", set_value("coolant.frost_c", -40.0), OVER),
        ("coolant.glycol", "-", set_value("coolant.glycol_percent", 20.0), OVER),
        ("coolant.engine", "engine", set_value("coolant.engine_isolated", False), OVER),
        ("coolant.zone", "living", set_value(_part("convector-1", "fan"), 0), OVER),
        ("coolant.zone", "living", set_value(_part("convector-1", "fan"), 3), CLEAR),
        (
            "coolant.pump_flooded",
            "floor-pump",
            MoveLoopPart(part="floor-pump", x_mm=4740, y_mm=870, z_mm=2000),
            OVER,
        ),
        ("coolant.outline", "coolant.bypass", set_value(_part("bypass", "x_mm"), 5600.0), OVER),
        ("coolant.part_room", "coolant.bypass", set_value(_part("bypass", "y_mm"), 1065.0), OVER),
        (
            "coolant.closed",
            "bypass:out",
            RemoveItem(collection="coolant.hoses", item_id="hose-10"),
            OVER,
        ),
    ],
)
def test_each_rule_stops_what_it_must_not_pass(
    catalogue: Catalogue, rule: str, subject: str, command: Command, verdict: Verdict
) -> None:
    plan = loop_plan(catalogue, "whole", command)
    finding = _found(catalogue, plan, rule, subject)
    assert finding.verdict is verdict, say(finding.sentence)


@pytest.mark.parametrize(
    ("rule", "leaf", "value"),
    [("coolant.rating", "kind", "water-16"), ("coolant.fit", "kind", "rubber-16")],
)
def test_a_wrong_hose_is_over(catalogue: Catalogue, rule: str, leaf: str, value: str) -> None:
    plan = loop_plan(catalogue, "convector")
    hose = _hose(plan, "tee-flow-1", "convector-1")
    changed = apply(plan, set_value(f"coolant.hoses.{hose}.{leaf}", value), catalogue)
    subject = hose if rule == "coolant.rating" else f"{hose}:1"
    assert _found(catalogue, changed, rule, subject).verdict is OVER


def test_a_tight_bend_a_wide_gap_and_a_small_hole_are_over(catalogue: Catalogue) -> None:
    plan = loop_plan(catalogue, "whole")
    hose = _hose(plan, "tee-flow-1", "tee-flow-2")
    where = f"coolant.hoses.{hose}.nodes"
    run = hose_run(Job(plan, catalogue), hose)
    assert run is not None
    x, y, z = run.geometry.point_at(run.length_mm / 2)
    bend = RouteNode(id="n1", x_mm=x, y_mm=y + 120.0, z_mm=z, radius_mm=40.0)
    bent = apply(plan, AddHoseBend(collection=where, item=bend), catalogue)
    assert _found(catalogue, bent, "coolant.radius", hose).verdict is OVER
    wide = apply(bent, set_value(f"{where}.n1.radius_mm", 120.0), catalogue)
    assert _found(catalogue, wide, "coolant.radius", hose).verdict is CLEAR
    loose = apply(plan, PutHoseParts(hose=hose, kind="clip", parts=()), catalogue)
    assert _found(catalogue, loose, "coolant.clips", hose).verdict is OVER
    below = MoveLoopPart(part="bypass", x_mm=4560, y_mm=570, z_mm=-450)
    plan = apply(plan, below, catalogue)
    out = _hose(plan, "tee-flow-4", "bypass")
    assert _found(catalogue, plan, "coolant.holes", f"{out}:hole-1").verdict is CLEAR
    place = f"coolant.hoses.{out}.parts.hole-1"
    assert _found(catalogue, plan, "coolant.chafe", out).verdict is CLEAR
    unsleeved = apply(plan, PutHoseParts(hose=out, kind="guard", parts=()), catalogue)
    bare = _found(catalogue, unsleeved, "coolant.chafe", out)
    assert bare.verdict is OVER
    again = apply(unsleeved, remedies_for(Job(unsleeved, catalogue), bare)[0].command, catalogue)
    assert _found(catalogue, again, "coolant.chafe", out).measured == pytest.approx(0.0)
    small = apply(plan, set_value(f"{place}.diameter_mm", 24.0), catalogue)
    assert _found(catalogue, small, "coolant.holes", f"{out}:hole-1").verdict is OVER
    bare = apply(plan, set_value(f"{place}.fitting", False), catalogue)
    assert _found(catalogue, bare, "coolant.edges", f"{out}:hole-1").verdict is OVER
    none = apply(plan, PutHoseParts(hose=out, kind="hole", parts=()), catalogue)
    assert _found(catalogue, none, "coolant.holes", f"{out}:outside-1").verdict is UNKNOWN


def test_lagging_does_not_pass_the_mounts_hole(catalogue: Catalogue) -> None:
    plan = loop_plan(catalogue, "convector")
    hose = next(h.id for h in plan.coolant.hoses if h.from_part == "heater")
    assert _found(catalogue, plan, "coolant.heater_hole", hose).verdict is not OVER
    lagged = apply(plan, set_value(f"coolant.hoses.{hose}.lagging_mm", 9.0), catalogue)
    finding = _found(catalogue, lagged, "coolant.heater_hole", hose)
    assert finding.verdict is OVER
    assert finding.measured == pytest.approx(27.5 + 18)


def test_two_hoses_on_one_end_and_a_hose_to_nowhere_are_told(catalogue: Catalogue) -> None:
    plan = loop_plan(catalogue, "convector")
    hose = _hose(plan, "tee-flow-1", "convector-1")
    twice = apply(plan, set_value(f"coolant.hoses.{hose}.to_end", "out"), catalogue)
    found = _found(catalogue, twice, "coolant.closed", "convector-1:in")
    assert found.verdict is OVER
    told = [f for f in check(twice, catalogue, ("coolant",)).findings if "Two hoses" in f.sentence]
    assert len(told) == 1
    gone = apply(plan, RemoveItem(collection="coolant.parts", item_id="convector-1"), catalogue)
    told = [f for f in check(gone, catalogue, ("coolant",)).findings if "not there" in f.sentence]
    assert len(told) == 2
    assert all(f.verdict is OVER for f in told)


def test_least_flow_counts_every_set_of_shut_valves(catalogue: Catalogue) -> None:
    """Each valve alone leaves the other way; both together leave the heater without flow."""
    plan = loop_plan(catalogue, "convector", set_value(_part("bypass", "kind"), "valve"))
    hose = _hose(plan, "tee-flow-1", "convector-1")
    assert _found(catalogue, plan, "coolant.least_flow", "-").verdict is not OVER
    both = apply(plan, SplitHose(hose=hose, at_mm=100.0, kind="valve"), catalogue)
    finding = _found(catalogue, both, "coolant.least_flow", "-")
    assert finding.verdict is OVER
    assert finding.measured == pytest.approx(0.0, abs=0.05)
    assert "bypass and the ball valve shut" in say(finding.sentence)


def test_two_pumps_against_one_another_are_told(catalogue: Catalogue) -> None:
    """A strong pump the wrong way round beside the heater's own."""
    plan = loop_plan(catalogue, "convector")
    hose = _hose(plan, "tee-back-1", "heater")
    against = apply(plan, SplitHose(hose=hose, at_mm=200.0, kind="pump-12", turned=True), catalogue)
    found = [
        f
        for f in check(against, catalogue, ("coolant",)).findings
        if f.rule == "coolant.direction" and f.verdict is OVER
    ]
    assert len(found) == 1
    assert "against each other" in say(found[0].sentence)
    offered = remedies_for(Job(against, catalogue), found[0])
    assert any("round" in say(remedy.sentence) for remedy in offered)


def test_a_hose_into_a_slide_out_needs_slack_for_its_travel(catalogue: Catalogue) -> None:
    """Told where it has none; cured by a flexible stretch, whose slack is cut too."""
    slide = SlideOut(side="right", from_mm=2900, to_mm=3500, inner_mm=500, travel_mm=400)
    plan = loop_plan(catalogue, "whole", SetSlide(slide=slide))

    def told(at: Plan) -> list[Finding]:
        return [f for f in check(at, catalogue, ("coolant",)).findings if f.rule == "coolant.slide"]

    found = told(plan)
    assert found
    assert {finding.verdict for finding in found} == {OVER}
    for finding in found:
        # at the edge itself 20 mm are drawn; pulled along or askew they are longer by the travel
        assert -400.5 <= (finding.measured or 0.0) <= -360.0
    first = found[0]
    hose = first.subject.partition(":")[0]
    remedy = remedies_for(Job(plan, catalogue), first)[0]
    cured = apply(plan, remedy.command, catalogue)
    after = next(f for f in told(cured) if f.subject == first.subject)
    assert after.verdict is CLEAR
    (flex,) = cured.coolant.hose(hose).of_kind("flex")  # type: ignore[union-attr]
    ran = hose_run(Job(cured, catalogue), hose)
    assert ran is not None
    assert ran.cut_mm == pytest.approx(ran.length_mm + flex.slack_mm)
    tight = set_value(f"coolant.hoses.{hose}.parts.{flex.id}.slack_mm", flex.slack_mm - 120)
    assert (
        next(f for f in told(apply(cured, tight, catalogue)) if f.subject == first.subject).verdict
        is OVER
    )


def test_the_coldest_night_counts_the_loop_as_it_is(catalogue: Catalogue) -> None:
    """Fuel and charge of the night are those of the loop: its pumps and fans are in them."""
    plan = loop_plan(catalogue, "convector")
    job = Job(plan, catalogue)
    found = loop_night(job)
    assert found is not None
    assert night_ah(job) == pytest.approx(found.electricity_wh / 24)
    faster = apply(plan, set_value(_part("convector-1", "fan"), 3), catalogue)
    assert night_ah(Job(faster, catalogue)) > night_ah(job)


def test_a_hump_needs_its_bleed(catalogue: Catalogue) -> None:
    """12 up are carried along, 90 are not; the remedy's bleed lets the air out."""
    plan = loop_plan(catalogue, "whole")
    hose = _hose(plan, "tee-flow-1", "tee-flow-2")
    run = hose_run(Job(plan, catalogue), hose)
    assert run is not None
    x, y, z = run.geometry.point_at(run.length_mm / 2)
    for lift, humps in ((12.0, 0), (90.0, 1)):
        node = RouteNode(id="n1", x_mm=x, y_mm=y, z_mm=z + lift, radius_mm=110.0)
        put = AddHoseBend(collection=f"coolant.hoses.{hose}.nodes", item=node)
        there = apply(plan, put, catalogue)
        assert [p.hose.hose.id for p in air_pockets(Job(there, catalogue))] == [hose] * humps
    done = check(there, catalogue, ("coolant",))
    (finding,) = [f for f in done.findings if f.rule == "coolant.bleed"]
    assert finding.verdict is OVER
    cured = apply(there, remedies_for(Job(there, catalogue), finding)[0].command, catalogue)
    assert air_pockets(Job(cured, catalogue)) == ()
    assert _found(catalogue, cured, "coolant.bleed", "-").verdict is CLEAR


@pytest.mark.parametrize(("lift", "pockets"), [(0.0, 0), (12.0, 0), (160.0, 1)])
def test_a_part_that_stands_over_its_hoses_holds_air(
    catalogue: Catalogue, lift: float, pockets: int
) -> None:
    """No hose has a hump, and yet the convector is the highest place of its branch."""
    plan = loop_plan(catalogue, "convector")
    part, tee = plan.coolant.part("convector-1"), plan.coolant.part("tee-flow-1")
    assert part is not None
    assert tee is not None
    over = tee.z_mm + 60.0 + lift  # its ends lie 60 under its middle
    moved = MoveLoopPart(part=part.id, x_mm=part.x_mm, y_mm=part.y_mm, z_mm=over)
    found = air_pockets(Job(apply(plan, moved, catalogue), catalogue))
    assert len(found) == pockets
    if found:
        assert found[0].height_mm == pytest.approx(lift, abs=1.0)


def test_a_high_return_does_not_vent_through_a_low_consumer(catalogue: Catalogue) -> None:
    """The return's tee stands over the flow's: its air would have to sink to get to the header."""
    plan = loop_plan(catalogue, "convector")
    tee = plan.coolant.part("tee-back-1")
    assert tee is not None
    high = MoveLoopPart(part=tee.id, x_mm=tee.x_mm, y_mm=tee.y_mm, z_mm=tee.z_mm + 200.0)
    raised = apply(plan, high, catalogue)
    assert len(air_pockets(Job(raised, catalogue))) == 1
    assert air_pockets(Job(plan, catalogue)) == ()


def test_an_end_that_points_elsewhere_needs_an_elbow(catalogue: Catalogue) -> None:
    """The bypass lies in line with its hose at one end; turned by 90° neither end does."""
    plan = loop_plan(catalogue, "convector")
    before = {end for _, end, _ in elbows(Job(plan, catalogue))}
    assert ("bypass", "in") not in before
    turned = apply(plan, set_value(_part("bypass", "yaw_deg"), 90), catalogue)
    after = {end: angle for _, end, angle in elbows(Job(turned, catalogue))}
    assert {("bypass", "in"), ("bypass", "out")} <= after.keys()
    assert after["bypass", "in"] == pytest.approx(90.0, abs=25.0)
    assert _found(catalogue, plan, "coolant.elbows", "-").verdict is Verdict.TIGHT
    assert coolant_parts(Job(turned, catalogue))["hose-elbow"] == len(after)


def test_without_a_header_all_is_a_pocket(catalogue: Catalogue) -> None:
    plan = loop_plan(catalogue, "convector")
    gone = apply(plan, RemoveItem(collection="coolant.parts", item_id="header"), catalogue)
    assert air_pockets(Job(gone, catalogue))
    assert _found(catalogue, gone, "coolant.header", "-").verdict is OVER


def test_a_hose_without_flow_is_judged_as_hot_as_it_can_be(catalogue: Catalogue) -> None:
    """A valve that is shut today is open tomorrow; an engine is hotter than the heater."""
    plan = loop_plan(catalogue, "engine-heat")
    hose = _hose(plan, "engine", "engine-pump")
    still = apply(plan, set_value(_part("engine-pump", "level_percent"), 0.0), catalogue)
    finding = _found(catalogue, still, "coolant.rating", hose)
    assert finding.measured == pytest.approx(104.0)
    floors = loop_plan(catalogue, "floors")
    mixed = _hose(floors, "floor-pump", "floor-1")
    assert _found(catalogue, floors, "coolant.rating", mixed).measured == pytest.approx(55.0)
    before = _hose(floors, "tee-flow-3", "mixer")
    assert _found(catalogue, floors, "coolant.rating", before).measured == pytest.approx(80.0)


def test_floors_without_a_valve_are_told_and_mixed(catalogue: Catalogue) -> None:
    teal = demo_plan("teal")
    assert _found(catalogue, teal, "coolant.mixed", "-").verdict is OVER
    mixed = apply(teal, MixFloors(), catalogue)
    assert _found(catalogue, mixed, "coolant.mixed", "-").verdict is CLEAR
    assert _found(catalogue, mixed, "coolant.floor_warm", "floor-1").verdict is CLEAR
    with pytest.raises(BadInput):
        apply(loop_plan(catalogue, "convector"), MixFloors(), catalogue)


@pytest.mark.slow
def test_each_of_teals_mistakes_is_cured_by_its_remedies(catalogue: Catalogue) -> None:
    plan = demo_plan("teal")
    rules = {f.rule for f in check(plan, catalogue, ("coolant",)).findings if f.verdict is OVER}
    assert rules >= {
        "coolant.header_high",
        "coolant.bleed",
        "coolant.mixed",
        "coolant.floor_warm",
        "coolant.least_flow",
        "coolant.frost",
        "coolant.scald",
        "coolant.fit",
    }
    for _ in range(30):
        over = [f for f in check(plan, catalogue, ("coolant",)).findings if f.verdict is OVER]
        if not over:
            break
        offered = [(f, remedies_for(Job(plan, catalogue), f)) for f in over[:1]]
        finding, remedies = offered[0]
        assert remedies, finding.key
        plan = apply(plan, remedies[0].command, catalogue)
        after = check(plan, catalogue, ("coolant",)).find(finding.rule, finding.subject)
        assert after is None or after.verdict is not OVER
    assert not over


def test_quarto_is_clear_with_one_accepted_deviation(catalogue: Catalogue) -> None:
    done = check(demo_plan("quarto"), catalogue, ("coolant",))
    assert [f.key for f in done.findings if f.verdict is OVER] == []
    accepted = [f.rule for f in done.findings if f.verdict is Verdict.ACCEPTED]
    assert accepted == ["coolant.floor_panel"]


def test_what_is_filled_in(catalogue: Catalogue) -> None:
    """Litres by hand for the hoses: π/4·d²·l; header half full; half of it glycol."""
    plan = loop_plan(catalogue, "convector")
    found = filling(Job(plan, catalogue))
    assert found is not None
    assert found.glycol_l == pytest.approx(found.content_l * plan.coolant.glycol_percent / 100)
    assert found.glycol_l + found.water_l == pytest.approx(found.content_l)
    assert 0.03 < found.expands_l / found.content_l < 0.065
    assert found.header_l == pytest.approx(1.3)
    assert found.least_percent is not None
    weaker = apply(plan, set_value("coolant.glycol_percent", found.least_percent - 1), catalogue)
    less = filling(Job(weaker, catalogue))
    assert less is not None
    assert less.freezes_c > found.wanted_c


def test_the_work_has_its_parts_cuts_holes_and_steps(catalogue: Catalogue) -> None:
    job = Job(demo_plan("quarto"), catalogue)
    parts, cuts = coolant_parts(job), list(coolant_cuts(job))
    assert parts["loop-calorifier-20"] == 1
    assert parts["hose-clamp"] == 2 * len(cuts)
    mm = sum(cut.length_mm for cut in cuts if cut.label.startswith("heater hose 20"))
    assert parts["hose-rubber-20"] == pytest.approx(mm, abs=len(cuts))
    below = MoveLoopPart(part="bypass", x_mm=4560, y_mm=570, z_mm=-450)
    there = Job(apply(demo_plan("quarto"), below, catalogue), catalogue)
    holes = list(coolant_holes(there))
    assert len(holes) == coolant_parts(there)["hose-grommet"] == 2
    assert all(hole.diameter_mm >= 29.5 for hole in holes)
    titles = [step.title for step in coolant_steps(job)]
    assert titles == ["Lay the hoses", "Mix and fill", "Bleed", "Look after it"]


def test_the_report_is_data_and_words(catalogue: Catalogue) -> None:
    report = coolant_report(Job(demo_plan("quarto"), catalogue))
    assert report["least_flow_l_min"] > 5
    assert {branch["id"] for branch in report["branches"]} >= {"heater", "convector-1", "water"}
    lines = list(coolant_words(report))
    assert any("water at 45 °C after" in line for line in lines)
    assert list(coolant_words(coolant_report(Job(demo_plan("heron"), catalogue)))) == [
        "no loop yet"
    ]


def test_a_loop_needs_a_coolant_heater(catalogue: Catalogue) -> None:
    with pytest.raises(BadInput, match="coolant heater"):
        apply(demo_plan("heron"), StartLoop(usual="convector"), catalogue)
    with pytest.raises(BadInput):
        apply(demo_plan("quarto"), StartLoop(usual="moon"), catalogue)


def test_a_bend_that_does_not_fit_is_over_and_can_be_cured(catalogue: Catalogue) -> None:
    """A hose cannot turn wider than its stretches are long."""
    plan = demo_plan("quarto")
    hose = next(
        h
        for h in plan.coolant.hoses
        if (run := hose_run(Job(plan, catalogue), h.id)) is not None and run.geometry.bends
    )
    assert _found(catalogue, plan, "coolant.bend_room", hose.id).verdict is CLEAR
    address = f"coolant.hoses.{hose.id}.nodes.{hose.nodes[0].id}.radius_mm"
    wide = apply(plan, set_value(address, 900.0), catalogue)
    found = _found(catalogue, wide, "coolant.bend_room", hose.id)
    assert found.verdict is OVER
    cures = remedies_for(Job(wide, catalogue), found)
    assert cures
    cured = apply(wide, cures[0].command, catalogue)
    assert _found(catalogue, cured, "coolant.bend_room", hose.id).verdict is CLEAR
