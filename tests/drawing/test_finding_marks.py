"""Findings on the board: numbered worst first, each figure seen only with its own."""

from __future__ import annotations

import re
from html import unescape

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.demo.load import demo_plan
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.finding_marks import frame_of, mark_numbers
from gale_nook.drawing.mapping import BoardView, board_mapping
from gale_nook.drawing.svg import svg
from gale_nook.exchange.finding_cards import finding_cards


@pytest.fixture(scope="module")
def wren_check(catalogue: Catalogue) -> Check:
    return check(demo_plan("wren"), catalogue)


def test_numbers_count_what_is_not_clear_worst_first(wren_check: Check) -> None:
    for station in ("spot", "pipes", "fuel", "air"):
        findings = wren_check.of(station)
        numbers = mark_numbers(findings)
        told = [numbers[f.key] for f in findings if f.key in numbers]
        assert told == list(range(1, len(told) + 1))
        assert set(numbers) == {
            f.key for f in findings if f.verdict is not Verdict.CLEAR and f.marks
        }


def test_drawing_and_list_have_the_same_numbers(wren_check: Check) -> None:
    text = svg(board(wren_check, BoardOptions(BoardView(), "fuel")))
    drawn = {
        (int(number), unescape(title))
        for number, title in re.findall(r'data-number="(\d+)"[^>]*><title>\d+\. ([^<:]+)', text)
    }
    cards = finding_cards(wren_check.of("fuel"), UnitSystem.METRIC)
    listed = {(card.number, card.title) for card in cards if card.number is not None}
    assert len(listed) > 5
    assert drawn == listed


def test_the_frame_of_a_finding_shows_its_marks(wren_check: Check) -> None:
    shell = wren_check.job.plan.vehicle.shell
    for finding in wren_check.findings:
        frame = frame_of(finding)
        assert (frame is None) == (not finding.marks)
        if frame is None:
            continue
        m = board_mapping(shell, BoardView(frame=frame))
        for mark in finding.marks:
            for x, y, z in (mark.start, mark.end):
                assert 0 <= m.plan(x, y)[1] <= m.plan_height
                assert m.side_top <= m.elevation(x, z)[1] <= m.height


def test_a_figure_stands_inside_what_is_hidden_until_it_is_chosen(wren_check: Check) -> None:
    text = svg(board(wren_check, BoardOptions(BoardView(), "pipes")))
    assert text.count('class="dimension-text"') > 3
    hidden = re.findall(r'<g class="measured">(.*?)</g>', text)
    shown = re.sub(r'<g class="measured">.*?</g>', "", text)
    assert sum(part.count('class="dimension-text"') for part in hidden) > 3
    assert "dimension-text" not in shown
