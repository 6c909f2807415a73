"""The electrics' checks: each passes what it may, and stops what it must not pass."""

from __future__ import annotations

import itertools

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fitted.installed import night_with
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.moves import SlideOut
from gale_nook.core.plan.power import Alarm, Disconnect, LeadPart
from gale_nook.core.power.choice import cable_offers, carries_a, fitting_fuses, smallest_cable
from gale_nook.core.power.commands import (
    AddAlarm,
    AddLeadPart,
    KeepLead,
    PutLeadParts,
    RemoveLead,
    SetDisconnect,
    StartLead,
)
from gale_nook.core.power.leads import lead_ends, lead_run
from gale_nook.core.power.report import power_report, power_words
from gale_nook.core.power.sensor_bias import on_wall_k, sensor_bias
from gale_nook.core.power.supply import ladders, night_ah, supply
from gale_nook.core.power.what_helps import what_helps
from gale_nook.core.power.work import power_cuts, power_parts, power_steps, wiring_table
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.costs import Weights
from gale_nook.core.spot.search import best_spots
from gale_nook.core.stations import RULES
from gale_nook.core.vehicle.commands import SetSlide
from gale_nook.demo.load import demo_plan

OVER, TIGHT, CLEAR = Verdict.OVER, Verdict.TIGHT, Verdict.CLEAR
SUPPLY = "power.leads.supply"


def _changed(catalogue: Catalogue, *commands: Command, name: str = "heron") -> Plan:
    plan = demo_plan(name)
    for command in commands:
        plan = apply(plan, command, catalogue)
    return plan


def _found(catalogue: Catalogue, rule: str, subject: str, *commands: Command) -> Finding:
    done = check(_changed(catalogue, *commands), catalogue, ("power",))
    finding = done.find(rule, subject)
    assert finding is not None, [f.key for f in done.findings if f.rule == rule]
    return finding


FUSE = f"{SUPPLY}.parts.fuse-1"
HOLE = "power.leads.pump.parts.hole-1"
SLEEVE = "power.leads.pump.parts.guard-1"
UNKNOWN = Verdict.UNKNOWN


@pytest.mark.parametrize(
    ("rule", "subject", "command", "verdict"),
    [
        ("power.glow", "-", set_value(f"{SUPPLY}.one_way_mm", 40_000.0), OVER),
        ("power.second_glow", "-", set_value("power.battery.charge_percent", 12.0), OVER),
        ("power.drop", "-", set_value(f"{SUPPLY}.area_mm2", 0.75), OVER),
        ("power.nominal", "-", set_value("power.battery.nominal_v", 24), OVER),
        ("power.cable_fuse", "fuse-1:cable", set_value(f"{FUSE}.rating_a", 30.0), OVER),
        ("power.cable_fuse", "fuse-1:tail", set_value(f"{FUSE}.rating_a", 40.0), OVER),
        ("power.fuse_load", "fuse-1", set_value(f"{FUSE}.rating_a", 7.5), OVER),
        ("power.fuse_place", "fuse-1", set_value(f"{FUSE}.at_mm", 301.0), OVER),
        ("power.fuse_place", "fuse-1", set_value(f"{FUSE}.at_mm", 120.0), CLEAR),
        ("power.switched", "-", set_value("power.feed", "isolator"), OVER),
        ("power.switched", "-", set_value("power.feed", "kill-switch"), OVER),
        ("power.switched", "-", set_value("power.feed", "bus-bar"), CLEAR),
        ("power.old_wires", "-", set_value("power.feed", "old-wires"), OVER),
        ("power.return", "-", set_value("power.body_return", True), OVER),
        ("power.nights", "-", set_value("power.battery.capacity_ah", 60.0), OVER),
        ("power.disconnect", "-", set_value("power.disconnect.acts_v", 10.5), OVER),
        ("power.disconnect", "-", set_value("power.disconnect.acts_v", 13.2), OVER),
        ("power.disconnect_stops", "-", set_value("power.disconnect.stops", "everything"), OVER),
        ("power.protected", "-", SetDisconnect(disconnect=None), TIGHT),
        ("power.standby", "-", set_value("power.idle_days", 60.0), OVER),
        ("power.pump_pair", "-", set_value("power.pump_marked", False), TIGHT),
        ("power.controller", "height", set_value("power.controller.z_mm", 1900.0), OVER),
        ("power.controller", "reach", set_value("power.controller.x_mm", -1475.0), OVER),
        ("power.controller_dry", "-", set_value("power.controller.damp", True), OVER),
        ("power.controller_dry", "-", set_value("power.controller.sun", True), TIGHT),
        ("power.alarm_place", "co:room", set_value("power.alarms.co.shut_in", True), OVER),
        ("power.alarm_place", "co:opening", set_value("power.alarms.co.x_mm", 1300.0), OVER),
        ("power.alarm_place", "co:sleeper", set_value("power.alarms.co.x_mm", -900.0), OVER),
        (
            "power.grommet",
            "pump:hole-1",
            set_value(f"{HOLE}.grommet", False),
            OVER,
        ),
        (
            "power.holes",
            "pump:hole-1",
            set_value(f"{HOLE}.diameter_mm", 20.0),
            OVER,
        ),
        (
            "power.holes",
            "pump:hole-1",
            set_value(f"{HOLE}.plug_off", True),
            CLEAR,
        ),
        (
            "power.holes",
            "pump:outside-1",
            set_value(f"{HOLE}.at_mm", 400.0),
            Verdict.UNKNOWN,
        ),
        ("power.reach", "pump", set_value("power.leads.pump.one_way_mm", 5200.0), OVER),
        ("power.clips", "supply", PutLeadParts(lead="supply", kind="clip", parts=()), OVER),
        ("power.chafe", "pump", PutLeadParts(lead="pump", kind="guard", parts=()), OVER),
        ("power.chafe", "pump", set_value(f"{SLEEVE}.at_mm", 1000.0), OVER),
        ("power.chafe", "pump", set_value(f"{SLEEVE}.length_mm", 60.0), CLEAR),
        ("power.fuses", "-", PutLeadParts(lead="supply", kind="fuse", parts=()), OVER),
        ("power.laid", "pump", RemoveLead(lead="pump"), UNKNOWN),
        ("power.supply", "-", RemoveLead(lead="supply"), UNKNOWN),
        ("power.sensor", "-", set_value("power.controller.sensor", "lead"), UNKNOWN),
    ],
)
def test_each_rule_stops_what_it_must_not_pass(
    catalogue: Catalogue, rule: str, subject: str, command: Command, verdict: Verdict
) -> None:
    finding = _found(catalogue, rule, subject, command)
    assert finding.verdict is verdict, finding.sentence


