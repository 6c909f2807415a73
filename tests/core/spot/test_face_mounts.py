"""Mounts through a side wall and in the engine bay: where their holes come out, what stops them,
what is told of them.
"""

from __future__ import annotations

import io
import math

import numpy as np
import pytest
from ezdxf.filemanagement import read
from pydantic import ValidationError

from gale_nook.core.apply import apply
from gale_nook.core.base.mount import Mount
from gale_nook.core.build.drill import drill_sheet
from gale_nook.core.build.lists import holes_to_cut, steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import StartRun
from gale_nook.core.plan.air import Air
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.vehicle import Opening
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.face_rules import face_holes_clear
from gale_nook.core.spot.placement import (
    body_corners,
    face_holes,
    facing_wall,
    floor_holes,
    heater_port,
    mount_stack_mm,
    port_point,
)
from gale_nook.core.spot.places import here
from gale_nook.core.vehicle.commands import AddOpening, AddSolid
from gale_nook.core.vehicle.floor import floor_finish_z_mm
from gale_nook.exchange.drill import drill_dxf, drill_pdf


def at_the_wall(
    plan: Plan, catalogue: Catalogue, x: float = 1200.0, yaw: int = 0, gap: float = 20.0
) -> Plan:
    """Heron with the small heater's flank so far from the left wall; at yaw 180 from
    the right one.
    """
    plan = apply(plan, ChooseHeater(sheet="bothy-22"), catalogue)
    y = (plan.vehicle.shell.floor_width_mm / 2 - 59 - gap) * (1 if yaw == 180 else -1)
    return apply(plan, PlaceHeater(x_mm=x, y_mm=y, yaw_deg=yaw, mount="wall"), catalogue)  # type: ignore[arg-type]


def in_the_bay(plan: Plan, catalogue: Catalogue) -> Plan:
    """Wren with its engine bay measured, a servo in it, and the coolant heater on its bracket
    there.
    """
    for address, value in (
        ("vehicle.shell.firewall_x_mm", -700),
        ("vehicle.shell.firewall_mm", 1.2),
    ):
        plan = apply(plan, set_value(address, value), catalogue)
    servo = {
        "x_mm": -860,
        "y_mm": -560,
        "z_mm": 80,
        "length_mm": 150,
        "width_mm": 180,
        "height_mm": 180,
    }
    solid = BoxSolid.model_validate(
        {"id": "servo", "name": "brake servo", "kind": "bay-brakes", **servo}
    )
    plan = apply(plan, AddSolid(item=solid), catalogue)
    plan = apply(plan, ChooseHeater(sheet="croft-52"), catalogue)
    plan = apply(plan, PlaceHeater(x_mm=-900, y_mm=150, yaw_deg=0, mount="engine-bay"), catalogue)
    return apply(plan, set_value("spot.z_mm", 60), catalogue)


def _of(done: Check, rule: str) -> list[Finding]:
    return [finding for finding in done.findings if finding.rule == rule]


def test_holes_in_the_wall_lie_where_the_ports_go_out(heron: Plan, catalogue: Catalogue) -> None:
    for yaw, wall in ((0, "left"), (180, "right")):
        job = Job(at_the_wall(heron, catalogue, yaw=yaw), catalogue)
        assert facing_wall(job) == wall
        assert floor_holes(job) == ()
        exhaust, intake = face_holes(job)
        assert (exhaust.face, exhaust.z_mm) == (wall, pytest.approx(floor_finish_z_mm(job) + 60))
        assert exhaust.along_mm == pytest.approx(port_point(job, heater_port(job, "exhaust"))[0])
        assert abs(exhaust.along_mm - intake.along_mm) == pytest.approx(80)
        assert (
            abs(port_point(job, heater_port(job, "exhaust"))[1])
            > heron.vehicle.shell.outer_width_mm / 2
        )


def test_what_the_fitting_passes_is_gap_and_wall(heron: Plan, catalogue: Catalogue) -> None:
    shell = heron.vehicle.shell
    thick = (shell.outer_width_mm - shell.floor_width_mm) / 2
    for gap in (15.0, 40.0):
        job = Job(at_the_wall(heron, catalogue, gap=gap), catalogue)
        assert mount_stack_mm(job) == pytest.approx(thick + gap)
    (finding,) = _of(check(at_the_wall(heron, catalogue, gap=200), catalogue), "spot.face_stack")
    assert finding.verdict is Verdict.OVER
    assert "does not reach through" in say(finding.sentence)


