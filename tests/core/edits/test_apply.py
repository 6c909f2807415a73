"""Edits: what they change, what they refuse, and what they touch."""

from __future__ import annotations

import re
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.commands import COMMAND, COMMANDS
from gale_nook.core.coolant.commands import StartLoop
from gale_nook.core.edits.address import ORDER, find, leaves
from gale_nook.core.edits.command import Command, fresh_id
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.commands import ChooseHeater, DropOwnLimit, SetOwnLimit
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import (
    PutFittings,
    StartRun,
)
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.pipes import Fitting
from gale_nook.core.spot.commands import (
    PlaceHeater,
)
from gale_nook.core.vehicle.commands import (
    AddSolid,
    SetPoints,
)
from gale_nook.demo.load import demo_plan
from tests.core.edits.samples import LOCKER, SAMPLES, sample_plan


def test_there_is_a_sample_of_every_command_there_is() -> None:
    """A command that is added to the list without a sample here is not tested by anything below. A
    usual loop begins at a coolant heater, which the sample has not: it has tests of its own.
    """
    assert {*(type(command) for command in SAMPLES), StartLoop} == set(COMMANDS)


def _name(command: Command) -> str:
    return f"{type(command).__name__}-{command.op}"


@pytest.mark.parametrize("command", SAMPLES, ids=_name)
def test_an_edit_changes_something_and_survives_as_json(
    catalogue: Catalogue, command: Command
) -> None:
    plan = sample_plan()
    after = apply(plan, command, catalogue)
    assert after != plan
    again = COMMAND.validate_json(COMMAND.dump_json(command))
    assert type(again) is type(command)
    assert apply(plan, again, catalogue) == after


@pytest.mark.parametrize("command", SAMPLES, ids=_name)
def test_an_edit_says_what_it_did(catalogue: Catalogue, command: Command) -> None:
    """In words that a person reads: no address, id or op of the plan's data in them."""
    words = command.words(Job(sample_plan(), catalogue))
    assert re.fullmatch(r"[^._{}]{4,80}", words), words


@pytest.mark.parametrize(
    ("command", "said"),
    [
        (set_value("vehicle.solids.nothing.x_mm", 1), "nothing of that name"),
        (set_value("vehicle.shell", 1), "a group"),
        (set_value("version", 2), "cannot be set"),
        (set_value("acceptances.a-1.by", "me"), "cannot be set"),
        (set_value("vehicle.solids.tank.id", "x"), "cannot be set"),
        (
            set_value("vehicle.solids.tank.length_mm", -3),
            "-3 mm.* is too little; it has to be",
        ),
        (set_value("vehicle.solids.tank.kind", "cloud"), "there is no 'cloud'"),
        (set_value("heat.inside_c", -30), "warmer than the outside"),
        (set_value("spot.yaw_deg", 45), "45 is none of these: 0, 90, 180 or 270"),
        (RemoveItem(collection="vehicle.solids", item_id="none"), "not there any more"),
        (SetPoints(item_id="tank", points=((0, 0, 0), (1, 1, 1))), "Only tubes and outlines"),
        (SetPoints(item_id="fuel-line", points=((0, 0, 0),)), "it has to be 2 or more"),
        (SetPoints(item_id="fuel-line", points=((0, 0), (1, 1))), "points"),
        (RemoveItem(collection="acceptances", item_id="a-1"), "not a list"),
        (
            AddSolid(item=LOCKER.model_copy(update={"id": "tank"})),
            "stands twice",
        ),
        (SetOwnLimit(limit=OwnLimit(id="luck_mm", minimum=1, note="x")), "there is no 'luck_mm'"),
        (
            SetOwnLimit(limit=OwnLimit(id="outlet_gap_mm", minimum=9000, note="x")),
            "not believable for clear air",
        ),
        (DropOwnLimit(limit_id="side_gap_mm"), "no limit of your own"),
        (ChooseHeater(sheet="kettle"), "there is no 'kettle'"),
        (
            PutFittings(
                tube="exhaust",
                kind="joint",
                fittings=(Fitting(id="x-1", kind="support", at_mm=600),),
            ),
            "should be a joint",
        ),
    ],
)
def test_what_cannot_be_done_is_refused_and_named(
    heron: Plan, catalogue: Catalogue, command: Command, said: str
) -> None:
    with pytest.raises(BadInput, match=said):
        apply(heron, command, catalogue)


