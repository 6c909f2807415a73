"""Two users of one take-off, the filter, spray: what is told, and what must not pass."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.diesel import density_kg_m3, viscosity_mm2_s
from gale_nook.core.fuel.hydraulics import fuel_heads, line_loss_pa, shared_loss_pa
from gale_nook.core.fuel.line import EMPTY, fuel_run
from gale_nook.core.fuel.second import together
from gale_nook.core.job import Job
from gale_nook.core.pipes.spray import wedges
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for


def _tapped(heron: Plan, catalogue: Catalogue, **second: object) -> Plan:
    """Heron drawing from a tee in the line of an auxiliary heater."""
    run = fuel_run(Job(heron, catalogue))
    assert run is not None
    x, y, z = run.supply.start
    values: dict[str, object] = {
        "source": "tee-auxiliary",
        "tap_x_mm": x + 200,
        "tap_y_mm": y,
        "tap_z_mm": z - 40,
        "second.use_l_h": 0.6,
        **{f"second.{name}": value for name, value in second.items()},
    }
    changes = [Change(address=f"fuel.{name}", value=value) for name, value in values.items()]  # type: ignore[arg-type]
    return apply(heron, SetValues(changes=tuple(changes)), catalogue)


def _finding(plan: Plan, catalogue: Catalogue, rule: str, subject: str = "-") -> Finding:
    found = check(plan, catalogue, ("fuel",)).find(rule, subject)
    assert found is not None
    return found


def test_the_shared_line_carries_both(heron: Plan, catalogue: Catalogue) -> None:
    """By Hagen and Poiseuille with both flows while the pumps strike; against paper."""
    plan = _tapped(heron, catalogue, shared_mm=2000.0, shared_bore_mm=4.0)
    job = Job(plan, catalogue)
    works = catalogue.fuel_equipment
    grade, celsius = works.grade(plan.fuel.grade), plan.heat.outside_c
    own = 0.3 / works.pump.stroke_share
    both = own + 0.6 / works.pump.stroke_share
    mu = viscosity_mm2_s(grade, celsius) * 1e-6 * density_kg_m3(grade, celsius)
    flow = both * 1e-3 / 3600
    paper = 128 * mu * 2.0 * flow / (3.14159265 * 0.004**4)
    assert shared_loss_pa(job, own) == pytest.approx(paper, rel=1e-6)
    alone = Job(apply(plan, set_value("fuel.second.use_l_h", 0.0), catalogue), catalogue)
    assert together(alone) is None
    ours = [max(h.suction_pa for _, h in fuel_heads(each)) for each in (job, alone)]
    assert ours[0] > ours[1]


def test_the_one_that_starves_is_named(heron: Plan, catalogue: Catalogue) -> None:
    """The other's long thin line makes it the one; a high pump too. What is over has a remedy."""
    plan = _tapped(heron, catalogue, own_mm=6000.0, own_bore_mm=2.0, pump_z_mm=400.0)
    finding = _finding(plan, catalogue, "fuel.second_suction")
    found = together(Job(plan, catalogue))
    assert found is not None
    assert found.theirs_pa > found.ours_pa
    assert "the other heater runs short first" in say(finding.sentence)
    assert finding.verdict is Verdict.OVER
    short = _tapped(heron, catalogue, own_mm=200.0, own_bore_mm=8.0, pump_z_mm=-600.0)
    assert "this heater runs short first" in say(
        _finding(short, catalogue, "fuel.second_suction").sentence
    )
    run = fuel_run(Job(plan, catalogue))
    assert run is not None
    surface = run.supply.surface_mm(EMPTY)
    grade = catalogue.fuel_equipment.grade(plan.fuel.grade)
    assert surface is not None
    raised = _tapped(heron, catalogue, own_mm=6000.0, own_bore_mm=2.0, pump_z_mm=500.0)
    more = together(Job(raised, catalogue))
    assert more is not None
    weight = density_kg_m3(grade, plan.heat.outside_c) * 9.80665 / 1000
    assert more.theirs_pa - found.theirs_pa == pytest.approx(100 * weight, rel=1e-6)
    assert line_loss_pa(1000, 2.0, 1.0, grade, 0.0) > 0


