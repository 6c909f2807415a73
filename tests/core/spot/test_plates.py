"""Plates, existing openings and shelves against distances that can be read off the drawing."""

from __future__ import annotations

import numpy as np
import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.vehicle import Feature, FloorArea, Layer
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.commands import PlaceHeater, UseOpening
from gale_nook.core.spot.field import CAP_MM
from gale_nook.core.spot.floor_map import YAWS, FloorMap
from gale_nook.core.spot.placement import mount_plane_z_mm
from gale_nook.core.spot.work import holes_to_close, spot_steps
from gale_nook.core.vehicle.commands import AddFeature, AddSolid
from gale_nook.demo.load import demo_plan

HATCH = Feature(
    id="hatch", name="the old hatch", kind="hole", inside=(1500.0, 0.0), length_mm=200, width_mm=160
)
FLUE = Feature(id="flue", name="the old flue", kind="hole", inside=(1500.0, 0.0), diameter_mm=180)
OLD_STEP = BoxSolid(
    id="step",
    name="the step",
    kind="furniture",
    x_mm=1200,
    y_mm=-300,
    z_mm=9,
    length_mm=600,
    width_mm=600,
    height_mm=30,
)


def _plan(*commands: Command) -> Plan:
    """An almost empty van with the Bothy 40 at 1500 behind the datum, on the centre line."""
    book, plan = load_catalogue(), demo_plan("blank")
    for command in (ChooseHeater(sheet="bothy-40"), PlaceHeater(x_mm=1500, y_mm=0), *commands):
        plan = apply(plan, command, book)
    return plan


def _job(*commands: Command) -> Job:
    return Job(_plan(*commands), load_catalogue())


def _found(rule: str, subject: str, *commands: Command) -> Finding:
    finding = check(_plan(*commands), load_catalogue(), ("spot",)).find(rule, subject)
    assert finding is not None
    return finding


def _box(low: tuple[float, float, float], size: tuple[float, float, float]) -> AddSolid:
    names = ("x_mm", "y_mm", "z_mm", "length_mm", "width_mm", "height_mm")
    values = dict(zip(names, (*low, *size), strict=True))
    return AddSolid(item=BoxSolid(id="strip", name="the strip", kind="furniture", **values))


def test_what_lies_under_the_plate_is_over() -> None:
    """The turret's plate reaches 87.5 beside the middle; the body 73. A strip from 80 on lies
    beside the body and under the plate.
    """
    finish = mount_plane_z_mm(_job())
    under = _found("spot.plate", "strip", _box((1400, 80, finish), (200, 40, 3)))
    assert under.verdict is Verdict.OVER
    assert "has to lie flat" in under.sentence
    beside = _found("spot.plate", "strip", _box((1400, 97.5, finish), (200, 40, 3)))
    assert beside.measured == pytest.approx(10.0)


def test_a_hole_that_the_plate_does_not_cover_is_over() -> None:
    """A hole of 127 under a plate of 120: its edge lies 3.5 outside."""
    job = _job()
    sheet = job.catalogue.heaters["bothy-40"]
    turret = sheet.mounts[0]
    assert turret.plate is not None
    small = turret.model_copy(update={"plate": turret.plate.model_copy(update={"length_mm": 120})})
    own = sheet.model_copy(update={"id": "own-plate", "mounts": (small,)})
    plan = job.plan.model_copy(
        update={
            "heater": job.plan.heater.model_copy(update={"own_sheets": (own,), "sheet": own.id})
        }
    )
    found = check(plan, load_catalogue(), ("spot",)).find("spot.plate", "covers:turret-hole")
    assert found is not None
    assert found.measured == pytest.approx(-3.5)
    assert found.verdict is Verdict.OVER


@pytest.mark.parametrize(("opening", "left_mm"), [(HATCH, 16.5), (FLUE, 26.5)])
def test_an_existing_opening_is_used_with_a_plate(opening: Feature, left_mm: float) -> None:
    """A hole of 127 in an opening of 200 by 160: 36.5 and 16.5 left; in a round one of 180: 26.5.
    The plate laps the rim by 30 all round and carries a mount of 175.
    """
    plan = _plan(AddFeature(item=opening), UseOpening(opening=opening.id))
    findings = check(plan, load_catalogue(), ("spot",)).findings
    of_it = {f.subject: f for f in findings if f.rule == "spot.adapter"}
    assert of_it["inside:turret-hole"].measured == pytest.approx(left_mm)
    assert of_it["rim"].measured == pytest.approx(30.0)
    assert set(of_it) == {"inside:turret-hole", "rim", "bears"}
    assert all(f.verdict in {Verdict.CLEAR, Verdict.TIGHT} for f in of_it.values())


