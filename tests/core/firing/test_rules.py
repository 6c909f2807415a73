"""Readings against their bands: a healthy heater passes, each fault is found and told why."""

from __future__ import annotations

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import set_value
from gale_nook.core.firing.commands import AddCo, ClearReadings, StartSurvey, TakeTrace, TickCheck
from gale_nook.core.firing.looks import excess_ohm, fitted_circuit, looks_for
from gale_nook.core.firing.places import survey_begun, surveyed_places
from gale_nook.core.firing.trace import Row, trace_of
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.firing import CoReading
from gale_nook.demo.load import demo_plan
from tests.core.firing.fired import FAULTS, WHOLE, findings, over, with_readings

# what gives each fault away; of the pair, the subject
GIVES_AWAY = {
    "air-in-line": ("firing.flame", "-"),
    "waxed-filter": ("firing.outlet", "full"),
    "pump-reversed": ("firing.flame", "-"),
    "thin-cable": ("firing.voltage", "glow"),
    "worn-battery": ("firing.voltage", "glow"),
    "blocked-intake": ("firing.smoke", "full"),
    "snow": ("firing.smoke", "regulation"),
    "closed-outlets": ("firing.pump", "full"),
    "exhaust-hole": ("firing.co", "co-1"),
    "sensor-at-outlet": ("firing.full", "-"),
    "power-cut": ("firing.voltage", "after-run"),
}


@pytest.mark.parametrize("name", WHOLE)
def test_a_healthy_heater_is_inside_every_band(name: str) -> None:
    assert over(name) == set()
    assert len(findings(name)) > 20


@pytest.mark.parametrize("fault", FAULTS)
def test_each_fault_is_found_and_says_where_to_look(fault: str, catalogue: Catalogue) -> None:
    assert GIVES_AWAY[fault] in over("heron", fault)
    job = Job(with_readings("heron", fault), catalogue)
    rule, subject = GIVES_AWAY[fault]
    finding = next(f for f in findings("heron", fault) if (f.rule, f.subject) == (rule, subject))
    assert looks_for(job, finding) or rule == "firing.co"


def test_nothing_is_asked_before_something_is_read(any_demo: Plan, catalogue: Catalogue) -> None:
    if any_demo.firing.begun:
        return
    assert check(any_demo, catalogue, ("firing",)).findings == ()


def test_the_readings_tell_the_resistance_that_is_too_much(catalogue: Catalogue) -> None:
    """The fault puts six times the harness in: 5 × 54.73 mΩ too much, by two ways of working."""
    job = Job(with_readings("heron", "thin-cable"), catalogue)
    glow = job.plan.firing.reading("glow")
    assert glow.voltage_v is not None
    found = excess_ohm(job, "glow", glow.voltage_v)
    assert found is not None
    assert found[1] == pytest.approx(5 * 0.05473, rel=0.01)
    fitted = fitted_circuit(job)
    assert fitted is not None
    assert fitted[0] == pytest.approx(13.31, abs=0.03)
    assert fitted[1] == pytest.approx(6 * 0.05473 + 0.00348, rel=0.01)


def _looks(plan: Plan, catalogue: Catalogue, rule: str) -> str:
    done = check(plan, catalogue, ("firing",))
    finding = next(f for f in done.findings if f.rule == rule and f.verdict == "over")
    return " ".join(looks_for(done.job, finding))


def test_a_low_battery_is_told_from_a_bad_connector(catalogue: Catalogue) -> None:
    cable = _looks(with_readings("heron", "thin-cable"), catalogue, "firing.voltage")
    battery = _looks(with_readings("heron", "worn-battery"), catalogue, "firing.voltage")
    assert "the battery is as planned" in cable
    assert "the battery is low" in battery


def test_one_reading_alone_is_told_in_ohms(catalogue: Catalogue) -> None:
    plan = demo_plan("heron")
    for name, value in (("voltage_v", 11.6), ("current_a", 9.6)):
        plan = apply(plan, set_value(f"firing.readings.glow.{name}", value), catalogue)
    text = _looks(plan, catalogue, "firing.voltage")
    # (13.31 - 9.6 × 0.0582 - 11.6) / 9.6, from the plan's own figures
    assert "too much somewhere between battery and plug" in text
    assert "120" in text


def _survey() -> StartSurvey:
    job = Job(demo_plan("heron"), load_catalogue())
    return StartSurvey(places=survey_begun(job))


def _edited(plan: Plan, catalogue: Catalogue, *commands: Command) -> Plan:
    for command in commands:
        plan = apply(plan, command, catalogue)
    return plan


