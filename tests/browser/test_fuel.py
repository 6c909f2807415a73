"""Fuel station in the browser: a tank entered, the pump turned, the dip-stick read, mistakes
mended.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from gale_nook.core.plan.fuel import FuelLine, OwnTank
from tests.browser.conftest import Jobs, centre, drag_from, saved

pytestmark = pytest.mark.browser


def _type(tab: Page, label: str, text: str) -> None:
    field = tab.get_by_label(label, exact=True).first
    field.fill(text)
    field.press("Enter")


def _tank(jobs: Jobs, job: int) -> OwnTank:
    tank = jobs.head(job).plan.fuel.tank
    assert tank is not None
    return tank


def _line(jobs: Jobs, job: int) -> FuelLine:
    line = jobs.head(job).plan.fuel.line
    assert line is not None
    return line


def test_a_tank_is_entered_and_dragged(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/fuel")
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
    card = tab.locator(
        "#fuel-pump_tilt--, #fuel-pump-tilt--, [id^='fuel-pump_tilt'], [id^='fuel-pump-tilt']"
    ).first
    expect(card).to_have_class(re.compile("verdict-over"))
    _type(tab, "outlet end raised by", "40")
    saved(tab, 2)
    expect(card).to_have_class(re.compile("verdict-clear"))
    tab.get_by_label("arrow to the heater", exact=True).check()
    saved(tab, 3)
    tab.locator("#grip-side-pump").focus()
    tab.keyboard.press("r")
    saved(tab, 4)
    line = jobs.head(job).plan.fuel.line
    assert line is not None
    assert (line.pump.tilt_deg, line.pump.forwards) == (55, True)


def test_the_level_is_pulled_and_the_dip_stick_read(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/air")  # into its ducts the heater shuts down, and no night uses fuel
    tab.get_by_label("the warm end blows", exact=True).select_option("free")
    saved(tab, 2)
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


def test_quick_presses_are_one_edit_after_another(tab: Page, jobs: Jobs) -> None:
    """Six presses on the slider without waiting: the level is where the last one put it, and no
    edit met another.
    """
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/fuel")
    tab.get_by_label("level in the tank, slider").focus()
    for _ in range(6):
        tab.keyboard.press("ArrowLeft")
    expect(tab.locator('[data-exact="fuel.level_percent"]')).to_have_attribute("data-value", "70.0")
    expect(tab.locator("#notice")).to_be_empty()
    assert jobs.head(job).plan.fuel.level_percent == 70


def test_a_line_is_laid_and_its_bend_dragged(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/fuel")
    tab.get_by_role("button", name="Remove the whole line").click()
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


def test_a_bend_is_pulled_out_of_the_line_and_parts_are_put_in(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/fuel")
    before = _line(jobs, job)
    drag_from(tab, centre(tab, "#grip-plan-straight-fuel-2 .insert-mark"), 0, 40)
    saved(tab, 2)
    bent = _line(jobs, job)
    assert len(bent.nodes) == len(before.nodes) + 1
    assert [node for node in bent.nodes if node in before.nodes] == list(before.nodes)
    tab.get_by_role("button", name="+ joint").click()
    saved(tab, 3)
    assert len(_line(jobs, job).of_kind("joint")) == 1
    tab.get_by_label("Remove the pump").click()
    saved(tab, 4)
    tab.get_by_role("button", name="+ pump").click()
    saved(tab, 5)
    assert len(_line(jobs, job).of_kind("pump")) == 1


def test_every_mistake_in_wren_is_mended_through_its_remedies(tab: Page, jobs: Jobs) -> None:
    """One remedy after another until only the cross-member under the wished-for spot is left:
    another spot cures that.
    """
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/fuel")
    cards = tab.locator("article.finding.verdict-over")
    begun, number = cards.count(), 1
    assert begun > 10
    skipped = 0
    while cards.count() > skipped:
        card = cards.nth(skipped)
        card.get_by_role("button", name="Find a remedy").click()
        told = card.locator(".remedy")
        expect(told).not_to_be_empty()
        expect(told.locator(".working")).to_have_count(0)
        if told.get_by_text("Apply").count() == 0:
            skipped += 1
            continue
        told.get_by_text("Apply").first.click()
        number, skipped = number + 1, 0
        saved(tab, number)
        assert number < 40
    expect(cards).to_have_count(1)
    expect(cards.first).to_contain_text("cross-member 2")


def test_a_profile_is_entered_corner_by_corner(tab: Page, jobs: Jobs) -> None:
    """Begun from the tank's size, a corner inserted, typed and taken out again; an outline that
    crosses itself is refused.
    """
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/fuel")
    litres = tab.locator("#litres").text_content()
    tab.get_by_role("button", name="Draw its own profile").click()
    saved(tab, 2)
    expect(tab.locator("#litres")).not_to_have_text(litres or "")
    begun = _tank(jobs, job).profile
    tab.get_by_label("Insert a corner after corner 2").click()
    saved(tab, 3)
    _type(tab, "corner 3, across", "190 mm")
    saved(tab, 4)
    assert _tank(jobs, job).profile[2][0] == 190
    tab.get_by_label("Remove corner 3").click()
    saved(tab, 5)
    assert _tank(jobs, job).profile == begun
    _type(tab, "corner 1, up", "500")
    expect(tab.get_by_role("alert")).to_contain_text("crosses itself")
    assert jobs.head(job).number == 5


def test_level_and_pump_are_pulled_on_the_drawing(tab: Page, jobs: Jobs) -> None:
    """The level by the end of its line; the pump by its outlet end, from pointing down to pointing
    up.
    """
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/fuel")
    at = centre(tab, "#grip-side-level .fuel-level-grip")
    drag_from(tab, at, 0, 40)
    saved(tab, 2)
    percent = jobs.head(job).plan.fuel.level_percent
    assert 5 <= percent <= 90
    assert percent % 5 == 0
    tab.locator("#grip-side-level").focus()
    tab.keyboard.press("ArrowUp")
    saved(tab, 3)
    assert jobs.head(job).plan.fuel.level_percent == percent + 5
    pump, end = (
        centre(tab, "#grip-side-pump .fitting-grip"),
        centre(tab, "#grip-side-turn .fuel-turn-grip"),
    )
    assert _line(jobs, job).pump.tilt_deg == -60
    drag_from(tab, end, 0, 2 * (pump[1] - end[1]))
    saved(tab, 4)
    assert _line(jobs, job).pump.tilt_deg == pytest.approx(60, abs=5)


def test_lines_are_found_shown_and_taken(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/fuel")
    tab.get_by_role("button", name="Find other lines").click()
    ways = tab.locator("#lines article.way")
    expect(ways.first).to_contain_text("can be clipped")
    assert ways.count() >= 2
    before = _line(jobs, job)
    ways.nth(1).get_by_role("button", name="show").click()
    expect(tab.locator("#work")).to_have_class("work previewing")
    tab.get_by_role("button", name="Take line A").click()
    saved(tab, 2)
    assert _line(jobs, job).nodes != before.nodes
    expect(tab.locator("article.finding.verdict-over")).to_have_count(0)


def test_a_slide_out_pulls_the_line_until_it_flexes(tab: Page, jobs: Jobs) -> None:
    """Given at the vehicle; the fuel station tells that the line is pulled, and its remedy puts a
    flexible stretch in.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/vehicle")
    tab.get_by_role("button", name="The body has a slide-out").click()
    saved(tab, 2)
    for number, (label, text) in enumerate(
        (
            ("from, behind the datum", "2200"),
            ("to", "3200"),
            ("reaches in", "1100"),
            ("lower edge of what moves, above the floor", "-400"),
        ),
        3,
    ):
        tab.locator("#fold-slide-out").get_by_label(label, exact=True).fill(text)
        tab.keyboard.press("Enter")
        saved(tab, number)
    expect(tab.locator(".slide-out")).to_have_count(1)
    expect(tab.get_by_role("button", name="No slide-out")).to_be_visible()
    tab.goto(f"/jobs/{job}/fuel")
    card = tab.locator("#fuel-flex-fuel-crossing-1")
    expect(card).to_contain_text("without a flexible stretch")
    card.get_by_role("button", name="Find a remedy").click()
    card.get_by_role("button", name="Apply").first.click()
    saved(tab, 7)
    assert len(_line(jobs, job).of_kind("flex")) == 1
    expect(card).to_have_class(re.compile("verdict-clear"))
