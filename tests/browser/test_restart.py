"""A page that stays open while the application is stopped and started goes on saving, and keeps
what was typed.
"""

from __future__ import annotations

import signal
from pathlib import Path

import pytest
from playwright.sync_api import Browser, expect

from gale_nook.serve import postgres
from tests.browser.conftest import saved
from tests.serve.started import start

pytestmark = [pytest.mark.browser, pytest.mark.store]


def test_an_open_page_saves_after_a_restart_and_after_a_new_secret(
    browser: Browser, demo_folder: Path
) -> None:
    """Ctrl-C and start on the same data; then with another secret, as when the data folder was
    brought back without it.
    """
    port = postgres.free_port()
    first = start(demo_folder, port=port)
    job = first.jobs()["Heron"]
    tab = browser.new_page(viewport={"width": 1280, "height": 800})
    tab.goto(f"{first.url}/jobs/{job}/heat")
    outside = tab.get_by_label("coldest night").first
    expect(outside).to_be_visible()
    assert first.end(signal.SIGINT) == 0

    outside.fill("-23")
    outside.press("Tab")
    expect(tab.locator("#notice")).to_contain_text("No answer.")
    expect(outside).to_have_value("-23")

    second = start(demo_folder, port=port)
    outside.fill("-24")
    outside.press("Tab")
    saved(tab, 2)
    expect(tab.locator("#notice .notice")).to_have_count(0)
    assert second.end(signal.SIGINT) == 0
    (demo_folder / "form-secret").unlink()

    third = start(demo_folder, port=port)
    outside.fill("-25")
    outside.press("Tab")
    saved(tab, 3)
    assert third.client.get(f"/jobs/{job}/plan.json").json()["heat"]["outside_c"] == -25
    tab.close()
    assert third.end(signal.SIGINT) == 0


def test_busy_is_said_and_what_was_turned_away_is_sent_again(
    browser: Browser, demo_folder: Path
) -> None:
    """Turned away twice by the server's own word for it, then taken: nothing is typed again."""
    started = start(demo_folder)
    job = started.jobs()["Heron"]
    tab = browser.new_page(viewport={"width": 1280, "height": 800})
    tab.goto(f"{started.url}/jobs/{job}/heat")
    turned_away = []

    def busy(route):  # type: ignore[no-untyped-def]
        if len(turned_away) < 2:
            turned_away.append(1)
            route.fulfill(
                status=429,
                headers={"x-busy": "waiting", "retry-after": "2"},
                body="Yours is waiting.",
            )
        else:
            route.continue_()

    tab.route("**/heat/set", busy)
    outside = tab.get_by_label("coldest night").first
    outside.fill("-22")
    outside.press("Tab")
    expect(tab.locator("#busy")).to_be_visible()
    saved(tab, 2)
    expect(tab.locator("#busy")).to_be_hidden()
    assert len(turned_away) == 2
    tab.close()
    assert started.end(signal.SIGINT) == 0
