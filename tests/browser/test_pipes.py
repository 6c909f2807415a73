"""Pipes station in the browser: drawing a run by mouse and by keys, finding one, deviations,
remedies, what sits on it.
"""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.plan.pipes import Route
from gale_nook.store.job_store import JobStore
from tests.browser.conftest import Jobs, centre, drag_from, saved

pytestmark = pytest.mark.browser


def _exhaust(jobs: Jobs, job: int) -> Route:
    route = jobs.head(job).plan.pipes.exhaust
    assert route is not None
    return route


def _px_per_mm(tab: Page) -> float:
    shown = tab.locator("#board-drawing").bounding_box()
    assert shown is not None
    return (
        float(tab.locator("#board-drawing").get_attribute("data-scale") or 0) * shown["width"] / 812
    )


def test_a_run_is_drawn_by_mouse(tab: Page, jobs: Jobs) -> None:
    """Started at the port, a bend pulled out of a straight, the mouth pulled rearward."""
    job = jobs.new("quarto-bare")
    tab.goto(f"/jobs/{job}/pipes")
    tab.get_by_role("button", name="Start at the port").click()
    saved(tab, 2)
    tab.goto(f"/jobs/{job}/pipes?frame=close")
    begun = _exhaust(jobs, job)
    px = _px_per_mm(tab)
    last, mouth = begun.nodes[-2:]
    (x0, y0), (x1, y1) = (centre(tab, f"#grip-plan-node-{node.id} .node") for node in (last, mouth))
    drag_from(tab, (x0 + 0.8 * (x1 - x0), y0 + 0.8 * (y1 - y0)), 150 * px, 0)
    saved(tab, 3)
    bent = _exhaust(jobs, job)
    assert [n for n in bent.nodes if n in begun.nodes] == list(begun.nodes)
    new = bent.nodes[-2]
    assert new not in begun.nodes
    assert new.x_mm == pytest.approx(last.x_mm + 0.8 * (mouth.x_mm - last.x_mm) + 150, abs=12)
    assert begun.nodes[-1].z_mm < new.z_mm < begun.nodes[-2].z_mm
    drag_from(tab, centre(tab, f"#grip-plan-node-{mouth.id} .node"), 100 * px, 0)
    saved(tab, 4)
    moved = _exhaust(jobs, job).nodes[-1]
    assert moved.x_mm == pytest.approx(mouth.x_mm + 100, abs=16)
    assert (moved.y_mm, moved.z_mm) == (mouth.y_mm, mouth.z_mm)


