"""What to buy and cut."""

from __future__ import annotations

import math

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import cuts, holes_to_cut, parts_list, steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.edits.values import set_value
from gale_nook.core.fuel.items import AddLinePart
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.quantities.sentences import say
from gale_nook.demo.load import demo_plan
from tests.plans import heron_blowing_free


def test_pipe_is_cut_with_its_allowance(heron_check: Check) -> None:
    """The run without its silencer, and 30 mm to push over and trim."""
    job = heron_check.job
    assert pipe_run(job, "exhaust") is not None
    (silencer,) = job.plan.pipes.exhaust.of_kind("silencer")  # type: ignore[union-attr]
    assert cuts(job)[0].length_mm == math.ceil(
        pipe_run(job, "exhaust").length_mm - silencer.length_mm + 30
    )


def test_a_long_run_needs_more_pipe_than_the_kit_has(heron: Plan, catalogue: Catalogue) -> None:
    """A mouth 600 farther out: the kit's 1300 is not enough, so pipe and a joint must be bought."""
    longer = apply(heron, set_value("pipes.exhaust.nodes.n-3.y_mm", -1635), catalogue)
    lines = {line.part: line for line in parts_list(check(longer, catalogue).job)}
    assert lines["exhaust-pipe"].to_buy == pytest.approx(lines["exhaust-pipe"].needed - 1300)
    assert lines["exhaust-joint"].to_buy == 1
    assert lines["exhaust-clamp"].needed == 5


def test_the_alarm_is_always_on_the_list(any_demo: Plan, catalogue: Catalogue) -> None:
    parts = [line.part for line in parts_list(check(any_demo, catalogue).job)]
    assert ("co-alarm" in parts) == (any_demo.heater.sheet is not None)


def test_what_the_kit_lacks_is_bought(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(heron, set_value("spot.mount", "turret-long"), catalogue)
    lines = {line.part: line for line in parts_list(check(plan, catalogue).job)}
    assert lines["turret-long"].to_buy == 1
    assert lines["silencer"].to_buy == 0


def test_saws(catalogue: Catalogue) -> None:
    plan = apply(heron_blowing_free(), set_value("spot.mount", "plate"), catalogue)
    saws = {hole.name: say(hole.saw) for hole in holes_to_cut(check(plan, catalogue).job)}
    assert saws == {
        "exhaust hole": "hole saw 38 mm",
        "intake hole": "hole saw 35 mm",
        "fuel hole": "step drill",
        "hole of the pump's lead": "hole saw 32 mm",
        "support 1 of the exhaust": "drill 9 mm with a stop at 40 mm, for a rivet nut",
        "support 2 of the exhaust": "drill 9 mm with a stop at 40 mm, for a rivet nut",
        "the pump's bracket": "drill 9 mm with a stop at 40 mm, for a rivet nut",
    }


def test_steps_name_their_dimensions_and_cautions(heron_check: Check, catalogue: Catalogue) -> None:
    told = steps(heron_check.job)
    assert [step.title for step in told][1:4] == [
        "Mark the place",
        "Pilot and look",
        "Cut the holes",
    ]
    assert "\ue0002760.0 mm\ue001" in told[1].text
    known = {caution.id for caution in catalogue.cautions}
    assert all(step.cautions and set(step.cautions) <= known for step in told)


def test_the_tanks_step_says_how_it_is_filled_and_the_lines_where_it_flexes(
    wren: Plan, catalogue: Catalogue
) -> None:
    side = apply(wren, set_value("fuel.tank.filler", "right"), catalogue)
    flex = LinePart(id="flex-1", kind="flex", at_mm=300, length_mm=200, hose_mm=800)
    plan = apply(side, AddLinePart(item=flex), catalogue)
    told = {step.title: say(step.text) for step in steps(check(plan, catalogue).job)}
    assert "Filled from the right, 30° above level, with a pump's nozzle" in told["Fit the tank"]
    assert "A flexible stretch of 800 mm from 300 mm to 500 mm" in told["Lay the fuel line"]


def test_nothing_to_do_before_there_is_a_place(catalogue: Catalogue) -> None:
    blank = check(demo_plan("blank"), catalogue).job
    assert steps(blank) == ()
    assert holes_to_cut(blank) == ()
    chosen = check(
        apply(demo_plan("blank"), ChooseHeater(sheet="bothy-22"), catalogue), catalogue
    ).job
    assert {line.part for line in parts_list(chosen)} == {"co-alarm", "thermometer"}
