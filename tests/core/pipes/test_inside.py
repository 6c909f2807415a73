"""An exhaust that runs inside for a stretch: refused unless the job allows it with a reason, and
then held to everything that makes it bearable.
"""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.job import Job
from gale_nook.core.pipes.gas import exhaust_gas
from gale_nook.core.pipes.inside import (
    box_c,
    inside_places,
    inside_stretches,
    sleeve_spans_mm,
)
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.work import pipe_parts, pipe_steps
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Fitting, Route, RouteNode
from gale_nook.core.plan.power import Alarm
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for

OVER, CLEAR = Verdict.OVER, Verdict.CLEAR
RULES = (
    "pipes.inside_lagged",
    "pipes.inside_boxed",
    "pipes.inside_touch",
    "pipes.inside_look",
    "pipes.inside_sleeve",
)


def _up_inside(heron: Plan, catalogue: Catalogue, *fittings: Fitting, allowed: bool = True) -> Plan:
    """Heron's exhaust led up through the floor ahead of the heater, along, and out by the wall."""
    run = pipe_run(Job(heron, catalogue), "exhaust")
    assert run is not None
    x, y, z = run.points[0]
    half = heron.vehicle.shell.outer_width_mm / 2
    side = 1 if y > 0 else -1
    points = [
        (x, y, z - 90),
        (x - 180, y - side * 150, z - 90),
        (x - 180, y - side * 150, 420),
        (x - 180, side * (half - 120), 420),
        (x - 180, side * (half + 40), 400),
    ]
    nodes = tuple(
        RouteNode(id=f"n{n}", x_mm=px, y_mm=py, z_mm=pz, radius_mm=60)
        for n, (px, py, pz) in enumerate(points)
    )
    pipes = heron.pipes.model_copy(
        update={
            "exhaust": Route(nodes=nodes, fittings=fittings),
            "inside": "allowed" if allowed else "never",
            "inside_reason": "the frame leaves no way below" if allowed else "",
        }
    )
    return heron.model_copy(update={"pipes": pipes})


def _well_done(heron: Plan, catalogue: Catalogue) -> Plan:
    """The same lagged, boxed, sleeved, with a hatch and an alarm."""
    job = Job(_up_inside(heron, catalogue), catalogue)
    (stretch,) = inside_stretches(job, "exhaust")
    cover = {"at_mm": stretch.from_mm - 5, "length_mm": stretch.length_mm + 10}
    fittings = [
        Fitting(id="lag", kind="lagging", layers=4, **cover),
        Fitting(id="box", kind="box", box_mm=100, **cover),
        Fitting(id="hatch", kind="hatch", at_mm=(stretch.from_mm + stretch.to_mm) / 2),
    ]
    fittings += [
        Fitting(id=f"sleeve-{n}", kind="bulkhead", at_mm=low, length_mm=high - low)
        for n, (low, high) in enumerate(sleeve_spans_mm(job, "exhaust"))
    ]
    plan = _up_inside(heron, catalogue, *fittings)
    at = inside_places(Job(plan, catalogue))[0].point
    alarm = Alarm(id="beside", x_mm=at[0] - 500, y_mm=at[1], z_mm=900)
    power = plan.power.model_copy(update={"alarms": (*plan.power.alarms, alarm)})
    return plan.model_copy(update={"power": power})


def _told(plan: Plan, catalogue: Catalogue) -> list[Finding]:
    return list(check(plan, catalogue, ("pipes",)).findings)


def _of(plan: Plan, catalogue: Catalogue, rule: str) -> list[Finding]:
    return [f for f in _told(plan, catalogue) if f.rule == rule]


def test_it_is_refused_unless_the_job_allows_it(heron: Plan, catalogue: Catalogue) -> None:
    """Never without a reason."""
    for plan in (
        _up_inside(heron, catalogue, allowed=False),
        apply(_up_inside(heron, catalogue), set_value("pipes.inside_reason", "  "), catalogue),
    ):
        floor = [f for f in _of(plan, catalogue, "pipes.floor") if f.run == "exhaust"]
        assert [f.verdict for f in floor] == [OVER]
        assert not [f for f in _told(plan, catalogue) if f.rule.startswith("pipes.inside_")]


def test_bare_it_is_over_in_everything(heron: Plan, catalogue: Catalogue) -> None:
    plan = _up_inside(heron, catalogue)
    assert not [f for f in _of(plan, catalogue, "pipes.floor") if f.run == "exhaust"]
    for rule in RULES:
        assert OVER in {f.verdict for f in _of(plan, catalogue, rule)}, rule
    assert any(f.verdict is OVER for f in _of(plan, catalogue, "pipes.inside_heat"))
    (allowed,) = _of(plan, catalogue, "pipes.inside")
    assert "the frame leaves no way below" in say(allowed.sentence)
    assert allowed.verdict is CLEAR


def test_well_done_it_is_clear(heron: Plan, catalogue: Catalogue) -> None:
    plan = _well_done(heron, catalogue)
    for rule in (*RULES, "pipes.inside_alarm", "pipes.inside_heat"):
        found = _of(plan, catalogue, rule)
        assert found, rule
        assert OVER not in {f.verdict for f in found}, [say(f.sentence) for f in found]
    job = Job(plan, catalogue)
    assert pipe_parts(job)["pipe-box"] > 0
    assert pipe_parts(job)["box-hatch"] == 1
    assert "Box in the exhaust inside" in {step.title for step in pipe_steps(job)}


