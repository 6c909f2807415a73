"""Heat and heater stations in the browser: sliders, the start of the night,
heaters of one's own.
"""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.fitted.usable import usable
from gale_nook.core.job import Job
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.heater_sheets import write_sheet
from tests.browser.conftest import Jobs, saved

pytestmark = pytest.mark.browser


def _slide(tab: Page, label: str, value: float) -> None:
    """Move a slider as a thumb does: figures follow, nothing is saved."""
    tab.get_by_label(f"{label}, slider").evaluate(
        (
            "(slide, value) => { slide.value = value; slide.dispatchEvent(new Event('input', "
            "{bubbles: "
            "true})); }"
        ),
        str(value),
    )


def _usable_at(altitude_m: float) -> float:
    """What Heron's ducts let through at an altitude."""
    plan = demo_plan("heron")
    heat = plan.heat.model_copy(update={"altitude_m": altitude_m})
    found = usable(Job(plan.model_copy(update={"heat": heat}), load_catalogue()))
    assert found is not None
    return found.usable_w


def test_the_altitude_slider_moves_the_bars_before_it_is_let_go(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heater")
    expect(tab.locator("#night-sentence")).to_contain_text("Bothy 40 from 18:00")
    before = tab.locator("#night-sentence").text_content() or ""
    _slide(tab, "altitude", 3000)
    expect(tab.locator("#ranges")).to_contain_text(f"{_usable_at(3000):.0f} W")
    expect(tab.get_by_label("altitude", exact=True)).to_have_value("3000 m")
    expect(tab.locator("#night-sentence")).not_to_have_text(before)
    assert jobs.head(job).number == 1
    tab.get_by_label("altitude, slider").dispatch_event("change")
    saved(tab, 2)
    assert jobs.head(job).plan.heat.altitude_m == 3000


def test_escape_takes_a_slider_back(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heat")
    need = tab.locator("#need").text_content() or ""
    label = "thickness of layer 2, Roof"
    tab.get_by_label(f"{label}, slider").focus()
    _slide(tab, label, 120)
    expect(tab.locator("#need")).not_to_have_text(need)
    expect(tab.locator("#u-roof")).to_contain_text("U 0.3")
    expect(tab.locator("#work")).to_have_class("work previewing")
    tab.keyboard.press("Escape")
    expect(tab.locator("#need")).to_have_text(need)
    expect(tab.get_by_label(label, exact=True)).to_have_value("30 mm")
    assert jobs.head(job).number == 1


def test_the_start_of_the_night_is_dragged_and_nudged(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heater")
    tab.locator("#night-drawing").scroll_into_view_if_needed()
    handle = tab.locator("#start-grip .night-handle").bounding_box()
    hour = tab.locator("#night-drawing").evaluate(
        "svg => Number(svg.dataset.pxPerHour) * svg.getScreenCTM().a"
    )
    assert handle is not None
    x, y = handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2
    tab.mouse.move(x, y)
    tab.mouse.down()
    tab.mouse.move(x + hour, y)
    tab.mouse.move(x + 2 * hour, y)
    expect(tab.locator("#night-sentence")).to_contain_text("from 20:00")
    assert jobs.head(job).number == 1
    tab.mouse.up()
    saved(tab, 2)
    night = jobs.head(job).plan.heat.night
    assert (night.start_h, night.hours_h) == (20, 12)
    tab.locator("#start-grip").focus()
    tab.keyboard.press("ArrowLeft")
    saved(tab, 3)
    expect(tab.locator("#night-sentence")).to_contain_text("from 19:45")
    expect(tab.locator("#start-grip")).to_be_focused()
    tab.keyboard.press("Shift+ArrowRight")
    saved(tab, 4)
    assert jobs.head(job).plan.heat.night.start_h == 20.75


def test_another_heater_over_the_recommended_one_asks_why(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heater")
    byre = tab.locator("#heater-byre-50")
    byre.get_by_role("button", name="Choose the Byre 50").click()
    expect(tab.get_by_role("alert")).to_contain_text("type why this one is taken instead")
    byre.get_by_label("why this one over the Bothy 40").fill("stood in the shed")
    byre.get_by_role("button", name="Choose the Byre 50").click()
    saved(tab, 2)
    expect(tab.locator(".overruled")).to_contain_text("Taken instead of the Bothy 40")
    expect(tab.get_by_label("why this heater")).to_have_value("stood in the shed")


def test_a_heater_of_ones_own_by_form_and_by_file(tab: Page, jobs: Jobs, tmp_path: Path) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heater")
    tab.locator("#heater-bothy-40").get_by_role("button", name="Make your own from it").click()
    form = tab.locator("#sheet-form")
    form.get_by_label("name", exact=True).fill("Corrie 38")
    form.get_by_label("source of every value without its own").fill("sheet in the box")
    form.get_by_label("least output", exact=True).fill("4.5 kW")
    form.get_by_role("button", name="Keep it").click()
    expect(tab.get_by_role("alert")).to_contain_text("least output must lie below the most")
    expect(form.get_by_label("name", exact=True)).to_have_value("Corrie 38")
    form.get_by_label("least output", exact=True).fill("900 W")
    form.get_by_role("button", name="Keep it").click()
    saved(tab, 2)
    expect(tab.locator("#heater-corrie-38")).to_contain_text("your own")
    path = tmp_path / "mine.yaml"
    path.write_text(
        write_sheet(load_catalogue().heaters["bothy-22"]).replace(
            "label: Bothy 22", "label: Tarn 20"
        )
    )
    tab.get_by_label("a heater's sheet, YAML or JSON").set_input_files(path)
    tab.locator(".import-sheet").get_by_role("button", name="Load the file").click()
    saved(tab, 3)
    expect(tab.locator("#heater-tarn-20")).to_be_visible()
    expect(tab.locator("#nights")).to_contain_text("Tarn 20")
    tab.locator("#heater-tarn-20").get_by_role("button", name="Remove it").click()
    saved(tab, 4)
    expect(tab.locator("#heater-tarn-20")).to_have_count(0)


def test_heaters_side_by_side_are_picked(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/heater")
    beside = tab.locator("#beside")
    expect(beside.locator("#beside-table th")).to_have_count(4)
    beside.get_by_label("Bothy 22").uncheck()
    expect(beside.locator("#beside-table th")).to_have_count(3)
    beside.get_by_label("Croft 90").check()
    expect(beside.locator("#beside-table")).to_contain_text("Croft 90")


def test_the_calculation_opens_and_the_coldest_place_is_marked(tab: Page, jobs: Jobs) -> None:
    tab.goto(f"/jobs/{jobs.new('heron')}/heat")
    tab.locator("#worked summary").click()
    expect(tab.locator("#worked")).to_contain_text("12 hoops × 5.64 m")
    expect(tab.locator("#worked")).to_contain_text("need with its margin")
    expect(tab.locator("#overlay [data-cold]")).to_have_count(2)
    expect(tab.locator("#dampness")).to_contain_text("unflued gas heater")


def test_a_heater_of_ones_own_with_its_plate(tab: Page, jobs: Jobs) -> None:
    """The values that decide first, by the keyboard; then a stud on its mount."""
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/heater")
    form = tab.locator("#quick-form")
    form.get_by_label("name of the heater").fill("Fern 20")
    typed = ("2000", "700", "310", "115", "125", "92", "24", "-15", "-18", "22", "1800", "12", "8")
    form.get_by_label("most output").focus()
    for text in typed:
        tab.keyboard.type(text)
        tab.keyboard.press("Tab")
    tab.keyboard.press("Enter")
    saved(tab, 2)
    own = jobs.head(job).plan.heater.own_sheets[0]
    assert (own.output.maximum_w, own.electrical.glow_current_a) == (2000, 8)
    tab.get_by_role("button", name="Its mounts").click()
    mount = tab.get_by_role("form", name="one 92 mm hole")
    mount.get_by_role("button", name="+ stud").click()
    expect(tab.get_by_label("stud 2, diameter")).to_have_value("7 mm")
    saved(tab, 3)
    mount.get_by_label("hole, to its right").fill("12")
    mount.get_by_role("button", name="Keep this mount").click()
    saved(tab, 4)
    holes = jobs.head(job).plan.heater.own_sheets[0].mounts[0].holes
    assert [(hole.name, hole.y_mm) for hole in holes] == [("hole", 12), ("stud 2", 40)]
    tab.keyboard.press("Control+z")
    saved(tab, 3)