def test_a_wholly_other_heater_brings_a_mount_it_has(heron: Plan, catalogue: Catalogue) -> None:
    after = apply(heron, ChooseHeater(sheet="croft-52"), catalogue)
    assert after.spot is not None
    assert after.spot.mount == "bracket"


def test_taking_out_the_last_corner_takes_out_the_run(heron: Plan, catalogue: Catalogue) -> None:
    for node in ("n-1", "n-2", "n-3"):
        heron = apply(heron, RemoveItem(collection="pipes.exhaust.nodes", item_id=node), catalogue)
    assert heron.pipes.exhaust is None


def test_a_new_run_starts_clear_of_its_own_rules(heron: Plan, catalogue: Catalogue) -> None:
    """The first proposal falls, ends at the edge and fits its bends, whatever stands in its way."""
    plan = apply(heron, StartRun(tube="exhaust"), catalogue)
    own = {
        "pipes.fall",
        "pipes.mouth_edge",
        "pipes.radius",
        "pipes.bend_room",
        "pipes.low_point",
        "pipes.mouth_down",
        "pipes.bends",
    }
    over = {f.rule for f in check(plan, catalogue, ("pipes",)).findings if f.verdict == "over"}
    assert not over & own


def test_a_run_needs_a_heater_first(catalogue: Catalogue) -> None:
    with pytest.raises(BadInput, match="choose a heater"):
        apply(demo_plan("blank"), StartRun(tube="exhaust"), catalogue)


def test_placing_keeps_what_it_does_not_name(heron: Plan, catalogue: Catalogue) -> None:
    after = apply(heron, PlaceHeater(x_mm=1, y_mm=2), catalogue).spot
    assert after is not None
    assert (after.x_mm, after.y_mm, after.yaw_deg, after.mount) == (1, 2, 180, "turret")


def test_items_can_come_first_or_after_another(heron: Plan, catalogue: Catalogue) -> None:
    first = apply(heron, AddSolid(item=LOCKER, first=True), catalogue)
    after = apply(heron, AddSolid(item=LOCKER, after="galley"), catalogue)
    assert [s.id for s in first.vehicle.solids][:2] == ["locker-9", "galley"]
    assert [s.id for s in after.vehicle.solids][:2] == ["galley", "locker-9"]


def test_fresh_ids_are_free(heron: Plan) -> None:
    assert fresh_id(heron.vehicle.solids, "member") == "member-7"


ADDRESSES = sorted(a for a in leaves(demo_plan("heron").model_dump(mode="json")) if ORDER not in a)


plain = (
    st.none()
    | st.booleans()
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=40)
)


@given(st.sampled_from(ADDRESSES), plain)
def test_any_value_at_any_address_is_taken_or_refused(address: str, value: Any) -> None:
    """Nothing that is set raises anything but BadInput, and what is taken can be checked."""
    book = load_catalogue()
    try:
        plan = apply(demo_plan("heron"), set_value(address, value), book)
    except BadInput:
        return
    check(plan, book)


def test_addresses_find_items_by_id() -> None:
    data = {"list": [{"id": "a", "x": 1}, {"id": "b", "x": 2}], "points": [[1, 2], [3, 4]]}
    assert find(data, "list.b.x") == 2
    assert find(data, "points.1.0") == 3
    assert leaves(data)["list.a.x"] == 1
    for wrong in ("list.c.x", "points.9.0", "", "list..x", "points.-1.0"):
        with pytest.raises(BadInput):
            find(data, wrong)
