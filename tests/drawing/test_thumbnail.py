"""A job in small: all of it inside its paper, the heater where it is."""

from __future__ import annotations

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.drawing.scene import Line, Rect
from gale_nook.drawing.svg import STYLES
from gale_nook.drawing.thumbnail import HEIGHT, WIDTH, thumbnail


def test_all_that_is_inside_the_vehicle_is_drawn_on_the_paper(
    any_demo: Plan, catalogue: Catalogue
) -> None:
    scene = thumbnail(Job(any_demo, catalogue))
    shell = next(n for n in scene.nodes if isinstance(n, Rect) and n.cls == "small-shell")
    assert shell.low[0] >= 0
    assert shell.low[1] >= 0
    assert shell.low[0] + shell.size[0] <= WIDTH
    assert shell.low[1] + shell.size[1] <= HEIGHT
    styles = STYLES.read_text()
    for node in scene.nodes:
        assert isinstance(node, Rect | Line)
        assert f".{node.cls} " in styles


def test_the_heater_is_to_scale_and_in_its_place(heron: Plan, catalogue: Catalogue) -> None:
    scene = thumbnail(Job(heron, catalogue))
    boxes = {n.cls: n for n in scene.nodes if isinstance(n, Rect)}
    shell, heater, spot = boxes["small-shell"], boxes["small-heater"], heron.spot
    assert spot is not None
    whole = heron.vehicle.shell
    along = (spot.x_mm - whole.front_x_mm) / (whole.rear_x_mm - whole.front_x_mm)
    middle = heater.low[0] + heater.size[0] / 2
    assert middle == pytest.approx(shell.low[0] + along * shell.size[0], abs=6)
    assert heater.low[1] + heater.size[1] / 2 > HEIGHT / 2  # on the vehicle's left, down the page
