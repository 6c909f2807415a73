"""Editing in a real browser: typing, dragging, keys, undo, two tabs."""

from __future__ import annotations

import math
import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import Jobs, centre, drag_from, saved

pytestmark = pytest.mark.browser


def test_walking_the_station_line_by_keys(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/vehicle")
    for key, word in (
        ("2", "heat"),
        ("3", "heater"),
        ("4", "spot"),
        ("5", "pipes"),
        ("9", "build"),
        ("-", "log"),
        ("1", "vehicle"),
    ):
        tab.keyboard.press(key)
        tab.wait_for_url(f"**/{word}")
        expect(tab.locator(".stop.here")).to_have_count(1)


def test_a_typed_dimension_redraws_the_board(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/vehicle?item=tank")
    before = tab.locator('#survey [data-item="tank"] polygon').first.get_attribute("points")
    tab.get_by_label("length", exact=True).fill('30 1/2"')
    tab.get_by_label("length", exact=True).press("Enter")
    saved(tab, 2)
    expect(tab.locator('#survey [data-item="tank"] polygon').first).not_to_have_attribute(
        "points", before or ""
    )
    tank = next(s for s in jobs.head(job).plan.vehicle.solids if s.id == "tank")
    assert tank.model_dump()["length_mm"] == pytest.approx(774.7)


def test_a_slip_is_refused_beside_what_was_typed_and_stays_through_other_edits(
    tab: Page, jobs: Jobs
) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/heat")
    field = tab.get_by_label("coldest night", exact=True)
    field.fill("minus ten")
    field.press("Tab")
    expect(tab.get_by_role("alert")).to_contain_text("'minus ten' is not a number")
    expect(field).to_have_attribute("aria-invalid", "true")
    tab.get_by_label("wind", exact=True).fill("7")
    tab.get_by_label("wind", exact=True).press("Tab")
    saved(tab, 2)
    expect(field).to_have_value("minus ten")
    field.fill("-10")
    field.press("Enter")
    saved(tab, 3)
    expect(tab.get_by_role("alert")).to_be_empty()
    expect(field).not_to_have_attribute("aria-invalid", "true")


def test_dragging_the_heater_shows_verdicts_before_it_is_dropped(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/spot")
    scale = float(tab.locator("#board-drawing").get_attribute("data-scale") or 0)
    shown = tab.locator("#board-drawing").bounding_box()
    assert shown is not None
    px_per_mm = scale * shown["width"] / 812
    x, y = centre(tab, "#grip-plan-heater .mount-centre")
    tab.mouse.move(x, y)
    tab.mouse.down()
    tab.mouse.move(x - 180 * px_per_mm, y)
    tab.mouse.move(x - 340 * px_per_mm, y)
    expect(tab.locator("#work")).to_have_class("work previewing")
    expect(tab.locator("#findings")).to_contain_text("cuts")
    expect(tab.locator("#overlay .mark.verdict-over").first).to_be_visible()
    assert jobs.head(job).number == 1
    tab.mouse.up()
    saved(tab, 2)
    spot = jobs.head(job).plan.spot
    assert spot is not None
    assert spot.x_mm == pytest.approx(2760 - 340, abs=8)
    assert spot.x_mm % 5 == 0
    assert spot.y_mm == pytest.approx(-286, abs=3)


def test_escape_lets_go_of_a_drag(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/spot")
    x, y = centre(tab, "#grip-plan-heater .mount-centre")
    tab.mouse.move(x, y)
    tab.mouse.down()
    tab.mouse.move(x - 40, y)
    expect(tab.locator("#work")).to_have_class("work previewing")
    tab.keyboard.press("Escape")
    tab.mouse.up()
    expect(tab.locator("#work")).to_have_class("work")
    assert jobs.head(job).number == 1


def test_the_heater_by_keyboard_alone(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/spot")
    tab.locator("#grip-plan-heater").focus()
    for number, (key, x, y, yaw) in enumerate(
        [
            ("ArrowRight", 2765, -286, 180),
            ("Shift+ArrowLeft", 2715, -286, 180),
            ("Alt+ArrowUp", 2715, -285, 180),
            ("r", 2715, -285, 270),
        ],
        2,
    ):
        tab.keyboard.press(key)
        saved(tab, number)
        spot = jobs.head(job).plan.spot
        assert spot is not None
        assert (spot.x_mm, spot.y_mm, spot.yaw_deg) == (x, y, yaw)
        expect(tab.locator("#grip-plan-heater")).to_be_focused()


def test_arrow_up_follows_the_mirror(tab: Page, jobs: Jobs) -> None:
    """Seen from below, up the page is to the vehicle's left."""
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/spot?plan=below")
    tab.locator("#grip-plan-heater").focus()
    tab.keyboard.press("ArrowUp")
    saved(tab, 2)
    spot = jobs.head(job).plan.spot
    assert spot is not None
    assert spot.y_mm == -291


def test_a_bend_is_dragged_on_the_elevation_and_nudged_by_keys(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    drag_from(tab, centre(tab, "#grip-side-node-n-1 .node"), 0, 20)
    saved(tab, 2)
    route = jobs.head(job).plan.pipes.exhaust
    assert route is not None
    assert route.nodes[0].z_mm < -170
    assert route.nodes[0].y_mm == -262
    z = route.nodes[1].z_mm
    tab.locator("#grip-plan-node-n-2").focus()
    tab.keyboard.press("PageUp")
    saved(tab, 3)
    route = jobs.head(job).plan.pipes.exhaust
    assert route is not None
    assert route.nodes[1].z_mm == z + 5


def test_corners_are_inserted_typed_and_taken_out(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    tab.get_by_label("Insert a bend before mouth").click()
    saved(tab, 2)
    tab.get_by_label("bend 3, above the load floor").fill("-8 1/4 in")
    tab.get_by_label("bend 3, above the load floor").press("Enter")
    saved(tab, 3)
    route = jobs.head(job).plan.pipes.exhaust
    assert route is not None
    assert route.nodes[2].z_mm == pytest.approx(-209.55)
    tab.get_by_label("Remove bend 3").click()
    saved(tab, 4)
    assert tab.locator("#nodes").get_by_text("drain hole").count() == 2


def test_undo_redo_reload_come_back(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heat")
    tab.get_by_label("altitude", exact=True).fill("6500 ft")
    tab.get_by_label("altitude", exact=True).press("Tab")
    saved(tab, 2)
    tab.reload()
    expect(tab.get_by_label("altitude", exact=True)).to_have_value("1981 m")
    tab.locator("body").press("Control+z")
    saved(tab, 1)
    expect(tab.get_by_label("altitude", exact=True)).to_have_value("650 m")
    tab.locator("body").press("Control+Shift+z")
    saved(tab, 2)
    expect(tab.locator("#redo")).to_be_disabled()


def test_the_night_is_worked_out_anew_after_an_edit(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/heater")
    before = tab.locator("#nights tr.chosen").text_content()
    expect(tab.locator(".night-chart svg")).to_be_visible()
    tab.get_by_label("for", exact=True).fill("20 h")
    tab.get_by_label("for", exact=True).press("Enter")
    saved(tab, 2)
    expect(tab.locator("#nights tr.chosen")).not_to_have_text(before or "")


def test_two_tabs_lose_nothing(context: BrowserContext, jobs: Jobs) -> None:
    job = jobs.new("heron")
    first, second = context.new_page(), context.new_page()
    first.goto(f"/jobs/{job}/heat")
    second.goto(f"/jobs/{job}/heat")
    first.get_by_label("wind", exact=True).fill("9")
    first.get_by_label("wind", exact=True).press("Enter")
    saved(first, 2)
    second.get_by_label("margin", exact=True).fill("20")
    second.get_by_label("margin", exact=True).press("Enter")
    saved(second, 3)
    heat = jobs.head(job).plan.heat
    assert (heat.wind_m_s, heat.margin_percent) == (9, 20)
    expect(second.get_by_label("wind", exact=True)).to_have_value("9 m/s")


@pytest.mark.parametrize(("button", "outside"), [("#keep-theirs", -20), ("#put-mine", -30)])
def test_a_true_collision_is_shown_and_chosen(
    context: BrowserContext, jobs: Jobs, button: str, outside: float
) -> None:
    job = jobs.new("heron")
    first, second = context.new_page(), context.new_page()
    for tab in (first, second):
        tab.goto(f"/jobs/{job}/heat")
    first.get_by_label("coldest night", exact=True).fill("-20")
    first.get_by_label("coldest night", exact=True).press("Enter")
    saved(first, 2)
    second.get_by_label("coldest night", exact=True).fill("-30")
    second.get_by_label("coldest night", exact=True).press("Enter")
    notice = second.get_by_role("alert")
    expect(notice).to_contain_text("Two edits met")
    expect(notice.locator("tbody tr")).to_have_count(1)
    for value in ("−14 °C", "−20 °C", "−30 °C"):
        expect(notice.locator("tbody")).to_contain_text(value)
    second.locator(button).click()
    expect(notice).to_be_empty()
    expect(second.get_by_label("coldest night", exact=True)).to_have_value(f"{outside} °C")
    assert jobs.head(job).plan.heat.outside_c == outside


def test_a_remedy_is_previewed_and_applied(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/pipes")
    card = tab.locator("#pipes-radius-exhaust-n-1")
    card.get_by_role("button", name="Find a remedy").click()
    expect(card.locator(".remedy")).to_contain_text("Open bend 1 to a radius of 60 mm.")
    card.get_by_text("Preview").click()
    expect(tab.locator("#work")).to_have_class("work previewing")
    expect(tab.locator("#board-hint")).to_contain_text("not saved")
    assert jobs.head(job).number == 1
    tab.keyboard.press("Escape")
    expect(tab.locator("#work")).to_have_class("work")
    expect(card).to_have_class(re.compile("verdict-over"))
    card.get_by_role("button", name="Find a remedy").click()
    card.get_by_text("Apply").click()
    saved(tab, 2)
    expect(card).to_have_class(re.compile("verdict-clear"))


def test_a_deviation_is_accepted_with_a_reason_and_withdrawn(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/spot")
    card = tab.locator("#spot-stack-turret")
    card.get_by_text("Accept with a reason").click()
    card.get_by_label("Accepted by").fill("Ina")
    card.get_by_role("button", name="Accept").click()
    expect(tab.get_by_role("alert")).to_contain_text("type why it is acceptable")
    card.get_by_label("Why it is acceptable here").fill("a longer collar is ordered")
    card.get_by_role("button", name="Accept").click()
    saved(tab, 2)
    expect(card).to_contain_text("Accepted by Ina: a longer collar is ordered")
    card.get_by_text("Withdraw").click()
    saved(tab, 3)
    expect(card).to_have_class(re.compile("verdict-over"))


def test_measuring_on_the_tape(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/vehicle")
    svg = tab.locator("#board-drawing")
    scale = float(svg.get_attribute("data-scale") or 0)
    box = tab.locator("#tape .tape").bounding_box()
    assert box is not None
    y = box["y"] + 15
    tab.mouse.click(box["x"] + 200, y)
    tab.mouse.click(box["x"] + 400, y)
    wanted = 200 * 812 / box["width"] / scale
    text = tab.locator(".measure-text").text_content() or ""
    assert math.isclose(float(text.removesuffix(" mm")), wanted, abs_tol=8)
