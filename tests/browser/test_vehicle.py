"""Vehicle station in the browser: a looked-at area drawn, what others make of it, the datum, photos
to scale, several parts at once.
"""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import Jobs, saved
from tests.core.vehicle.test_photo_scale import FIVE, HEIGHT, WIDTH, camera

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


def test_a_photo_is_laid_to_scale_and_a_pipe_traced_over_it(
    tab: Page, jobs: Jobs, tmp_path: Path
) -> None:
    """Four points and a fifth by mouse and keys; then a brake pipe point by point on the plan."""
    job = jobs.new("heron")
    taken = tmp_path / "floor.jpg"
    Image.new("RGB", (WIDTH, HEIGHT), "grey").save(taken)
    tab.goto(f"/jobs/{job}/vehicle")
    tab.set_input_files("#photo-file", taken)
    tab.get_by_role("button", name="Add the photo").click()
    expect(tab.get_by_role("heading", level=1)).to_contain_text("photo 1")
    for number, place in enumerate(FIVE, 1):
        u, v = camera(place, 15.0, 30.0, below=True)
        tab.locator(f"#choose-{number}").check()
        box = tab.locator("#photo-marking img").bounding_box()
        assert box is not None
        tab.mouse.click(box["x"] + u * box["width"] / WIDTH, box["y"] + v * box["height"] / HEIGHT)
        tab.locator(f"#x-{number}").fill(f"{place[0]}")
        tab.locator(f"#y-{number}").fill(f"{place[1]}")
    before = tab.locator("#u-5").input_value()
    tab.locator("#photo-marking").focus()
    tab.keyboard.press("Shift+ArrowRight")
    tab.keyboard.press("ArrowLeft")
    assert int(tab.locator("#u-5").input_value()) == int(before) + 9
    tab.get_by_role("button", name="Keep the points").click()
    expect(tab.get_by_text("from where you measured it")).to_be_visible()
    tab.get_by_role("link", name="Back to the vehicle").click()
    expect(tab.locator("#survey .photo")).to_be_attached()
    tab.get_by_label("Add", exact=True).select_option(label="brake pipe")
    tab.get_by_role("button", name="Draw it on the plan").click()
    tab.locator("#board-drawing").scroll_into_view_if_needed()
    board = tab.locator("#board-drawing").bounding_box()
    assert board is not None
    for x, y in ((460, 150), (520, 160), (560, 140)):
        tab.mouse.click(board["x"] + x, board["y"] + y)
    tab.keyboard.press("Enter")
    expect(tab.locator("#chosen h2")).to_have_text("new brake pipe")
    pipe = jobs.head(job).plan.vehicle.solids[-1]
    assert len(pipe.points) == 3
    assert pipe.uncertainty_mm > 0


def test_ticked_parts_are_moved_and_taken_out(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/vehicle")
    count = len(jobs.head(job).plan.vehicle.solids)
    tab.get_by_role("checkbox", name="Tick cross-member 1").check()
    tab.get_by_role("checkbox", name="Tick cross-member 2").check()
    form = tab.get_by_role("form", name="Ticked parts")
    form.get_by_label("to the rear").fill("3 cm")
    form.get_by_role("button", name="Move").click()
    saved(tab, 2)
    tab.get_by_role("checkbox", name="Tick every part").check()
    form.get_by_role("button", name="Delete").click()
    saved(tab, 3)
    assert jobs.head(job).plan.vehicle.solids == ()
    tab.keyboard.press("Control+z")
    saved(tab, 2)
    assert len(jobs.head(job).plan.vehicle.solids) == count
