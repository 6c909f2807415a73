"""Headless Chromium at a real server on loopback."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections.abc import Iterator

import pytest
import uvicorn
from fastapi import FastAPI
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright
from sqlalchemy.orm import Session

from gale_nook.serve.postgres import free_port
from gale_nook.store.jobs import JobHead, create_job, head_of
from gale_nook.web.app import create_app
from tests.plans import example

CHROMIUM = "/usr/bin/chromium"
EXPECTED = (
    "Failed to load resource",
    "Response Status Error Code",
    "htmx:",
)  # the browser's and htmx's word for a refusal
# what is folded away is for its own tests (`test_folds`); the others look at what is in it
UNFOLDED = """document.addEventListener("DOMContentLoaded", () => {
    const folds =
        "details.fold, details.more-findings, details.clear-findings, details.finding-about";
    if (sessionStorage.getItem("folds") !== "as they are")
        for (const fold of document.querySelectorAll(folds)) fold.open = true;
})"""
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


expect.set_options(timeout=20_000)  # a busy machine may take its time; what never comes still fails


@pytest.fixture(scope="session")
def worker(database_url: str) -> Iterator[subprocess.Popen[bytes]]:
    """A worker process on the tests' database, as the start command keeps one."""
    environment = {**os.environ, "GALE_NOOK_DATABASE_URL": database_url}
    process = subprocess.Popen(
        [sys.executable, "-m", "gale_nook.serve.worker_process"], env=environment
    )
    yield process
    process.terminate()
    process.wait(30)


@pytest.fixture(scope="session")
def site(database_url: str, worker: subprocess.Popen[bytes]) -> Iterator[FastAPI]:
    """The application, served on a free port; `state.url` says where."""
    app = create_app(database_url, queued=True)
    app.state.url = f"http://127.0.0.1:{free_port()}"
    port = int(app.state.url.rsplit(":", 1)[1])
    server = uvicorn.Server(uvicorn.Config(app, port=port, log_config=None, access_log=False))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        thread.join(0.02)
    yield app
    server.should_exit = True
    thread.join()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        yield made
        made.close()


@pytest.fixture
def context(browser: Browser, site: FastAPI) -> Iterator[BrowserContext]:
    made = browser.new_context(
        base_url=site.state.url, viewport={"width": 1280, "height": 800}, accept_downloads=True
    )
    yield made
    made.close()


@pytest.fixture
def tab(context: BrowserContext) -> Iterator[Page]:
    """A tab; what its console complains of fails the test, refusals by the server excepted."""
    page = context.new_page()
    page.add_init_script(UNFOLDED)
    complaints: list[str] = []
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.on(
        "console",
        lambda m: (
            complaints.append(m.text)
            if m.type == "error" and not m.text.startswith(EXPECTED)
            else None
        ),
    )
    yield page
    assert complaints == []


class Jobs:
    """Makes jobs and reads them back, past the browser."""

    def __init__(self, site: FastAPI) -> None:
        self.engine = site.state.engine

    def new(self, name: str) -> int:
        with Session(self.engine) as db, db.begin():
            return create_job(db, example(name), "demo")

    def head(self, job: int) -> JobHead:
        with Session(self.engine) as db:
            return head_of(db, job)


@pytest.fixture
def jobs(site: FastAPI) -> Jobs:
    return Jobs(site)


def saved(tab: Page, number: int) -> None:
    """Wait until an edit is kept."""
    expect(tab.locator("#saved")).to_have_text(f"edit {number} · saved")


def centre(tab: Page, selector: str) -> tuple[float, float]:
    """The middle of something on the page, px."""
    box = tab.locator(selector).bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def drag_from(tab: Page, at: tuple[float, float], dx: float, dy: float) -> None:
    """Press at a place, move by so many px in five steps, and let go."""
    tab.mouse.move(*at)
    tab.mouse.down()
    for step in range(1, 6):
        tab.mouse.move(at[0] + dx * step / 5, at[1] + dy * step / 5)
    tab.mouse.up()
