"""Holes that brackets hang on, and a drill sheet for every hole of the job."""

from __future__ import annotations

import math

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.build.drill_sheet import DrillSheet
from gale_nook.core.build.hole_sheets import drill_sheets, hole_sheets
from gale_nook.core.build.lists import holes_to_cut
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.pump_hole_rules import pump_hole
from gale_nook.core.job import Job
from gale_nook.core.pipes.support_hole_rules import support_holes
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.fixing_holes import STOP_MM, FixingHole, metal_left
from gale_nook.core.spot.obstacles import solid_obstacles
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import demo_plan

BOOK = load_catalogue()
WHOLE = ("coot", "dunlin", "heron", "plover", "quarto", "wren")


def _with_loom(plan: Plan, hole: FixingHole, off_mm: float, z_mm: float = 10.0) -> Plan:
    """A loom across the vehicle, whose edge is so far behind a hole's middle."""
    x, y, _ = hole.at
    loom = BoxSolid(
        id="loom-x",
        name="loom across",
        kind="wall-wiring",
        x_mm=x + off_mm,
        y_mm=y - 150,
        z_mm=z_mm,
        length_mm=20,
        width_mm=300,
        height_mm=10,
    )
    return apply(plan, AddSolid(item=loom), BOOK)


def _over(plan: Plan, rule: str) -> list[Finding]:
    return [f for f in check(plan, BOOK).findings if f.rule == rule and f.verdict is Verdict.OVER]


def test_a_support_is_not_drilled_into_what_lies_over_the_floor() -> None:
    heron = demo_plan("heron")
    hole = support_holes(Job(heron, BOOK), "exhaust")[0]
    assert not _over(heron, "pipes.support_hole")
    into = _over(_with_loom(heron, hole, -10.0), "pipes.support_hole")
    assert [f.subject for f in into] == [hole.subject]
    assert "drilled" in into[0].sentence
    asked = BOOK.solid_kinds["wall-wiring"].hole_mm
    for spare_mm, is_over in ((-1.0, True), (1.0, False)):
        plan = _with_loom(heron, hole, hole.diameter_mm / 2 + asked + spare_mm)
        assert bool(_over(plan, "pipes.support_hole")) is is_over
    far_up = _with_loom(heron, hole, -10.0, z_mm=hole.at[2] + STOP_MM + 1)
    assert not _over(far_up, "pipes.support_hole")  # the drill has a stop


@pytest.mark.parametrize("rule", ["pipes.support_hole", "fuel.pump_hole"])
def test_what_would_be_drilled_into_is_cured_by_moving_along(rule: str) -> None:
    heron = demo_plan("heron")
    job = Job(heron, BOOK)
    hole = pump_hole(job) if rule.startswith("fuel") else support_holes(job, "exhaust")[0]
    assert hole is not None
    wrong = _with_loom(heron, hole, 20.0)
    finding = _over(wrong, rule)[0]
    offered = remedies_for(Job(wrong, BOOK), finding)
    assert offered
    assert not _over(apply(wrong, offered[0].command, BOOK), rule)


def test_metal_left_is_the_distance_of_the_edges() -> None:
    heron = demo_plan("heron")
    hole = support_holes(Job(heron, BOOK), "exhaust")[0]
    plan = _with_loom(heron, hole, 70.0)
    loom = next(o for o in solid_obstacles(Job(plan, BOOK), "inside") if o.id == "loom-x")
    assert metal_left(hole, loom) == pytest.approx(70.0 - hole.diameter_mm / 2)


@pytest.mark.parametrize("name", WHOLE)
def test_every_hole_on_the_list_is_on_a_sheet(name: str) -> None:
    job = Job(demo_plan(name), BOOK)
    listed = sorted(hole.name for hole in holes_to_cut(job))
    drawn = sorted(hole.name for sheet in drill_sheets(job) for hole in sheet.holes)
    assert drawn == listed


@pytest.mark.parametrize("name", WHOLE)
def test_each_sheet_says_from_what_to_measure(name: str) -> None:
    for sheet in hole_sheets(Job(demo_plan(name), BOOK)):
        assert 1 <= len(sheet.faces) <= 2, sheet.mount
        for face in sheet.faces:
            assert len(face.offsets) >= 2, sheet.mount
            along = any(
                offset.along_mm or offset.name.startswith("datum") for offset in face.offsets
            )
            assert along or any(offset.across_mm for offset in face.offsets)
            for offset in face.offsets:
                straight = math.hypot(offset.along_mm, offset.across_mm)
                assert offset.tape_mm <= straight + 1e-6


def _of(sheets: tuple[DrillSheet, ...], words: str) -> DrillSheet:
    return next(sheet for sheet in sheets if words in sheet.mount)


def test_brackets_are_drilled_from_below_only_and_panels_from_their_face() -> None:
    sheets = hole_sheets(Job(demo_plan("heron"), BOOK))
    bracket = _of(sheets, "support 1 of the exhaust")
    assert [face.face for face in bracket.faces] == ["below"]
    assert "with a stop" in bracket.passes
    panels = [sheet for sheet in sheets if "panel or a wall" in sheet.passes]
    assert panels
    for sheet in panels:
        (face,) = sheet.faces
        assert face.offsets[0].name == "the finished floor" or "seen from above" in face.title