def test_a_take_off_gives_what_its_kind_does(heron: Plan, catalogue: Catalogue) -> None:
    plan = _tapped(heron, catalogue, use_l_h=1.2)
    assert _finding(plan, catalogue, "fuel.take_off_flow").verdict is Verdict.UNKNOWN
    thin = apply(plan, set_value("fuel.take_off", "auxiliary-6"), catalogue)
    over = _finding(thin, catalogue, "fuel.take_off_flow")
    assert over.verdict is Verdict.OVER
    remedy = remedies_for(Job(thin, catalogue), over)[0]
    cured = apply(thin, remedy.command, catalogue)
    assert _finding(cured, catalogue, "fuel.take_off_flow").verdict is not Verdict.OVER


def test_both_branches_need_a_check_valve(heron: Plan, catalogue: Catalogue) -> None:
    plan = _tapped(heron, catalogue)
    for subject in ("own", "other"):
        finding = _finding(plan, catalogue, "fuel.second_check", subject)
        assert finding.verdict is Verdict.OVER
        cured = apply(plan, remedies_for(Job(plan, catalogue), finding)[0].command, catalogue)
        assert _finding(cured, catalogue, "fuel.second_check", subject).verdict is Verdict.CLEAR


def test_no_second_user_no_such_checks(heron: Plan, catalogue: Catalogue) -> None:
    rules = {finding.rule for finding in check(heron, catalogue, ("fuel",)).findings}
    assert not rules & {"fuel.second_check", "fuel.second_suction"}


def test_the_filter_as_it_hangs(heron: Plan, catalogue: Catalogue) -> None:
    """Arrow, upright as parked askew, reach; nobody has looked is not clear."""
    at, askew = "fuel.line.parts.filter", heron.settings.parked_tilt_deg
    for rule, leaf, good, bad in (
        ("fuel.filter_arrow", "forwards", True, False),
        ("fuel.filter_tilt", "tilt_deg", 30.0 - askew - 6.0, 30.0 - askew + 1.0),
        ("fuel.filter_reach", "within_reach", True, False),
    ):
        fine = apply(heron, set_value(f"{at}.{leaf}", good), catalogue)
        assert _finding(fine, catalogue, rule, "filter").verdict is Verdict.CLEAR
        wrong = apply(heron, set_value(f"{at}.{leaf}", bad), catalogue)
        finding = _finding(wrong, catalogue, rule, "filter")
        assert finding.verdict is Verdict.OVER
        if rule != "fuel.filter_reach":
            remedy = remedies_for(Job(wrong, catalogue), finding)[0]
            cured = apply(wrong, remedy.command, catalogue)
            assert _finding(cured, catalogue, rule, "filter").verdict is Verdict.CLEAR
    unlooked = apply(heron, set_value(f"{at}.within_reach", None), catalogue)
    assert _finding(unlooked, catalogue, "fuel.filter_reach", "filter").verdict is Verdict.UNKNOWN


def test_a_pump_in_the_spray_is_told_and_guarded(heron: Plan, catalogue: Catalogue) -> None:
    """Moved right behind a wheel by bending the line there; a guard clears it."""
    job = Job(heron, catalogue)
    behind = wedges(job)[0]
    run = fuel_run(job)
    assert run is not None
    x, y, z = behind.foot[0] + 300, behind.foot[1], behind.foot[2] + 60
    node = heron.fuel.line.nodes[0].model_copy(update={"x_mm": x, "y_mm": y, "z_mm": z})  # type: ignore[union-attr]
    line = heron.fuel.line.model_copy(update={"nodes": (node,)})  # type: ignore[union-attr]
    plan = heron.model_copy(update={"fuel": heron.fuel.model_copy(update={"line": line})})
    there = fuel_run(Job(plan, catalogue))
    assert there is not None
    at = there.geometry.distance_of((x, y, z))
    plan = apply(plan, set_value("fuel.line.parts.pump.at_mm", round(at)), catalogue)
    finding = _finding(plan, catalogue, "fuel.spray", "pump")
    assert finding.verdict is Verdict.OVER
    guarded = apply(plan, set_value("fuel.line.parts.pump.guarded", True), catalogue)
    assert check(guarded, catalogue, ("fuel",)).find("fuel.spray", "pump") is None
    remedy = remedies_for(Job(plan, catalogue), finding)[0]
    cured = check(apply(plan, remedy.command, catalogue), catalogue, ("fuel",))
    after = cured.find("fuel.spray", "pump")
    assert after is None or after.verdict is not Verdict.OVER
