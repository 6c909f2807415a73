"""Names and figures on the board: none over another, none cut off, anywhere and in both units."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.demo.load import DEMO_NAMES, demo_plan
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import PAPER_WIDTH, BoardView, Frame, Mapping, board_mapping
from gale_nook.drawing.placing import Box, Paper, box_of, placed
from gale_nook.drawing.scene import Badge, Group, Line, Node, Text

STATIONS = ("vehicle", "heat", "heater", "spot", "pipes", "fuel", "air", "build")
WHOLE = (BoardView(), BoardView(below=True, side="right"))


@pytest.fixture(scope="module", params=DEMO_NAMES)
def demo(request: pytest.FixtureRequest, catalogue: Catalogue) -> Check:
    return check(demo_plan(request.param), catalogue)


def _texts(nodes: Sequence[Node]) -> Iterator[Text | Badge]:
    """What is seen: of figures that only the chosen finding shows, none."""
    for node in nodes:
        if isinstance(node, Text | Badge):
            yield node
        elif isinstance(node, Group) and node.attributes.get("class") != "measured":
            yield from _texts(node.children)


def _meet(one: Box, other: Box) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


def _views(done: Check) -> Iterator[BoardView]:
    yield from WHOLE
    spot = done.job.plan.spot
    x, y = (spot.x_mm, spot.y_mm) if spot is not None else (1000.0, 0.0)
    for width in (2400.0, 900.0):
        yield BoardView(frame=Frame(x, y, -100.0, width, 300.0))


@pytest.mark.parametrize("station", STATIONS)
def test_no_text_lies_over_another_and_none_is_cut_off(demo: Check, station: str) -> None:
    for view, system in itertools.product(_views(demo), UnitSystem):
        options = BoardOptions(view, station, system=system)
        m = board_mapping(demo.job.plan.vehicle.shell, view)
        texts = list(_texts(board(demo, options).nodes))
        boxes = [(text, box_of(text)) for text in texts]
        for (one, a), (other, b) in itertools.combinations(boxes, 2):
            assert not _meet(a, b), (view, one.text, other.text)
        for text, box in boxes:
            assert box[0] >= 0, text.text
            assert box[2] <= PAPER_WIDTH, text.text
            if "tape" not in text.cls:
                assert box[3] <= m.tape_top or box[1] >= m.side_top, text.text


def test_a_demos_board_keeps_nearly_all_that_it_tells(catalogue: Catalogue) -> None:
    """What finds no place is left out: on whole boards that is little."""
    done = check(demo_plan("heron"), catalogue)
    told = list(_texts(board(done, BoardOptions(station="air")).nodes))
    figures = {text.text for text in told if "air-figure" in text.cls}
    assert len(figures) == 3
    assert {text.text for text in told} >= {"galley", "bed", "drying locker"}


def _mapping(catalogue: Catalogue) -> Mapping:
    return board_mapping(demo_plan("blank").vehicle.shell, BoardView())


def test_what_is_in_the_way_is_passed_by_a_little_and_told_by_a_leader_from_afar(
    catalogue: Catalogue,
) -> None:
    m = _mapping(catalogue)
    words = [Text((300.0, 100.0), f"figure {n}", "air-figure") for n in range(14)]
    nodes = placed(words, m, Paper())
    texts, leaders = list(_texts(nodes)), [node for node in nodes if isinstance(node, Line)]
    assert len(texts) == 14
    assert texts[0].at == (300.0, 100.0)
    assert leaders
    assert all(leader.points[0] == (300.0, 100.0) for leader in leaders)


def test_what_stands_in_a_grip_stays_or_goes(catalogue: Catalogue) -> None:
    m = _mapping(catalogue)
    pair = [Text((200.0, 80.0), "1", "node-name", "middle"), Text((203.0, 80.0), "2", "node-name")]
    assert [text.text for text in _texts(placed(pair, m, Paper()))] == ["1"]


def test_what_belongs_to_something_out_of_sight_is_not_told(catalogue: Catalogue) -> None:
    m = _mapping(catalogue)
    off = [Text((-5.0, 80.0), "off", "dimension-text"), Text((2.0, 80.0), "at the edge", "label")]
    kept = list(_texts(placed(off, m, Paper())))
    assert [text.text for text in kept] == ["at the edge"]
    assert box_of(kept[0])[0] >= 0