@pytest.mark.parametrize("gone", ["lag", "box", "hatch", "sleeve-0", "sleeve-1"])
def test_each_of_it_is_needed(heron: Plan, catalogue: Catalogue, gone: str) -> None:
    """Whatever is taken out is told, and its remedy clears that."""
    whole = _well_done(heron, catalogue)
    route = whole.pipes.exhaust
    assert route is not None
    kept = tuple(f for f in route.fittings if f.id != gone)
    pipes = whole.pipes.model_copy(update={"exhaust": route.model_copy(update={"fittings": kept})})
    plan = whole.model_copy(update={"pipes": pipes})
    over = [f for r in RULES for f in _of(plan, catalogue, r) if f.verdict is OVER]
    assert over
    finding = over[0]
    remedy = remedies_for(Job(plan, catalogue), finding)
    assert remedy, finding.rule
    cured = apply(plan, remedy[0].command, catalogue)
    after = [f for f in _of(cured, catalogue, finding.rule) if f.subject == finding.subject]
    assert OVER not in {f.verdict for f in after}


def test_a_joint_inside_is_seen_and_sealed(heron: Plan, catalogue: Catalogue) -> None:
    whole = _well_done(heron, catalogue)
    (stretch,) = inside_stretches(Job(whole, catalogue), "exhaust")
    route = whole.pipes.exhaust
    assert route is not None
    joint = Fitting(id="joint", kind="joint", at_mm=stretch.from_mm + 40)
    pipes = whole.pipes.model_copy(
        update={"exhaust": route.model_copy(update={"fittings": (*route.fittings, joint)})}
    )
    plan = whole.model_copy(update={"pipes": pipes})
    sealed, seen = (_of(plan, catalogue, f"pipes.inside_{r}") for r in ("sealed", "joint"))
    assert [f.verdict for f in sealed] == [OVER]
    far = stretch.length_mm / 2 - 40 > 300
    assert [f.verdict for f in seen] == [OVER if far else CLEAR]
    cured = apply(plan, remedies_for(Job(plan, catalogue), sealed[0])[0].command, catalogue)
    assert [f.verdict for f in _of(cured, catalogue, "pipes.inside_sealed")] == [CLEAR]


def test_combustion_air_from_inside_is_refused_whatever_is_allowed(
    heron: Plan, catalogue: Catalogue
) -> None:
    intake = heron.pipes.intake
    assert intake is not None
    run = pipe_run(Job(heron, catalogue), "intake")
    assert run is not None
    x, y, z = run.points[0]
    nodes = tuple(
        RouteNode(id=f"n{n}", x_mm=px, y_mm=py, z_mm=pz, radius_mm=50)
        for n, (px, py, pz) in enumerate([(x, y, z - 80), (x - 250, y, z - 80), (x - 250, y, 300)])
    )
    pipes = _well_done(heron, catalogue).pipes.model_copy(
        update={"intake": intake.model_copy(update={"nodes": nodes})}
    )
    plan = heron.model_copy(update={"pipes": pipes})
    (finding,) = _of(plan, catalogue, "pipes.inside_air")
    assert finding.verdict is OVER


def test_the_box_gives_off_what_the_pipe_in_it_does(heron: Plan, catalogue: Catalogue) -> None:
    """On paper: q over 9 W/m²K and three of four sides; a wider box and more lagging are cooler."""
    plan = _well_done(heron, catalogue)
    job = Job(plan, catalogue)
    place = max(inside_places(job), key=lambda each: box_c(job, each))
    assert place.box is not None
    side = (place.diameter_mm + 2 * 100) / 1000
    paper = catalogue.pipe_physics.warm_day_c + place.lost_w_m / (9 * 4 * side * 0.75)
    assert box_c(job, place) == pytest.approx(paper, abs=1e-6)
    gas = exhaust_gas(job, catalogue.pipe_physics.warm_day_c)
    assert gas is not None
    # what the march gives off from there to the mouth is no more than the hottest metre's
    ahead = [a for a in gas.along if a.distance_mm >= place.at_mm + 100]
    metres = (ahead[-1].distance_mm - ahead[0].distance_mm) / 1000
    assert (ahead[-1].given_w - ahead[0].given_w) / metres <= place.lost_w_m + 1.0
    for address, value in (("box.box_mm", 140.0),):
        changed = SetValues(
            changes=(Change(address=f"pipes.exhaust.fittings.{address}", value=value),)
        )
        there = Job(apply(plan, changed, catalogue), catalogue)
        hottest = max(box_c(there, each) for each in inside_places(there))
        assert hottest < box_c(job, place)


def test_an_alarm_far_off_is_none_beside_it(heron: Plan, catalogue: Catalogue) -> None:
    plan = _well_done(heron, catalogue)
    none = plan.model_copy(update={"power": plan.power.model_copy(update={"alarms": ()})})
    assert [f.verdict for f in _of(none, catalogue, "pipes.inside_alarm")] == [Verdict.UNKNOWN]
    at = inside_places(Job(plan, catalogue))[0].point
    far = Alarm(id="far", x_mm=at[0] - 2600, y_mm=0, z_mm=1200)
    away = plan.model_copy(update={"power": plan.power.model_copy(update={"alarms": (far,)})})
    assert [f.verdict for f in _of(away, catalogue, "pipes.inside_alarm")] == [OVER]


def test_what_runs_below_has_no_such_checks(heron: Plan, catalogue: Catalogue) -> None:
    assert inside_stretches(Job(heron, catalogue), "exhaust") == ()
    allowed = heron.model_copy(
        update={
            "pipes": heron.pipes.model_copy(update={"inside": "allowed", "inside_reason": "so"})
        }
    )
    assert not [f for f in _told(allowed, catalogue) if f.rule.startswith("pipes.inside")]