def test_the_heater_moves_out_of_the_opening() -> None:
    """30 rearward of its middle in the hatch: 36.5 − 30 = 6.5 left; 40: 3.5 over the edge."""
    moved = (AddFeature(item=HATCH), UseOpening(opening="hatch"))
    still = _found("spot.adapter", "inside:turret-hole", *moved, PlaceHeater(x_mm=1530, y_mm=0))
    assert still.measured == pytest.approx(6.5)
    out = _found("spot.adapter", "inside:turret-hole", *moved, PlaceHeater(x_mm=1540, y_mm=0))
    assert out.measured == pytest.approx(-3.5)
    assert out.verdict is Verdict.OVER
    across = _found("spot.adapter", "bears", *moved, PlaceHeater(x_mm=1500, y_mm=25))
    # the plate is 160 + 2 × 30 wide, the mount 175: 22.5 − 25
    assert across.measured == pytest.approx(-2.5)


def test_a_plate_too_small_for_its_opening_is_over() -> None:
    small = (
        AddFeature(item=HATCH),
        UseOpening(opening="hatch"),
        set_value("spot.adapter.width_mm", 190.0),
    )
    rim = _found("spot.adapter", "rim", *small)
    assert rim.measured == pytest.approx(15.0)
    assert rim.verdict is Verdict.OVER
    assert rim.band.minimum == 25
    open_still = _found("spot.adapter", "rim", *small, set_value("spot.adapter.width_mm", 150.0))
    assert "10" in open_still.sentence
    assert "too small to close" in open_still.sentence


def test_what_stands_under_the_adapter_plate_is_over() -> None:
    finish = mount_plane_z_mm(_job())
    strip = _box((1610, -40, finish), (60, 80, 3))
    found = _found(
        "spot.adapter", "strip", AddFeature(item=HATCH), UseOpening(opening="hatch"), strip
    )
    assert found.verdict is Verdict.OVER


@pytest.mark.parametrize(
    ("edge_mm", "left_mm", "verdict"), [(100.0, -10.0, "over"), (120.0, 10.0, "clear")]
)
def test_the_adapter_plate_lies_on_one_floor(edge_mm: float, left_mm: float, verdict: str) -> None:
    """It reaches 110 right of the hatch's middle at 0, the turret's plate only 87.5."""
    plan = _plan(AddFeature(item=HATCH), UseOpening(opening="hatch"))
    low = FloorArea(
        id="well",
        name="the well",
        top_z_mm=-120.0,
        from_x_mm=1000.0,
        to_x_mm=2400.0,
        left_y_mm=edge_mm,
        right_y_mm=890.0,
        layers=(Layer(id="steel", material="steel", thickness_mm=1.5),),
    )
    vehicle = plan.vehicle.model_copy(update={"floors": (low,)})
    done = check(plan.model_copy(update={"vehicle": vehicle}), load_catalogue(), ("spot",))
    heater, plate = done.find("spot.floor", "floor"), done.find("spot.floor", "adapter-plate")
    assert heater is not None
    assert plate is not None
    assert heater.verdict is Verdict.CLEAR
    assert (plate.measured, plate.verdict.value) == (pytest.approx(left_mm), verdict)


def test_nothing_is_drilled_in_an_opening() -> None:
    """A member 16.5 beside the hole asks for 30 where the floor is cut, and for nothing where it is
    open already; one that the hole cuts into is over all the same.
    """
    member = BoxSolid(
        id="m",
        name="m",
        kind="member",
        x_mm=1580,
        y_mm=-400,
        z_mm=-150,
        length_mm=60,
        width_mm=800,
        height_mm=80,
    )
    cut = _found("spot.hole", "turret-hole:m", AddSolid(item=member))
    opened = (AddFeature(item=FLUE), UseOpening(opening="flue"), AddSolid(item=member))
    assert cut.band.minimum == 15
    found = _found("spot.hole", "turret-hole:m", *opened)
    assert (found.band.minimum, found.measured) == (0, pytest.approx(16.5))
    into = member.model_copy(update={"x_mm": 1550.0})
    found = _found("spot.hole", "turret-hole:m", *opened[:2], AddSolid(item=into))
    assert found.verdict is Verdict.OVER


def test_the_mount_clamps_the_plate_and_passes_the_floor() -> None:
    """A mount that needs 2 mm to clamp finds 1 mm of plate too thin, however thick the floor is."""
    opened = (AddFeature(item=FLUE), UseOpening(opening="flue"))
    floor = _found("spot.stack", "turret")
    plate = _found("spot.stack", "turret", *opened)
    assert plate.measured == pytest.approx((floor.measured or 0) + 3.0)
    thin = _found("spot.stack", "turret", *opened, set_value("spot.adapter.thickness_mm", 1.0))
    least = thin.band.minimum
    assert least is not None
    assert (thin.verdict is Verdict.OVER) == (least > 1.0)
    assert mount_plane_z_mm(_job(*opened)) == pytest.approx(mount_plane_z_mm(_job()) + 3.0)


