"""A workshop in the browser: inviting, roles, signing in again, a customer's link, agreeing; and a
backup that brings back what was there.
"""

from __future__ import annotations

import signal
import subprocess
import sys
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from fastapi import FastAPI
from playwright.sync_api import Browser, Page, expect
from sqlalchemy import text
from sqlalchemy.orm import Session
from typer.testing import CliRunner

from gale_nook.cli import app as commands
from gale_nook.demo.load import PLANS
from gale_nook.serve.postgres import free_port
from gale_nook.store import people
from gale_nook.web.app import create_app
from tests.browser.conftest import Jobs, saved
from tests.serve.started import start

pytestmark = pytest.mark.browser
CLI = (sys.executable, "-c", "from gale_nook.cli import app; app()")
WORDS = "four cold hands under a floor"


@pytest.fixture(scope="module")
def workshop(quiet_url: str) -> Iterator[FastAPI]:
    """The application in which people sign in, served on a free port."""
    app = create_app(quiet_url, workshop=True)
    app.state.url = f"http://127.0.0.1:{free_port()}"
    port = int(app.state.url.rsplit(":", 1)[1])
    server = uvicorn.Server(uvicorn.Config(app, port=port, log_config=None, access_log=False))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        thread.join(0.02)
    with Session(app.state.engine) as db, db.begin():
        db.execute(text("TRUNCATE people, sessions, invitations, tries CASCADE"))
    yield app
    server.should_exit = True
    thread.join()


def _browser_of(browser: Browser, app: FastAPI) -> Page:
    """Somebody's own browser."""
    window = {"width": 1280, "height": 800}
    return browser.new_context(base_url=app.state.url, viewport=window).new_page()


def _join(page: Page, link: str) -> None:
    page.goto(link)
    page.get_by_label("Passphrase").fill(WORDS)
    page.get_by_label("The same again").fill(WORDS)
    page.get_by_role("button", name="Join").click()
    expect(page.get_by_role("heading", name="Jobs")).to_be_visible()


def _owner(browser: Browser, app: FastAPI) -> Page:
    with Session(app.state.engine) as db, db.begin():
        link = people.invite(db, "Ada", "owner", "")
    page = _browser_of(browser, app)
    _join(page, f"/join?link={link}")
    return page


def test_a_recorder_signs_in(browser: Browser, workshop: FastAPI, tmp_path: Path) -> None:
    owner = _owner(browser, workshop)
    job = Jobs(workshop).new("heron")
    kept = tmp_path / "run.jsonl"
    plan = str(PLANS / "heron.json")
    kept.write_text(CliRunner().invoke(commands, ["simulate", plan, "--speed", "0"]).output)
    recording = ["record", plan, str(kept), "--csv", str(tmp_path / "r.csv"), "--show-at"]
    recording.append(f"{workshop.state.url}/jobs/{job}/firing")
    nobody = CliRunner().invoke(commands, recording)
    assert (nobody.exit_code, "signed out" in nobody.output) == (2, True)
    as_ada = [*recording, "--name", "Ada"]
    wrong = CliRunner().invoke(
        commands, [*recording, "--name", "Ada"], input="not this one at all\n"
    )
    assert (wrong.exit_code, "not let in" in wrong.output) == (2, True)
    words = {"GALE_NOOK_PASSPHRASE": WORDS}
    done = CliRunner().invoke(commands, as_ada, env=words)
    assert done.exit_code == 0, done.output
    owner.goto(f"/jobs/{job}/firing")
    expect(owner.locator(".live")).to_contain_text("It has run, and is off")
    owner.goto("/account")
    expect(owner.locator("main")).not_to_contain_text("Python-urllib")  # it has signed out


def test_inviting_joining_and_what_a_role_may(browser: Browser, workshop: FastAPI) -> None:
    owner = _owner(browser, workshop)
    owner.get_by_role("link", name="People").click()
    owner.get_by_label("Name", exact=True).fill("Bo")
    owner.get_by_label("as", exact=True).select_option("viewer")
    owner.get_by_role("button", name="Make a link").click()
    link = owner.locator("#invitation-link").text_content() or ""
    viewer = _browser_of(browser, workshop)
    _join(viewer, link)
    expect(owner.locator("#people-list tr", has_text="Bo")).to_have_count(0)
    owner.reload()
    expect(owner.locator("#people-list tr", has_text="Bo")).to_have_count(1)

    job = Jobs(workshop).new("heron")
    viewer.goto(f"/jobs/{job}/heat")
    viewer.get_by_label("altitude", exact=True).first.fill("900")
    viewer.get_by_label("altitude", exact=True).first.press("Enter")
    expect(viewer.locator("#notice")).to_contain_text("Only fitters and owners may change this")
    assert Jobs(workshop).head(job).number == 1
    expect(viewer.get_by_label("altitude", exact=True).first).to_have_value("900")

    with owner.expect_response("**/role"):
        owner.get_by_label("role of Bo").select_option("fitter")
    viewer.get_by_label("altitude", exact=True).first.fill("950")
    viewer.get_by_label("altitude", exact=True).first.press("Enter")
    saved(viewer, 2)
    viewer.locator("#saved").click()
    expect(viewer.locator("#edit-2")).to_contain_text("Bo")

    viewer.goto("/account")
    viewer.get_by_role("button", name="Sign out").click()
    expect(viewer.get_by_role("heading", name="Sign in")).to_be_visible()
    viewer.goto(f"/jobs/{job}/heat")
    viewer.get_by_label("Name").fill("bo")
    viewer.get_by_label("Passphrase").fill("not these words")
    viewer.get_by_role("button", name="Sign in").click()
    expect(viewer.locator("#notice")).to_contain_text("not right")
    expect(viewer.get_by_label("Name")).to_have_value("bo")
    viewer.get_by_label("Passphrase").fill(WORDS)
    viewer.get_by_role("button", name="Sign in").click()
    expect(viewer.locator("#saved")).to_have_text("edit 2 · saved")


