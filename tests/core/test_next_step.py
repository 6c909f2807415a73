"""What to do next: what is missing in the order of the work, then what is over, then open."""

from __future__ import annotations

from typing import Any

from gale_nook.core.build.cards import cards
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.job import Job
from gale_nook.core.next_step import next_step
from gale_nook.core.plan.build import Build, DoneCard
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan


def _without(plan: Plan, **changes: Any) -> Plan:
    return plan.model_copy(update=changes)


def test_steps_follow_the_order_of_the_work(heron: Plan, catalogue: Catalogue) -> None:
    """A finished plan with ever less in it."""
    plan, words = heron, []
    pipes, fuel = heron.pipes, heron.fuel
    for change in (
        {},
        {"fuel": fuel.model_copy(update={"line": None})},
        {"pipes": pipes.model_copy(update={"intake": None})},
        {"pipes": pipes.model_copy(update={"intake": None, "exhaust": None})},
        {"spot": None},
        {"heater": heron.heater.model_copy(update={"sheet": None})},
        {"vehicle": heron.vehicle.model_copy(update={"solids": (), "looked_at": ()})},
    ):
        plan = _without(plan, **change)
        words.append(next_step(check(plan, catalogue)).station)
    assert words == ["build", "fuel", "pipes", "pipes", "spot", "heater", "vehicle"]


def test_what_is_over_comes_before_what_is_to_be_measured(catalogue: Catalogue) -> None:
    done = check(demo_plan("wren"), catalogue)
    step = next_step(done)
    over = done.tally(step.station)["over"]
    assert over > 0
    assert step.words.startswith(f"Clear what is over: {over} at ")


def test_a_job_in_hand_goes_on_with_its_next_card(heron: Plan, catalogue: Catalogue) -> None:
    """Printed before the first card is done, kept on record after the last."""
    listed = cards(Job(heron, catalogue))
    every = tuple(DoneCard(id=card.id) for card in listed)
    told = [
        next_step(check(_without(heron, build=Build(done=done)), catalogue)).words
        for done in ((), every[:1], every)
    ]
    assert told == ["Print the build sheet", listed[1].step.title, "Keep its record"]