def test_a_corner_pulled_near_its_neighbour_comes_square_to_it(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    first, second, mouth = _exhaust(jobs, job).nodes
    drag_from(
        tab,
        centre(tab, f"#grip-plan-node-{mouth.id} .node"),
        (second.x_mm + 8 - mouth.x_mm) * _px_per_mm(tab),
        0,
    )
    saved(tab, 2)
    assert _exhaust(jobs, job).nodes[-1].x_mm == second.x_mm
    assert first.x_mm != second.x_mm


def test_a_run_is_drawn_by_keys_alone(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("quarto-bare")
    tab.goto(f"/jobs/{job}/pipes")
    tab.get_by_role("button", name="Start at the port").focus()
    tab.keyboard.press("Enter")
    saved(tab, 2)
    begun = _exhaust(jobs, job)
    tab.get_by_label("Insert a bend before mouth").focus()
    tab.keyboard.press("Enter")
    saved(tab, 3)
    new = _exhaust(jobs, job).nodes[-2]
    tab.locator(f"#grip-plan-node-{new.id}").focus()
    tab.keyboard.press("Shift+ArrowRight")
    saved(tab, 4)
    tab.keyboard.press("PageDown")
    saved(tab, 5)
    expect(tab.locator(f"#grip-plan-node-{new.id}")).to_be_focused()
    at = _exhaust(jobs, job).nodes[-2]
    assert (at.x_mm, at.y_mm, at.z_mm) == (new.x_mm + 50, new.y_mm, new.z_mm - 5)
    field = tab.get_by_label("mouth, behind the datum")
    field.focus()
    tab.keyboard.press("Control+a")
    tab.keyboard.type("1.4 m")
    tab.keyboard.press("Enter")
    saved(tab, 6)
    assert _exhaust(jobs, job).nodes[-1].x_mm == 1400
    tab.get_by_role("button", name="Remove the whole pipe").focus()
    tab.keyboard.press("Enter")
    expect(tab.get_by_role("button", name="Start at the port")).to_be_visible()
    assert jobs.head(job).plan.pipes.exhaust is None
    assert len(begun.nodes) >= 2


def test_the_figures_follow_a_bend_that_is_dragged(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    before = tab.locator("#run-length").text_content() or ""
    x, y = centre(tab, "#grip-plan-node-n-3 .node")
    tab.mouse.move(x, y)
    tab.mouse.down()
    tab.mouse.move(x, y + 30)
    expect(tab.locator("#work")).to_have_class("work previewing")
    expect(tab.locator("#run-length")).not_to_have_text(before)
    expect(tab.locator("#run-figures")).to_contain_text("nearest: ")
    tab.keyboard.press("Escape")
    tab.mouse.up()
    expect(tab.locator("#run-length")).to_have_text(before)
    assert jobs.head(job).number == 1


def test_a_way_is_found_shown_and_taken(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("quarto-bare")
    tab.goto(f"/jobs/{job}/pipes")
    tab.get_by_role("button", name="Find a way").click()
    expect(tab.locator("#find-progress")).to_contain_text(
        "That is all that was found", timeout=60_000
    )
    way = tab.get_by_role("article", name="Way A")
    expect(way).to_contain_text("of bends")
    way.get_by_role("button", name="show").click()
    expect(tab.locator("#work")).to_have_class("work previewing")
    expect(tab.locator("#overlay .exhaust").first).to_be_attached()
    assert jobs.head(job).number == 1
    tab.keyboard.press("Escape")
    expect(tab.locator("#work")).to_have_class("work")
    tab.get_by_role("button", name="Find a way").click()
    way.get_by_role("button", name="Take way A").click()
    saved(tab, 2)
    route = _exhaust(jobs, job)
    assert route.of_kind("support")
    tab.locator("#clear-findings > summary").click()
    expect(tab.locator("#pipes-length-exhaust-exhaust").first).to_be_visible()


def test_a_search_can_be_stopped_and_keeps_what_it_found(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("quarto-bare")
    # another weather than any other test's: what was found before would be shown at once
    JobStore(jobs.engine).save(job, 1, set_value("pipes.firing_c", 7.0), load_catalogue())
    tab.goto(f"/jobs/{job}/pipes")
    tab.get_by_role("button", name="Find a way").click()
    expect(tab.get_by_role("article", name="Way A")).to_be_visible()
    tab.get_by_role("button", name="stop").click()
    expect(tab.locator("#find-progress")).to_contain_text("Stopped. What was found so far stays.")
    expect(tab.get_by_role("article", name="Way A")).to_be_visible()


def test_what_sits_on_the_pipe_is_put_on_and_moved_along(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    x, y = centre(tab, "#grip-plan-fitting-exhaust-silencer .fitting-grip")
    px = _px_per_mm(tab)
    tab.mouse.move(x, y)
    tab.mouse.down()
    tab.mouse.move(x, y + 30 * px)
    tab.mouse.move(x, y + 60 * px)
    tab.mouse.up()
    saved(tab, 2)
    (silencer,) = _exhaust(jobs, job).of_kind("silencer")
    assert silencer.at_mm != 700
    assert silencer.at_mm % 5 == 0
    tab.locator("#grip-plan-fitting-exhaust-silencer").focus()
    tab.keyboard.press("Shift+ArrowRight")
    saved(tab, 3)
    (further,) = _exhaust(jobs, job).of_kind("silencer")
    assert further.at_mm == silencer.at_mm + 50
    tab.get_by_role("button", name="+ lagged stretch").click()
    saved(tab, 4)
    expect(tab.locator("#fittings")).to_contain_text("lagged stretch")
    assert len(_exhaust(jobs, job).of_kind("lagging")) == 1


def test_the_combustion_airs_pipe_has_the_same_editor(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    tab.get_by_role("link", name="Combustion air").click()
    tab.wait_for_url("**tube=intake**")
    tab.locator("#grip-plan-air-n-2").focus()
    tab.keyboard.press("ArrowRight")
    saved(tab, 2)
    route = jobs.head(job).plan.pipes.intake
    assert route is not None
    assert route.nodes[-1].x_mm == 2980
    expect(tab.get_by_role("link", name="Combustion air")).to_have_attribute("aria-current", "true")


def test_a_slip_in_a_bend_is_refused_and_stays(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    field = tab.get_by_label("bend 1, bend radius")
    field.fill("tight")
    field.press("Enter")
    expect(tab.get_by_role("alert")).to_contain_text("'tight' is not a")
    expect(field).to_have_value("tight")
    assert jobs.head(job).number == 1


def test_a_pipe_deviation_is_accepted_with_a_reason(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("wren")
    tab.goto(f"/jobs/{job}/pipes")
    card = tab.locator("article.finding.verdict-over").filter(has_text="Accept with a reason").first
    anchor = card.get_attribute("id")
    card = tab.locator(f"#{anchor}")
    card.get_by_text("Accept with a reason").click()
    card.get_by_label("Why it is acceptable here").fill("measured at the first firing: cool enough")
    card.get_by_label("Accepted by").fill("Ina")
    card.get_by_role("button", name="Accept", exact=True).click()
    saved(tab, 2)
    expect(card).to_contain_text("Accepted by Ina: measured at the first firing")
    assert jobs.head(job).plan.acceptances[0].rule.startswith("pipes.")


def test_a_straight_is_split_clamped_and_its_clamps_go_along(tab: Page, jobs: Jobs) -> None:
    """A joint in the middle of a straight; the clamps that it lacks by remedy; dragged, they stay
    with it.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    before = _exhaust(jobs, job)
    tab.get_by_label("Split the straight before bend 2 with a joint").click()
    saved(tab, 2)
    joint = next(f for f in _exhaust(jobs, job).of_kind("joint") if f not in before.fittings)
    card = tab.locator("#pipes-clamps-exhaust-exhaust")
    expect(card).to_contain_text("No clamp holds")
    card.get_by_role("button", name="Find a remedy").click()
    card.get_by_role("button", name="Apply").click()
    saved(tab, 3)
    tab.locator(f"#grip-plan-fitting-exhaust-{joint.id}").focus()
    tab.keyboard.press("Shift+ArrowRight")
    saved(tab, 4)
    after = _exhaust(jobs, job)
    moved = next(f for f in after.fittings if f.id == joint.id)
    assert moved.at_mm == joint.at_mm + 50
    assert sum(1 for clamp in after.of_kind("clamp") if abs(clamp.at_mm - moved.at_mm) == 12) == 2


def test_a_move_that_meets_another_edit_is_told_in_its_place_each_time(
    tab: Page, jobs: Jobs
) -> None:
    """Refused twice: the notice stands where notices stand, and the job is as the other edit left
    it.
    """
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    node = _exhaust(jobs, job).nodes[1].id
    JobStore(jobs.engine).save(
        job, 1, set_value(f"pipes.exhaust.nodes.{node}.x_mm", 2250.0), load_catalogue()
    )
    for _ in range(2):
        tab.locator(f"#grip-plan-node-{node}").focus()
        tab.keyboard.press("ArrowRight")
        expect(tab.locator("#notice .collision")).to_be_visible()
        tab.evaluate("document.querySelector('#notice').replaceChildren()")
    assert _exhaust(jobs, job).nodes[1].x_mm == 2250


def test_a_run_typed_from_its_mouth_is_turned_round(tab: Page, jobs: Jobs) -> None:
    job = jobs.new("heron")
    tab.goto(f"/jobs/{job}/pipes")
    before = [node.id for node in _exhaust(jobs, job).nodes]
    tab.get_by_label("Reverse the order of its bends").click()
    saved(tab, 2)
    assert [node.id for node in _exhaust(jobs, job).nodes] == before[::-1]
    tab.locator("#undo").click()
    saved(tab, 1)
    assert [node.id for node in _exhaust(jobs, job).nodes] == before
