"""Another datum: every place moves along, and no verdict changes."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.edits.address import leaves
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.moves import SlideOut
from gale_nook.core.plan.spot import Pilot
from gale_nook.core.plan.vehicle import PopTop
from gale_nook.core.vehicle.commands import MoveDatum, SetPopTop, SetSlide
from gale_nook.demo.load import demo_plan


def results(plan: Plan, catalogue: Catalogue) -> dict[tuple[str, str, str], object]:
    return {
        f.key: (f.verdict, None if f.measured is None else round(f.measured, 4))
        for f in checked(Job(plan, catalogue)).findings
    }


def rich(name: str, catalogue: Catalogue) -> Plan:
    """A demo plan with a pilot, a pop-top and a slide-out as well."""
    plan = demo_plan(name)
    shell = plan.vehicle.shell
    top = PopTop(start_mm=shell.bulkhead_x_mm + 300, length_mm=900, width_mm=900, rise_mm=400)
    slide = SlideOut(from_mm=600, to_mm=1400, inner_mm=400, travel_mm=300)
    for command in (SetPopTop(pop_top=top), SetSlide(slide=slide)):
        plan = apply(plan, command, catalogue)
    pilot = Pilot(id="p", hole="turret hole", x_mm=900, y_mm=10, rearward_mm=3, right_mm=-2)
    return plan.model_copy(update={"pilots": (pilot,)})


@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
@pytest.mark.parametrize("by_mm", [730.0, -415.0])
def test_no_verdict_changes_with_the_datum(name: str, by_mm: float, catalogue: Catalogue) -> None:
    plan = rich(name, catalogue)
    moved = apply(plan, MoveDatum(name="rear edge of the step", by_mm=by_mm), catalogue)
    assert moved.vehicle.datum == "rear edge of the step"
    assert results(moved, catalogue) == results(plan, catalogue)
    back = apply(moved, MoveDatum(name=plan.vehicle.datum, by_mm=-by_mm), catalogue)
    before, after = (leaves(each.model_dump(mode="json")) for each in (plan, back))
    assert before.keys() == after.keys()
    for address, value in before.items():
        if isinstance(value, float):
            assert after[address] == pytest.approx(value, abs=1e-6), address
        else:
            assert after[address] == value


def test_another_name_of_the_same_point_moves_nothing(heron: Plan, catalogue: Catalogue) -> None:
    moved = apply(heron, MoveDatum(name="B post", by_mm=0), catalogue)
    named = heron.vehicle.model_copy(update={"datum": "B post"})
    assert moved == heron.model_copy(update={"vehicle": named})