def test_an_opening_without_a_size_is_refused_and_one_that_is_gone_is_to_measure() -> None:
    bare = HATCH.model_copy(update={"length_mm": None})
    with pytest.raises(BadInput, match="size was not measured"):
        _plan(AddFeature(item=bare), UseOpening(opening="hatch"))
    gone = RemoveItem(collection="vehicle.features", item_id="hatch")
    found = _found("spot.opening", "-", AddFeature(item=HATCH), UseOpening(opening="hatch"), gone)
    assert found.verdict is Verdict.UNKNOWN


def test_a_used_opening_is_not_closed_and_its_plate_is_made() -> None:
    job = _job(AddFeature(item=FLUE), AddFeature(item=HATCH), UseOpening(opening="hatch"))
    assert [feature.id for feature in holes_to_close(job)] == ["flue"]
    steps = {step.title: say(step.text) for step in spot_steps(job)}
    assert "260 mm along by 220 mm across by 3 mm" in steps["Make the adapter plate"]
    taken = apply(job.plan, UseOpening(), job.catalogue)
    assert taken.spot is not None
    assert taken.spot.adapter is None


def test_a_shelf_carries_the_heater() -> None:
    """A step of 600 by 600 from 1200, −300: the plate of 175 in its middle leaves 212.5; the heater
    stands on top, with nothing of the step over.
    """
    on_it = (AddSolid(item=OLD_STEP), set_value("spot.stands_on", "step"))
    assert _found("spot.shelf", "shelf", *on_it).measured == pytest.approx(212.5)
    assert mount_plane_z_mm(_job(*on_it)) == pytest.approx(39.0)
    plan = _plan(*on_it)
    over = [
        f for f in check(plan, load_catalogue(), ("spot",)).findings if f.verdict is Verdict.OVER
    ]
    assert not [f for f in over if f.subject == "step"]
    stack = _found("spot.stack", "turret", *on_it)
    assert stack.measured == pytest.approx((_found("spot.stack", "turret").measured or 0) + 30)
    assert "the height of the step" in stack.sentence
    edge = _found("spot.shelf", "shelf", *on_it, PlaceHeater(x_mm=1730, y_mm=0))
    assert edge.measured == pytest.approx(1800 - 1730 - 87.5)
    assert edge.verdict is Verdict.OVER


def test_a_turned_shelf_carries_by_its_own_edges() -> None:
    """Turned by 45°, a square of 600 has its edge 300 from its middle along the diagonal; a corner
    of the plate at (87.5, 87.5) lies 123.7 out.
    """
    turned = OLD_STEP.model_copy(update={"yaw_deg": 45.0, "uncertainty_mm": 5.0})
    found = _found(
        "spot.shelf", "shelf", AddSolid(item=turned), set_value("spot.stands_on", "step")
    )
    assert found.measured == pytest.approx(300 - 87.5 * 2**0.5 - 5.0)


def test_a_shelf_that_is_gone_is_to_measure() -> None:
    gone = RemoveItem(collection="vehicle.solids", item_id="step")
    on_it = (AddSolid(item=OLD_STEP), set_value("spot.stands_on", "step"), gone)
    found = _found("spot.stands_on", "-", *on_it)
    assert found.verdict is Verdict.UNKNOWN


@pytest.mark.slow
@pytest.mark.parametrize("case", ["hatch", "flue", "step"])
def test_the_map_knows_openings_and_shelves(case: str, catalogue: Catalogue) -> None:
    """At random places the map has the margin of the findings there."""
    commands = {
        "hatch": (AddFeature(item=HATCH), UseOpening(opening="hatch")),
        "flue": (AddFeature(item=FLUE), UseOpening(opening="flue")),
        "step": (AddSolid(item=OLD_STEP), set_value("spot.stands_on", "step")),
    }[case]
    job = Job(_plan(*commands), catalogue)
    floor, chance, clear = FloorMap(job), np.random.default_rng(20261129), 0
    base, spread = job.plan.spot, 200 if case == "step" else 60
    assert base is not None
    for _ in range(150):
        yaw = int(chance.choice(YAWS))
        column = int(np.argmin(np.abs(floor.grid.x_mm - 1500 - chance.normal(0, spread))))
        row = int(np.argmin(np.abs(floor.grid.y_mm - chance.normal(0, spread))))
        x_mm, y_mm = float(floor.grid.x_mm[column]), float(floor.grid.y_mm[row])
        spot = base.model_copy(update={"x_mm": x_mm, "y_mm": y_mm, "yaw_deg": yaw})
        there = job.with_parts(spot=spot)
        margins = [f.margin for f in findings_of(there, SPOT_CHECKS) if f.margin is not None]
        expected = min(*margins, CAP_MM)
        assert float(floor.fields[yaw].margin_mm[row, column]) == pytest.approx(expected, abs=1e-6)
        clear += expected >= 0
    assert 5 < clear < 150
