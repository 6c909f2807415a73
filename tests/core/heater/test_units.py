"""Several heaters in one vehicle: clear of each other, started apart, which one when."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fitted.installed import installed
from gale_nook.core.heat.cab import cab_loss_w_k
from gale_nook.core.heat.loss import loss_model
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.commands import AddUnit, SetUnitPipe
from gale_nook.core.heater.units import which_when
from gale_nook.core.job import Job
from gale_nook.core.pipes.as_unit import unit_of
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heater import OtherUnit
from gale_nook.core.power.supply import battery_now, ladders
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import body_corners

OVER, CLEAR, UNKNOWN = Verdict.OVER, Verdict.CLEAR, Verdict.UNKNOWN


def _with(plan: Plan, catalogue: Catalogue, **values: object) -> Plan:
    given = {"id": "cab", "name": "cab heater", "x_mm": -500.0, "y_mm": 300.0, **values}
    return apply(plan, AddUnit(item=OtherUnit.model_validate(given)), catalogue)


def _find(plan: Plan, catalogue: Catalogue, rule: str, subject: str, run: str = "") -> Finding:
    found = check(plan, catalogue, (rule.partition(".")[0],)).findings
    return next(
        f for f in found if f.rule == rule and f.subject == subject and (not run or run in f.runs)
    )


def _together(plan: Plan, catalogue: Catalogue) -> set[str]:
    return {
        f.subject
        for f in check(plan, catalogue).findings
        if f.rule.endswith(".together") and f.verdict is OVER and "unit." in f.subject
    }


def test_the_heaters_keep_clear_of_each_other(heron: Plan, catalogue: Catalogue) -> None:
    corners = body_corners(Job(heron, catalogue))
    assert corners is not None
    (_, y0, z0), (x1, _, _) = corners
    size = {"length_mm": 300.0, "width_mm": 120.0, "height_mm": 130.0}
    near = _with(heron, catalogue, x_mm=x1 + 30, y_mm=y0, z_mm=z0, **size)
    assert "spot.heater:unit.cab" in _together(near, catalogue)
    apart = _with(heron, catalogue, x_mm=x1 + 41, y_mm=y0, z_mm=z0, **size)
    assert "spot.heater:unit.cab" not in _together(apart, catalogue)


@pytest.mark.parametrize("pipe", ["exhaust", "intake"])
def test_the_other_heaters_pipes_are_in_nothings_way(
    heron: Plan, catalogue: Catalogue, pipe: str
) -> None:
    """Laid over Heron's own exhaust a pipe of the other heater is told by the exhaust's check."""
    run = pipe_run(Job(heron, catalogue), "exhaust")
    assert run is not None
    x, y, z = run.point_at(run.length_mm / 2)
    crossing = ((x - 300, y, z), (x + 300, y, z))
    plan = _with(heron, catalogue, **{pipe: crossing})
    assert any(s.startswith("pipes.exhaust:unit.cab") for s in _together(plan, catalogue))
    away = ((x - 300, y, z + 900), (x + 300, y, z + 900))
    plan = _with(heron, catalogue, **{pipe: away})
    assert not any(s.startswith("pipes.exhaust:unit.cab") for s in _together(plan, catalogue))


@pytest.mark.parametrize(("run", "theirs"), [("exhaust", "intake"), ("intake", "exhaust")])
def test_neither_burner_breathes_the_others_gas(
    heron: Plan, catalogue: Catalogue, run: str, theirs: str
) -> None:
    own = pipe_run(Job(heron, catalogue), run)  # type: ignore[arg-type]
    assert own is not None
    x, y, z = own.mouth
    for away, verdict in ((150.0, OVER), (600.0, CLEAR)):
        points = ((x, y + away, z + 150.0), (x, y + away, z))
        plan = _with(heron, catalogue, **{theirs: points})
        finding = _find(plan, catalogue, "pipes.unit_mouth", "cab", run)
        assert finding.measured == pytest.approx(away)
        assert finding.verdict is verdict


def test_a_pipe_that_nobody_noted_is_to_measure(heron: Plan, catalogue: Catalogue) -> None:
    plan = _with(heron, catalogue)
    for run in ("exhaust", "intake"):
        assert _find(plan, catalogue, "pipes.unit_mouth", "cab", run).verdict is UNKNOWN
    noted = SetUnitPipe(unit="cab", pipe="exhaust", points=((0, 0, 0), (0, 0, -200)))
    plan = apply(plan, noted, catalogue)
    assert _find(plan, catalogue, "pipes.unit_mouth", "cab", "intake").verdict is not UNKNOWN
    with pytest.raises(BadInput):
        apply(plan, noted.model_copy(update={"unit": "gone"}), catalogue)


def test_two_glow_plugs_pull_one_battery_down(heron: Plan, catalogue: Catalogue) -> None:
    """By hand: the other's current through the battery's own resistance is missing at the start."""
    alone = ladders(Job(heron, catalogue))["glow"]
    battery = battery_now(Job(heron, catalogue))
    assert battery is not None
    plan = _with(heron, catalogue, glow_a=9.0)
    finding = _find(plan, catalogue, "power.units", "cab")
    assert finding.measured is not None
    assert finding.measured < alone.heater_v
    assert alone.heater_v - finding.measured == pytest.approx(
        9.0 * battery.resistance_ohm, rel=0.25
    )
    worn = apply(heron, set_value("power.battery.resistance_mohm", 80), catalogue)
    weak = _with(worn, catalogue, glow_a=20.0)
    finding = _find(weak, catalogue, "power.units", "cab")
    assert finding.verdict is OVER
    offered = remedies_for(Job(weak, catalogue), finding)
    assert offered
    assert "only when this one burns" in say(offered[0].sentence)
    apart = apply(weak, offered[0].command, catalogue)
    assert _find(apart, catalogue, "power.units", "cab").verdict is not OVER
    own = _with(worn, catalogue, glow_a=20.0, shares_battery=False)
    assert check(own, catalogue, ("power",)).find("power.units", "cab") is None


def test_two_in_one_room_cover_its_need_together(heron: Plan, catalogue: Catalogue) -> None:
    """On a night of -40 °C one is not enough; a second one for the room is counted, one for the cab
    is not.
    """
    cold = apply(heron, set_value("heat.outside_c", -40), catalogue)
    alone = _find(cold, catalogue, "heater.output", "bothy-40")
    assert alone.verdict is OVER
    cab = _with(cold, catalogue, heats="cab", most_w=3000.0)
    assert _find(cab, catalogue, "heater.output", "bothy-40").measured == alone.measured
    both = _with(cold, catalogue, heats="room", most_w=3000.0)
    finding = _find(both, catalogue, "heater.output", "bothy-40")
    assert alone.measured is not None
    assert finding.measured == pytest.approx(alone.measured + 3000.0)
    assert finding.verdict is not OVER


def test_the_cabs_own_heater_is_held_to_the_cab(heron: Plan, catalogue: Catalogue) -> None:
    need = cab_loss_w_k(heron, catalogue) * (heron.heat.inside_c - heron.heat.outside_c)
    for most, verdict in ((0.9 * need, OVER), (1.1 * need, CLEAR)):
        plan = _with(heron, catalogue, heats="cab", least_w=0.0, most_w=most)
        finding = _find(plan, catalogue, "heater.cab_unit", "cab")
        assert finding.verdict is verdict
        assert finding.band.minimum == pytest.approx(need)


def test_which_one_when(heron: Plan, catalogue: Catalogue) -> None:
    """The one with the least output that still does; both only where neither does alone."""
    plan = _with(heron, catalogue, heats="room", least_w=300.0, most_w=1200.0, name="small one")
    job = Job(plan, catalogue)
    sheet = heater_sheet(job)
    assert sheet is not None
    own, model = installed(job, sheet).most_w, loss_model(job)
    rows = which_when(job)
    assert rows[0].outside_c == plan.heat.outside_c
    for row in rows:
        need = max(model.at(row.outside_c).need_w, 0.0)
        assert row.need_w == pytest.approx(need)
        if need == 0:
            assert row.room == ()
        elif need <= 1200.0:
            assert row.room == ("small one",)
            assert row.cycles is (need < 300.0)
        elif need <= own:
            assert row.room == (sheet.label,)
        else:
            assert len(row.room) == 2
    assert {row.room for row in rows} >= {("small one",), (sheet.label,)}
    assert which_when(Job(heron, catalogue)) == ()
    cold = apply(plan, set_value("heat.outside_c", -40), catalogue)
    assert len(which_when(Job(cold, catalogue))[0].room) == 2


def test_another_jobs_heater_as_it_stands_there(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(heron, catalogue)
    unit, corners, run = unit_of(job, "unit-1", "room"), body_corners(job), pipe_run(job, "exhaust")
    assert corners is not None
    assert run is not None
    assert (unit.x_mm, unit.y_mm, unit.z_mm) == corners[0]
    assert unit.exhaust[0] == pytest.approx(run.points[0])
    assert unit.exhaust[-1] == pytest.approx(run.mouth)
    assert (unit.most_w, unit.glow_a) == (4000.0, heater_sheet(job).electrical.glow_current_a)  # type: ignore[union-attr]
    with pytest.raises(BadInput, match="No heater stands"):
        unit_of(Job(heron.model_copy(update={"spot": None}), catalogue), "unit-1", "room")


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"least_w": 3000.0}, "least output lies under its most"),
        ({"exhaust": ((0.0, 0.0, 0.0),)}, "at least two points"),
    ],
)
def test_units_that_cannot_be_are_refused(values: dict[str, object], words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        OtherUnit.model_validate({"id": "u", **values})


def test_the_sheet_says_which_heater_when(heron: Plan, catalogue: Catalogue) -> None:
    plan = _with(heron, catalogue, heats="room", most_w=1500.0, starts_apart=True)
    told = {step.title: say(step.text) for step in steps(Job(plan, catalogue))}
    words = told["Set the heaters up beside each other"]
    assert "from −14 °C up Bothy 40; from " in words
    assert "up cab heater" in words
    assert "never starts while this one does" in words
    assert "Set the heaters up beside each other" not in {
        step.title for step in steps(Job(heron, catalogue))
    }
