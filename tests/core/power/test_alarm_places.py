"""Where a CO alarm is clear: the hatched area says what the checks say, place by place."""

from __future__ import annotations

import itertools

import pytest
import shapely

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.power import Alarm
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.power.alarm_places import alarm_area
from gale_nook.core.power.start import starting_alarm
from gale_nook.core.power.station import POWER
from gale_nook.core.quantities.sentences import say
from gale_nook.demo.load import demo_plan

IN_PLACE = next(rule for rule in POWER.rules if rule.id == "power.alarm_place")
EDGE_MM = 2.0  # round ends of the drawn area are polygons


def _with_alarm(plan: Plan, alarm: Alarm) -> Plan:
    power = plan.power.model_copy(update={"alarms": (alarm,)})
    return plan.model_copy(update={"power": power})


def _of(plan: Plan, catalogue: Catalogue, alarm: Alarm) -> dict[str, Finding]:
    findings = findings_of(Job(_with_alarm(plan, alarm), catalogue), [IN_PLACE])
    return {finding.subject.split(":")[1]: finding for finding in findings}


@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
def test_the_area_is_where_no_check_is_over(name: str, catalogue: Catalogue) -> None:
    plan = demo_plan(name)
    found = alarm_area(Job(plan, catalogue))
    assert found is not None
    shell = plan.vehicle.shell
    half = shell.floor_width_mm / 2
    xs = range(int(shell.bulkhead_x_mm) + 31, int(shell.rear_x_mm), 170)
    ys = range(-int(half) + 17, int(half), 130)
    agreed = {True: 0, False: 0}
    for x, y in itertools.product(xs, ys):
        if found.area.boundary.distance(shapely.Point(x, y)) < EDGE_MM:
            continue
        inside = found.area.contains(shapely.Point(x, y))
        alarm = Alarm(id="co", x_mm=x, y_mm=y, z_mm=found.z_mm)
        verdicts = {f.verdict for f in _of(plan, catalogue, alarm).values()}
        assert (Verdict.OVER not in verdicts) is inside, (x, y)
        agreed[inside] += 1
    assert min(agreed.values()) > 10


@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
def test_the_first_proposal_lies_in_it(name: str, catalogue: Catalogue) -> None:
    plan = demo_plan(name)
    findings = _of(plan, catalogue, starting_alarm(Job(plan, catalogue)))
    assert {finding.verdict for finding in findings.values()} <= {Verdict.CLEAR, Verdict.TIGHT}


@pytest.mark.parametrize(
    ("subject", "change", "verdict", "words"),
    [
        ("head", {"z_mm": 650.0}, Verdict.OVER, "10 mm under the bed's top"),
        ("head", {"z_mm": 1461.0}, Verdict.OVER, "over the bed's top"),
        ("roof", {"z_mm": 1790.0}, Verdict.OVER, "140 mm under the roof"),
        ("room", {"y_mm": -1100.0}, Verdict.OVER, "outside the room"),
    ],
)
def test_an_alarm_in_a_wrong_place_is_over(
    catalogue: Catalogue, subject: str, change: dict[str, float], verdict: Verdict, words: str
) -> None:
    plan = demo_plan("heron")
    alarm = plan.power.alarms[0].model_copy(update=change)
    finding = _of(plan, catalogue, alarm)[subject]
    assert (finding.verdict, finding.hazard) == (verdict, "fumes")
    assert words in say(finding.sentence)


def test_an_alarm_in_a_cupboard_is_shut_in_by_it(catalogue: Catalogue) -> None:
    plan, size = demo_plan("heron"), {"length_mm": 300.0, "width_mm": 300.0, "height_mm": 700.0}
    low = {"x_mm": 2100.0, "y_mm": 600.0, "z_mm": 500.0}
    cupboard = BoxSolid(id="cup", name="wall cupboard", kind="furniture", **low, **size)
    vehicle = plan.vehicle.model_copy(update={"solids": (*plan.vehicle.solids, cupboard)})
    there = plan.model_copy(update={"vehicle": vehicle})
    finding = _of(there, catalogue, plan.power.alarms[0])["room"]
    assert finding.verdict is Verdict.OVER
    assert "shut in by wall cupboard" in say(finding.sentence)


def test_the_wall_is_no_distance_to_fresh_air(catalogue: Catalogue) -> None:
    """A window lies at the inner face: 200 along the wall is 200, not more by its thickness."""
    plan = demo_plan("heron")
    shell = plan.vehicle.shell
    place = {"start_mm": 2500.0, "base_mm": 800.0, "length_mm": 400.0, "height_mm": 300.0}
    window = plan.vehicle.openings[1].model_copy(update={"face": "right", "opens": True, **place})
    vehicle = plan.vehicle.model_copy(update={"openings": (window,)})
    there = plan.model_copy(update={"vehicle": vehicle})
    y = shell.floor_width_mm / 2
    alarm = Alarm(id="co", x_mm=2300.0, y_mm=y, z_mm=900.0)
    finding = _of(there, catalogue, alarm)["opening"]
    assert finding.measured == pytest.approx(200.0)
    assert finding.verdict is Verdict.OVER


def test_a_smoke_alarm_is_not_held_to_it(catalogue: Catalogue) -> None:
    plan = demo_plan("heron")
    smoke = plan.power.alarms[0].model_copy(update={"kind": "smoke", "z_mm": 1900.0})
    assert _of(plan, catalogue, smoke) == {}


def test_a_nearer_limit_makes_the_area_smaller(catalogue: Catalogue) -> None:
    plan = demo_plan("heron")
    near = OwnLimit(id="alarm_sleeper_mm", minimum=300.0, maximum=900.0, note="its own manual")
    heater = plan.heater.model_copy(update={"own_limits": (near,)})
    before = alarm_area(Job(plan, catalogue))
    after = alarm_area(Job(plan.model_copy(update={"heater": heater}), catalogue))
    assert before is not None
    assert after is not None
    assert 0 < after.area.area < before.area.area