def test_a_lead_whose_end_has_moved_is_to_be_laid_anew(catalogue: Catalogue) -> None:
    """Its clips and holes say nothing of another way; keeping it settles that, laying it too."""
    moved = set_value("power.battery.x_mm", 900.0)
    done = check(_changed(catalogue, moved), catalogue, ("power",))
    told = done.find("power.laid", "supply:moved")
    assert told is not None
    assert told.verdict is UNKNOWN
    assert "300 mm" in say(told.sentence)
    assert done.find("power.clips", "supply") is None
    assert done.find("power.glow", "-") is not None
    ends = lead_ends(Job(_changed(catalogue, moved), catalogue))["supply"]
    kept = KeepLead(lead="supply", laid_from=ends[0], laid_to=ends[1])
    for settles in (kept, StartLead(lead="supply")):
        after = check(_changed(catalogue, moved, settles), catalogue, ("power",))
        assert after.find("power.laid", "supply:moved") is None
        assert after.find("power.clips", "supply") is not None


def test_what_no_sleeve_covers_is_counted_once(catalogue: Catalogue) -> None:
    """Of the 106 outside from 1965 on, two sleeves that lap over cover 80: 26 are left, between
    them and after.
    """
    sleeves = tuple(
        LeadPart(id=f"guard-{n}", kind="guard", at_mm=at, length_mm=length)
        for n, (at, length) in enumerate(((1900.0, 85.0), (1970.0, 20.0), (2000.0, 60.0)), 1)
    )
    put = PutLeadParts(lead="pump", kind="guard", parts=sleeves)
    finding = _found(catalogue, "power.chafe", "pump", put)
    run = lead_run(Job(_changed(catalogue, put), catalogue), "pump")
    assert run is not None
    assert finding.measured == pytest.approx(10.0 + run.drawn_mm - 2060.0, abs=0.06)
    assert [len(mark.start) for mark in finding.marks] == [3, 3]


def test_two_fuses_in_a_line_are_told(catalogue: Catalogue) -> None:
    fuse = LeadPart(id="fuse-2", kind="fuse", at_mm=900, rating_a=20)
    add = AddLeadPart(collection="power.leads.supply.parts", item=fuse)
    assert _found(catalogue, "power.fuses", "-", add).verdict is OVER


