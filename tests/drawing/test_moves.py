"""Bodies that move otherwise on the board, spaces, tilted tanks, other heaters."""

from __future__ import annotations

import re

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.heater.commands import AddUnit
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heater import OtherUnit
from gale_nook.demo.load import demo_plan
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import BoardView
from gale_nook.drawing.svg import svg


def _drawn(plan: Plan, catalogue: Catalogue, station: str = "vehicle") -> str:
    options = BoardOptions(BoardView(), station)
    return svg(board(check(plan, catalogue), options))


@pytest.mark.parametrize(
    ("name", "water", "coupling", "tyres"),
    [("coot", True, False, 0), ("dunlin", False, True, 2), ("plover", False, False, 2)],
)
def test_each_body_has_its_own_outline(
    name: str, water: bool, coupling: bool, tyres: int, catalogue: Catalogue
) -> None:
    text = _drawn(demo_plan(name), catalogue)
    assert ('class="water"' in text) is water
    assert ("coupling" in text) is coupling
    assert text.count('class="tyre"') == tyres
    assert ('class="ground"' in text) is not water


def test_the_water_follows_heel_and_trim(catalogue: Catalogue) -> None:
    """Trimmed either way there are two more lines of it, heeled one; upright and level none."""
    coot = demo_plan("coot")
    text = _drawn(coot, catalogue)
    assert text.count('class="water trimmed"') == 2
    assert "water, heeled" in text
    level = apply(coot, set_value("vehicle.hull.trim_deg", 0), catalogue)
    level = apply(level, set_value("vehicle.hull.heel_deg", 0), catalogue)
    text = _drawn(level, catalogue)
    assert "water trimmed" not in text
    assert "water, heeled" not in text


def test_spaces_are_drawn_with_their_names(catalogue: Catalogue) -> None:
    text = _drawn(demo_plan("coot"), catalogue)
    assert text.count('class="space petrol"') == 2  # on the plan, and in the elevation
    assert text.count('class="space bilge"') == 2
    assert text.count(">the bilge<") >= 2


def test_a_tilted_tank_is_drawn_as_it_stands(catalogue: Catalogue) -> None:
    """In the elevation its box has four corners as it stands straight, and leans tilted."""
    dunlin = demo_plan("dunlin")
    straight = _tank(_drawn(dunlin, catalogue, "fuel"))
    tilted = _tank(
        _drawn(
            apply(dunlin, set_value("fuel.tank.tilt_along_deg", 20), catalogue), catalogue, "fuel"
        )
    )
    assert straight != tilted
    across = [{v for _, v in corners} for corners in (straight[1], tilted[1])]
    assert len(across[0]) == 2  # a top and a bottom
    assert len(across[1]) == 4


def _tank(text: str) -> list[list[tuple[float, float]]]:
    """The outlines of the tank on both drawings, px."""
    found = re.findall(r'<(?:path|polygon)[^>]*class="fuel-tank"[^>]*>', text)
    return [
        [(float(u), float(v)) for u, v in re.findall(r"(-?[\d.]+)[ ,](-?[\d.]+)", each)]
        for each in found
    ]


def test_another_heater_is_drawn_with_its_pipes(heron: Plan, catalogue: Catalogue) -> None:
    unit = OtherUnit(
        id="u",
        name="cab heater",
        x_mm=-600,
        y_mm=300,
        exhaust=((-500, 350, 0), (-500, 350, -200), (-500, 1000, -220)),
    )
    text = _drawn(apply(heron, AddUnit(item=unit), catalogue), catalogue)
    assert text.count('class="unit-body"') == 2
    assert text.count('class="unit-exhaust"') == 2
    assert "unit-intake" not in text.split("</style>")[-1]
    assert "cab heater" in text
