"""Unlikely numbers are asked about, kept, and asked about no more once somebody has answered."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.edits.values import SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.quantities.length import UnitSystem, parse_length_mm
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.core.vehicle.plausible import unlikely_values
from gale_nook.core.vehicle.starts import starting_part
from gale_nook.demo.load import demo_plan, new_plan

HEIGHT = "vehicle.shell.inside_height_mm"


def asked(plan: Plan, catalogue: Catalogue) -> dict[str, Finding]:
    check = checked(Job(plan, catalogue))
    return {f.subject: f for f in check.findings if f.rule == "vehicle.plausible"}


@pytest.mark.parametrize(
    ("typed", "meant_mm"),
    [("17500 mm", 1750.0), ("1.750", 1750.0), ("69", 1752.6), ("1750 cm", 1750.0)],
)
def test_a_slip_of_the_unit_is_asked_about_and_kept(
    typed: str, meant_mm: float, heron: Plan, catalogue: Catalogue
) -> None:
    """What was typed stays, and what was meant is offered."""
    value = parse_length_mm(typed, UnitSystem.METRIC, "height inside")
    plan = apply(heron, set_value(HEIGHT, value), catalogue)
    assert plan.vehicle.shell.inside_height_mm == value
    finding = asked(plan, catalogue)["shell.inside_height_mm"]
    assert finding.verdict is Verdict.UNKNOWN
    offered = remedies_for(Job(plan, catalogue), finding)
    meant = [o.command.changes[0].value for o in offered if isinstance(o.command, SetValues)]
    assert meant == [pytest.approx(meant_mm)]


def test_it_is_right_and_asked_no_more_until_it_changes(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(heron, set_value(HEIGHT, 3100.0), catalogue)
    finding = asked(plan, catalogue)["shell.inside_height_mm"]
    right = next(
        o for o in remedies_for(Job(plan, catalogue), finding) if "ask no more" in o.sentence
    )
    sure = apply(plan, right.command, catalogue)
    assert sure.vehicle.shell.inside_height_mm == 3100.0
    assert "shell.inside_height_mm" not in asked(sure, catalogue)
    other = apply(sure, set_value(HEIGHT, 31000.0 / 9), catalogue)
    assert "shell.inside_height_mm" in asked(other, catalogue)


def test_parts_that_no_such_part_is_like(heron: Plan, catalogue: Catalogue) -> None:
    """A brake pipe as a steel box, a thin vehicle exhaust, a bed of steel."""
    job = Job(heron, catalogue)
    box = {"x_mm": 0.0, "y_mm": 0.0, "z_mm": -400.0}
    size = {"length_mm": 500.0, "width_mm": 400.0, "height_mm": 150.0}
    brake = BoxSolid(id="b", name="brake pipe", kind="brake-pipe", **box, **size)
    thin = starting_part(job, catalogue.solid_kinds["vehicle-exhaust"]).model_copy(
        update={"diameter_mm": 20.0}
    )
    bed = starting_part(job, catalogue.solid_kinds["bed"]).model_copy(update={"material": "steel"})
    plan = heron
    for part in (brake, thin, bed):
        plan = apply(plan, AddSolid(item=part), catalogue)
    found = asked(plan, catalogue)
    assert set(found) >= {
        "solids.b.shape",
        "solids.b.height_mm",
        f"solids.{thin.id}.diameter_mm",
        f"solids.{bed.id}.material",
    }
    assert "500 mm × 400 mm × 150 mm" in say(found["solids.b.shape"].sentence)
    assert "A brake pipe is usually a tube" in found["solids.b.shape"].sentence


def test_what_a_part_of_each_kind_is_like_to_begin_with_is_not_asked_about(
    catalogue: Catalogue,
) -> None:
    for body in catalogue.bodies.values():
        plan = new_plan("new", body)
        for kind in catalogue.solid_kinds.values():
            part = starting_part(Job(plan, catalogue), kind)
            plan = plan.model_copy(
                update={
                    "vehicle": plan.vehicle.model_copy(
                        update={"solids": (*plan.vehicle.solids, part)}
                    )
                }
            )
        assert unlikely_values(Job(plan, catalogue)) == ()


@pytest.mark.parametrize("name", ["heron", "quarto", "wren", "blank"])
def test_the_demos_are_likely(name: str, catalogue: Catalogue) -> None:
    assert asked(demo_plan(name), catalogue) == {}
