"""What the board shows: frames round points, as text, and small on the inset."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.plan.document import Plan
from gale_nook.drawing.inset import HEIGHT, WIDTH, inset
from gale_nook.drawing.mapping import (
    DRAWN_HEIGHT,
    LEAST_SHARE,
    MOST_SHARE,
    PAPER_WIDTH,
    BoardView,
    Frame,
    board_mapping,
    frame_round,
)
from gale_nook.drawing.scene import Rect

coordinates = st.floats(-6000, 6000)
points = st.lists(st.tuples(coordinates, coordinates, coordinates), min_size=1, max_size=6)


@given(points)
def test_a_frame_shows_every_point_on_both_drawings(
    heron: Plan, given_points: list[tuple[float, float, float]]
) -> None:
    for below in (False, True):
        view = BoardView(below=below, frame=frame_round(given_points))
        m = board_mapping(heron.vehicle.shell, view)
        for x, y, z in given_points:
            u, v = m.plan(x, y)
            assert 0 <= u <= PAPER_WIDTH
            assert 0 <= v <= m.plan_height
            assert m.side_top <= m.elevation(x, z)[1] <= m.height


def test_the_drawing_that_needs_more_height_gets_it() -> None:
    """What lies flat below a floor has a wide plan; what stands upright a high elevation."""
    flat = frame_round([(0, -800, -100), (1500, 800, -60)])
    upright = frame_round([(0, 0, -300), (400, 40, 900)])
    assert flat.plan_px > 0.6 * DRAWN_HEIGHT > 0.35 * DRAWN_HEIGHT > upright.plan_px
    for frame in (flat, upright):
        assert LEAST_SHARE * DRAWN_HEIGHT <= frame.plan_px <= MOST_SHARE * DRAWN_HEIGHT


@given(points)
def test_a_frame_is_read_as_it_is_written(given_points: list[tuple[float, float, float]]) -> None:
    frame = frame_round(given_points)
    read = Frame.of(frame.text)
    assert read is not None
    assert read.width_mm == pytest.approx(frame.width_mm, abs=0.01)
    assert (read.x_mm, read.y_mm, read.z_mm) == pytest.approx(
        (frame.x_mm, frame.y_mm, frame.z_mm), abs=0.01
    )
    assert Frame.of(read.text) == read


@pytest.mark.parametrize(
    "text",
    [
        "",
        "whole",
        "1_2_3_4",
        "0_0_0_59_300",
        "0_0_0_60001_300",
        "0_0_0_900_5",
        "0_0_0_900_600",
        "41000_0_0_900_300",
        "nan_0_0_900_300",
        "0_0_0_1e3_300",
        "٣_0_0_900_300",
        "0_0_0_900_300\n",
    ],
)
def test_what_is_no_frame_is_none(text: str) -> None:
    assert Frame.of(text) is None


def test_the_inset_shows_where_one_is(heron: Plan) -> None:
    shell = heron.vehicle.shell
    whole = [n for n in inset(shell, BoardView()).nodes if isinstance(n, Rect)]
    assert [box.cls for box in whole] == ["inset-vehicle"] * 2
    rear = Frame(shell.rear_x_mm - 300, 0.0, 0.0, 900.0, 300.0)
    for below in (False, True):
        drawn = inset(shell, BoardView(below=below, frame=rear)).nodes
        boxes = [n for n in drawn if isinstance(n, Rect)]
        for vehicle, shown in zip(boxes[:2], boxes[2:], strict=True):
            assert shown.cls == "inset-shown"
            assert shown.low[0] > vehicle.low[0] + 0.7 * vehicle.size[0]
            assert 0 <= shown.low[1] <= shown.low[1] + shown.size[1] <= HEIGHT
            assert shown.low[0] + shown.size[0] <= WIDTH
