"""Coolant station in the browser: a loop is begun, a level follows its slider, parts are moved by
mouse and by keys, mistakes are cured.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from gale_nook.core.plan.coolant import Coolant, LoopPart
from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser


def _loop(jobs: Jobs, job: int) -> Coolant:
    return jobs.head(job).plan.coolant


def _part(jobs: Jobs, job: int, part_id: str) -> LoopPart:
    found = _loop(jobs, job).part(part_id)
    assert found is not None
    return found


def test_a_usual_loop_is_begun_and_undone(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("quarto")
    tab.goto(f"/jobs/{job}/coolant")
    tab.get_by_role("button", name="One fan convector", exact=True).click()
    saved(tab, 2)
    assert _loop(jobs, job).part("water") is None
    expect(tab.locator("#coolant-figures svg")).to_be_visible()
    tab.get_by_role("button", name="Undo").click()
    expect(tab.locator("#grip-plan-coolant-water")).to_be_attached()
    assert _loop(jobs, job).part("water") is not None


def test_the_ladder_follows_a_slider_before_it_is_saved(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("quarto")
    tab.goto(f"/jobs/{job}/coolant")
    gets = tab.locator(".loop-figures tr").nth(1).locator("strong")
    before = gets.inner_text()
    slider = tab.get_by_label("mixing valve, set to, slider")
    slider.focus()
    for _ in range(5):
        tab.keyboard.press("ArrowLeft")
    expect(gets).not_to_have_text(before)
    kept = float(slider.input_value())
    field = tab.locator('input[name="set:coolant.parts.mixer.mix_c"]')
    expect(field).to_have_attribute("value", f"{kept:.0f} °C")
    assert _part(jobs, job, "mixer").mix_c == kept < 34


def test_a_part_is_moved_by_keys_and_its_hoses_follow(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("quarto")
    tab.goto(f"/jobs/{job}/coolant")
    at = _part(jobs, job, "water").x_mm
    tab.locator("#grip-plan-coolant-water").focus()
    tab.keyboard.press("Shift+ArrowRight")
    saved(tab, 2)
    assert _part(jobs, job, "water").x_mm == at + 50


def test_a_mistake_of_teal_is_cured_by_its_remedy(tab: Page, jobs: Jobs) -> None:
    """The header that stands too low is raised."""
    job = jobs.new("teal")
    tab.goto(f"/jobs/{job}/coolant")
    more = tab.locator("#more-findings > summary")
    if more.count():
        more.click()
    card = tab.locator("[id^='coolant-header-high'], [id^='coolant-header_high']").first
    expect(card).to_have_class(re.compile("verdict-over"))
    card.get_by_role("button", name="Find a remedy").click()
    told = card.locator(".remedy")
    expect(told).to_contain_text("Raise the header tank", timeout=30_000)
    told.get_by_text("Apply").first.click()
    saved(tab, 2)
    assert _part(jobs, job, "header").z_mm > 500


def test_wrong_input_stays_and_is_told(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("quarto")
    tab.goto(f"/jobs/{job}/coolant")
    field = tab.get_by_label("glycol", exact=True).first
    field.fill("80")
    field.press("Enter")
    expect(tab.get_by_role("alert")).to_contain_text("80")
    expect(tab.get_by_label("glycol", exact=True).first).to_have_value("80")
    assert jobs.head(job).number == 1


def test_the_ladder_is_edited_by_keys(tab: Page, jobs: Jobs) -> None:
    """A valve is put into a hose, turned and taken out; the rungs follow."""
    job = jobs.new("quarto")
    tab.goto(f"/jobs/{job}/coolant")
    rungs = tab.locator("#fold-ladder .rung")
    before = rungs.count()
    tab.get_by_label("to put in").select_option("valve")
    put = tab.get_by_role("button", name="Put in here: hose flow tee 2 to convector 1")
    put.focus()
    tab.keyboard.press("Enter")
    saved(tab, 2)
    expect(rungs).to_have_count(before + 2)
    tab.get_by_role("button", name="Turn the ball valve round").press("Enter")
    saved(tab, 3)
    tab.get_by_role("button", name="Take the ball valve out and join its hoses").press("Enter")
    saved(tab, 4)
    expect(rungs).to_have_count(before)