def test_turned_along_the_vehicle_no_wall_is_faced_and_that_is_over(
    heron: Plan, catalogue: Catalogue
) -> None:
    done = check(at_the_wall(heron, catalogue, yaw=90), catalogue)
    (finding,) = _of(done, "spot.faces_wall")
    assert (finding.verdict, finding.measured) == (Verdict.OVER, 90)
    assert face_holes(done.job) == ()
    assert _of(check(at_the_wall(heron, catalogue), catalogue), "spot.faces_wall") == []


def test_the_gap_to_a_window_by_hand(heron: Plan, catalogue: Catalogue) -> None:
    """A window 100 rearward of the hole's middle and 80 above it: √(100² + 80²) less the hole's
    radius.
    """
    plan = at_the_wall(heron, catalogue)
    hole = face_holes(Job(plan, catalogue))[0]
    window = Opening(
        id="pane",
        name="pane",
        kind="window",
        face="left",
        start_mm=hole.along_mm + 100,
        base_mm=hole.z_mm + 80,
        length_mm=300,
        height_mm=200,
        glazing=heron.vehicle.openings[0].glazing,
    )
    job = Job(apply(plan, AddOpening(item=window), catalogue), catalogue)
    left = _metal_left(job)
    assert left["pane"] == pytest.approx(math.hypot(100, 80) - 47.5)
    low = (
        min(hole.z_mm - floor_finish_z_mm(job), hole.along_mm - heron.vehicle.shell.bulkhead_x_mm)
        - 47.5
    )
    assert left["edge"] == pytest.approx(low)
    inside = window.model_copy(update={"start_mm": hole.along_mm - 50, "base_mm": hole.z_mm - 40})
    over = Job(apply(plan, AddOpening(item=inside), catalogue), catalogue)
    assert _metal_left(over)["pane"] == pytest.approx(-40 - 47.5)


def _metal_left(job: Job) -> dict[str, float]:
    """What is left between the first hole in the wall and all else, by what it is."""
    this = next(each for each in SPOT_CHECKS if each.id == "spot.face_hole")
    at = here(job)
    assert at is not None
    first = face_holes(job)[0].name.replace(" ", "-")
    return {
        measure.subject.split(":", 1)[1]: float(
            np.ravel(measure.measured(*at.everywhere.places(at.grid)))[0]
        )
        for measure in face_holes_clear(at, this)
        if measure.measured is not None and measure.subject.startswith(first)
    }


