"""Lowering the vehicle's tank, and a cap that weeps: on paper, and what must not pass."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.commands import SetSource
from gale_nook.core.fuel.drop import tank_drop
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.work import fuel_steps
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.vehicle.floor import floor_underside_z_mm

OVER, CLEAR = Verdict.OVER, Verdict.CLEAR


def _finding(plan: Plan, catalogue: Catalogue, rule: str, subject: str = "-") -> Finding:
    found = check(plan, catalogue, ("fuel",)).find(rule, subject)
    assert found is not None
    return found


def _with(plan: Plan, catalogue: Catalogue, **values: object) -> Plan:
    changes = tuple(
        Change(address=f"fuel.{name.replace('__', '.')}", value=value)  # type: ignore[arg-type]
        for name, value in values.items()
    )
    return apply(plan, SetValues(changes=changes), catalogue)


def test_weight_and_way_down_on_paper(heron: Plan, catalogue: Catalogue) -> None:
    plan = _with(heron, catalogue, drop__left_l=20.0, drop__empty_kg=10.0, drop__reach_mm=200.0)
    job = Job(plan, catalogue)
    found, source = tank_drop(job), supply(job)
    assert found is not None
    assert source is not None
    assert source.vessel is not None
    grade = catalogue.fuel_equipment.grade(plan.fuel.grade)
    assert found.weight_kg == pytest.approx(10.0 + 20.0 * grade.density_kg_m3 / 1000)
    free = floor_underside_z_mm(job) - source.vessel.top_mm
    assert found.lower_mm == pytest.approx(200.0 - max(free, 0.0))
    assert found.first is not None
    assert found.first.id == "hose-1"


def test_a_full_tank_is_too_heavy_and_is_pumped_out(heron: Plan, catalogue: Catalogue) -> None:
    full = _with(heron, catalogue, drop__left_l=60.0)
    finding = _finding(full, catalogue, "fuel.drop_weight")
    assert finding.verdict is OVER
    cured = apply(full, remedies_for(Job(full, catalogue), finding)[0].command, catalogue)
    assert _finding(cured, catalogue, "fuel.drop_weight").verdict is CLEAR
    assert cured.fuel.drop.left_l > 0
    alone = _with(heron, catalogue, drop__left_l=25.0, drop__helper=False)
    assert _finding(alone, catalogue, "fuel.drop_weight").verdict is OVER
    helped = _with(heron, catalogue, drop__left_l=25.0, drop__helper=True)
    assert _finding(helped, catalogue, "fuel.drop_weight").verdict is CLEAR


def test_a_short_hose_is_undone_first(heron: Plan, catalogue: Catalogue) -> None:
    """What nobody has looked at is to measure."""
    shorter = set_value("fuel.drop.holds.cable-1.lets_down_mm", 20.0)
    short = apply(heron, shorter, catalogue)
    finding = _finding(short, catalogue, "fuel.drop_reach")
    assert finding.verdict is OVER
    assert "sender's plug lets it" in say(finding.sentence)
    remedy = remedies_for(Job(short, catalogue), finding)[0]
    cured = apply(short, remedy.command, catalogue)
    assert _finding(cured, catalogue, "fuel.drop_reach").verdict is CLEAR
    bare = heron.model_copy(
        update={
            "fuel": heron.fuel.model_copy(
                update={"drop": heron.fuel.drop.model_copy(update={"holds": ()})}
            )
        }
    )
    assert _finding(bare, catalogue, "fuel.drop_reach").verdict is Verdict.UNKNOWN


def test_the_step_names_what_holds_it(heron: Plan, catalogue: Catalogue) -> None:
    told = {s.title: say(s.text) for s in fuel_steps(Job(heron, catalogue))}
    text = told["Get at the tank's top"]
    assert "front strap, 1,250 mm behind the datum" in text or "front strap, 1250 mm" in text
    assert "Watch filler hose" in text
    assert "kg with 8 l in it" in text


def test_a_low_filler_with_a_cap_that_breathes_weeps(heron: Plan, catalogue: Catalogue) -> None:
    """Parked askew; a tight cap clears it, and one from above stands over the fuel."""
    own = apply(heron, SetSource(source="tank-outside"), catalogue)
    tank = own.fuel.tank
    assert tank is not None
    side = _with(own, catalogue, tank__filler="left", tank__cap="breathes")
    finding = _finding(side, catalogue, "fuel.cap")
    if finding.verdict is OVER:
        cured = apply(side, remedies_for(Job(side, catalogue), finding)[0].command, catalogue)
        assert check(cured, catalogue, ("fuel",)).find("fuel.cap", "-") is None
    top = _with(own, catalogue, tank__filler="top", tank__cap="breathes")
    assert (_finding(top, catalogue, "fuel.cap").measured or 0) > (finding.measured or 0)
    leaning = apply(side, set_value("settings.parked_tilt_deg", 6.0), catalogue)
    assert (_finding(leaning, catalogue, "fuel.cap").measured or 0) < (finding.measured or 0)
    assert (
        check(_with(side, catalogue, tank__cap="tight"), catalogue, ("fuel",)).find("fuel.cap", "-")
        is None
    )


def test_an_outlet_at_the_side_goes_in_by_a_cord(heron: Plan, catalogue: Catalogue) -> None:
    own = apply(heron, SetSource(source="tank-outside"), catalogue)
    for outlet, there in (("top", False), ("side", True), ("bottom", True)):
        plan = _with(own, catalogue, tank__outlet=outlet)
        text = {s.title: say(s.text) for s in fuel_steps(Job(plan, catalogue))}
        assert ("a cord through the hole" in text.get("Fit the tank", "")) == there
