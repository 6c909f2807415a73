"""Two edits from one revision: both stand, or the second is shown both and chooses."""

from __future__ import annotations

from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import applied, apply
from gale_nook.core.collisions import laid_over
from gale_nook.core.edits.address import leaves
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import SetValues, set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import AddCorner
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import DEMO_NAMES, demo_plan
from tests.core.edits.samples import LOCKER, SAMPLES, sample_plan

BOOK = load_catalogue()
PLANS = {"sample": sample_plan(), **{name: demo_plan(name) for name in DEMO_NAMES}}


def _values(plan: Plan) -> dict[str, object]:
    return leaves(plan.model_dump(mode="json"))


def _effects(before: Plan, after: Plan) -> dict[str, object]:
    """What an edit made of every value that it changed; "gone" where it took it out."""
    old, new = _values(before), _values(after)
    every = {a: (old.get(a, "gone"), new.get(a, "gone")) for a in old.keys() | new.keys()}
    return {address: now for address, (was, now) in every.items() if was != now}


def _assert_both_stand_or_are_shown(plan: Plan, first: Command, second: Command) -> bool:
    """Return whether both stand."""
    seen = Job(plan, BOOK)
    now = seen.with_plan(applied(seen, first))
    found = laid_over(second, seen, now)
    if found.job is None:
        assert found.clashes
        assert any(clash.theirs != clash.yours for clash in found.clashes)
        return False
    result = _values(found.job.plan)
    theirs, yours = _effects(plan, now.plan), _effects(plan, applied(seen, found.command))
    for address, value in (*theirs.items(), *yours.items()):
        assert result.get(address, "gone") == value, address
    before = _values(plan)
    untouched = before.keys() - theirs.keys() - yours.keys()
    assert all(result.get(a, "gone") == before[a] for a in untouched)
    return True


def _goes(plan: Plan, command: Command) -> bool:
    try:
        apply(plan, command, BOOK)
    except BadInput:
        return False
    return True


@pytest.mark.slow
@pytest.mark.parametrize("first", SAMPLES, ids=lambda c: f"{type(c).__name__}-{c.op}")
def test_any_two_commands_both_stand_or_the_second_chooses(first: Command) -> None:
    """Each command with an eighth of all there are, on a plan where every one does something."""
    plan, offset = PLANS["sample"], SAMPLES.index(first) % 8
    stood = [_assert_both_stand_or_are_shown(plan, first, c) for c in SAMPLES[offset::8]]
    assert any(stood)  # nothing that is done stops everybody else


@pytest.mark.parametrize("command", SAMPLES, ids=lambda c: f"{type(c).__name__}-{c.op}")
def test_the_same_command_twice_is_either_the_same_effect_or_shown(command: Command) -> None:
    _assert_both_stand_or_are_shown(PLANS["sample"], command, command)


@pytest.mark.slow
@settings(max_examples=40)
@given(st.sampled_from(DEMO_NAMES), st.sampled_from(list(product(SAMPLES, SAMPLES))))
def test_on_any_demo_plan_too(name: str, pair: tuple[Command, Command]) -> None:
    plan, (first, second) = PLANS[name], pair
    if _goes(plan, first) and _goes(plan, second):
        _assert_both_stand_or_are_shown(plan, first, second)


def _laid(plan: Plan, first: Command, second: Command) -> tuple[Plan | None, list[str]]:
    seen = Job(plan, BOOK)
    found = laid_over(second, seen, seen.with_plan(applied(seen, first)))
    return found.job.plan if found.job is not None else None, [c.address for c in found.clashes]


def test_a_mount_is_not_lost_to_another_heater() -> None:
    """Byre has no plate: choosing it would quietly take the mount that was just set."""
    mount, heater = set_value("spot.mount", "plate"), ChooseHeater(sheet="croft-52")
    after, shown = _laid(demo_plan("heron"), mount, heater)
    assert after is None
    assert "spot.mount" in shown


def test_a_typed_clamp_is_not_lost_with_what_it_held() -> None:
    plan = demo_plan("heron")
    assert plan.pipes.exhaust is not None
    silencer = plan.pipes.exhaust.of_kind("silencer")[0]
    near = min(plan.pipes.exhaust.of_kind("clamp"), key=lambda c: abs(c.at_mm - silencer.at_mm))
    typed = set_value(f"pipes.exhaust.fittings.{near.id}.at_mm", near.at_mm + 2)
    gone = RemoveItem(collection="pipes.exhaust.fittings", item_id=silencer.id)
    for first, second in ((typed, gone), (gone, typed)):
        after, shown = _laid(plan, first, second)
        assert after is None
        assert any(near.id in address for address in shown)


def test_two_corners_in_one_place_are_shown() -> None:
    """Which comes first decides where the pipe runs."""

    def corner(number: int, x: float) -> AddCorner:
        node = RouteNode(id=f"n-{number}", x_mm=x, y_mm=400, z_mm=-200)
        return AddCorner(collection="pipes.exhaust.nodes", item=node, after="n-2")

    assert _laid(demo_plan("heron"), corner(8, 2700), corner(9, 2800))[0] is None


def test_two_parts_that_were_given_one_id_both_stay() -> None:
    other = LOCKER.model_copy(update={"name": "another locker"})
    after, _ = _laid(demo_plan("heron"), AddSolid(item=LOCKER), AddSolid(item=other))
    assert after is not None
    assert {"locker", "another locker"} <= {solid.name for solid in after.vehicle.solids}


def test_values_of_one_part_do_not_clash() -> None:
    here, there = "vehicle.solids.tank.length_mm", "vehicle.solids.tank.width_mm"
    after, _ = _laid(demo_plan("heron"), set_value(here, 950), set_value(there, 450))
    assert after is not None
    assert isinstance(set_value(here, 1), SetValues)
    assert (_values(after)[here], _values(after)[there]) == (950, 450)
