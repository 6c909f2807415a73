"""Clearing what is over: few changes, none of which is not needed; what is left is named."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.planner.clearing import changed, clear_over, needed, over_of
from gale_nook.demo.load import demo_plan


def _with_mistakes(catalogue: Catalogue) -> Job:
    plan = demo_plan("heron")
    for address, value in (
        ("fuel.line.pump.forwards", False),
        ("power.leads.supply.parts.fuse-1.rating_a", 60.0),
        ("fuel.line.pump.rubber", False),
    ):
        plan = apply(plan, set_value(address, value), catalogue)
    return Job(plan, catalogue)


def test_nothing_over_needs_no_change(catalogue: Catalogue) -> None:
    found = clear_over(Job(demo_plan("heron"), catalogue))
    assert (found.changes, found.left, found.before) == ((), (), 0)


def test_mistakes_are_cleared_one_by_one(catalogue: Catalogue) -> None:
    job = _with_mistakes(catalogue)
    found = clear_over(job)
    assert found.before == len(over_of(job)) >= 3
    assert (found.after, found.left) == (0, ())
    assert len(found.changes) == 3
    done = changed(job, [change.command for change in found.changes])
    assert check(done.plan, catalogue).tally()["over"] == 0
    assert all(change.clears for change in found.changes)


def test_each_change_is_needed(catalogue: Catalogue) -> None:
    job = _with_mistakes(catalogue)
    found = clear_over(job)
    commands = [change.command for change in found.changes]
    for number in range(len(commands)):
        fewer = changed(job, commands[:number] + commands[number + 1 :])
        assert over_of(fewer)
    assert needed(job, (*found.changes, *found.changes)) != [*found.changes, *found.changes]


@pytest.mark.slow
def test_wren_gets_from_a_hundred_to_next_to_none(catalogue: Catalogue) -> None:
    job = Job(demo_plan("wren"), catalogue)
    found = clear_over(job)
    after = changed(job, [change.command for change in found.changes])
    assert found.before > 50
    assert len(over_of(after)) == found.after == len(found.left) <= 5
    assert all(left.sentence and left.why for left in found.left)
    assert len(found.changes) <= 15
    assert not {f.key for f in over_of(after)} - {f.key for f in over_of(job)} or found.left