def test_the_exhaust_of_a_wall_stays_outside(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(at_the_wall(heron, catalogue), StartRun(tube="exhaust"), catalogue)
    done = check(plan, catalogue, ("pipes",))
    (floor,) = (f for f in _of(done, "pipes.floor") if f.run == "exhaust")
    assert floor.verdict is not Verdict.OVER
    assert all(f.verdict is not Verdict.OVER for f in _of(done, "pipes.joint_inside"))
    assert [
        f.rule
        for f in done.findings
        if f.verdict is Verdict.OVER and f.rule in {"pipes.mouth_edge", "pipes.first_straight"}
    ] == []


def test_a_wall_is_told_on_the_build_sheet(heron: Plan, catalogue: Catalogue) -> None:
    plan = at_the_wall(heron, catalogue).model_copy(update={"air": Air()})
    job = Job(plan, catalogue)
    own = [line for line in holes_to_cut(job) if "saw" in line.saw and "lead" not in line.name]
    assert [line.z_mm for line in own] == [hole.z_mm for hole in face_holes(job)]
    told = " ".join(say(step.text) for step in steps(job))
    assert "through the left wall" in told
    assert "above the load floor" in told
    assert "double sleeve" in told


def test_the_engine_bay_has_walls_of_its_own(wren: Plan, catalogue: Catalogue) -> None:
    plan = in_the_bay(wren, catalogue)
    done = check(plan, catalogue, ("spot",))
    low, high = body_corners(done.job) or ((0, 0, 0), (0, 0, 0))
    assert (low[2], high[2]) == (60, 60 + 172)
    against = {finding.subject for finding in _of(done, "spot.body")}
    assert against & {"bay-nose", "bay-bulkhead", "bay-left", "bay-right", "bay-bonnet", "servo"}
    assert not against & {"wall-front", "wall-left"}
    at_servo = apply(plan, PlaceHeater(x_mm=-800, y_mm=-470), catalogue)
    over = [
        f.subject
        for f in _of(check(at_servo, catalogue, ("spot",)), "spot.body")
        if f.verdict is Verdict.OVER
    ]
    assert "servo" in over
    holes = {hole.name: (hole.along_mm, hole.z_mm) for hole in face_holes(done.job)}
    assert holes == {"coolant flow fitting": (120, 150), "coolant return fitting": (180, 150)}
    assert _of(done, "spot.face_stack")[0].measured == 1.2


def test_an_engine_bay_that_was_not_measured_is_to_be_measured(
    wren: Plan, catalogue: Catalogue
) -> None:
    plan = in_the_bay(wren, catalogue)
    for address in ("vehicle.shell.firewall_x_mm", "vehicle.shell.firewall_mm"):
        plan = apply(plan, set_value(address, None), catalogue)
    done = check(plan, catalogue, ("spot",))
    assert _of(done, "spot.bay")[0].verdict is Verdict.UNKNOWN
    assert _of(done, "spot.face_stack")[0].verdict is Verdict.UNKNOWN
    with pytest.raises(BadInput, match="ahead of the load space"):
        apply(plan, set_value("vehicle.shell.firewall_x_mm", 3000), catalogue)


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"through": "wall"}, "height above the mount's plane"),
        ({"place": "engine-bay"}, "through the bulkhead"),
        ({"through": "wall", "holes": []}, "point level"),
    ],
)
def test_a_mount_that_contradicts_itself_is_refused(
    catalogue: Catalogue, changes: dict[str, object], said: str
) -> None:
    turret = catalogue.heaters["bothy-22"].mounts[0].model_dump()
    with pytest.raises(ValidationError, match=said):
        Mount.model_validate({**turret, **changes})


@pytest.mark.parametrize(("yaw", "wall"), [(0, "left"), (180, "right")])
def test_the_walls_drill_sheet_is_measured_from_floor_and_edges_and_mirrored(
    heron: Plan, catalogue: Catalogue, yaw: int, wall: str
) -> None:
    job = Job(at_the_wall(heron, catalogue, yaw=yaw), catalogue)
    sheet = drill_sheet(job)
    assert sheet is not None
    inside, outside = sheet.faces
    assert (inside.face, outside.face) == ("inside", "outside")
    assert inside.along_sign == -outside.along_sign
    assert inside.along_sign == (
        -1 if wall == "left" else 1
    )  # facing the left wall the nose is to the right
    assert inside.offsets[0].across_mm == pytest.approx(
        60
    )  # the sheet's height over the finished floor
    assert outside.offsets[0].across_mm == pytest.approx(
        floor_finish_z_mm(job) + 60 - heron.vehicle.shell.sill_z_mm
    )
    gaps = {hole.name: hole.x_mm for hole in sheet.holes}
    assert abs(gaps["exhaust hole"] - gaps["intake hole"]) == pytest.approx(80)
    drawn = [
        list(read(io.StringIO(drill_dxf(sheet, face))).modelspace().query("CIRCLE"))
        for face in sheet.faces
    ]
    left_to_right = [
        [circle.dxf.radius for circle in sorted(face, key=lambda c: c.dxf.center.x)]
        for face in drawn
    ]
    assert left_to_right[0] == left_to_right[1][::-1]
    assert drill_pdf((sheet,), ()).startswith(b"%PDF")


def test_the_bulkheads_drill_sheet_is_measured_from_the_centre_line(
    wren: Plan, catalogue: Catalogue
) -> None:
    sheet = drill_sheet(Job(in_the_bay(wren, catalogue), catalogue))
    assert sheet is not None
    assert sheet.depth_mm == 1.2
    assert sheet.faces[0].offsets[1].along_mm == pytest.approx(150)
    assert "engine bay" in sheet.faces[1].title
