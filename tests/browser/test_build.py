"""The job in hand in the browser: a build ticked off on a phone without signal, a hole as built."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}
# by the button, or by itself as the signal came back a moment before
SENT = re.compile(r"Sent\.|Nothing new\.")


def test_a_build_is_ticked_off_on_a_phone_without_signal(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.set_viewport_size(PHONE)  # type: ignore[arg-type]
    tab.goto(f"/jobs/{job}/build/phone")
    expect(tab.locator("#progress")).to_have_text("10 of 26 done")
    tab.evaluate("() => navigator.serviceWorker.ready")
    tab.reload()
    tab.context.set_offline(True)
    tab.reload()
    line = tab.get_by_role("region", name="Lay the fuel line")
    line.get_by_label("Done", exact=True).check()
    line.get_by_label("what was found").fill("one clip more at the tank")
    exhaust = tab.get_by_role("region", name="Hang the exhaust")
    exhaust.get_by_label("exhaust pipe: cut to").fill("1240 mm")
    tab.get_by_role("button", name="Send it").click()
    expect(tab.locator("#kept")).to_contain_text("sent when the signal is back")
    assert jobs.head(job).number == 1
    tab.reload()  # a locked phone that throws the page away
    expect(
        tab.get_by_role("region", name="Lay the fuel line").get_by_label("Done", exact=True)
    ).to_be_checked()
    expect(tab.locator("#progress")).to_have_text("11 of 26 done")
    tab.context.set_offline(False)
    tab.get_by_role("button", name="Send it").click()
    expect(tab.locator("#kept")).to_contain_text(SENT)
    build = jobs.head(job).plan.build
    assert build.is_done("lay-line")
    assert {piece.id: piece.length_mm for piece in build.cut}["exhaust-1"] == 1240
    tab.set_viewport_size({"width": 1280, "height": 800})
    tab.goto(f"/jobs/{job}/build")
    expect(tab.locator("#findings-title")).to_be_visible()
    expect(tab.get_by_text("Length that was cut: exhaust pipe").first).to_be_visible()


def test_a_photo_taken_without_signal_is_sent_later(tab: Page, jobs: Jobs, tmp_path: Path) -> None:
    shot = tmp_path / "shot.png"
    Image.new("RGB", (1600, 900), "grey").save(shot)
    job = jobs.new("heron")
    tab.set_viewport_size(PHONE)  # type: ignore[arg-type]
    tab.goto(f"/jobs/{job}/build/phone")
    tab.evaluate("() => navigator.serviceWorker.ready")
    tab.reload()
    tab.context.set_offline(True)
    line = tab.get_by_role("region", name="Lay the fuel line")
    line.get_by_label("add a photo").set_input_files(shot)
    expect(line).to_contain_text("1 kept on this phone")
    tab.reload()
    expect(line).to_contain_text("1 kept on this phone")
    tab.get_by_role("button", name="Send it").click()
    expect(tab.locator("#kept")).to_contain_text("sent when the signal is back")
    tab.context.set_offline(False)
    tab.get_by_role("button", name="Send it").click()
    expect(tab.locator("#kept")).to_contain_text(SENT)
    expect(line).not_to_contain_text("1 kept on this phone")
    assert [photo.card for photo in jobs.head(job).plan.build.photos] == ["lay-line"]
    tab.reload()
    expect(line.locator("img")).to_be_visible()


def test_what_the_phone_typed_wrong_stays_there_and_is_told(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.set_viewport_size(PHONE)  # type: ignore[arg-type]
    tab.goto(f"/jobs/{job}/build/phone")
    field = tab.get_by_role("region", name="Hang the exhaust").get_by_label("cut to")
    field.fill("about a metre")
    tab.get_by_role("button", name="Send it").click()
    expect(tab.locator("#kept")).to_contain_text("Not taken, and kept here")
    tab.reload()
    expect(field).to_have_value("about a metre")
    assert jobs.head(job).number == 1


def test_a_hole_that_came_out_elsewhere_moves_the_plan_and_says_what_changed(
    tab: Page, jobs: Jobs
) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/build")
    tab.locator("#card-cut-holes summary").click()
    expect(tab.locator("#card-cut-holes .card-drawing svg")).to_be_visible()
    field = tab.locator("#card-cut-holes").get_by_label("as built, heater, behind the datum")
    field.fill("2772")
    field.press("Enter")
    saved(tab, 2)
    expect(tab.locator(".effect li").first).to_contain_text("as built")
    spot = jobs.head(job).plan.spot
    assert spot is not None
    assert spot.x_mm == 2772
    tab.locator("#undo").click()
    saved(tab, 1)
    undone = jobs.head(job).plan.spot
    assert undone is not None
    assert undone.x_mm == 2760