def test_a_reason_makes_the_body_as_return_tight(catalogue: Catalogue) -> None:
    given = set_value("power.body_return_reason", "The chassis is the return of every load here.")
    found = _found(catalogue, "power.return", "-", set_value("power.body_return", True), given)
    assert found.verdict is TIGHT


def test_a_switch_is_allowed_with_care(catalogue: Catalogue) -> None:
    commands = (set_value("power.feed", "kill-switch"), set_value("power.switch", "with-care"))
    assert _found(catalogue, "power.switched", "-", *commands).verdict is TIGHT


def test_a_lead_too_short_is_lengthened_at_a_joint_inside(catalogue: Catalogue) -> None:
    longer = set_value("power.leads.pump.one_way_mm", 5200.0)
    joint = LeadPart(id="joint-1", kind="joint", at_mm=500)
    add = AddLeadPart(collection="power.leads.pump.parts", item=joint)
    assert _found(catalogue, "power.reach", "pump", longer, add).verdict is CLEAR
    assert _found(catalogue, "power.joints", "pump:joint-1", longer, add).verdict is CLEAR
    far = add.model_copy(update={"item": joint.model_copy(update={"at_mm": 9000.0})})
    outside = _found(catalogue, "power.joints", "pump:joint-1", longer, far)
    assert outside.verdict is OVER
    beyond = _found(catalogue, "power.reach", "pump", longer, far)
    assert beyond.verdict is OVER, "a joint past the lead's end lengthens nothing"


def test_a_lead_over_a_slide_out_needs_a_loop(catalogue: Catalogue) -> None:
    """A slide-out on the left takes part of the supply with it: 450 mm of loop at each edge."""
    slide = SetSlide(slide=SlideOut(from_mm=1200, to_mm=2000, inner_mm=500, travel_mm=450))
    bare = _found(catalogue, "power.loops", "supply:edge-1", slide)
    assert (bare.measured, bare.verdict) == (0.0, OVER)
    at = bare.marks[0].start
    run = lead_run(Job(_changed(catalogue, slide), catalogue), "supply")
    assert run is not None
    near = min(range(0, 3000, 10), key=lambda mm: abs(run.geometry.point_at(mm)[0] - at[0]))
    loop = LeadPart(id="loop-1", kind="loop", at_mm=float(near), length_mm=450)
    add = AddLeadPart(collection="power.leads.supply.parts", item=loop)
    assert _found(catalogue, "power.loops", "supply:edge-1", slide, add).verdict is not OVER


def test_the_ladder_counts_both_conductors_and_the_kits_tail(catalogue: Catalogue) -> None:
    """10 m typed, 1.4 m of it the heater's own 4 mm²: 2 × 8.6 m of 6 mm² at 40 °C, by hand."""
    plan = _changed(
        catalogue,
        set_value(f"{SUPPLY}.one_way_mm", 10_000.0),
        set_value(f"{SUPPLY}.area_mm2", 6.0),
    )
    circuit = supply(Job(plan, catalogue))
    assert circuit is not None
    warm = 1 + 0.00393 * 20
    assert circuit.cable_ohm == pytest.approx(2 * 8.6 / 58 / 6 * warm, rel=5e-3)
    tail = next(piece for piece in circuit.pieces if piece.name == "heater's own lead")
    assert tail.resistance_ohm == pytest.approx(1.4 / 58 / 4 * warm, rel=5e-3)


def test_the_voltage_at_glow_is_ohms_law(catalogue: Catalogue) -> None:
    """The element resists: 12 V / 9.6 A of the sheet; all resistances in a row with it."""
    job = Job(demo_plan("heron"), catalogue)
    found, circuit = ladders(job)["glow"], supply(job)
    assert circuit is not None
    battery_ohm = found.rungs[0].resistance_ohm
    open_v = found.rungs[0].left_v + found.rungs[0].drop_v
    element = 12 / 9.6
    expected = open_v * element / (element + battery_ohm + circuit.wiring_ohm)
    assert found.heater_v == pytest.approx(expected, abs=0.001)


