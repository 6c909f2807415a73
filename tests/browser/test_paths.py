"""Whole tasks from start to print, the phone, and what a screen reader and a blocked page would
meet.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Literal

import pytest
from playwright.sync_api import Page, expect

from gale_nook.core.plan.document import read_plan
from gale_nook.demo.load import PLANS
from tests.browser.conftest import Jobs

pytestmark = pytest.mark.browser

CONTRAST = """(button) => {
  const rgb = (text) => text.match(/[\\d.]+/g).map(Number);
  const linear = (v) => v <= 0.03928 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  const weights = [0.2126, 0.7152, 0.0722];
  const light = (color) =>
    weights.reduce((sum, weight, i) => sum + weight * linear(color[i] / 255), 0);
  let behind = button;
  const fill = (element) => rgb(getComputedStyle(element).backgroundColor);
  while (behind && (fill(behind)[3] ?? 1) === 0) behind = behind.parentElement;
  const [a, b] = [rgb(getComputedStyle(button).color), fill(behind)].map(light);
  return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
}"""


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_buttons_can_be_read_under_the_pointer_and_pressed(
    tab: Page, jobs: Jobs, scheme: Literal["light", "dark"]
) -> None:
    """4.5 to 1 (WCAG 2.2, 1.4.3), also while hovered and while held down."""
    tab.emulate_media(color_scheme=scheme, reduced_motion="reduce")
    tab.goto(f"/jobs/{jobs.new('wren')}/pipes")
    tab.locator("#pipes-radius-exhaust-n-1").get_by_role("button", name="Find a remedy").click()
    tab.locator(".btn-remedy").first.wait_for()
    expect(tab.locator(".working")).to_have_count(0)  # whose buttons go when the work is done
    for kind in (
        ".btn-outline-dark",
        ".btn-remedy",
        ".btn-quiet",
        "#units",
        ".switch .btn:not(.on)",
        ".switch .btn.on",
    ):
        button = tab.locator(f"{kind}:visible").first
        button.hover()
        assert button.evaluate(CONTRAST) >= 4.5, kind
        tab.mouse.down()
        assert button.evaluate(CONTRAST) >= 4.5, kind
        tab.mouse.move(5, 790)  # let go elsewhere, so that nothing is done
        tab.mouse.up()


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_the_pattern_page_can_be_read_in_both_themes(tab: Page, theme: str) -> None:
    """Whatever the device asks for, the page keeps to its theme; every text stands out."""
    tab.emulate_media(color_scheme="dark" if theme == "light" else "light")
    tab.goto(f"/patterns?theme={theme}")
    paper = tab.evaluate("getComputedStyle(document.body).backgroundColor")
    light = sum(int(part) for part in paper[4:-1].split(",")) > 384
    assert light == (theme == "light")
    for button in tab.locator(".patterns .actions .btn").all():
        assert button.evaluate(CONTRAST) >= 4.5, button.inner_text()
    before = tab.url
    tab.get_by_role("button", name="Apply").click()  # nothing here changes a job
    expect(tab.locator("#notice")).to_be_empty()
    assert tab.url == before


def test_a_newcomer_is_led_from_the_shell_to_a_build_sheet(tab: Page, jobs: Jobs) -> None:
    """Blank: survey a member by typing, choose the recommended heater, place it, start the exhaust,
    print.
    """
    tab.goto("/")
    tab.get_by_label("What do you call it?").fill("Petrel")
    tab.get_by_role("button", name="New job").click()
    tab.wait_for_url("**/vehicle")
    job = int(tab.url.split("/")[-2])
    expect(tab.get_by_role("link", name="Measuring round")).to_be_visible()
    expect(tab.locator("#assumed-parts")).to_contain_text("fuel tank")
    tab.locator("#add-kind").select_option("member")
    tab.get_by_role("button", name="Add part").click()
    expect(tab.locator("#chosen h2")).to_have_text("new cross-member")
    tab.locator("#chosen").get_by_label("behind the datum").fill("880")
    tab.locator("#chosen").get_by_label("behind the datum").press("Enter")
    expect(tab.locator("#saved")).to_have_text("edit 3 · saved")
    tab.keyboard.press("Escape")
    tab.get_by_role("link", name="Spot").click()
    tab.get_by_role("link", name="Choose a heater").click()
    recommended = tab.locator(".heater.recommended")
    expect(recommended).to_contain_text("The smallest that covers the design night")
    recommended.get_by_role("button", name="Choose the").click()
    expect(tab.locator(".heater.picked")).to_have_count(1)
    tab.goto(f"/jobs/{job}/spot")
    tab.get_by_label("behind the datum").fill("1.5 m")
    tab.get_by_label("right of centre").fill("two")
    tab.get_by_role("button", name="Put it there").click()
    expect(tab.get_by_role("alert")).to_contain_text("'two' is not a unit")
    expect(tab.get_by_label("behind the datum")).to_have_value("1.5 m")
    tab.get_by_label("right of centre").fill("-200")
    tab.get_by_role("button", name="Put it there").click()
    expect(tab.locator("#overlay .heater-body").first).to_be_visible()
    tab.goto(f"/jobs/{job}/pipes")
    tab.get_by_role("button", name="Start at the port").click()
    expect(tab.locator("#run-length")).to_be_visible()
    tab.goto(f"/jobs/{job}/build")
    expect(tab.get_by_role("heading", name="Order of work")).to_be_visible()
    href = tab.get_by_role("link", name="Build sheet as PDF").get_attribute("href") or ""
    assert tab.request.get(href).body().startswith(b"%PDF")


def test_a_plan_is_exported_and_taken_in_again(tab: Page, jobs: Jobs, tmp_path: Path) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/build")
    with tab.expect_download() as waiting:
        tab.get_by_role("link", name="Export the plan file").click()
    path = tmp_path / "heron.json"
    waiting.value.save_as(path)
    assert read_plan(path.read_bytes()) == jobs.head(job).plan
    tab.goto("/")
    tab.get_by_label("A job that was exported").set_input_files(path)
    tab.get_by_role("button", name="Load the file").click()
    tab.wait_for_url("**/vehicle")
    assert jobs.head(int(tab.url.split("/")[-2])).plan == jobs.head(job).plan


def test_a_wrong_file_names_its_place(tab: Page, tmp_path: Path) -> None:
    data = json.loads((PLANS / "heron.json").read_text())
    data["vehicle"]["solids"][2]["length_mm"] = "long"
    path = tmp_path / "broken.json"
    path.write_text(json.dumps(data))
    tab.goto("/")
    tab.get_by_label("A job that was exported").set_input_files(path)
    tab.get_by_role("button", name="Load the file").click()
    expect(tab.get_by_role("alert")).to_contain_text("vehicle.solids[2]")


def test_deleting_a_job_asks_first(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto("/")
    button = tab.locator(f'button[hx-post="/jobs/{job}/delete"]')
    tab.once("dialog", lambda dialog: dialog.dismiss())
    button.click()
    expect(button).to_be_visible()
    tab.once("dialog", lambda dialog: dialog.accept())
    button.click()
    expect(button).to_have_count(0)


def test_units_are_switched_anywhere(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/spot")
    tab.locator("#units").click()
    expect(tab.get_by_label("behind the datum")).to_have_value('108 11/16"')
    expect(tab.locator("#findings")).to_contain_text('limit 1 9/16" or more')
    tab.get_by_label("behind the datum").fill("108 1/2")
    tab.get_by_label("behind the datum").press("Enter")
    expect(tab.locator("#saved")).to_have_text("edit 2 · saved")
    spot = jobs.head(job).plan.spot
    assert spot is not None
    assert spot.x_mm == pytest.approx(2755.9)


def test_the_keys_sheet_and_the_flips(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/spot")
    tab.keyboard.press("?")
    expect(tab.locator("#keys")).to_be_visible()
    tab.keyboard.press("Escape")
    expect(tab.locator("#keys")).to_be_hidden()
    tab.keyboard.press("b")
    tab.wait_for_url("**plan=below")
    expect(tab.locator("#board-drawing")).to_contain_text("from below, mirrored")
    tab.keyboard.press("f")
    tab.wait_for_url("**side=right**")


def test_a_server_that_is_gone_is_told_and_the_value_stays(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/heat")
    tab.context.set_offline(True)
    tab.get_by_label("coldest night", exact=True).fill("-33")
    tab.get_by_label("coldest night", exact=True).press("Enter")
    expect(tab.get_by_role("alert")).to_contain_text("does not answer")
    expect(tab.get_by_label("coldest night", exact=True)).to_have_value("-33")
    tab.context.set_offline(False)
