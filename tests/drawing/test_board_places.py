"""What is drawn lies where the plan has it: by hand from the plan's own numbers.

The maps are not asked: the datum and the scale are read off the tape, the centre line and the floor
off parts whose place is known.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass
from xml.etree import ElementTree

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, TubeSolid
from gale_nook.core.quantities.length import UnitSystem, format_length
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import BoardView
from gale_nook.drawing.svg import svg

NEAR = 0.16  # of paper: what is written is rounded to a tenth
Extent = tuple[float, float, float, float]


@dataclass(frozen=True)
class Paper:
    """A drawn board, and how its paper is read."""

    root: ElementTree.Element
    datum_u: float
    scale: float

    def u(self, x_mm: float) -> float:
        return self.datum_u + self.scale * x_mm


def _drawn(done: Check, options: BoardOptions | None = None) -> Paper:
    text = svg(board(done, options or BoardOptions()))
    figures = {
        word: float(at)
        for at, word in re.findall(r'class="tape-figure" x="([-\d.]+)"[^>]*>([^<]+)<', text)
    }
    datum = figures["datum"]
    return Paper(ElementTree.fromstring(text), datum, (figures["3000"] - datum) / 3000)


def _points(node: ElementTree.Element) -> Iterator[tuple[float, float]]:
    for each in node.iter():
        if each.tag == "rect":
            x, y, w, h = (float(each.get(name, "0")) for name in ("x", "y", "width", "height"))
            yield from ((x, y), (x + w, y + h))
        elif each.tag == "circle":
            x, y, r = (float(each.get(name, "0")) for name in ("cx", "cy", "r"))
            yield from ((x - r, y - r), (x + r, y + r))
        elif each.get("points"):
            for pair in each.get("points", "").split():
                x, y = pair.split(",")
                yield float(x), float(y)


def _extent(node: ElementTree.Element) -> Extent:
    points = list(_points(node))
    return (
        min(x for x, _ in points),
        min(y for _, y in points),
        max(x for x, _ in points),
        max(y for _, y in points),
    )


def _pair(paper: Paper, item: str) -> tuple[ElementTree.Element, ElementTree.Element]:
    """A part on the plan, and on the elevation."""
    found = [node for node in paper.root.iter("g") if node.get("data-item") == item]
    assert len(found) == 2
    plan, elevation = sorted(found, key=lambda node: _extent(node)[1])
    return plan, elevation


@pytest.mark.parametrize("side", ["left", "right"])
def test_boxes_stand_where_they_were_measured(
    any_demo: Plan, catalogue: Catalogue, side: str
) -> None:
    """Along the vehicle against the tape; across and up by the differences between boxes."""
    paper = _drawn(check(any_demo, catalogue), BoardOptions(BoardView(side=side)))
    boxes = [
        s
        for s in any_demo.vehicle.solids
        if isinstance(s, BoxSolid) and s.yaw_deg == 0 and not s.travel_up_mm + s.travel_down_mm
    ]
    assert boxes or any_demo.name in {"Blank", "Teal"}
    tops = []
    for box in boxes:
        plan, elevation = (_extent(node) for node in _pair(paper, box.id))
        for drawn in (plan, elevation):
            assert drawn[0] == pytest.approx(paper.u(box.x_mm), abs=NEAR), box.id
            assert drawn[2] == pytest.approx(paper.u(box.x_mm + box.length_mm), abs=NEAR), box.id
        assert plan[3] - plan[1] == pytest.approx(paper.scale * box.width_mm, abs=2 * NEAR)
        height = paper.scale * box.height_mm
        assert elevation[3] - elevation[1] == pytest.approx(height, abs=2 * NEAR)
        # the vehicle's right is up the page, and so is up
        across = plan[3] + paper.scale * box.y_mm
        above = elevation[3] + paper.scale * box.z_mm
        tops.append((across, above))
    for across, above in tops:
        assert across == pytest.approx(tops[0][0], abs=2 * NEAR)
        assert above == pytest.approx(tops[0][1], abs=2 * NEAR)


def test_tubes_cylinders_and_outlines_reach_as_far_as_they_do(
    any_demo: Plan, catalogue: Catalogue
) -> None:
    paper = _drawn(check(any_demo, catalogue))
    for solid in any_demo.vehicle.solids:
        if isinstance(solid, TubeSolid):
            low = min(point[0] for point in solid.points)
            high = max(point[0] for point in solid.points)
        elif isinstance(solid, CylinderSolid):
            half = (solid.length_mm if solid.axis == "x" else solid.diameter_mm) / 2
            low, high = solid.x_mm - half, solid.x_mm + half
        elif isinstance(solid, OutlineSolid):
            low = min(corner[0] for corner in solid.outline)
            high = max(corner[0] for corner in solid.outline)
        else:
            continue
        for node in _pair(paper, solid.id):
            drawn = _extent(node)
            assert drawn[0] == pytest.approx(paper.u(low), abs=2 * NEAR), solid.id
            assert drawn[2] == pytest.approx(paper.u(high), abs=2 * NEAR), solid.id


@pytest.mark.parametrize("yaw", [0, 90, 180, 270])
def test_the_heater_stands_at_its_spot_with_its_hole(
    heron: Plan, catalogue: Catalogue, yaw: int
) -> None:
    plan = apply(heron, set_value("spot.yaw_deg", yaw), catalogue)
    job = Job(plan, catalogue)
    sheet, mount = heater_sheet(job), chosen_mount(job)
    assert sheet is not None
    assert mount is not None
    assert plan.spot is not None
    paper = _drawn(check(plan, catalogue), BoardOptions(station="spot"))
    grip = next(n for n in paper.root.iter("g") if n.get("id") == "grip-plan-heater")
    body = _extent(next(n for n in grip.iter() if n.get("class") == "heater-body"))
    length, width = (
        (sheet.body.width_mm, sheet.body.length_mm)
        if yaw in {90, 270}
        else (sheet.body.length_mm, sheet.body.width_mm)
    )
    assert body[2] - body[0] == pytest.approx(paper.scale * length, abs=2 * NEAR)
    assert body[3] - body[1] == pytest.approx(paper.scale * width, abs=2 * NEAR)
    turn = math.radians(yaw)
    at = plan.spot.x_mm + sheet.body.x_mm * math.cos(turn) - sheet.body.y_mm * math.sin(turn)
    assert (body[0] + body[2]) / 2 == pytest.approx(paper.u(at), abs=NEAR)
    hole = _extent(next(n for n in grip.iter("circle") if n.get("class") == "hole"))
    assert (hole[0] + hole[2]) / 2 == pytest.approx(paper.u(plan.spot.x_mm), abs=NEAR)
    diameter = paper.scale * mount.holes[0].diameter_mm
    assert hole[2] - hole[0] == pytest.approx(diameter, abs=2 * NEAR)


def test_dimensions_say_what_they_span(wren: Plan, catalogue: Catalogue) -> None:
    """Level dimensions of the spot are as long on the paper as the millimetres beside them."""
    done = check(wren, catalogue)
    paper = _drawn(done, BoardOptions(station="spot"))
    shown = 0
    for finding in done.of("spot"):
        if finding.verdict not in {Verdict.OVER, Verdict.TIGHT} or not finding.marks:
            continue
        mark = finding.marks[0]
        if finding.measured is None or abs(mark.start[2] - mark.end[2]) > 1:
            continue
        named = f"{finding.rule} {finding.subject}"
        group = next(n for n in paper.root.iter("g") if n.get("data-finding") == named)
        line = next(n for n in group.iter() if n.get("class") == "dimension")
        (x1, y1), (x2, y2) = tuple(_points(line))[:2]
        span = math.dist(mark.start[:2], mark.end[:2])
        assert math.dist((x1, y1), (x2, y2)) == pytest.approx(paper.scale * span, abs=2 * NEAR)
        assert x1 == pytest.approx(paper.u(mark.start[0]), abs=NEAR)
        texts = group.iter("text")
        words = {text.text for text in texts if "dimension-text" in (text.get("class") or "")}
        assert words == {format_length(finding.measured, UnitSystem.METRIC)}
        if finding.measured >= 0:
            assert span == pytest.approx(finding.measured, abs=0.5)
        shown += 1
    assert shown >= 2


def test_grips_of_the_exhaust_lie_on_its_bends(heron: Plan, catalogue: Catalogue) -> None:
    paper = _drawn(check(heron, catalogue), BoardOptions(station="pipes"))
    route = heron.pipes.exhaust
    assert route is not None
    for node in route.nodes:
        grips = [n for n in paper.root.iter("g") if n.get("data-drag") == f"node-{node.id}"]
        assert {n.get("data-board") for n in grips} == {"plan", "side"}, node.id
        for grip in grips:
            drawn = _extent(grip)
            assert (drawn[0] + drawn[2]) / 2 == pytest.approx(paper.u(node.x_mm), abs=NEAR)


def test_from_below_left_and_right_change_places(heron: Plan, catalogue: Catalogue) -> None:
    done = check(heron, catalogue)
    above, below = (_drawn(done, BoardOptions(BoardView(below=side))) for side in (False, True))
    boxes = [s for s in heron.vehicle.solids if isinstance(s, BoxSolid) and s.yaw_deg == 0]
    right_most = max(boxes, key=lambda s: s.y_mm)
    left_most = min(boxes, key=lambda s: s.y_mm + s.width_mm)
    for paper, right_is_up in ((above, True), (below, False)):
        right, left = (_extent(_pair(paper, s.id)[0]) for s in (right_most, left_most))
        assert (right[1] < left[1]) == right_is_up
        assert right[0] == pytest.approx(paper.u(right_most.x_mm), abs=NEAR)
