"""Body types to begin from: each is a plan that can be worked with."""

from __future__ import annotations

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.heat.envelope import surface_areas_m2
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.plan.document import Plan
from gale_nook.core.references import check_references
from gale_nook.demo.load import like, new_plan

BODIES = sorted(load_catalogue().bodies)


@pytest.mark.parametrize("body", BODIES)
def test_each_body_begins_a_plan_with_nothing_over(body: str, catalogue: Catalogue) -> None:
    plan = check_references(new_plan("x", catalogue.bodies[body]), catalogue)
    found = check(plan, catalogue)
    assert [f.rule for f in found.findings if f.verdict is Verdict.OVER] == []
    assert design_loss(found.job).need_w > 500
    assert all(area > 0 for area in surface_areas_m2(plan.vehicle, plan.heat).values())


def test_the_pop_top_van_has_its_canvas(catalogue: Catalogue) -> None:
    plan = new_plan("x", catalogue.bodies["pop-top-van"])
    assert "canvas" in surface_areas_m2(plan.vehicle, plan.heat)


def test_a_vehicle_surveyed_before_is_taken_without_its_heater(heron: Plan) -> None:
    fresh = like("Second", heron)
    assert fresh.vehicle.solids == heron.vehicle.solids
    assert fresh.vehicle.shell == heron.vehicle.shell
    # nobody has looked at this one
    assert {area.how for area in fresh.vehicle.looked_at} == {"assumed"}
    assert fresh.heat.surfaces == heron.heat.surfaces
    assert fresh.heater.sheet is None
    assert fresh.spot is None
    assert fresh.name == "Second"
