"""Fuel station in the browser: a tank entered, the pump turned, the dip-stick read, mistakes mended."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser


def _type(tab: Page, label: str, text: str) -> None:
    field = tab.get_by_label(label, exact=True).first
    field.fill(text)
    field.press("Enter")


def test_a_tank_is_entered_and_dragged(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/fuel?zoom=2")
    tab.get_by_role("button", name="Take the fuel from a tank of its own outside").click()
    saved(tab, 2)
    for number, (label, text) in enumerate(
        (("length", "18 in"), ("pick-up above the bottom", "12"), ("walls", "3 mm")), 3
    ):
        _type(tab, label, text)
        saved(tab, number)
    tank = jobs.head(job).plan.fuel.tank
    assert tank is not None
    assert (tank.length_mm, tank.pick_up_mm, tank.wall_mm) == (pytest.approx(457.2), 12, 3)
    tab.locator("#grip-plan-tank").focus()
    tab.keyboard.press("Shift+ArrowLeft")
    saved(tab, 6)
    moved = jobs.head(job).plan.fuel.tank
    assert moved is not None
    assert moved.x_mm == tank.x_mm - 50
    _type(tab, "length", "minus one")
    expect(tab.get_by_role("alert")).to_contain_text("'minus one'")
    assert jobs.head(job).number == 6


def test_the_pump_is_turned_and_its_verdict_follows(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/fuel")
    card = tab.locator("#fuel-pump_tilt--, #fuel-pump-tilt--, [id^='fuel-pump_tilt'], [id^='fuel-pump-tilt']").first
    expect(card).to_have_class("finding verdict-over")
    _type(tab, "outlet end up", "40")
    saved(tab, 2)
    expect(card).to_have_class("finding verdict-clear")
    tab.get_by_label("arrow to the heater").check()
    saved(tab, 3)
    tab.locator("#grip-side-pump").focus()
    tab.keyboard.press("r")
    saved(tab, 4)
    line = jobs.head(job).plan.fuel.line
    assert line is not None
    assert (line.pump.tilt_deg, line.pump.forwards) == (55, True)


def test_the_level_is_pulled_and_the_dip_stick_read(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/fuel")
    before = tab.locator("#fuel-nights").text_content() or ""
    slide = tab.get_by_label("level in the tank, slider")
    slide.focus()
    for _ in range(6):
        tab.keyboard.press("ArrowLeft")
    expect(tab.locator("#fuel-nights")).not_to_have_text(before)
    tab.get_by_text("Dip-stick", exact=True).click()
    rows = tab.locator("#dip-stick tbody tr")
    expect(rows.first).to_contain_text("0.0")
    assert rows.count() > 5
    tab.get_by_role("link", name="Dip-stick to print").click()
    expect(tab.locator("#dip-marks th").nth(1)).to_have_text("in")


def test_a_line_is_laid_and_its_bend_dragged(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/fuel?zoom=2")
    tab.get_by_role("button", name="Take the line out").click()
    saved(tab, 2)
    tab.get_by_role("button", name="Lay a line").click()
    saved(tab, 3)
    line = jobs.head(job).plan.fuel.line
    assert line is not None
    node = line.nodes[0]
    tab.locator(f"#grip-plan-fuel-{node.id}").focus()
    tab.keyboard.press("ArrowRight")
    saved(tab, 4)
    after = jobs.head(job).plan.fuel.line
    assert after is not None
    assert after.nodes[0].x_mm == node.x_mm + 5
    tab.locator("#grip-plan-pump").focus()
    tab.keyboard.press("Shift+ArrowRight")
    saved(tab, 5)
    pumped = jobs.head(job).plan.fuel.line
    assert pumped is not None
    assert pumped.of_kind("pump")[0].at_mm == line.of_kind("pump")[0].at_mm + 50


def test_every_mistake_in_wren_is_mended_through_its_remedies(tab: Page, jobs: Jobs) -> None:
    """One remedy after another until only the cross-member under the wished-for spot is left: another spot cures that."""
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/fuel")
    cards = tab.locator("article.finding.verdict-over")
    begun, number = cards.count(), 1
    assert begun > 10
    skipped = 0
    while cards.count() > skipped:
        card = cards.nth(skipped)
        card.get_by_text("Find a remedy").click()
        told = card.locator(".remedy")
        expect(told).not_to_be_empty()
        if told.get_by_text("Apply").count() == 0:
            skipped += 1
            continue
        told.get_by_text("Apply").first.click()
        number, skipped = number + 1, 0
        saved(tab, number)
        assert number < 40
    expect(cards).to_have_count(1)
    expect(cards.first).to_contain_text("cross-member 2")
