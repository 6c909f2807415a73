"""Layouts in the browser: from a surveyed van to a layout that is taken, stopped and taken up
again, an impossible wish, and a plan full of mistakes cleared.
"""

from __future__ import annotations

import pytest
from fastapi import FastAPI
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import check
from gale_nook.core.plan.wishes import WishArea, Wishes
from gale_nook.store.jobs import create_job
from tests.browser.conftest import Jobs, centre, saved
from tests.vans import small_van

pytestmark = [pytest.mark.browser, pytest.mark.slow]
MINUTES = 240_000


def _van(site: FastAPI, **wishes: object) -> int:
    plan = small_van(3, wishes=Wishes.model_validate(wishes))
    with Session(site.state.engine) as session, session.begin():
        return create_job(session, plan, "made for the test")


def test_from_a_surveyed_van_to_a_layout_that_is_taken(
    tab: Page, jobs: Jobs, site: FastAPI
) -> None:
    """Paint where it is wanted, look, put two side by side, take one: twelve actions."""
    job = _van(site)
    tab.goto(f"/jobs/{job}/planner")
    tab.get_by_role("button", name="Paint where it is wanted").click()
    tank = tab.locator("#board-drawing").bounding_box()
    assert tank is not None
    x, y = centre(tab, "#board-drawing")
    tab.mouse.move(x - 120, y - 200)
    tab.mouse.down()
    tab.mouse.move(x + 200, y - 30, steps=4)
    tab.mouse.up()
    saved(tab, 2)
    area = jobs.head(job).plan.wishes.areas[0]
    assert area.to_x_mm - area.from_x_mm > 500
    tab.get_by_label("Look", exact=True).select_option("quick")
    tab.get_by_role("button", name="Find layouts").click()
    expect(tab.locator("#layout-card-A")).to_be_visible(timeout=MINUTES)
    tab.reload()  # the search goes on, and its page finds it again
    expect(tab.locator("#layout-card-B")).to_be_visible(timeout=MINUTES)
    expect(tab.get_by_role("button", name="stop")).to_have_count(0, timeout=MINUTES)
    tab.get_by_label("Compare layout A").check()
    tab.get_by_label("Compare layout B").check()
    tab.get_by_role("button", name="Side by side").click()
    expect(tab.locator("#compare-table")).to_be_visible()
    expect(tab.locator(".compare figure")).to_have_count(2)
    tab.locator("#layout-card-B").get_by_role("button", name="Show it").click()
    expect(tab.locator("#overlay .heater-body").first).to_be_visible()
    tab.get_by_role("button", name="Take layout A").click()
    saved(tab, 3)
    plan = jobs.head(job).plan
    assert check(plan, load_catalogue()).tally()["over"] == 0
    tab.keyboard.press("Control+z")
    saved(tab, 2)
    assert jobs.head(job).plan.spot is None


def test_it_is_stopped_and_taken_up_again(tab: Page, site: FastAPI) -> None:
    job = _van(site, side="left")
    tab.goto(f"/jobs/{job}/planner")
    tab.get_by_role("button", name="Find layouts").click()
    tab.get_by_role("button", name="stop").click(timeout=MINUTES)
    again = tab.get_by_role("button", name="Look again")
    expect(again).to_be_visible(timeout=MINUTES)
    again.click()
    expect(tab.locator("#layout-card-A")).to_be_visible(timeout=MINUTES)
    tab.get_by_role("button", name="stop").click()
    expect(tab.get_by_role("button", name="Look again")).to_be_visible(timeout=MINUTES)
    expect(tab.locator("#layout-card-A")).to_be_visible()  # what was found stays


def test_an_impossible_wish_is_explained(tab: Page, site: FastAPI) -> None:
    corner = WishArea(
        id="c", name="corner", from_x_mm=1100, to_x_mm=2300, left_y_mm=-900, right_y_mm=-200
    )
    job = _van(site, side="right", areas=[corner.model_dump()])
    tab.goto(f"/jobs/{job}/planner")
    tab.get_by_role("button", name="Find layouts").click()
    expect(tab.locator(".no-layout")).to_contain_text("the heater on the right", timeout=MINUTES)
    expect(tab.locator(".no-layout")).to_contain_text("m² are clear")


def test_a_plan_full_of_mistakes_is_cleared(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    before = check(jobs.head(job).plan, load_catalogue()).tally()["over"]
    tab.goto(f"/jobs/{job}/planner")
    tab.get_by_role("button", name="Find what clears them").click()
    expect(tab.locator("#take-changes")).to_be_visible(timeout=MINUTES)
    tab.locator("#changes input[type=checkbox]").last.uncheck()
    expect(tab.locator("#effect")).to_contain_text("over", timeout=60_000)
    tab.locator("#take-changes").click()
    saved(tab, 2)
    after = check(jobs.head(job).plan, load_catalogue()).tally()["over"]
    assert before > 50
    assert after < 10
