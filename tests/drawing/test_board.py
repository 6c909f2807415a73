"""The drawings: one x scale for both halves, the mirror, and SVG that is well
formed and escaped.
"""

from __future__ import annotations

import itertools
import math
import re
from html import unescape
from xml.etree import ElementTree

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.heat.loss import design_loss, mild_night_loss
from gale_nook.core.heat.night import simulate_night
from gale_nook.core.heat.season import SeasonBin
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.drawing import section as module
from gale_nook.drawing.bars import heater_ranges, loss_bars
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.gauge import LEFT, RIGHT, gauge
from gale_nook.drawing.leaks import plan_arrows, side_arrows, watts_by_face
from gale_nook.drawing.mapping import PAPER_WIDTH, BoardView, Frame, board_mapping
from gale_nook.drawing.night import night_chart
from gale_nook.drawing.scene import Group, Line, Rect, Text
from gale_nook.drawing.season import season_chart
from gale_nook.drawing.section import section
from gale_nook.drawing.svg import STYLES, svg

NEAR = Frame(1500.0, -200.0, -100.0, 1200.0, 280.0)


def _parsed(text: str) -> ElementTree.Element:
    return ElementTree.fromstring(text)


@pytest.mark.parametrize("station", ["vehicle", "spot", "pipes", "build"])
@pytest.mark.parametrize(
    "view",
    [BoardView(), BoardView(below=True, side="right"), BoardView(frame=NEAR)],
    ids=["whole", "below", "near"],
)
def test_every_board_is_well_formed(
    any_demo: Plan, catalogue: Catalogue, station: str, view: BoardView
) -> None:
    drawn = _parsed(svg(board(check(any_demo, catalogue), BoardOptions(view, station))))
    ids = [node.get("data-item") for node in drawn.iter("g") if node.get("data-item")]
    assert sorted(ids) == sorted([solid.id for solid in any_demo.vehicle.solids] * 2)
    assert drawn.get("role") == "group"
    assert drawn.get("aria-label")


