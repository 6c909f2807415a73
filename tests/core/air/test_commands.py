"""Edits of the warm air: each does what it says, and refuses what cannot be."""

from __future__ import annotations

import itertools

import pytest

from gale_nook.core.air.commands import (
    PutDuctParts,
    RemoveDuct,
    SetEnd,
    StartDuct,
    StartReturn,
    TakeDucts,
)
from gale_nook.core.apply import applied
from gale_nook.core.checking import checked
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Outlet
from gale_nook.core.plan.solids import Hollow
from gale_nook.core.vehicle.commands import SetHollow
from tests.core.ducts.ducted import BED, duct, ducted, two_outlets


def _after(job: Job, command: Command) -> Job:
    return job.with_plan(applied(job, command))


def _empty() -> Job:
    job = ducted()
    air = job.plan.air.model_copy(update={"ducts": (), "warm_end": "free"})
    return job.with_parts(air=air)


def test_a_first_duct_is_as_wide_as_the_heater_and_as_straight_as_the_sheet_asks() -> None:
    job = _after(_empty(), StartDuct())
    (first,) = job.plan.air.ducts
    assert job.plan.air.warm_end == "duct"
    assert first.kind == "duct-75"
    over = [f.rule for f in checked(job).of("air") if f.verdict is Verdict.OVER]
    assert not {"air.first_straight", "air.bore", "air.radius", "air.bend_room"} & set(over)


def test_a_duct_to_a_place_ends_there_square_to_the_vehicle() -> None:
    job = _after(_empty(), StartDuct(to=(1500.0, 300.0, 400.0)))
    (first,) = job.plan.air.ducts
    end = first.nodes[-1]
    assert (end.x_mm, end.y_mm, end.z_mm) == (1500.0, 300.0, 400.0)
    points = [(n.x_mm, n.y_mm, n.z_mm) for n in first.nodes]
    for a, b in itertools.pairwise(points):
        assert sum(abs(p - q) > 0.01 for p, q in zip(a, b, strict=True)) == 1


def test_only_one_duct_leads_from_the_heater_and_one_from_each_leg() -> None:
    with pytest.raises(BadInput, match="leads from the heater already"):
        applied(ducted(), StartDuct())
    with pytest.raises(BadInput, match="No duct can go on"):
        applied(ducted(), StartDuct(comes_from="up"))
    with pytest.raises(BadInput):
        applied(ducted(), StartDuct(comes_from="trunk", leg="branch"))
    freed = _after(ducted(), RemoveDuct(duct="aside"))
    again = _after(freed, StartDuct(comes_from="trunk", leg="branch"))
    assert len(again.plan.air.ducts) == 3


def test_taking_a_duct_out_takes_what_goes_on_from_it() -> None:
    assert not _after(ducted(), RemoveDuct(duct="trunk")).plan.air.ducts
    assert [d.id for d in _after(ducted(), RemoveDuct(duct="up")).plan.air.ducts] == [
        "trunk",
        "aside",
    ]
    with pytest.raises(BadInput, match="not there any more"):
        applied(ducted(), RemoveDuct(duct="gone"))


def test_how_a_duct_ends_can_be_changed_where_nothing_goes_on() -> None:
    split = _after(ducted(), SetEnd(duct="up", splitter="y-even"))
    assert split.plan.air.ducts[1].outlet is None
    with pytest.raises(BadInput, match="go on from this one"):
        applied(ducted(), SetEnd(duct="trunk", outlet=Outlet()))


def test_parts_of_another_kind_are_refused() -> None:
    job = ducted()
    clip = job.plan.air.ducts[0].parts
    assert clip == ()
    from gale_nook.core.plan.air import DuctPart  # noqa: PLC0415

    wrong = DuctPart(id="a", kind="guard")
    with pytest.raises(BadInput, match="should be a clip"):
        applied(job, PutDuctParts(duct="up", kind="clip", parts=(wrong,)))


def test_a_return_duct_begins_at_the_inlet_and_goes_again() -> None:
    there = _after(ducted(), StartReturn())
    assert there.plan.air.cold_end == "duct"
    assert there.plan.air.return_duct is not None
    assert _after(there, StartReturn(there=False)).plan.air.return_duct is None


@pytest.mark.parametrize(
    ("address", "value", "words"),
    [
        ("air.ducts.up.kind", "duct-12", "no 'duct-12'"),
        ("air.ducts.up.outlet.open_percent", 2, "5"),
        ("air.ducts.up.outlet.open_percent", 140, "100"),
        ("air.ducts.up.outlet.share_percent", -1, "0"),
        ("air.ducts.up.outlet.zone", "attic", "not there"),
        ("air.ducts.up.outlet.aim_deg", 120, "90"),
        ("air.ducts.trunk.comes_from", "trunk", "back into itself"),
        ("air.ducts.aside.leg", "straight", "same end"),
        ("air.sensor_zone", "attic", "not there"),
        ("air.panel_grille", "lace", "no 'lace'"),
    ],
)
def test_what_cannot_be_is_refused_in_words(address: str, value: object, words: str) -> None:
    with pytest.raises(BadInput) as caught:
        applied(ducted(), set_value(address, value))  # type: ignore[arg-type]
    assert words in caught.value.problem


def test_a_zone_that_an_outlet_heats_is_not_taken_out() -> None:
    job = ducted(*two_outlets(zone="bed"), zones=(BED,))
    with pytest.raises(BadInput, match="zone that is not there"):
        applied(job, RemoveItem(collection="air.zones", item_id="bed"))


def test_a_tree_with_a_hole_in_it_is_refused() -> None:
    lost = duct("lost", (1900, -286, 117), after="nowhere", outlet="fixed-75")
    with pytest.raises(BadInput, match="not there"):
        applied(ducted(), TakeDucts(ducts=(lost,)))


def test_only_boxes_are_hollow() -> None:
    job = ducted()
    hollow = _after(job, SetHollow(solid="bench", hollow=Hollow()))
    assert next(s for s in hollow.plan.vehicle.solids if s.id == "bench").hollow is not None  # type: ignore[union-attr]
    with pytest.raises(BadInput, match="no box"):
        applied(job, SetHollow(solid="loom", hollow=Hollow()))
