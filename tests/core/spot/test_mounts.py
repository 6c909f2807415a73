"""Mounts other than one round hole: cuts, several holes, a box below, a body on its side."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.base.mount import MountHole
from gale_nook.core.build.drill import drill_sheet
from gale_nook.core.build.lists import holes_to_cut, parts_list, steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.geometry.shapes import solid_shape
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, Solid
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.hole_rules import metal_left_mm
from gale_nook.core.spot.obstacles import solid_obstacle
from gale_nook.core.spot.placement import PlacedHole, body_corners, floor_holes
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.exchange.drill import drill_dxf, drill_pdf


def _on(plan: Plan, catalogue: Catalogue, sheet: str, mount: str, yaw: int = 0) -> Plan:
    plan = apply(plan, ChooseHeater(sheet=sheet), catalogue)
    return apply(
        apply(plan, set_value("spot.mount", mount), catalogue),
        set_value("spot.yaw_deg", yaw),
        catalogue,
    )


def test_a_cut_turns_with_the_heater(wren: Plan, catalogue: Catalogue) -> None:
    for yaw, half in ((0, (95, 65)), (90, (65, 95)), (180, (95, 65)), (270, (65, 95))):
        hole = floor_holes(Job(_on(wren, catalogue, "byre-50", "boxed", yaw), catalogue))[0]
        assert hole.reach_mm == half
        assert hole.is_cut


def test_a_cut_beside_a_member_and_a_pipe_by_hand() -> None:
    """A cut of 190 × 130 at (0, 0): 40 to a box from x = 135; past its corner to a round post by
    Pythagoras.
    """
    cut = PlacedHole("cut", 0, 0, 12, 95, 65)
    member = BoxSolid(
        id="m",
        name="m",
        kind="member",
        x_mm=135,
        y_mm=-500,
        z_mm=-80,
        length_mm=60,
        width_mm=1000,
        height_mm=60,
    )
    post = CylinderSolid(
        id="p",
        name="p",
        kind="liner",
        axis="z",
        x_mm=125,
        y_mm=105,
        z_mm=-50,
        diameter_mm=20,
        length_mm=60,
    )
    assert _left_mm(cut, member) == pytest.approx(40)
    assert _left_mm(cut, post) == pytest.approx(math.hypot(30, 40) - 10)


def _left_mm(hole: PlacedHole, solid: Solid) -> float:
    kind = load_catalogue().solid_kinds[solid.kind]
    part = solid_obstacle(solid, kind, solid_shape(solid))
    return float(np.ravel(metal_left_mm(hole, part, hole.x_mm, hole.y_mm))[0])


@given(st.floats(-300, 300), st.floats(-300, 300))
def test_a_cut_is_never_nearer_than_the_circle_in_it_nor_farther_than_the_one_round_it(
    x: float, y: float
) -> None:
    post = CylinderSolid(
        id="p",
        name="p",
        kind="liner",
        axis="z",
        x_mm=x,
        y_mm=y,
        z_mm=-50,
        diameter_mm=20,
        length_mm=60,
    )
    away = math.hypot(x, y) - 10
    gap = _left_mm(PlacedHole("cut", 0, 0, 12, 95, 65), post)
    if gap > 0:
        assert away - math.hypot(95, 65) - 1e-6 <= gap <= away - 65 + 1e-6


def test_a_cut_is_told_drawn_and_cut_as_one(wren: Plan, catalogue: Catalogue) -> None:
    job = Job(_on(wren, catalogue, "byre-50", "boxed"), catalogue)
    saw = say(holes_to_cut(job)[0].saw)
    assert saw == "jigsaw 190 mm × 130 mm between four corner holes of 12 mm"
    assert "boxed" in {line.part for line in parts_list(job)}
    told = " ".join(say(step.text) for step in steps(job))
    assert "fire-rated sealant in every corner" in told
    assert "The plate comes out with the heater on it." in told
    sheet = drill_sheet(job)
    assert sheet is not None
    assert sheet.half_size_mm == (95, 65)
    assert "LWPOLYLINE" in drill_dxf(sheet, sheet.faces[0])
    assert drill_pdf((sheet,), ()).startswith(b"%PDF")


def test_a_box_below_has_its_own_body_and_limits(heron: Plan, catalogue: Catalogue) -> None:
    done = check(_on(heron, catalogue, "bothy-40", "box-below"), catalogue, ("spot",))
    low, high = body_corners(done.job) or ((0, 0, 0), (0, 0, 0))
    assert (high[0] - low[0], high[1] - low[1], high[2] - low[2]) == pytest.approx((520, 240, 236))
    assert high[2] == pytest.approx(floor_underside_z_mm(done.job))
    outlet = done.find("spot.outlet", "outlet")
    assert outlet is not None
    assert outlet.band.minimum == 30
    assert done.find("spot.removal", "lift") is None


def test_two_overlapping_holes_are_cut_one_after_the_other(
    heron: Plan, catalogue: Catalogue
) -> None:
    job = Job(_on(heron, catalogue, "bothy-40", "overlapping"), catalogue)
    front, rear = floor_holes(job)
    assert math.dist((front.x_mm, front.y_mm), (rear.x_mm, rear.y_mm)) < front.diameter_mm
    assert "clamped board" in " ".join(say(step.text) for step in steps(job))


def test_a_cut_needs_both_sides() -> None:
    with pytest.raises(ValidationError, match="a length and a width"):
        MountHole(name="cut", x_mm=0, y_mm=0, diameter_mm=12, length_mm=100)
