"""The log in the browser: a night on the phone without signal, one at the desk, what was learned
taken over, a fault found by keys.
"""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from gale_nook.demo.load import demo_log
from gale_nook.exchange.log_csv import write_log
from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}


def test_a_night_is_written_down_on_a_phone_without_signal(
    tab: Page, jobs: Jobs, tmp_path: Path
) -> None:
    shot = tmp_path / "shot.png"
    Image.new("RGB", (1600, 900), "grey").save(shot)
    job = jobs.new("heron")
    tab.set_viewport_size(PHONE)  # type: ignore[arg-type]
    tab.goto(f"/jobs/{job}/log/phone")
    tab.evaluate("() => navigator.serviceWorker.ready")
    tab.reload()
    tab.context.set_offline(True)
    tab.get_by_label("or litres used").fill("2.4")
    tab.reload()  # a locked phone that throws the page away
    expect(tab.get_by_label("or litres used")).to_have_value("2.4")
    tab.get_by_label("hours on").fill("9")
    tab.get_by_label("lowest outside").fill("-4")
    tab.get_by_label("smell").check()
    tab.get_by_label("photo").set_input_files(shot)
    expect(tab.get_by_text("It is kept with this night.")).to_be_visible()
    tab.get_by_role("button", name="Write it down").click()
    expect(tab.locator("#kept")).to_contain_text("sent when the signal is back")
    expect(tab.locator("#progress")).to_contain_text("1 kept on this phone")
    tab.context.set_offline(False)
    tab.get_by_role("button", name="Send it").click()
    expect(tab.locator("#progress")).to_have_text("")
    tab.set_viewport_size({"width": 1280, "height": 800})
    tab.goto(f"/jobs/{job}/log")
    expect(tab.get_by_text("1 nights, 2.4 l")).to_be_visible()
    expect(tab.locator(".log-tick")).to_have_text("smell")
    there = tab.get_by_role("link", name="photo", exact=True).get_attribute("href")
    assert there is not None
    assert tab.request.get(there).headers["content-type"] == "image/jpeg"


def test_what_the_phone_typed_wrong_comes_back_into_its_field(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/log/phone")
    tab.get_by_label("or litres used").fill("some")
    tab.get_by_role("button", name="Write it down").click()
    expect(tab.locator("#kept")).to_contain_text("Not taken")
    expect(tab.get_by_label("or litres used")).to_have_value("some")


def test_a_night_at_the_desk_and_a_wrong_one_that_stays(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/log")
    litres = tab.get_by_label("or litres used")
    litres.fill("plenty")
    tab.get_by_role("button", name="Write it down").press("Enter")
    expect(tab.locator("#notice")).to_contain_text("not a number")
    expect(litres).to_have_value("plenty")
    litres.fill("2.6")
    tab.get_by_label("hours on").fill("10")
    tab.get_by_label("lowest outside").fill("-2")
    litres.press("Enter")
    expect(tab.get_by_text("1 nights, 2.6 l")).to_be_visible()
    expect(litres).to_have_value("")
    tab.get_by_role("link", name=re.compile("Correct the night")).click()
    tab.get_by_label("or litres used").fill("2.9")
    tab.get_by_role("button", name="Correct it").click()
    expect(tab.get_by_text("1 nights, 2.9 l")).to_be_visible()


def test_a_winter_teaches_and_is_taken_over(tab: Page, jobs: Jobs, tmp_path: Path) -> None:
    winter = tmp_path / "winter.csv"
    winter.write_text(write_log(demo_log("heron")))
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/log")
    tab.locator("#log-csv").set_input_files(winter)
    tab.get_by_role("button", name="Load the file").click()
    expect(tab.get_by_text("60 nights, 186.9 l")).to_be_visible()
    expect(tab.locator(".nights .strip-dot.over")).to_have_count(2)
    expect(tab.locator(".effect")).to_contain_text("needed on the coldest night")
    tab.get_by_role("button", name="Take over what was learned").click()
    saved(tab, 2)
    assert jobs.head(job).plan.heat.learned.nights == 60
    expect(tab.get_by_role("button", name="Take over what was learned")).to_have_count(0)
    tab.locator("#undo").click()
    saved(tab, 1)


def test_a_fault_is_found_by_keys_through_a_reload(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/log")
    tab.get_by_role("link", name="Find the fault").press("Enter")
    tab.get_by_role("link", name="it does not start").press("Enter")
    expect(tab.get_by_role("heading", name="Check next")).to_be_visible()
    tab.reload()
    for _ in range(8):
        if tab.locator("#named").count():
            break
        words = tab.locator(".check-next").first.get_attribute("aria-label") or ""
        answer = "Yes" if words == "bubbles come before the heater" else "No"
        tab.get_by_role("link", name=f"{answer}: {words}").press("Enter")
        tab.wait_for_load_state()
    expect(tab.locator("#named")).to_contain_text("air in the fuel line")
    tab.get_by_role("button", name="It was that: write it down").press("Enter")
    expect(tab.get_by_text("fault: air in the fuel line")).to_be_visible()