def test_a_collapsing_voltage_is_over_and_its_cable_not_offered(catalogue: Catalogue) -> None:
    """60 m of 0.75 mm²: the heater asks for more than ever comes through."""
    far = set_value(f"{SUPPLY}.one_way_mm", 60_000.0)
    thin = set_value(f"{SUPPLY}.area_mm2", 0.75)
    plan = _changed(catalogue, far, thin)
    assert ladders(Job(plan, catalogue))["run"].collapses
    assert _found(catalogue, "power.glow", "-", far, thin).verdict is OVER
    drop = _found(catalogue, "power.drop", "-", far, thin)
    assert drop.verdict is OVER
    assert "collapses" in say(drop.sentence)
    offer = next(o for o in cable_offers(Job(plan, catalogue)) if o.cable.area_mm2 == 0.75)
    assert "the voltage collapses" in offer.why_not


def test_thicker_cable_is_never_worse(catalogue: Catalogue) -> None:
    offers = cable_offers(Job(demo_plan("quarto"), catalogue))
    for thin, thick in itertools.pairwise(offers):
        assert thick.drop_v < thin.drop_v
        assert thick.glow_v > thin.glow_v
        assert thick.ampacity_a > thin.ampacity_a
        assert thick.mass_kg > thin.mass_kg


def test_the_smallest_cable_does_and_the_next_thinner_does_not(catalogue: Catalogue) -> None:
    job = Job(_changed(catalogue, set_value(f"{SUPPLY}.one_way_mm", 9000.0)), catalogue)
    offers, best = cable_offers(job), smallest_cable(job)
    assert best is not None
    index = offers.index(best)
    assert index > 0
    assert all(not offer.does for offer in offers[:index])
    laid = apply(job.plan, set_value(f"{SUPPLY}.area_mm2", best.cable.area_mm2), catalogue)
    done = check(laid, catalogue, ("power",))
    for rule in ("power.glow", "power.second_glow", "power.drop"):
        finding = done.find(rule, "-")
        assert finding is not None
        assert finding.verdict is not OVER


def test_what_would_help_is_ranked_by_what_it_gives(catalogue: Catalogue) -> None:
    """Each gain is that of the changed plan, and the largest stands first."""
    job = Job(demo_plan("wren"), catalogue)
    gains = what_helps(job)
    assert [gain.volts for gain in gains] == sorted((g.volts for g in gains), reverse=True)
    words = {gain.words: gain.volts for gain in gains}
    assert {"one metre less way", "a plug as good as a crimped joint", "a new battery"} <= set(
        words
    )
    thicker = apply(job.plan, set_value(f"{SUPPLY}.area_mm2", 2.5), catalogue)
    before, after = ladders(job)["glow"], ladders(Job(thicker, catalogue))["glow"]
    gain = words["the next thicker cable, 2.5 mm²"]
    assert gain == pytest.approx(after.heater_v - before.heater_v)


def test_fuses_lie_between_load_and_cable(catalogue: Catalogue) -> None:
    job = Job(demo_plan("heron"), catalogue)
    ratings = fitting_fuses(job)
    assert ratings
    assert min(ratings) >= 9.6
    assert max(ratings) <= carries_a(job, 2.5)


def test_the_nights_charge_is_that_of_the_simulated_night(catalogue: Catalogue) -> None:
    job = Job(demo_plan("heron"), catalogue)
    assert night_ah(job) == pytest.approx(night_with(job, "bothy-40").electricity_wh / 12)


def test_an_outlets_air_makes_the_room_cold(catalogue: Catalogue) -> None:
    """In the bunk outlet's jet the sensor of Wren reads far too warm."""
    bias = sensor_bias(Job(demo_plan("wren"), catalogue))
    assert bias is not None
    assert bias.kelvin > 10
    assert bias.night_percent < 0
    assert bias.reasons == ("in the air of bunk outlet",)


def test_a_cold_wall_makes_the_room_warm(catalogue: Catalogue) -> None:
    plan = _changed(catalogue, set_value("power.controller.mounted", "outer-wall"))
    job = Job(plan, catalogue)
    bias = sensor_bias(job)
    assert bias is not None
    assert bias.kelvin == pytest.approx(on_wall_k(job, (2350.0, 760.0, 1150.0)))
    assert bias.kelvin < 0
    assert bias.night_percent > 0


def test_without_a_co_alarm_nothing_is_clear(catalogue: Catalogue) -> None:
    plan = demo_plan("heron")
    bare = plan.model_copy(update={"power": plan.power.model_copy(update={"alarms": ()})})
    finding = check(bare, catalogue, ("power",)).find("power.co_alarm", "-")
    assert finding is not None
    assert (finding.verdict, finding.hazard) == (OVER, "fumes")
    smoke = AddAlarm(item=Alarm(id="s", kind="smoke", x_mm=1000, y_mm=0, z_mm=1800))
    still = check(apply(bare, smoke, catalogue), catalogue, ("power",)).find("power.co_alarm", "-")
    assert still is not None
    assert still.verdict is OVER


