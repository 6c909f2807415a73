"""Whole tasks of the installations that are not a plain van's: a boat's pipes against the water, a
trailer's tank, an opening that was there with a second heater beside it.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Jobs, centre, drag_from, saved

pytestmark = pytest.mark.browser


def _type(tab: Page, field: Locator, text: str) -> None:
    field.focus()
    tab.keyboard.press("Control+a")
    tab.keyboard.type(text)
    tab.keyboard.press("Enter")


def _go(tab: Page, key: str) -> None:
    tab.wait_for_load_state()
    tab.locator("h1, .stop.here a").first.focus()
    tab.keyboard.press(key)
    expect(tab.locator(f'.stop.here a[data-key="{key}"]')).to_be_visible()


def _over(tab: Page) -> Locator:
    return tab.locator(".finding.verdict-over")


def _cure(tab: Page, card: Locator, edit: int) -> None:
    card.get_by_role("button", name="Find a remedy").click()
    card.get_by_role("button", name="Apply").first.click()
    saved(tab, edit)


def test_a_boats_pipes_are_kept_out_of_the_water(tab: Page, jobs: Jobs) -> None:
    """It heels more than was thought: typed wrong first, then right; the mouth that comes too near
    to the water is raised by its remedy; with the keyboard as far as the remedy.
    """
    job = jobs.new("coot")
    tab.goto(f"/jobs/{job}/vehicle")
    heel = tab.get_by_label("heels to either side")
    _type(tab, heel, "170")
    expect(tab.locator("#saved")).to_have_text(re.compile("edit 1"))
    expect(heel).to_have_value("170")  # what was typed stays
    _type(tab, heel, "17")
    saved(tab, 2)
    _go(tab, "5")
    tab.get_by_role("button", name="Combustion air").or_(
        tab.get_by_role("link", name="Combustion air")
    ).first.click()
    card = tab.locator("#pipes-water-intake-mouth")
    expect(card).to_contain_text("Heeled 17° and trimmed 4°")
    expect(card).to_have_class(re.compile("verdict-over"))
    before = jobs.head(job).plan.pipes.intake
    _cure(tab, card, 3)
    after = jobs.head(job).plan.pipes.intake
    assert before is not None
    assert after is not None
    assert after.nodes[-1].z_mm > before.nodes[-1].z_mm
    expect(tab.locator("#tally [data-step=over]")).to_have_count(0)
    # what was said of the water stands on the sheet with its caution
    _go(tab, "9")
    expect(tab.locator("body")).to_contain_text("A boat sinks through a hole")


def test_a_trailers_tank_is_moved_off_the_coupling(tab: Page, jobs: Jobs) -> None:
    """Dragged too far forward on the drawbar it is in the turning circle of what tows; the remedy
    or the mouse brings it back; the battery is said to be the car's, and is not left so.
    """
    job = jobs.new("dunlin")
    tab.goto(f"/jobs/{job}/fuel")
    x, y = centre(tab, "#grip-plan-tank .fuel-tank")
    drag_from(tab, (x, y), -60, 0)
    saved(tab, 2)
    tank = jobs.head(job).plan.fuel.tank
    assert tank is not None
    assert tank.x_mm < -350
    card = tab.locator("#fuel-drawbar-tank")
    expect(card).to_have_class(re.compile("verdict-over"))
    expect(card).to_contain_text("from the coupling")
    tab.keyboard.press("Control+z")
    saved(tab, 1)
    expect(tab.locator("#fuel-drawbar-tank.verdict-over")).to_have_count(0)
    _go(tab, "8")
    tab.get_by_label("it belongs to").select_option("vehicle")
    saved(tab, 3)
    card = tab.locator("#power-own_battery--, #power-own-battery--").first
    expect(card).to_contain_text("stops without its after-run")
    _cure(tab, card, 4)
    battery = jobs.head(job).plan.power.battery
    assert battery is not None
    assert battery.belongs == "body"


def test_an_old_vent_is_closed_and_a_second_heater_kept_apart(tab: Page, jobs: Jobs) -> None:
    """What was there before is entered, and closed by a plate that is on the list; a second heater
    is noted by hand, and its exhaust; which one when is told.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/vehicle")
    tab.get_by_role("button", name="+ old opening").click()
    saved(tab, 2)
    tab.locator('select[name="set:vehicle.old_openings.old-1.face"]').select_option("left")
    saved(tab, 3)
    _type(tab, tab.locator('input[name="set:vehicle.old_openings.old-1.up_mm"]'), "900")
    saved(tab, 4)
    card = tab.locator("[id^=vehicle-old][id$=old-1]").first
    expect(card).to_contain_text("close it with a plate")
    _cure(tab, card, 5)
    expect(tab.locator("#fold-old-old-1 .fold-state")).to_have_text("closed")
    _go(tab, "3")
    tab.get_by_role("button", name="+ other heater").click()
    saved(tab, 6)
    tab.get_by_role("button", name="Note its exhaust").click()
    saved(tab, 7)
    tab.locator('select[name="set:heater.others.unit-1.heats"]').select_option("room")
    saved(tab, 8)
    expect(tab.locator("#which-when")).to_contain_text("Bothy 40")
    _go(tab, "9")
    expect(tab.locator("body")).to_contain_text("closing plate for an old opening")
