"""A first fire in the browser: against the simulated heater, healthy and with three faults, by
keyboard, and with a reload in the middle.
"""

from __future__ import annotations

from pathlib import Path

import pytest
from fastapi import FastAPI
from playwright.sync_api import Page, expect
from typer.testing import CliRunner

from gale_nook.cli import app
from gale_nook.demo.load import PLANS
from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser


def test_a_healthy_first_fire_then_three_faults(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/firing")
    expect(tab.locator(".strip-band").first).to_be_visible()
    told = {
        "": None,
        "thin-cable": "something between it and the plug resists",
        "closed-outlets": "Outlets or the way back are closed or covered",
        "blocked-intake": "The way of the combustion air",
    }
    for number, (fault, words) in enumerate(told.items(), 2):
        tab.get_by_label("or try it out on the simulated heater").select_option(fault)
        tab.get_by_role("button", name="Run it").click()
        saved(tab, number)
        tab.reload()
        if words is None:
            expect(tab.locator("#looks")).to_have_count(0)
            expect(tab.locator(".strip-trace")).not_to_have_count(0)
        else:
            expect(tab.locator("#looks")).to_contain_text(words)
            expect(tab.locator(".strip-dot.over, .verdict-over").first).to_be_visible()


def test_readings_are_typed_by_keyboard_and_wrong_ones_stay(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/firing")
    field = tab.get_by_label("glow, voltage", exact=True)
    field.focus()
    tab.keyboard.type("eleven")
    tab.keyboard.press("Enter")
    expect(tab.locator("#notice")).to_contain_text("not a number")
    expect(field).to_have_value("eleven")
    field.focus()
    tab.keyboard.press("Control+a")
    tab.keyboard.type("11.4")
    tab.keyboard.press("Enter")
    saved(tab, 2)
    expect(tab.locator("#looks")).to_contain_text("too much somewhere between battery and plug")
    tab.reload()
    expect(tab.get_by_label("glow, voltage", exact=True)).to_have_value("11.4")


def test_a_loggers_file_is_taken_in_and_the_sheet_is_printed(
    tab: Page, jobs: Jobs, tmp_path: Path
) -> None:
    run = CliRunner().invoke(
        app, ["simulate", str(PLANS / "heron.json"), "--speed", "0", "--fault", "snow"]
    )
    kept = tmp_path / "run.jsonl"
    kept.write_text(run.output)
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/firing")
    tab.locator("#fold-before input[type=checkbox]").first.check()
    saved(tab, 2)
    tab.get_by_role("button", name="List the places of this plan").click()
    saved(tab, 3)
    tab.get_by_label("fuel tank, after 20 minutes").fill("75")
    tab.get_by_label("fuel tank, after 20 minutes").press("Enter")
    saved(tab, 4)
    tab.locator("#readings-file").set_input_files(kept)
    tab.get_by_role("button", name="Load the file").click()
    saved(tab, 5)
    tab.get_by_role("link", name="Commissioning sheet, to print").click()
    expect(tab.get_by_role("heading", name="First fire of Heron")).to_be_visible()
    expect(tab.get_by_text("Fuel tank: 75 °C read").first).to_be_visible()
    expect(tab.get_by_text("Smoke at the exhaust: regulation").first).to_be_visible()


def test_a_device_is_watched_as_it_runs_and_its_readings_kept(
    tab: Page, jobs: Jobs, tmp_path: Path, site: FastAPI
) -> None:
    run = CliRunner().invoke(app, ["simulate", str(PLANS / "heron.json"), "--speed", "0"])
    kept = tmp_path / "run.jsonl"
    kept.write_text("cut off: 1}\n" + run.output)
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/firing")
    recording = ["record", str(PLANS / "heron.json"), str(kept), "--csv", str(tmp_path / "r.csv")]
    done = CliRunner().invoke(app, [*recording, "--show-at", f"{site.state.url}/jobs/{job}/firing"])
    assert done.exit_code == 0, done.output
    assert "1 lines that are no readings" in done.output
    live = tab.locator(".live")
    expect(live).to_contain_text("It has run, and is off")
    tab.reload()  # a locked phone, a lost connection: it comes back
    expect(live).to_contain_text("As it comes")
    live.get_by_role("button", name="Keep these readings").press("Enter")
    saved(tab, 2)
    expect(live).to_have_count(0)
    expect(tab.locator(".strip-trace")).not_to_have_count(0)
    refused = CliRunner().invoke(app, [*recording, "--show-at", f"{site.state.url}/jobs/999999"])
    assert refused.exit_code == 2
    assert "does not take the readings" in refused.output