def test_names_are_escaped(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(heron, set_value("vehicle.solids.galley.name", '<b onload="x">&'), catalogue)
    text = svg(board(check(plan, catalogue), BoardOptions()))
    assert "<b onload" not in text
    assert _parsed(text) is not None


def test_no_style_attribute_that_the_policy_would_refuse(heron_check: Check) -> None:
    assert "style=" not in svg(board(heron_check, BoardOptions()))


def test_plan_and_elevation_share_their_x_scale(heron: Plan) -> None:
    m = board_mapping(heron.vehicle.shell, BoardView())
    for x in (-1480.0, 0.0, 4310.0):
        assert m.plan(x, 300)[0] == m.elevation(x, 900)[0]
        assert 0 <= m.u(x) <= PAPER_WIDTH


def test_below_is_the_mirror_image_of_above(heron: Plan) -> None:
    above = board_mapping(heron.vehicle.shell, BoardView())
    below = board_mapping(heron.vehicle.shell, BoardView(below=True))
    middle = above.plan(0, 0)[1]
    assert above.plan(0, 500)[1] - middle == pytest.approx(middle - below.plan(0, 500)[1])
    assert (
        above.plan(0, 500)[1] < middle
    )  # the vehicle's right is up the page, nose left, seen from above


def test_a_near_view_is_centred(heron: Plan) -> None:
    m = board_mapping(heron.vehicle.shell, BoardView(frame=NEAR))
    assert m.u(NEAR.x_mm) == pytest.approx(PAPER_WIDTH / 2)
    assert m.scale == pytest.approx(PAPER_WIDTH / NEAR.width_mm)
    assert m.plan(0, NEAR.y_mm)[1] == pytest.approx(m.plan_height / 2)
    assert m.elevation(0, NEAR.z_mm)[1] == pytest.approx((m.side_top + m.height) / 2)


def test_the_tape_reads_from_the_datum(heron_check: Check) -> None:
    text = svg(board(heron_check, BoardOptions()))
    m = board_mapping(heron_check.job.plan.vehicle.shell, BoardView())
    figures = {
        t: float(x) for x, t in re.findall(r'class="tape-figure" x="([-\d.]+)"[^>]*>([^<]+)<', text)
    }
    assert figures["datum"] == pytest.approx(m.u(0), abs=0.06)
    assert figures["2000"] == pytest.approx(m.u(2000), abs=0.06)
    inches = svg(board(heron_check, BoardOptions(system=UnitSystem.IMPERIAL)))
    figures = {
        unescape(t): float(x)
        for x, t in re.findall(r'class="tape-figure" x="([-\d.]+)"[^>]*>([^<]+)<', inches)
    }
    assert figures['100"'] == pytest.approx(m.u(2540), abs=0.06)


def test_only_the_station_in_hand_can_be_dragged(heron_check: Check) -> None:
    grips = {
        station: set(
            re.findall(
                r'data-drag="([^"]+)"', svg(board(heron_check, BoardOptions(station=station)))
            )
        )
        for station in ("vehicle", "spot", "pipes")
    }
    assert grips == {
        "vehicle": set(),
        "spot": {"heater"},
        "pipes": {"node-n-1", "node-n-2", "node-n-3"},
    }


def test_what_is_not_clear_is_dimensioned(wren: Plan, catalogue: Catalogue) -> None:
    done = check(wren, catalogue)
    text = svg(board(done, BoardOptions(station="spot")))
    for finding in done.of("spot"):
        shown = f'data-finding="{finding.rule} {finding.subject}"' in text
        assert shown == (finding.verdict is not Verdict.CLEAR and bool(finding.marks))


def test_every_class_that_is_drawn_has_a_style(any_demo: Plan, catalogue: Catalogue) -> None:
    """A mark without a style would print as a black blot."""
    styles = STYLES.read_text()
    text = svg(board(check(any_demo, catalogue), BoardOptions(station="pipes")))
    for tag, classes in re.findall(
        r"<(polyline|polygon|circle|rect|path)\b[^>]*class=\"([^\"]+)\"", text
    ):
        assert any(f".{name}" in styles for name in classes.split()), (tag, classes)


def test_the_gauge_puts_the_needle_where_the_value_is(any_demo: Plan, catalogue: Catalogue) -> None:
    for finding in check(any_demo, catalogue).findings:
        drawn = gauge(finding)
        if drawn is None:
            assert finding.measured is None or (
                finding.band.minimum is None and finding.band.maximum is None
            )
            continue
        band = next(n for n in drawn.nodes if isinstance(n, Line) and n.cls == "gauge-band")
        stem = next(n for n in drawn.nodes if isinstance(n, Line) and n.cls.startswith("needle"))
        low, high, u = band.points[0][0], band.points[1][0], stem.points[0][0]
        assert LEFT <= u <= RIGHT
        inside = finding.margin is not None and finding.margin >= 0
        assert (low - 1e-6 <= u <= high + 1e-6) == inside
        hatch = next(n for n in drawn.nodes if isinstance(n, Line) and n.cls == "gauge-hatch")
        assert [point[0] for point in hatch.points] == [low, high]


def test_leak_arrows_are_as_wide_as_their_watts(heron_check: Check) -> None:
    job = heron_check.job
    m = board_mapping(job.plan.vehicle.shell, BoardView())
    arrows = {}
    for group in (
        *plan_arrows(job, m, UnitSystem.METRIC),
        *side_arrows(job, m, UnitSystem.METRIC),
    ):
        assert isinstance(group, Group)
        shape = next(n for n in group.children if isinstance(n, Line)).points
        arrows[group.attributes["data-leak"]] = math.dist(shape[0], shape[-1])
    watts = watts_by_face(job)
    assert set(arrows) == set(watts)
    for face, width in arrows.items():
        assert width / arrows["right"] == pytest.approx(watts[face] / watts["right"], rel=1e-6)
    assert sum(watts.values()) + design_loss(job).ventilation_w == pytest.approx(
        design_loss(job).design_loss_w
    )


def test_loss_bars_are_to_scale(heron_check: Check) -> None:
    loss = design_loss(heron_check.job)
    bars = [n for n in loss_bars(loss, UnitSystem.METRIC).nodes if isinstance(n, Rect)]
    lengths = [bar.size[0] for bar in bars]
    assert lengths == sorted(lengths, reverse=True)
    assert lengths[1] / lengths[0] == pytest.approx(
        loss.elements[1].loss_w / loss.elements[0].loss_w, rel=1e-6
    )


def test_the_seasons_bars_tell_by_their_class_what_the_heater_makes_of_them() -> None:
    bins = (SeasonBin(-9.5, 10, 4200.0), SeasonBin(0.5, 40, 2000.0), SeasonBin(9.5, 20, 700.0))
    drawn = season_chart(bins, (900, 4000), UnitSystem.METRIC)
    bars = [n for n in drawn.nodes if isinstance(n, Rect) and n.cls.startswith("season-hours")]
    assert [bar.cls for bar in bars] == [
        "season-hours short",
        "season-hours",
        "season-hours cycling",
    ]
    assert bars[1].size[1] / bars[0].size[1] == pytest.approx(4)


def test_the_nights_curve_is_where_its_numbers_are(heron: Plan, catalogue: Catalogue) -> None:
    night = simulate_night(heron, catalogue, catalogue.heaters["bothy-40"], 4000)
    drawn = night_chart(night, heron.heat.night, -14, 4000, UnitSystem.METRIC)
    air = next(n for n in drawn.nodes if isinstance(n, Line) and n.cls == "night-air").points
    outside = next(
        n for n in drawn.nodes if isinstance(n, Line) and n.cls == "night-outside"
    ).points
    assert len(air) == len(night.samples)
    assert air[0][1] == pytest.approx(outside[0][1])
    hottest = max(range(len(air)), key=lambda i: night.samples[i].air_c)
    assert air[hottest][1] == min(y for _, y in air)
    assert _parsed(svg(drawn)) is not None


def test_ranges_and_section_are_well_formed(any_demo: Plan, catalogue: Catalogue) -> None:
    job = check(any_demo, catalogue).job
    judged = judgements(Job(any_demo, catalogue))
    drawn = heater_ranges(
        judged,
        design_loss(job).need_w,
        mild_night_loss(job).design_loss_w,
        any_demo.heater.sheet,
        UnitSystem.METRIC,
    )
    assert len([n for n in drawn.nodes if isinstance(n, Rect)]) == len(judged)
    cut = section(job, UnitSystem.METRIC)
    assert (cut is None) == (chosen_mount(job) is None)


def test_words_beside_the_section_never_lie_on_one_another(
    any_demo: Plan, catalogue: Catalogue
) -> None:
    cut = section(check(any_demo, catalogue).job, UnitSystem.METRIC)
    heights = (
        sorted(n.at[1] for n in cut.nodes if isinstance(n, Text) and n.at[0] == module.RIGHT)
        if cut is not None
        else []
    )
    assert all(low - high >= module.LINE_PX - 1e-6 for high, low in itertools.pairwise(heights))


@pytest.mark.parametrize("system", list(UnitSystem))
@pytest.mark.parametrize("rear_mm", [3_000, 12_000, 30_000])
def test_the_tapes_figures_keep_apart_on_a_vehicle_of_any_length(
    heron: Plan, catalogue: Catalogue, rear_mm: float, system: UnitSystem
) -> None:
    plan = apply(heron, set_value("vehicle.shell.rear_x_mm", rear_mm), catalogue)
    drawn = svg(
        board(
            check(plan, catalogue, ()),
            BoardOptions(BoardView(False, "left"), "vehicle", "", system),
        )
    )
    places = [float(at) for at in re.findall(r'class="tape-figure" x="([-0-9.]+)"', drawn)]
    assert len(places) > 3
    assert all(later - before >= 50 for before, later in itertools.pairwise(sorted(places)))