def test_what_stands_near_the_exhaust_is_held_to_what_it_stands(catalogue: Catalogue) -> None:
    plan = _edited(demo_plan("heron"), catalogue, _survey())
    places = surveyed_places(Job(plan, catalogue))
    tank = next(place for place in places if place.name == "fuel tank")
    assert tank.most_c == 60
    hot = _edited(plan, catalogue, set_value(f"firing.places.{tank.id}.after_20_c", 61.0))
    cool = _edited(plan, catalogue, set_value(f"firing.places.{tank.id}.after_20_c", 45.0))
    verdicts = [
        next(f.verdict for f in check(each, catalogue, ("firing",)).findings)
        for each in (hot, cool)
    ]
    assert verdicts == ["over", "clear"]
    # the hotter of the two readings counts
    both = _edited(hot, catalogue, set_value(f"firing.places.{tank.id}.after_5_c", 20.0))
    assert [f.measured for f in check(both, catalogue, ("firing",)).findings] == [61.0]


def test_a_skin_that_is_hotter_than_computed_is_over_and_a_cooler_one_is_not(
    catalogue: Catalogue,
) -> None:
    plan = _edited(demo_plan("heron"), catalogue, _survey())
    port = surveyed_places(Job(plan, catalogue))[0]
    for celsius, verdict in ((port.expected_c * 1.2, "over"), (port.expected_c * 0.6, "clear")):
        read = _edited(plan, catalogue, set_value(f"firing.places.{port.id}.after_5_c", celsius))
        assert [f.verdict for f in check(read, catalogue, ("firing",)).findings] == [verdict]


@pytest.mark.parametrize(
    ("ppm", "verdict"), [(0, "clear"), (6, "tight"), (9, "tight"), (10, "over")]
)
def test_carbon_monoxide_has_its_limit(ppm: float, verdict: str, catalogue: Catalogue) -> None:
    item = CoReading(id="co-1", name="at the sleeper's head", co_ppm=ppm)
    plan = _edited(demo_plan("heron"), catalogue, AddCo(item=item))
    finding = next(iter(check(plan, catalogue, ("firing",)).findings))
    assert (finding.verdict, finding.hazard) == (verdict, "fumes")


def test_a_code_and_late_flame_are_told(catalogue: Catalogue) -> None:
    plan = _edited(
        demo_plan("heron"),
        catalogue,
        set_value("firing.code", "E 13"),
        set_value("firing.readings.flame.began_s", 240.0),
    )
    done = check(plan, catalogue, ("firing",))
    assert {f.rule for f in done.findings if f.verdict == "over"} == {"firing.code", "firing.began"}
    assert "The line holds" in _looks(plan, catalogue, "firing.began")


def test_the_survey_keeps_what_was_read_when_the_plan_changes(catalogue: Catalogue) -> None:
    plan = _edited(demo_plan("heron"), catalogue, _survey())
    first = plan.firing.places[0].id
    plan = _edited(plan, catalogue, set_value(f"firing.places.{first}.after_5_c", 99.0))
    bare = plan.model_copy(update={"pipes": demo_plan("blank").pipes})
    again = _edited(bare, catalogue, StartSurvey(places=survey_begun(Job(bare, catalogue))))
    assert {place.id: place.after_5_c for place in again.firing.places}[first] == 99.0
    assert len(again.firing.places) < len(plan.firing.places)


def test_taking_out_the_readings_leaves_the_ticks(catalogue: Catalogue) -> None:
    plan = _edited(with_readings("heron"), catalogue, TickCheck(check="outdoors"), ClearReadings())
    assert plan.firing.ticked == ("outdoors",)
    assert not plan.firing.begun
    assert plan.firing.trace is None


def test_a_logger_keeps_what_was_typed_of_what_it_does_not_read(catalogue: Catalogue) -> None:
    """Smoke, ticks and code stay; of a column that it reads everything is its own, a phase that it
    never saw too.
    """
    typed = _edited(
        demo_plan("heron"),
        catalogue,
        set_value("firing.code", "E 7"),
        set_value("firing.readings.glow.pump_hz", 0.5),
        set_value("firing.readings.glow.smoke", "some"),
        set_value("firing.readings.full.voltage_v", 12.0),
    )
    rows = [Row(float(second), "glow", 12.7) for second in range(9)]
    firing = _edited(typed, catalogue, TakeTrace(trace=trace_of(rows, "logger"))).firing
    glow = firing.reading("glow")
    assert (firing.code, glow.pump_hz, glow.smoke, glow.voltage_v) == ("E 7", 0.5, "some", 12.7)
    assert firing.reading("full").voltage_v is None
    assert firing.reading("flame").began_s is None
