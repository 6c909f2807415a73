"""Edits: what they change, what they refuse, and what they touch."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.address import changed, find, leaves, overlap
from gale_nook.core.edits.apply import apply, fresh_id
from gale_nook.core.edits.commands import (
    COMMAND,
    Accept,
    AddItem,
    ChooseHeater,
    Command,
    DropOwnLimit,
    FeatureBelow,
    PlaceHeater,
    PutFittings,
    PutLine,
    PutSheet,
    RemoveItem,
    RemoveRun,
    SetEdges,
    SetFeature,
    SetLayers,
    SetOwnLimit,
    SetPoints,
    SetPopTop,
    SetSource,
    ShiftBelow,
    StartRun,
    TakeBelow,
    TakeRun,
    TakeSurvey,
    Withdraw,
    set_value,
    touches,
)
from gale_nook.core.edits.summary import summary_of
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.plan.heat import Timer
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.pipes import Fitting, Route, RouteNode
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.plan.spot import Candidate, Pilot, Spot
from gale_nook.core.plan.vehicle import BoxSolid, Layer, PopTop
from gale_nook.demo.load import demo_plan

LOCKER = BoxSolid(
    id="locker-9",
    name="locker",
    kind="furniture",
    x_mm=500,
    y_mm=0,
    z_mm=40,
    length_mm=300,
    width_mm=300,
    height_mm=300,
)
ACCEPTANCE = Acceptance(
    id="a-9",
    rule="spot.stack",
    subject="turret",
    reason="packed by hand",
    by="Ina",
    on="2026-01-02",
)
COMMANDS: list[Command] = [
    set_value("vehicle.shell.rear_x_mm", 4400),
    set_value("vehicle.solids.tank.name", "main tank"),
    set_value("vehicle.solids.brake-left.points.1.2", -84),
    set_value("heat.surfaces.roof.layers.l2.thickness_mm", 60),
    set_value("heat.cab_c", None),
    set_value("spot.yaw_deg", 90),
    set_value("pipes.exhaust.nodes.n-2.drain", True),
    AddItem(collection="vehicle.solids", item=LOCKER),
    RemoveItem(collection="vehicle.solids", item_id="spare"),
    RemoveItem(collection="pipes.exhaust.nodes", item_id="n-2"),
    SetPoints(item_id="fuel-line", points=((0, 0, -90), (500, 0, -95), (900, 40, -95))),
    SetLayers(faces=("roof", "left"), layers=(Layer(id="l1", material="canvas", thickness_mm=1),)),
    AddItem(
        collection="candidates",
        item=Candidate(id="spot-1", name="under the bench", spot=Spot(x_mm=900, y_mm=0)),
    ),
    AddItem(
        collection="pilots", item=Pilot(id="pilot-1", hole="turret hole", x_mm=2760, y_mm=-286)
    ),
    TakeSurvey(solids=(LOCKER,)),
    SetFeature(feature_id="feature-5", side="inside", at=(2050, -400)),
    TakeBelow(features=(FeatureBelow(id="feature-2", at=(3120, -600)),), note="bracket bent"),
    ShiftBelow(rearward_mm=4, right_mm=-3),
    PlaceHeater(x_mm=2000, y_mm=100, yaw_deg=90),
    ChooseHeater(sheet="croft-52"),
    ChooseHeater(sheet="byre-50", reason="in stock", instead_of="bothy-40"),
    PutSheet(sheet=load_catalogue().heaters["bothy-22"].model_copy(update={"id": "mine"})),
    SetPopTop(pop_top=PopTop(start_mm=500, length_mm=1900, width_mm=1300, rise_mm=500)),
    AddItem(collection="heat.night.timers", item=Timer(id="timer-1", from_h=0, to_h=6)),
    RemoveRun(tube="exhaust"),
    RemoveRun(tube="intake"),
    StartRun(tube="exhaust"),
    StartRun(tube="intake"),
    TakeRun(
        tube="exhaust", route=Route(nodes=(RouteNode(id="n-1", x_mm=2800, y_mm=880, z_mm=-300),))
    ),
    PutFittings(
        tube="exhaust", kind="joint", fittings=(Fitting(id="joint-7", kind="joint", at_mm=600),)
    ),
    AddItem(collection="pipes.intake.fittings", item=Fitting(id="cap-1", kind="cap", at_mm=300)),
    SetEdges(edges=("rear",)),
    SetSource(source="tank-outside"),
    PutLine(line=None),
    AddItem(collection="fuel.line.parts", item=LinePart(id="joint-9", kind="joint", at_mm=300)),
    set_value("fuel.line.pump.tilt_deg", 60),
    set_value("fuel.tap_x_mm", None),
    SetOwnLimit(
        limit=OwnLimit(id="outlet_gap_mm", minimum=340, note="sheet of the heater in hand, page 4")
    ),
    Accept(acceptance=ACCEPTANCE),
    Withdraw(rule="spot.outlet", subject="outlet"),
]


@pytest.mark.parametrize("command", COMMANDS, ids=lambda c: c.op)
def test_an_edit_changes_only_what_it_says_it_touches(
    heron: Plan, catalogue: Catalogue, command: Command
) -> None:
    after = apply(heron, command, catalogue)
    assert after != heron
    hit = changed(heron.model_dump(mode="json"), after.model_dump(mode="json"))
    allowed = touches(command) | ({"spot.mount"} if isinstance(command, ChooseHeater) else set())
    assert overlap(hit, allowed) == hit


@pytest.mark.parametrize("command", COMMANDS, ids=lambda c: c.op)
def test_an_edit_survives_as_json_and_has_a_summary(
    heron: Plan, catalogue: Catalogue, command: Command
) -> None:
    again = COMMAND.validate_json(COMMAND.dump_json(command))
    assert apply(heron, again, catalogue) == apply(heron, command, catalogue)
    assert 3 < len(summary_of(command, heron, catalogue)) < 80


@pytest.mark.parametrize(
    ("command", "said"),
    [
        (set_value("vehicle.solids.nothing.x_mm", 1), "nothing of that name"),
        (set_value("vehicle.shell", 1), "a group"),
        (set_value("version", 2), "cannot be set"),
        (set_value("acceptances.a-1.by", "me"), "cannot be set"),
        (set_value("vehicle.solids.tank.id", "x"), "cannot be set"),
        (set_value("vehicle.solids.tank.length_mm", -3), "greater than or equal to 0.01"),
        (set_value("vehicle.solids.tank.kind", "cloud"), "there is no 'cloud'"),
        (set_value("heat.inside_c", -30), "warmer than the outside"),
        (set_value("spot.yaw_deg", 45), "should be 0, 90, 180 or 270"),
        (RemoveItem(collection="vehicle.solids", item_id="none"), "not there any more"),
        (SetPoints(item_id="tank", points=((0, 0, 0), (1, 1, 1))), "Only tubes and outlines"),
        (SetPoints(item_id="fuel-line", points=((0, 0, 0),)), "2 or more are wanted"),
        (SetPoints(item_id="fuel-line", points=((0, 0), (1, 1))), "points"),
        (RemoveItem(collection="acceptances", item_id="a-1"), "not a list"),
        (
            AddItem(collection="vehicle.solids", item=LOCKER.model_copy(update={"id": "tank"})),
            "stands twice",
        ),
        (AddItem(collection="vehicle.openings", item=LOCKER), "openings"),
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
    first = apply(heron, AddItem(collection="vehicle.solids", item=LOCKER, first=True), catalogue)
    after = apply(
        heron, AddItem(collection="vehicle.solids", item=LOCKER, after="galley"), catalogue
    )
    assert [s.id for s in first.vehicle.solids][:2] == ["locker-9", "galley"]
    assert [s.id for s in after.vehicle.solids][:2] == ["galley", "locker-9"]


def test_fresh_ids_are_free(heron: Plan) -> None:
    assert fresh_id(heron.vehicle.solids, "member") == "member-7"


ADDRESSES = sorted(leaves(demo_plan("heron").model_dump(mode="json")))


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


def test_overlap_is_by_whole_parts() -> None:
    assert overlap({"a.b"}, {"a"}) == {"a.b"}
    assert overlap({"a"}, {"a.b.c"}) == {"a"}
    assert overlap({"a.bc"}, {"a.b"}) == set()
