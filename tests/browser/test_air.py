"""Air station in the browser: outlets closed and throttled, bends moved, shares asked for,
furniture made hollow, mistakes mended.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from gale_nook.core.plan.air import Duct, Outlet
from tests.browser.conftest import Jobs, centre, drag_from, saved

pytestmark = pytest.mark.browser


def _type(tab: Page, label: str, text: str) -> None:
    field = tab.get_by_label(label, exact=True).first
    field.fill(text)
    field.press("Enter")


def _duct(jobs: Jobs, job: int, id_: str) -> Duct:
    return next(duct for duct in jobs.head(job).plan.air.ducts if duct.id == id_)


def _outlet(jobs: Jobs, job: int, id_: str) -> Outlet:
    outlet = _duct(jobs, job, id_).outlet
    assert outlet is not None
    return outlet


def _watts(tab: Page) -> float:
    return float((tab.locator("#usable").text_content() or "").split()[0])


def test_closing_an_outlet_costs_power_and_is_told(tab: Page, jobs: Jobs) -> None:
    """Closed by hand, the outlet blows nothing, and what is usable falls to what the table of
    closed outlets gave before.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/air")
    before = _watts(tab)
    told = tab.locator("#closed-sets tr", has_text="bed outlet").first.locator("td").nth(1)
    foretold = float((told.text_content() or "").split()[0])
    tab.get_by_role("button", name="Close bed outlet").click()
    saved(tab, 2)
    assert _outlet(jobs, job, "bed").shut
    expect(tab.locator("#air-outlets tr", has_text="bed outlet")).to_contain_text("closed")
    assert _watts(tab) == pytest.approx(foretold, abs=2)
    assert _watts(tab) < before
    tab.get_by_role("button", name="Open bed outlet").click()
    saved(tab, 3)
    assert _watts(tab) == before


def test_a_throttle_moves_the_air_while_it_is_turned(tab: Page, jobs: Jobs) -> None:
    """By the keyboard: the table follows before anything is saved, and the air that no longer
    leaves at the bed leaves elsewhere.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/air")
    rows = {n: tab.locator("#air-outlets tr", has_text=n) for n in ("bed outlet", "galley outlet")}

    def flow(name: str) -> float:
        cell = rows[name].locator("td").nth(1).text_content() or ""
        return float(cell.split()[0])

    begun = {name: flow(name) for name in rows}
    tab.get_by_label("throttle of bed outlet, slider").focus()
    for _ in range(8):
        tab.keyboard.press("ArrowLeft")
    expect(tab.get_by_label("bed outlet, open", exact=True)).to_have_value("50 %")
    assert _outlet(jobs, job, "bed").open_percent == 50
    assert flow("bed outlet") < begun["bed outlet"]
    assert flow("galley outlet") > begun["galley outlet"]


def test_bends_and_outlets_are_moved_by_keyboard_and_mouse(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/air")
    bend = _duct(jobs, job, "bed").nodes[0]
    tab.locator("#grip-side-air-bed-n1").focus()
    tab.keyboard.press("ArrowUp")
    saved(tab, 2)
    moved = _duct(jobs, job, "bed").nodes[0]
    assert (moved.x_mm, moved.z_mm) == (bend.x_mm, bend.z_mm + 5)
    outlet = _duct(jobs, job, "galley").nodes[-1]
    drag_from(tab, centre(tab, "#grip-plan-air-galley-n2"), 0, -20)
    saved(tab, 3)
    assert _duct(jobs, job, "galley").nodes[-1].y_mm > outlet.y_mm
    duct = tab.locator("#duct-bed")
    duct.locator("summary").click()
    duct.get_by_role("button", name="+ bend in stretch 1").click()
    saved(tab, 4)
    assert len(_duct(jobs, job, "bed").nodes) == 3
    duct.get_by_label("Remove bend 1 of bed").click()
    saved(tab, 5)
    assert len(_duct(jobs, job, "bed").nodes) == 2


def test_shares_are_asked_for_and_the_throttles_set(tab: Page, jobs: Jobs) -> None:
    """Shares that do not add up are refused in words; those that do are reached by throttles,
    which one click sets; asked again, nothing is left to set.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/air")
    balance = tab.locator("#balance")
    balance.locator("summary").click()
    shares = {"galley outlet": "50", "bed outlet": "30", "drying outlet": "10"}
    for number, (name, text) in enumerate(shares.items(), 2):
        field = balance.get_by_label(name, exact=True)
        field.fill(text)
        field.press("Enter")
        saved(tab, number)
    expect(balance.get_by_role("alert")).to_contain_text("90 %")
    field = balance.get_by_label("drying outlet", exact=True)
    field.fill("20")
    field.press("Enter")
    saved(tab, 5)
    rows = balance.locator("#balance-table tbody tr")
    expect(rows).to_have_count(3)
    for row, asked in zip(rows.all(), ("50", "30", "20"), strict=True):
        expect(row.locator("td").nth(1)).to_have_text(f"{asked} %")
    button = balance.get_by_role("button", name="Set the throttles so")
    button.click()
    saved(tab, 6)
    assert _outlet(jobs, job, "bed").open_percent < 90


