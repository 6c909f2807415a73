"""The board as a browser sets it: no name or figure over another, none cut off."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page

from tests.browser.conftest import Jobs

pytestmark = pytest.mark.browser

OVERLAPS = """() => {
    const svg = document.querySelector("#board-drawing"), paper = svg.viewBox.baseVal;
    const texts = [...svg.querySelectorAll("#survey text, #overlay text, #tape text, .view-name")];
    const seen = texts.filter((text) => !text.classList.contains("halo") &&
        (!text.closest(".measured") || text.closest(".mark.shown")));
    const boxes = seen.map((text) => {
        const box = text.getBBox();
        return [text.textContent, box.x, box.y, box.x + box.width, box.y + box.height];
    });
    const found = [];
    boxes.forEach((one, index) => {
        if (one[1] < 0 || one[2] < 0 || one[3] > paper.width || one[4] > paper.height)
            found.push([one[0], "cut off"]);
        for (const other of boxes.slice(index + 1))
            if (Math.min(one[3], other[3]) > Math.max(one[1], other[1]) &&
                Math.min(one[4], other[4]) > Math.max(one[2], other[2]))
                found.push([one[0], other[0]]);
    });
    return [boxes.length, found];
}"""


@pytest.mark.parametrize("name", ["heron", "wren"])
def test_true_boxes_of_texts_do_not_overlap(tab: Page, jobs: Jobs, name: str) -> None:
    job = jobs.new(name)
    for station in ("vehicle", "pipes", "fuel", "air"):
        for view in ("", "?frame=whole", "?frame=close"):
            tab.goto(f"/jobs/{job}/{station}{view}", wait_until="domcontentloaded")
            count, found = tab.evaluate(OVERLAPS)
            assert count > 5
            assert found == [], (station, view)


def test_the_figure_of_a_chosen_finding_lies_over_nothing_either(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('wren')}/pipes")
    for number in ("1", "6", "10", "15", "22"):
        tab.evaluate(
            """(number) => document.querySelectorAll("#overlay .mark").forEach(
                (mark) => mark.classList.toggle("shown", mark.dataset.number === number))""",
            number,
        )
        _, found = tab.evaluate(OVERLAPS)
        assert found == [], number
