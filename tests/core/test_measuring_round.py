"""The measuring round: what decides is asked for, in walking order, and nothing else."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.measuring_round import ORDER, PART_WRONG_MM, Measurement, measuring_round
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.looked import LookedArea
from gale_nook.core.vehicle.assumed_parts import with_assumed_parts
from gale_nook.core.vehicle.commands import AddLookedArea, Ink
from gale_nook.core.vehicle.looked import looked_domain
from gale_nook.demo.load import demo_plan, new_plan


@pytest.fixture(scope="module")
def begun(catalogue: Catalogue) -> Plan:
    """A new job of a body type, with a heater on a spot."""
    plan = with_assumed_parts(new_plan("Teal", catalogue.bodies["mid-van"]), catalogue)
    heron = demo_plan("heron")
    assert heron.spot is not None
    spot = heron.spot.model_copy(update={"x_mm": 1200.0, "y_mm": 300.0})
    return plan.model_copy(update={"heater": heron.heater, "spot": spot})


def test_the_round_goes_from_outside_to_below_and_there_from_front_to_rear(
    begun: Plan, catalogue: Catalogue
) -> None:
    found = measuring_round(check(begun, catalogue))
    places = [ORDER.index(each.where) for each in found]
    assert places == sorted(places)
    below = [each for each in found if each.where == "below" and each.look is None]
    assert [each.look for each in found if each.look] == ["inside", "below"]
    assert found[-1].look == "below"  # when all that is there has been entered
    fronts = {s.id: min(_xs(s)) for s in begun.vehicle.solids}
    assert [fronts[each.part] for each in below] == sorted(fronts[each.part] for each in below)
    assert len(below) > 4


def _xs(solid: object) -> list[float]:
    points = getattr(solid, "points", None)
    return [p[0] for p in points] if points else [solid.x_mm]  # type: ignore[attr-defined]


def test_only_what_may_change_a_verdict_is_asked_for(begun: Plan, catalogue: Catalogue) -> None:
    """Each check that a part is said to settle is not clear, or clear by less than the part may be
    out of place; a part that no check comes near is left out.
    """
    done = check(begun, catalogue)
    found = measuring_round(done)
    names = {solid.id: solid.name for solid in begun.vehicle.solids}
    for each in found:
        if not each.part:
            continue
        for title in each.settles:
            about = [f for f in done.findings if f.title == title]
            assert any(
                f.verdict is not Verdict.CLEAR or f.unit != "mm" or f.margin < PART_WRONG_MM  # type: ignore[operator]
                for f in about
            ), (names[each.part], title)
    asked = {each.part for each in found}
    assert "cross-member-5" not in asked  # 1.5 m behind the heater


def test_what_was_measured_is_not_asked_for_again_and_the_round_ends(
    begun: Plan, catalogue: Catalogue
) -> None:
    plan = begun
    for _ in range(60):
        left = measuring_round(check(plan, catalogue))
        if not left:
            break
        plan = apply(plan, _done(Job(plan, catalogue), left[0]), catalogue)
        after = measuring_round(check(plan, catalogue))
        assert left[0].id not in {each.id for each in after}
    assert left == ()


def _done(job: Job, asked: Measurement) -> Command:
    if asked.look is None:
        return Ink(addresses=asked.marks)
    from_x, left_y, to_x, right_y = looked_domain(job, asked.look)
    area = LookedArea(
        id=f"all-{asked.look}",
        where=asked.look,
        how="seen",
        from_x_mm=from_x,
        to_x_mm=to_x,
        left_y_mm=left_y,
        right_y_mm=right_y,
    )
    return AddLookedArea(item=area)


def test_moving_the_heater_asks_for_other_parts(begun: Plan, catalogue: Catalogue) -> None:
    def asked(x_mm: float) -> set[str]:
        plan = apply(begun, set_value("spot.x_mm", x_mm), catalogue)
        return {m.part for m in measuring_round(check(plan, catalogue)) if "member" in m.part}

    assert asked(1000.0) != asked(2500.0)


def test_a_surveyed_vehicle_has_no_round(catalogue: Catalogue) -> None:
    assert measuring_round(check(demo_plan("heron"), catalogue)) == ()