@pytest.mark.parametrize(
    ("label", "typed", "said"),
    [
        ("bed outlet, open", "wide", "'wide'"),
        ("bed outlet, open", "2", "at least 5 %"),
        ("bed outlet, open", "130", "at most 100 %"),
    ],
)
def test_wrong_input_stays_and_is_refused_in_words(
    tab: Page, jobs: Jobs, label: str, typed: str, said: str
) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/air")
    _type(tab, label, typed)
    expect(tab.get_by_role("alert").first).to_contain_text(said)
    expect(tab.get_by_label(label, exact=True).first).to_have_value(typed)
    assert jobs.head(job).number == 1


def test_an_empty_job_is_led_to_a_duct(tab: Page, jobs: Jobs) -> None:
    """Nothing there: the page says what comes first; on a heater that blows freely one choice and
    one click begin a duct.
    """
    tab.goto(f"/jobs/{jobs.new('blank')}/air")
    expect(tab.get_by_role("link", name="Find a spot first")).to_be_visible()
    job = jobs.new("quarto")
    tab.goto(f"/jobs/{job}/air")
    tab.get_by_label("the warm end blows", exact=True).select_option("duct")
    saved(tab, 2)
    assert jobs.head(job).plan.air.warm_end == "duct"


def test_furniture_is_made_hollow_and_a_panel_lifts_out(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/vehicle?item=galley")
    tab.get_by_role("button", name="It is solid").click()
    saved(tab, 2)
    tab.get_by_role("button", name="It is hollow").click()
    saved(tab, 3)
    tab.get_by_label("top panel lifts out").uncheck()
    saved(tab, 4)
    tab.get_by_label("rear panel is there").uncheck()
    saved(tab, 5)
    tab.get_by_role("button", name="+ opening").click()
    saved(tab, 6)
    solids = jobs.head(job).plan.vehicle.solids
    galley = next(solid for solid in solids if solid.id == "galley")
    assert galley.shape == "box"
    assert galley.hollow is not None
    assert "rear" not in galley.hollow.panels
    assert galley.hollow.lids == ()
    assert len(galley.hollow.openings) == 1
    expect(tab.get_by_label("rear panel lifts out")).to_have_count(0)


def test_every_mistake_in_wren_is_mended_through_its_remedies(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/air")
    cards = tab.locator("article.finding.verdict-over")
    begun, number = cards.count(), 1
    assert begun > 10
    while cards.count():
        card = cards.first
        card.get_by_role("button", name="Find a remedy").click()
        told = card.locator(".remedy")
        expect(told).not_to_be_empty()
        expect(told.locator(".working")).to_have_count(0)
        told.get_by_text("Apply").first.click()
        number += 1
        saved(tab, number)
        assert number < 40


def test_outlets_are_pointed_at_and_a_tree_is_taken(tab: Page, jobs: Jobs) -> None:
    """By the mouse on the plan and by the keyboard; a tree is shown before it is taken."""
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/air")
    tab.get_by_role("button", name="Point at the plan").click()
    expect(tab.locator("#board-hint")).to_contain_text("click where the air should come out")
    tab.mouse.click(*_on_plan(tab, 1150.0, -395.0))
    saved(tab, 2)
    expect(tab.get_by_role("button", name="Point at the plan")).to_have_attribute(
        "aria-pressed", "true"
    )
    tab.mouse.click(*_on_plan(tab, 2620.0, -600.0))
    saved(tab, 3)
    tab.keyboard.press("Escape")
    expect(tab.locator("#board-hint")).not_to_contain_text("click where")
    wanted = jobs.head(job).plan.air.wanted
    assert [outlet.zone for outlet in wanted] == ["living", "bed"]
    assert wanted[0].x_mm == pytest.approx(1150, abs=15)
    tab.locator(f"#grip-plan-wanted-{wanted[0].id}").focus()
    tab.keyboard.press("ArrowRight")
    saved(tab, 4)
    assert jobs.head(job).plan.air.wanted[0].x_mm == wanted[0].x_mm + 5
    tab.get_by_role("button", name="Find ducts to them").focus()
    tab.keyboard.press("Enter")
    tree = tab.get_by_label("Ducts A")
    expect(tree).to_contain_text("usable", timeout=60_000)
    tree.get_by_role("button", name="show").click()
    expect(tab.locator("#work")).to_have_class(re.compile("previewing"))
    assert jobs.head(job).number == 4
    tree.get_by_role("button", name="Take ducts A").click()
    saved(tab, 5)
    air = jobs.head(job).plan.air
    assert air.wanted == ()
    assert {d.outlet.name for d in air.ducts if d.outlet} == {outlet.name for outlet in wanted}
    expect(tab.locator("#air-outlets")).to_contain_text("bed outlet")


def _on_plan(tab: Page, x_mm: float, y_mm: float) -> tuple[float, float]:
    """Where a place in plan is on the screen."""
    at = tab.evaluate(
        """([x, y]) => {
            const svg = document.querySelector("#board-drawing"), m = svg.dataset;
            const u = +m.xOffset + m.scale * x, v = +m.planOffset + m.planSign * m.scale * y;
            const point = new DOMPoint(u, v).matrixTransform(svg.getScreenCTM());
            return [point.x, point.y];
        }""",
        [x_mm, y_mm],
    )
    return at[0], at[1]
