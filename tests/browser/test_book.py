"""The workshop's own book in the browser: a limit typed, its effect looked at, kept, and held
against in a job.
"""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect
from sqlalchemy import text
from sqlalchemy.orm import Session

from tests.browser.conftest import Jobs

pytestmark = pytest.mark.browser


@pytest.fixture
def empty_book(jobs: Jobs) -> Iterator[None]:
    _empty(jobs)
    yield
    _empty(jobs)


def _empty(jobs: Jobs) -> None:
    with Session(jobs.engine) as db, db.begin():
        db.execute(text("TRUNCATE book_edits, book_drafts RESTART IDENTITY"))


@pytest.mark.usefixtures("empty_book")
def test_a_limit_is_typed_looked_at_kept_and_held_against(tab: Page, jobs: Jobs) -> None:
    """Others are still being looked at when it is kept."""
    for _ in range(12):
        jobs.new("wren")
    job = jobs.new("heron")
    tab.goto("/book")
    tab.get_by_label("limit to add", exact=True).select_option("fuel_clip_mm")
    tab.get_by_label("most", exact=True).fill("250")
    tab.get_by_role("button", name="Add the limit").first.click()
    expect(tab.locator("#notice")).to_contain_text("Say where the value comes from")
    expect(tab.get_by_label("most", exact=True)).to_have_value("250")
    tab.get_by_label("source of the limit to add", exact=True).fill("our rule")
    tab.keyboard.press("Enter")
    expect(tab.locator("#book-waiting")).to_contain_text("at most 250 mm (our rule)")
    row = tab.get_by_label("most clips of the fuel line")
    row.fill("240")
    row.press("Tab")
    expect(tab.locator("#book-waiting")).to_contain_text("at most 240 mm (our rule)")
    tab.get_by_role("link", name="See what they do in the jobs").click()
    ours = tab.locator(".book-effect", has=tab.locator(f"a[href='/jobs/{job}/book']"))
    expect(ours).to_contain_text("1 finding over by it")
    for box in tab.locator(".book-effect input:checked").all():
        if box.get_attribute("id") != f"job-{job}":
            box.uncheck()
    tab.get_by_role("button", name="Keep the book").click()
    expect(tab.locator(".book-told")).to_contain_text("Heron has taken it.")
    tab.goto(f"/jobs/{job}/fuel")
    finding = tab.locator(".finding", has_text="Clips of the line")
    expect(finding).to_contain_text("over")
    tab.get_by_role("button", name="Undo").click()
    expect(tab.locator("#saved")).to_contain_text("edit 1")
    assert jobs.head(job).plan.book.edit == 0
    tab.goto(f"/jobs/{job}/book")
    tab.get_by_role("button", name="Take the book").click()
    expect(tab.locator("#job-book")).to_contain_text("The job takes edit 1 of the book.")
    assert jobs.head(job).plan.book.limits[0].maximum == 240
