"""An accepted deviation covers what was accepted, and no more."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.lapse import bound_to
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.spot.floor_map import FloorMap
from gale_nook.core.vehicle.commands import AddSolid
from tests.plans import heron_blowing_free


@pytest.fixture
def heron() -> Plan:
    """It blows free, at an accepted boot rack."""
    return heron_blowing_free()


def outlet(plan: Plan, catalogue: Catalogue) -> Finding:
    found = check(plan, catalogue, ("spot",)).find("spot.outlet", "outlet")
    assert found is not None
    return found


def test_a_mattress_at_the_warm_end_is_not_the_boot_rack(heron: Plan, catalogue: Catalogue) -> None:
    """Accepted 110 mm from a wire boot rack; then a mattress lies against the warm end."""
    assert outlet(heron, catalogue).verdict is Verdict.ACCEPTED
    spot = heron.spot
    assert spot is not None
    mattress = BoxSolid(
        id="mattress",
        name="mattress",
        kind="bed",
        material="foam",
        x_mm=spot.x_mm - 400,
        y_mm=spot.y_mm - 300,
        z_mm=50,
        length_mm=200,
        width_mm=600,
        height_mm=120,
    )
    found = outlet(apply(heron, AddSolid(item=mattress), catalogue), catalogue)
    assert found.verdict is Verdict.OVER
    assert "was about wire boot rack" in found.lapsed
    assert found.accepted_by == ""


@pytest.mark.parametrize(
    ("command", "why"),
    [
        (set_value("vehicle.solids.shoe-box.x_mm", 2397.0), "worse now"),
        (set_value("spot.x_mm", 2768.0), "stood elsewhere"),
        (ChooseHeater(sheet="byre-50"), "another heater"),
    ],
)
def test_it_lapses_visibly(heron: Plan, catalogue: Catalogue, command: Command, why: str) -> None:
    plan = apply(heron, command, catalogue)
    found = outlet(plan, catalogue)
    assert found.verdict is Verdict.OVER
    assert why in found.lapsed
    assert "Ina of Skerry Lane" in found.lapsed
    assert check(plan, catalogue).idle_acceptances == ()


@pytest.mark.parametrize("x_mm", [2387.0, 2391.0, 2350.0])
def test_within_its_step_or_better_it_stands(
    heron: Plan, catalogue: Catalogue, x_mm: float
) -> None:
    plan = apply(heron, set_value("vehicle.solids.shoe-box.x_mm", x_mm), catalogue)
    assert outlet(plan, catalogue).verdict is Verdict.ACCEPTED


def test_accepting_again_binds_it_anew(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(heron, set_value("vehicle.solids.shoe-box.x_mm", 2420.0), catalogue)
    found = outlet(plan, catalogue)
    assert found.lapsed
    data = {
        **heron.acceptances[0].model_dump(),
        **bound_to(Job(plan, catalogue), found),
    }
    again = plan.model_copy(update={"acceptances": (Acceptance.model_validate(data),)})
    assert outlet(again, catalogue).verdict is Verdict.ACCEPTED


def test_one_that_kept_only_rule_and_subject_covers_these(
    heron: Plan, catalogue: Catalogue
) -> None:
    """As files of then have it."""
    bare = heron.acceptances[0].model_copy(
        update={"measured": None, "about": "", "heater": None, "mount": None, "at": None}
    )
    plan = heron.model_copy(update={"acceptances": (bare,)})
    moved = apply(plan, set_value("vehicle.solids.shoe-box.x_mm", 2420.0), catalogue)
    assert outlet(moved, catalogue).verdict is Verdict.ACCEPTED


def test_the_map_shows_what_is_not_accepted_there(heron: Plan, catalogue: Catalogue) -> None:
    """What was accepted where the heater stands makes no other place clear."""
    without = heron.model_copy(update={"acceptances": ()})
    with_it, bare = (FloorMap(Job(plan, catalogue)).field(180) for plan in (heron, without))
    assert (with_it.margin_mm == bare.margin_mm).all()
