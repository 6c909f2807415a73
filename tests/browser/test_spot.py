"""Spot station in the browser: a van surveyed by keyboard alone, the map, the card with and without
a server.
"""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}


def _type(tab: Page, label: str, text: str) -> None:
    """Focus a field as Tab does, type, and leave it; no mouse."""
    field = tab.get_by_label(label, exact=True).first
    field.focus()
    tab.keyboard.press("Control+a")
    tab.keyboard.type(text)
    tab.keyboard.press("Enter")


def _press(tab: Page, name: str) -> None:
    tab.get_by_role("button", name=name, exact=True).first.focus()
    tab.keyboard.press("Enter")


def _write(tab: Page, label: str, text: str) -> None:
    tab.get_by_label(label).first.focus()
    tab.keyboard.press("Control+a")
    tab.keyboard.type(text)


def _station(tab: Page, key: str, word: str) -> None:
    tab.locator("#centre").focus()
    tab.keyboard.press(key)
    tab.wait_for_url(f"**/{word}")


def _begin(tab: Page) -> int:
    tab.goto("/")
    tab.get_by_label("What do you call it?").focus()
    tab.keyboard.type("Shoveler")
    tab.keyboard.press("Tab")
    tab.keyboard.type("long, high")
    _press(tab, "New job")
    tab.wait_for_url("**/vehicle")
    return int(tab.url.split("/")[-2])


def _survey(tab: Page) -> None:
    """Edits 2 to 7: a dimension, a cross-member, a feature measured on both sides."""
    _type(tab, "rear doors", "4.2 m")
    saved(tab, 2)
    tab.get_by_label("Add", exact=True).first.focus()
    tab.keyboard.type("cross-member")
    _press(tab, "Add part")
    saved(tab, 3)
    tab.locator("#chosen").get_by_label("behind the datum").focus()
    tab.keyboard.press("Control+a")
    tab.keyboard.type("1560")
    tab.keyboard.press("Enter")
    saved(tab, 4)
    tab.locator("#feature-name").focus()
    tab.keyboard.type("seat bolt")
    _press(tab, "Add feature")
    saved(tab, 5)
    for number, (side, x, y) in enumerate((("inside", "250", "-510"), ("below", "252", "-512")), 6):
        tab.get_by_label(f"seat bolt, {side}, behind datum").focus()
        tab.keyboard.type(x)
        tab.keyboard.press("Tab")
        tab.keyboard.type(y)
        tab.keyboard.press("Tab")
        saved(tab, number)


def test_a_van_from_tape_measurements_to_a_drill_sheet_by_keyboard(tab: Page, jobs: Jobs) -> None:
    job = _begin(tab)
    _survey(tab)
    _station(tab, "2", "heat")
    _press(tab, "Use it")
    saved(tab, 8)
    _station(tab, "3", "heater")
    tab.locator(".heater.recommended").get_by_role("button", name="Choose the").focus()
    tab.keyboard.press("Enter")
    saved(tab, 9)
    _station(tab, "4", "spot")
    _write(tab, "behind the datum", "1.6 m")
    _write(tab, "right of centre", "-200")
    _press(tab, "Put it there")
    saved(tab, 10)
    expect(tab.locator("#findings .verdict-over").first).to_be_visible()
    tab.get_by_role("button", name="Put the heater on A").focus()
    tab.keyboard.press("Enter")
    saved(tab, 11)
    expect(tab.locator("#findings .verdict-over")).to_have_count(0)
    _type(tab, "behind the datum", "1000 behind seat bolt")
    saved(tab, 12)
    spot = jobs.head(job).plan.spot
    assert spot is not None
    assert spot.x_mm == 1250
    href = tab.get_by_role("link", name="PDF on A4").get_attribute("href") or ""
    assert tab.request.get(href).body().startswith(b"%PDF")


