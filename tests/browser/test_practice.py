"""Practice in the browser: an exercise solved by looking, one failed, a reload in the middle."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser


def test_an_exercise_is_solved_after_a_reload_in_its_middle(tab: Page) -> None:
    tab.goto("/practice/heater?seed=12&level=2")
    tab.get_by_role("link", name="the pump's arrow and its plug, 9 min").click()
    expect(tab.get_by_text("It points to the heater.")).to_be_visible()
    tab.reload()
    expect(tab.locator("#spent")).to_have_text("9 minutes so far.")
    tab.get_by_role("link", name="a thermometer beside the sensor").click()
    expect(tab.get_by_text("K apart.")).to_be_visible()
    tab.get_by_label("It is").select_option(label="sensor beside the outlet")
    tab.get_by_role("button", name="That is it").click()
    expect(tab.locator("#result")).to_contain_text("That is it")
    expect(tab.locator("#result")).to_contain_text("the shortest way takes 15")


def test_an_exercise_is_failed_and_explained_by_keyboard(tab: Page) -> None:
    tab.goto("/practice")
    tab.get_by_role("link", name="Level 3: nasty", exact=True).focus()
    tab.keyboard.press("Enter")
    tab.wait_for_url("**/practice/heater?**level=3")
    tab.goto("/practice/heater?seed=12&level=2&named=worn-battery")
    expect(tab.locator("#result")).to_contain_text("That is not it: 0 of 100")
    expect(tab.locator("#result")).to_contain_text("It was: sensor beside the outlet")
    tab.get_by_role("link", name="Another one").focus()
    tab.keyboard.press("Enter")
    expect(tab.get_by_role("heading", name="Exercise 13, level 2")).to_be_visible()


def test_a_mistake_on_a_plan_is_looked_for_marked_and_told(tab: Page) -> None:
    tab.goto("/practice")
    tab.get_by_role("link", name="on a plan").first.click()
    tab.wait_for_url("**/practice/plan?**")
    tab.goto("/practice/plan?seed=0&level=1")
    expect(tab.get_by_text("3 mistakes")).to_be_visible()
    tab.get_by_role("link", name="Pump in the line, 2.5 min").click()
    expect(tab.get_by_text("Pump's arrow to the heater: no; asked for: yes")).to_be_visible()
    tab.get_by_role("link", name="Mark as a mistake: Pump in the line").click()
    tab.reload()
    expect(tab.locator("#spent")).to_contain_text("1 mark")
    tab.get_by_role("link", name="Turn the pump round. For: Pump in the line").click()
    expect(tab.get_by_text("Measured again:")).to_be_visible()
    expect(tab.get_by_text("Pump's arrow to the heater: yes; asked for: yes")).to_be_visible()
    tab.get_by_role("link", name="I have found what there is").click()
    expect(tab.locator("#result")).to_contain_text("1 of 3 found")
    expect(tab.locator("#result")).to_contain_text(
        "Found and put right: the pump's arrow points to the tank."
    )