def test_a_missing_alarm_stops_no_search(catalogue: Catalogue) -> None:
    """It is over from the moment that the heater has a place, and that is no place's fault."""
    heron = demo_plan("heron")
    bare = heron.power.model_copy(update={"alarms": ()})
    job = Job(heron.model_copy(update={"power": bare, "spot": None}), catalogue)
    assert len(best_spots(job, Weights(), beside=RULES)) == 5


def test_a_disconnect_suits_a_battery_of_24_v(catalogue: Catalogue) -> None:
    plan = _changed(catalogue, SetDisconnect(disconnect=Disconnect(acts_v=11.8)), name="quarto")
    finding = check(plan, catalogue, ("power",)).find("power.disconnect", "-")
    assert finding is not None
    assert finding.verdict is OVER
    assert finding.band.minimum == pytest.approx(23.2)


def test_every_lead_that_is_laid_by_itself_breaks_no_limit(catalogue: Catalogue) -> None:
    for name in ("heron", "quarto"):
        plan = demo_plan(name)
        for kind in ("supply", "pump", "controller"):
            plan = apply(plan, StartLead(lead=kind), catalogue)
        over = [f for f in check(plan, catalogue, ("power",)).findings if f.verdict is OVER]
        assert over == []


def test_wren_has_the_usual_mistakes_and_each_is_cured(catalogue: Catalogue) -> None:
    """Remedies are proved against the whole check; one after the other they leave nothing over but
    what the pump's own place between exhaust and combustion air causes.
    """
    plan = demo_plan("wren")
    wrong = {f.rule for f in check(plan, catalogue, ("power",)).findings if f.verdict is OVER}
    assert wrong >= {
        "power.glow",
        "power.second_glow",
        "power.drop",
        "power.cable_fuse",
        "power.fuse_place",
        "power.joints",
        "power.switched",
        "power.bias",
        "power.co_alarm",
        "power.nights",
    }
    of_the_pump = {"power.hot", "power.together"}
    for _ in range(24):
        findings = check(plan, catalogue, ("power",)).findings
        for finding in (f for f in findings if f.verdict is OVER and f.rule not in of_the_pump):
            cures = list(remedies_for(Job(plan, catalogue), finding))
            assert cures, finding.sentence
            plan = apply(plan, cures[0].command, catalogue)
            break
        else:
            break
    left = {f.rule for f in check(plan, catalogue, ("power",)).findings if f.verdict is OVER}
    assert left <= of_the_pump


def test_the_work_has_its_parts_cuts_steps_and_wires(catalogue: Catalogue) -> None:
    job = Job(demo_plan("heron"), catalogue)
    parts = power_parts(job)
    cuts = {cut.label: cut.length_mm for cut in power_cuts(job)}
    cables = sum(length for name, length in cuts.items() if name.startswith("supply cable"))
    assert parts["cable-2-5"] == pytest.approx(cables, abs=2)
    assert parts["cable-sleeve"] == cuts["sleeve of the pump's lead"] == 106.0
    assert parts["inline-fuse"] == 1
    assert parts["smoke-alarm"] == 1
    titles = [step.title for step in power_steps(job)]
    assert titles[:2] == ["Lay the leads", "Connect the supply"]
    assert "Hang the CO alarm" in titles
    wires = wiring_table(job)
    assert len(wires) == 10
    assert wires[0].done == "crimped to 2.5 mm²"


def test_the_report_has_the_voltage_at_each_node(catalogue: Catalogue) -> None:
    report = power_report(Job(demo_plan("heron"), catalogue))
    assert set(report["states"]) == {"glow", "run", "stop"}
    nodes = report["states"]["glow"]["nodes"]
    assert [node["after"] for node in nodes][:2] == ["battery", "battery post and feed"]
    assert nodes[-1]["voltage_v"] == pytest.approx(report["states"]["glow"]["heater_v"])
    assert report["energy_wh"] == pytest.approx(12 * report["charge_ah"])
    assert any("smallest that does" in line for line in power_words(report))
    empty = power_report(Job(demo_plan("blank"), catalogue))
    assert (empty["battery"], empty["cable"], empty["nights"]) == (None, None, None)
    assert list(power_words(empty)) == []