def test_the_reason_stands_under_the_pointer_and_best_spots_are_lettered(
    tab: Page, jobs: Jobs
) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/spot?frame=whole")
    expect(tab.locator("text.spot-letter-text")).to_have_count(5)
    shown = tab.locator("#board-drawing").bounding_box()
    assert shown is not None
    spare = tab.locator('#survey [data-item="tank"] polygon').first.bounding_box()
    assert spare is not None
    tab.mouse.move(spare["x"] + spare["width"] / 2, spare["y"] + spare["height"] / 2)
    expect(tab.locator("#board-hint")).to_contain_text("Not here")
    tab.get_by_role("link", name="No map").click()
    expect(tab.locator(".floor-map")).to_have_count(0)


def test_the_nearest_clear_place_from_the_map_is_applied(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/spot")
    _type(tab, "behind the datum", "2420")
    saved(tab, 2)
    expect(tab.locator("#findings .verdict-over").first).to_be_visible()
    tab.get_by_role("button", name="Nearest clear place").click()
    tab.locator("#nearest").get_by_role("button", name="Apply").click()
    saved(tab, 3)
    expect(tab.locator("#findings .verdict-over")).to_have_count(0)


def test_the_card_as_a_file_keeps_what_is_typed_and_gives_it_back(
    context: BrowserContext, jobs: Jobs, tmp_path: Path
) -> None:
    job = jobs.new("heron")
    desk, phone = context.new_page(), context.new_page()
    desk.goto(f"/jobs/{job}/spot")
    desk.locator("#through > summary").click()
    path = tmp_path / "below.html"
    path.write_bytes(desk.request.get(f"/jobs/{job}/spot/card.html").body())
    phone.set_viewport_size(PHONE)
    phone.goto(path.as_uri())
    phone.get_by_label("turret hole, along").fill("4")
    phone.get_by_role("button", name="forward").click()  # the one that is tapped holds
    phone.get_by_label("drain grommet, rear, from the datum", exact=True).fill("3910")
    phone.get_by_label("drain grommet, rear, from the centre line", exact=True).fill("231")
    ways = phone.get_by_role("group", name="drain grommet, rear, from the centre line: which way")
    ways.get_by_role("button", name="left").click()
    phone.get_by_label("which part").select_option(label="fuel tank")
    phone.get_by_label("fuel tank, lower face, height").fill("-235")
    phone.get_by_label("which run").select_option(label="fuel line")
    phone.get_by_label("fuel line, corner 1, ahead or behind").fill("2100")
    phone.reload()
    expect(phone.get_by_label("turret hole, along")).to_have_value("4")
    expect(ways.get_by_role("button", name="left")).to_have_attribute("aria-pressed", "true")
    line = phone.get_by_label("what was typed, as a line of text").input_value()
    desk.get_by_label("the line or the file that the card made").fill(line)
    desk.locator("#through").get_by_role("button", name="Load the file").click()
    saved(desk, 2)
    plan = jobs.head(job).plan
    assert plan.pilots[0].rearward_mm == -4
    assert plan.vehicle.features[3].below == (3910, -231)
    assert next(s for s in plan.vehicle.solids if s.id == "tank").model_dump()["z_mm"] == -235
    assert plan.fuel.line.nodes[0].x_mm == 2100


def test_a_part_found_below_comes_with_its_photo(
    context: BrowserContext, jobs: Jobs, tmp_path: Path
) -> None:
    job = jobs.new("heron")
    phone = context.new_page()
    phone.set_viewport_size(PHONE)
    phone.goto(f"/jobs/{job}/spot/card")
    phone.get_by_role("button", name="Add what was found").click()
    phone.get_by_label("what was found", exact=True).select_option(label="water tank")
    phone.get_by_label("found, front edge, ahead or behind").fill("500")
    picture = tmp_path / "found.png"
    Image.new("RGB", (900, 600), "grey").save(picture)
    phone.get_by_label("a photo of what was found").set_input_files(picture)
    expect(phone.get_by_text("The photo is kept with it")).to_be_visible()
    phone.reload()
    expect(phone.get_by_label("found, front edge, ahead or behind")).to_have_value("500")
    expect(phone.get_by_text("The photo is kept with it")).to_be_visible()
    phone.get_by_role("button", name="Send it").click()
    expect(phone.locator("#kept")).to_contain_text("Sent.")
    found = jobs.head(job).plan.vehicle.solids[-1]
    assert (found.kind, found.x_mm) == ("water-tank", 500)
    desk = context.new_page()
    desk.goto(f"/jobs/{job}/vehicle?item={found.id}")
    photo = desk.get_by_alt_text(f"photo of {found.name}")
    expect(photo).to_be_visible()
    assert photo.evaluate("image => image.naturalWidth") == 900


def test_the_card_works_on_without_signal_and_sends_when_it_is_back(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.set_viewport_size(PHONE)
    tab.goto(f"/jobs/{job}/spot/card")
    tab.evaluate("() => navigator.serviceWorker.ready")
    tab.reload()
    tab.context.set_offline(True)
    tab.reload()
    expect(tab.locator(".digits").first).to_have_text("394 mm")
    tab.get_by_label("note", exact=True).fill("bracket by the tank is bent")
    tab.get_by_role("button", name="Send it").click()
    expect(tab.locator("#kept")).to_contain_text("sent when the signal is back")
    assert jobs.head(job).number == 1
    tab.context.set_offline(False)
    expect(tab.locator("#kept")).to_contain_text("Sent.")
    assert jobs.head(job).plan.note.endswith("bracket by the tank is bent")


def test_a_part_is_drawn_on_the_plan_and_dragged(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("blank")
    tab.goto(f"/jobs/{job}/vehicle")
    board = tab.locator("#board-drawing")
    tab.get_by_label("Add", exact=True).first.select_option("fuel-tank")
    tab.get_by_role("button", name="Draw it on the plan").click()
    board.scroll_into_view_if_needed()
    shown, m = board.bounding_box(), board.evaluate("svg => ({...svg.dataset})")
    assert shown is not None
    px = shown["width"] / 812
    scale = float(m["scale"]) * px

    def at(x_mm: float, y_mm: float) -> tuple[float, float]:
        u = float(m["xOffset"]) + float(m["scale"]) * x_mm
        v = float(m["planOffset"]) + float(m["planSign"]) * float(m["scale"]) * y_mm
        return shown["x"] + u * px, shown["y"] + v * px

    tab.mouse.move(*at(800, -500))
    tab.mouse.down()
    tab.mouse.move(*at(1000, -300))
    tab.mouse.move(*at(1400, -100))
    tab.mouse.up()
    saved(tab, 2)
    tank = jobs.head(job).plan.vehicle.solids[0].model_dump()
    assert (tank["kind"], tank["shape"]) == ("fuel-tank", "box")
    assert (tank["x_mm"], tank["length_mm"], tank["width_mm"]) == (
        pytest.approx(800, abs=8),
        pytest.approx(600, abs=12),
        pytest.approx(400, abs=12),
    )
    assert tank["x_mm"] % 5 == 0
    grip = tab.locator(f"#grip-plan-solid-{tank['id']}").bounding_box()
    assert grip is not None
    x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
    tab.mouse.move(x, y)
    tab.mouse.down()
    tab.mouse.move(x + 100 * scale, y)
    tab.mouse.move(x + 200 * scale, y)
    expect(tab.locator("#work")).to_have_class("work previewing")
    tab.mouse.up()
    saved(tab, 3)
    moved = jobs.head(job).plan.vehicle.solids[0].model_dump()
    assert moved["x_mm"] == pytest.approx(tank["x_mm"] + 200, abs=8)
    tab.locator(f"#grip-side-solid-{tank['id']}").focus()
    tab.keyboard.press("Shift+ArrowDown")
    saved(tab, 4)
    assert jobs.head(job).plan.vehicle.solids[0].model_dump()["z_mm"] == moved["z_mm"] - 50
