"""Power station in the browser: the ladder follows a slider, a cable is taken, leads are laid and
pulled, mistakes are cured.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from gale_nook.core.plan.power import Battery, Lead, Power
from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser


def _power(jobs: Jobs, job: int) -> Power:
    return jobs.head(job).plan.power


def _battery(jobs: Jobs, job: int) -> Battery:
    battery = _power(jobs, job).battery
    assert battery is not None
    return battery


def _supply(jobs: Jobs, job: int) -> Lead:
    lead = _power(jobs, job).lead("supply")
    assert lead is not None
    return lead


def _type(tab: Page, label: str, text: str) -> None:
    field = tab.get_by_label(label, exact=True).first
    field.fill(text)
    field.press("Enter")


def test_the_ladder_follows_the_slider_before_it_is_saved(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/power")
    glow = tab.locator(".ladder-figures tr").first.locator("strong")
    before = glow.inner_text()
    slider = tab.get_by_label("temperature of the battery, slider")
    slider.focus()
    for _ in range(6):
        tab.keyboard.press("ArrowLeft")
    expect(glow).not_to_have_text(before)
    kept = float(slider.input_value())
    field = tab.locator('input[name="set:power.battery.temperature_c"]')
    expect(field).to_have_attribute("value", re.compile(f"^{kept:.0f}\\b"))
    assert _battery(jobs, job).temperature_c == kept < 5
    assert float(glow.inner_text().split()[0]) < float(before.split()[0])


def test_a_cable_is_taken_and_a_gauge_typed_for_it_is_refused(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/power")
    tab.get_by_role("button", name="Take 6 mm²", exact=True).click()
    saved(tab, 2)
    assert _supply(jobs, job).area_mm2 == 6
    _type(tab, "each conductor", "12")
    expect(tab.get_by_role("alert")).to_contain_text("AWG 12 is 3.31 mm²")
    expect(tab.get_by_label("each conductor", exact=True).first).to_have_value("12")
    _type(tab, "each conductor", "AWG 12")
    saved(tab, 3)
    assert _supply(jobs, job).area_mm2 == pytest.approx(3.3088, rel=1e-3)


def test_the_battery_and_a_bend_are_moved_by_keys(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/power")
    at = _battery(jobs, job).x_mm
    tab.locator("#grip-plan-power-battery").focus()
    tab.keyboard.press("Shift+ArrowRight")
    saved(tab, 2)
    assert _battery(jobs, job).x_mm == at + 50
    node = _supply(jobs, job).nodes[1]
    tab.locator(f"#grip-plan-power-supply-{node.id}").focus()
    tab.keyboard.press("ArrowRight")
    saved(tab, 3)
    assert _supply(jobs, job).nodes[1].x_mm != node.x_mm


def test_an_empty_job_gets_battery_cable_and_alarm(tab: Page, jobs: Jobs) -> None:
    """By the buttons that the page offers, one after the other."""
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/power")
    names = ("supply cable", "pump's lead", "controller's lead")
    for number, words in enumerate(names, 2):
        tab.get_by_role("button", name=f"Take the {words} out", exact=True).click()
        saved(tab, number)
    assert _power(jobs, job).leads == ()
    for number, words in enumerate(names, 5):
        tab.get_by_role("button", name=f"Lay the {words}", exact=True).click()
        saved(tab, number)
    assert {lead.id for lead in _power(jobs, job).leads} == {"supply", "pump", "controller"}
    tab.get_by_role("button", name="Take the CO alarm out", exact=True).click()
    saved(tab, 8)
    card = tab.locator("[id^='power-co_alarm'], [id^='power-co-alarm']").first
    expect(card).to_have_class(re.compile("verdict-over"))


def test_a_mistake_of_wren_is_cured_by_its_remedy(tab: Page, jobs: Jobs) -> None:
    """The feed behind the isolator is taken at the posts."""
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/power")
    card = tab.locator("[id^='power-switched']").first
    expect(card).to_have_class(re.compile("verdict-over"))
    card.get_by_role("button", name="Find a remedy").click()
    told = card.locator(".remedy")
    expect(told).to_contain_text("battery's posts, ahead of the isolator")
    told.get_by_text("Apply").first.click()
    saved(tab, 2)
    assert _power(jobs, job).feed == "posts"
