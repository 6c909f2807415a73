"""Vehicle station in the browser: a looked-at area drawn, what others make of it, the datum."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser


def test_an_area_is_drawn_and_the_pipes_say_where_to_look(tab: Page, jobs: Jobs) -> None:
    """Heron's looked-at area below is taken out, and a small one drawn by the mouse: what leads out
    of it is to measure, with its place in words.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/vehicle?plan=below")
    tab.get_by_role("button", name="Remove area 1").click()
    saved(tab, 2)
    expect(tab.locator("#survey .unlooked").first).to_be_attached()
    tab.get_by_label("It was").select_option(label="measured")
    tab.get_by_role("button", name="Draw the area on the plan").click()
    tab.locator("#board-drawing").scroll_into_view_if_needed()
    box = tab.locator("#board-drawing").bounding_box()
    assert box is not None
    tab.mouse.move(box["x"] + 320, box["y"] + 60)
    tab.mouse.down()
    tab.mouse.move(box["x"] + 470, box["y"] + 150, steps=4)
    tab.mouse.up()
    saved(tab, 3)
    area = jobs.head(job).plan.vehicle.looked_at[-1]
    assert (area.where, area.how) == ("below", "measured")
    assert area.to_x_mm - area.from_x_mm > 300
    tab.goto(f"/jobs/{job}/pipes")
    looked = tab.locator("article.finding", has_text="nobody has looked below").first
    expect(looked).to_contain_text("to measure")
    expect(looked).to_contain_text("behind the datum")


def test_the_datum_is_moved_and_taken_back(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/vehicle")
    tab.get_by_text("Measure from another datum").click()
    tab.get_by_label("new datum").fill("B post")
    tab.get_by_role("button", name="Move the datum").click()
    expect(tab.locator("#notice")).to_contain_text("Type how far the new datum lies behind")
    expect(tab.get_by_label("new datum")).to_have_value("B post")  # what was typed stays
    tab.get_by_label("it lies behind the old one by").fill("25 cm")
    tab.get_by_role("button", name="Move the datum").click()
    saved(tab, 2)
    assert jobs.head(job).plan.vehicle.datum == "B post"
    tab.keyboard.press("Control+z")
    saved(tab, 1)
    assert jobs.head(job).plan.vehicle.datum != "B post"