def test_a_customer_looks_remarks_and_agrees(browser: Browser, workshop: FastAPI) -> None:
    owner = _owner(browser, workshop)
    job = Jobs(workshop).new("heron")
    owner.goto(f"/jobs/{job}/customer")
    owner.get_by_label("Customer", exact=True).fill("Cy Marlow")
    owner.get_by_label("how it is used").check()
    owner.get_by_role("button", name="Make a link").click()
    link = owner.locator("#customer-link").text_content() or ""

    customer = _browser_of(browser, workshop)
    customer.goto(link)
    expect(customer.locator(".shown-board svg")).to_have_count(2)
    customer.get_by_label("About").select_option("fuel")
    customer.get_by_label("What do you want to say?").fill("Does the pump tick at night?")
    customer.get_by_role("button", name="Send it").click()
    expect(customer.locator("#remarks")).to_contain_text("tick at night")
    customer.get_by_label("Your name").first.fill("Cy Marlow")
    customer.get_by_role("button", name="I agree to what is shown here").click()
    expect(customer.locator("#agreed")).to_contain_text("Cy Marlow agreed")
    customer.goto("/jobs/1/heat")
    expect(customer.get_by_role("heading", name="Sign in")).to_be_visible()

    owner.reload()
    expect(owner.locator("#agreed")).to_contain_text("Nothing of it was changed since")
    owner.get_by_label("answer to Cy Marlow about fuel").fill("On rubber; you can sleep.")
    owner.get_by_role("button", name="Answer").click()
    owner.goto(f"/jobs/{job}/heat")
    owner.get_by_label("altitude", exact=True).first.fill("1900")
    owner.get_by_label("altitude", exact=True).first.press("Enter")
    saved(owner, 2)
    customer.goto(link)
    expect(customer.locator("#remarks")).to_contain_text("you can sleep")
    expect(customer.locator("#agreed")).to_contain_text("Changed since then: how warm it gets")
    customer.get_by_role("link", name="How it is used").click()
    expect(customer.get_by_role("heading", name="Starting it")).to_be_visible()


def test_going_back_in_the_history(tab: Page, jobs: Jobs) -> None:
    """By the keyboard, and undone again."""
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heat")
    tab.get_by_label("altitude", exact=True).first.fill("900")
    tab.get_by_label("altitude", exact=True).first.press("Enter")
    saved(tab, 2)
    tab.locator(".to-history").focus()
    tab.keyboard.press("Enter")
    tab.get_by_role("button", name="Compare edit 1 with what is shown now").press("Enter")
    expect(tab.locator("#compared")).to_contain_text("altitude")
    name = tab.get_by_role("textbox", name="name of edit 2")
    name.fill("before the ferry")
    name.press("Enter")
    expect(tab.locator("#named-edits")).to_contain_text("before the ferry")
    tab.locator("#edits").get_by_role("button", name="Go back to edit 1").press("Enter")
    expect(tab.locator("#edit-3").first).to_contain_text("Went back to edit 1")
    assert jobs.head(job).plan.heat.altitude_m == 650
    tab.goto(f"/jobs/{job}/heat")
    tab.locator("#undo").click()
    saved(tab, 2)
    assert jobs.head(job).plan.heat.altitude_m == 900


def _gale_nook(*words: str) -> str:
    done = subprocess.run(
        [*CLI, *words],
        capture_output=True,
        text=True,
        check=True,
    )
    return done.stdout


def test_a_backup_brings_back_what_was_there(
    browser: Browser, demo_folder: Path, tmp_path: Path
) -> None:
    """Taken while people work; what was done after it is gone once it is put back."""
    where = ("--data-dir", str(demo_folder))
    started = start(demo_folder)
    page = browser.new_page(base_url=started.url)
    page.goto("/jobs/8/heat")
    altitude = page.get_by_label("altitude", exact=True).first
    altitude.fill("900")
    altitude.press("Enter")
    saved(page, 2)
    told = _gale_nook("backup", str(tmp_path), *where)
    assert "It was read back" in told
    altitude.fill("1900")
    altitude.press("Enter")
    saved(page, 3)
    (made,) = tmp_path.iterdir()
    refused = subprocess.run(
        [
            sys.executable,
            "-c",
            "from gale_nook.cli import app; app()",
            "restore",
            str(made),
            *where,
        ],
        capture_output=True,
        text=True,
        check=False,
    )
    assert refused.returncode == 2
    assert "Stop it first" in refused.stderr
    started.end(signal.SIGINT)
    assert "Put back" in _gale_nook("restore", str(made), "--yes", *where)
    again = start(demo_folder)
    page = browser.new_page(base_url=again.url)
    page.goto("/jobs/8/heat")
    expect(page.locator("#saved")).to_have_text("edit 2 · saved")
    expect(page.get_by_label("altitude", exact=True).first).to_have_value("900 m")
    again.end(signal.SIGINT)
