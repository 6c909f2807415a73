"""Looking round with the board: wheel, drag, keys, marks and cards; folds, themes, first screen."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Jobs

pytestmark = pytest.mark.browser

FOLDED = """sessionStorage.setItem("folds", "as they are")"""


def _frame(tab: Page) -> list[float]:
    text = tab.locator("#state [name=frame]").input_value()
    return [] if text == "whole" else [float(part) for part in text.split("_")]


def _looks_elsewhere(tab: Page, before: list[float]) -> list[float]:
    text = "_".join(f"{value:g}" for value in before) or "whole"
    expect(tab.locator("#state [name=frame]")).not_to_have_value(text)
    return _frame(tab)


def test_wheel_drag_and_keys_look_round_and_it_is_kept(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    begun = _frame(tab)
    board = tab.locator("#board-drawing").bounding_box()
    assert board is not None
    at = (board["x"] + 0.3 * board["width"], board["y"] + 0.2 * board["height"])
    held = tab.evaluate(
        """([x, y]) => { const m = document.querySelector("#board-drawing");
        const p = new DOMPoint(x, y).matrixTransform(m.getScreenCTM().inverse());
        return (p.x - Number(m.dataset.xOffset)) / Number(m.dataset.scale); }""",
        list(at),
    )
    tab.mouse.move(*at)
    tab.mouse.wheel(0, -200)
    near = _looks_elsewhere(tab, begun)
    assert near[3] < 0.8 * begun[3]
    under = near[0] + (0.3 - 0.5) * near[3]
    assert under == pytest.approx(held, abs=3)  # what lay under the pointer still does
    tab.mouse.move(board["x"] + 10, board["y"] + 60)
    tab.mouse.down()
    tab.mouse.move(board["x"] + 110, board["y"] + 60, steps=4)
    tab.mouse.up()
    px = board["width"] / near[3]
    tab.wait_for_function(
        """(x) => {
            const frame = document.querySelector("#state [name=frame]").value;
            return Math.abs(parseFloat(frame) - x) < 3;
        }""",
        arg=near[0] - 100 / px,
    )
    moved = _frame(tab)
    assert moved[2:] == near[2:]
    tab.reload()
    assert _frame(tab) == moved
    tab.goto(f"/jobs/{job}/fuel")
    assert _frame(tab)[3] != moved[3]  # each station has its own
    tab.goto(f"/jobs/{job}/pipes")
    tab.locator("#board").focus()
    tab.keyboard.press("ArrowLeft")
    assert _looks_elsewhere(tab, moved)[0] < moved[0]
    tab.keyboard.press("w")
    expect(tab.locator("#state [name=frame]")).to_have_value("whole")
    tab.keyboard.press("c")
    assert _looks_elsewhere(tab, []) == begun


def test_an_edit_leaves_the_drawing_where_it_is(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/spot")
    before = _frame(tab)
    tab.locator("#grip-plan-heater").focus()
    tab.keyboard.press("Shift+ArrowRight")
    expect(tab.locator("#saved")).to_contain_text("edit 2")
    assert _frame(tab) == before


def test_a_mark_opens_its_card_and_a_card_shows_its_mark(tab: Page, jobs: Jobs) -> None:
    tab.add_init_script(FOLDED)
    tab.goto(f"/jobs/{jobs.new('wren')}/fuel")
    expect(tab.locator("#overlay .mark.shown")).to_have_count(0)
    mark = tab.locator(".plan-sheet .mark:has(.dimension-text)").first
    number = mark.get_attribute("data-number")
    mark.locator(".badge").click()
    about = tab.locator(f".finding-about[data-number='{number}']")
    expect(about).to_have_attribute("open", "")
    expect(about.locator("summary").first).to_be_focused()
    expect(mark.locator("text.dimension-text").last).to_be_visible()
    tab.locator(".finding-about[data-number='1'] > summary").hover()
    expect(tab.locator(".mark[data-number='1'].shown").first).to_be_attached()
    expect(mark.locator("text.dimension-text").last).to_be_hidden()


def test_the_next_finding_is_a_key_away_at_whichever_station(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/spot")
    first = tab.locator(".finding:not(.verdict-clear)").first.get_attribute("id")
    tab.keyboard.press("n")
    expect(tab.locator(f"#about-{first} > summary")).to_be_focused()
    over = tab.locator(".finding.verdict-over").count()
    for _ in range(over):
        tab.keyboard.press("n")
    expect(tab).to_have_url(re.compile(f"/jobs/{job}/pipes"))
    expect(tab.locator(".finding-about:focus-within")).to_have_count(1)
    tab.keyboard.press("p")
    expect(tab).to_have_url(re.compile(f"/jobs/{job}/spot"))
    tab.locator("#tally [data-step=over]").click()
    expect(tab.locator(".finding.verdict-over .finding-about:focus-within")).to_have_count(1)


def test_letter_keys_can_be_switched_off(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/spot")
    before = _frame(tab)
    tab.locator("#keys-button").click()
    tab.get_by_label("Keys without Ctrl or Alt do something").uncheck()
    tab.locator("#keys-button").click()
    tab.keyboard.press("w")
    tab.keyboard.press("5")
    tab.reload()
    assert _frame(tab) == before
    assert tab.url.endswith("/spot")


def test_findings_come_first_and_long_forms_fold_and_stay_as_they_were_left(
    tab: Page, jobs: Jobs
) -> None:
    tab.add_init_script(FOLDED)
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/heat")
    weather = tab.locator("#weather")
    expect(weather).not_to_have_attribute("open", "")
    expect(weather.locator(".fold-state")).not_to_be_empty()
    weather.locator("summary").first.click()
    expect(tab.get_by_label("region (made up)")).to_be_visible()
    tab.reload()
    expect(tab.get_by_label("region (made up)")).to_be_visible()
    tab.goto(f"/jobs/{job}/pipes")
    first = tab.locator("#panel > section").first
    expect(first).to_have_class(re.compile("findings"))
    assert tab.locator("#findings > .finding").count() == 6
    expect(tab.locator("#more-findings")).not_to_have_attribute("open", "")


def test_a_change_of_verdict_is_told(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/spot")
    field = tab.get_by_label("behind the datum").first
    field.fill("2600")
    field.press("Tab")
    expect(tab.locator("#news")).to_contain_text(re.compile("over here.*: now over"))


def test_what_was_typed_without_a_connection_is_marked_and_kept(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/spot")
    field = tab.locator("input[name='set:spot.x_mm']")
    tab.route("**/spot/set", lambda route: route.abort())
    field.fill("1234")
    field.press("Tab")
    expect(tab.locator("#saved")).to_contain_text("not saved")
    expect(field).to_have_class(re.compile("unsaved"))
    tab.reload()
    expect(field).to_have_value("1234")
    expect(tab.locator("#saved")).to_contain_text("not saved")
    tab.unroute("**/spot/set")
    tab.get_by_role("button", name="Save now").click()
    expect(tab.locator("#saved")).to_contain_text("edit 2 · saved")
    expect(field).not_to_have_class(re.compile("unsaved"))
    spot = jobs.head(job).plan.spot
    assert spot is not None
    assert spot.x_mm == 1234


def test_a_double_click_makes_one_thing(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    before = len(jobs.head(job).plan.vehicle.openings)
    tab.goto(f"/jobs/{job}/vehicle")
    tab.get_by_role("button", name="Add a window").dblclick()
    expect(tab.locator("#saved")).to_contain_text("edit 2 · saved")
    tab.reload()
    expect(tab.locator("#saved")).to_contain_text("edit 2 · saved")
    assert len(jobs.head(job).plan.vehicle.openings) == before + 1


def test_the_page_is_light_dark_or_as_the_device_and_the_drawing_follows(
    tab: Page, jobs: Jobs
) -> None:
    tab.emulate_media(color_scheme="light")
    tab.goto(f"/jobs/{jobs.new('heron')}/spot")
    paper = "getComputedStyle(document.body).backgroundColor"
    drawing = "getComputedStyle(document.querySelector('#board-drawing')).filter"
    light = tab.evaluate(paper)
    assert tab.evaluate(drawing) == "none"
    tab.locator("#theme").click()  # light
    tab.locator("#theme").click()  # dark
    expect(tab.locator("#theme")).to_have_attribute("aria-label", "Page: dark")
    assert tab.evaluate(paper) != light
    assert "invert" in tab.evaluate(drawing)
    tab.reload()
    assert tab.evaluate(paper) != light


def test_the_first_screen_shows_each_job_with_its_next_step(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto("/")
    assert tab.locator("h1").count() == 1
    card = tab.locator(".job-card", has=tab.locator(f"a[href='/jobs/{job}/vehicle']"))
    card.scroll_into_view_if_needed()
    expect(card.locator(".job-drawing svg")).to_be_visible()
    expect(card.locator(".job-next")).to_contain_text("Next: Clear what is over")
    card.locator(".job-worst a").click()
    expect(tab.locator(".finding.verdict-over .finding-about:focus-within")).to_have_count(1)


def test_a_name_that_is_shared_empty_or_too_long_is_said(tab: Page, jobs: Jobs) -> None:
    tab.goto("/")
    field, notice = tab.get_by_label("What do you call it?"), tab.locator("#notice")
    for name, words in (
        ("", "It needs a name"),
        ("x" * 81, "81 characters are too many; up to 80 are kept"),
    ):
        field.fill(name)
        tab.get_by_role("button", name="New job").click()
        expect(notice).to_contain_text(words)
        expect(field).to_have_value(name)
    field.fill("Tern of the shared name")
    tab.get_by_role("button", name="New job").click()
    expect(tab).to_have_url(re.compile("/vehicle"))
    tab.goto("/")
    field.fill("Tern of the shared name")
    tab.get_by_role("button", name="New job").click()
    expect(notice).to_contain_text("There is a job called Tern of the shared name already")


def test_a_slip_in_the_measuring_round_is_said_and_stays(tab: Page, jobs: Jobs) -> None:
    tab.set_viewport_size({"width": 390, "height": 844})
    tab.goto("/")
    tab.get_by_label("What do you call it?").fill("Round on the phone")
    tab.get_by_role("button", name="New job").click()
    tab.get_by_role("link", name="Measuring round").click()
    tab.get_by_label("ground").fill("low")
    tab.get_by_role("button", name="Measured: keep these").click()
    expect(tab.locator("#notice")).to_contain_text("cannot be read as a length")
    expect(tab.get_by_label("ground")).to_have_value("low")
    tab.get_by_label("ground").fill("-590")
    tab.get_by_role("button", name="Measured: keep these").click()
    expect(tab.locator(".round-form h2")).to_have_text("the width outside")
    wide = tab.evaluate("document.documentElement.scrollWidth")
    assert wide <= 390
    for button in tab.locator(".round-form .btn").all():
        box = button.bounding_box()
        assert box is not None
        assert box["height"] >= 44
