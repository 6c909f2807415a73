"""Pipes station: either pipe, corners, what sits on it, and looking for a way."""

from __future__ import annotations

import html
import json
import re
from typing import Any

import pytest

from gale_nook.core.pipes.route_search import MOST_WAYS
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def _search(page: Page, job: int, tube: str = "exhaust") -> str:
    """What a search shows when it has ended."""
    answer = page.post(f"/jobs/{job}/pipes/find", {"tube": tube})
    assert answer.status_code == 200
    return answer.text


def _commands(text: str) -> list[dict[str, Any]]:
    """The commands on a page's buttons that take a run or move the heater."""
    found = [
        json.loads(json.loads(html.unescape(values))["command"])
        for values in re.findall(r"hx-vals='([^']*command[^']*)'", text)
    ]
    return [command for command in found if command["op"] in {"take-run", "place"}]


def test_the_panel_shows_one_pipe_at_a_time(page: Page) -> None:
    job = page.new("heron")
    exhaust, intake = (
        page.get(f"/jobs/{job}/pipes").text,
        page.get(f"/jobs/{job}/pipes?tube=intake").text,
    )
    assert "First firing" in exhaust
    assert "First firing" not in intake
    assert 'name="set:pipes.exhaust.nodes.n-3.z_mm"' in exhaust
    assert 'name="set:pipes.intake.nodes.n-2.z_mm"' in intake
    assert 'id="grip-plan-air-n-1"' in intake
    assert 'id="grip-plan-air-n-1"' not in exhaust


def test_a_bend_is_inserted_into_the_straight_before_a_node(page: Page) -> None:
    job = page.new("heron")
    for number, (tube, node) in enumerate((("exhaust", "n-3"), ("intake", "n-1")), 1):
        before = page.head(job).plan.pipes.route(tube).nodes
        page.post(f"/jobs/{job}/pipes/insert", {"base": str(number), "tube": tube, "node": node})
        after = page.head(job).plan.pipes.route(tube).nodes
        at = [n.id for n in before].index(node)
        assert [n.id for n in after if n in before] == [n.id for n in before]
        assert after[at] not in before
        assert after[at + 1].id == node
    gone = page.post(f"/jobs/{job}/pipes/insert", {"base": "3", "tube": "exhaust", "node": "n-77"})
    assert gone.status_code == 422
    assert "not there any more" in gone.text


def test_what_sits_on_a_pipe_is_put_on_moved_and_taken_off(page: Page) -> None:
    job = page.new("heron")
    lagging = {"id": "lagging", "kind": "lagging", "at_mm": 50, "length_mm": 200}
    page.command(
        job, "pipes", 1, {"op": "add", "collection": "pipes.exhaust.fittings", "item": lagging}
    )
    page.set(job, "pipes", 2, pipes__exhaust__fittings__lagging__layers="2")
    page.set(job, "pipes", 3, pipes__exhaust__fittings__silencer__drain_down="no")
    route = page.head(job).plan.pipes.exhaust
    assert route.of_kind("lagging")[0].layers == 2
    assert route.of_kind("silencer")[0].drain_down is False
    over = page.set(job, "pipes", 4, pipes__exhaust__fittings__lagging__layers="9")
    assert over.status_code == 422
    page.command(
        job,
        "pipes",
        4,
        {"op": "remove", "collection": "pipes.exhaust.fittings", "item_id": "lagging"},
    )
    assert page.head(job).plan.pipes.exhaust.of_kind("lagging") == ()


def test_the_edges_at_which_it_may_end_are_the_jobs_own(page: Page) -> None:
    job = page.new("heron")
    page.command(job, "pipes", 1, {"op": "edges", "edges": ["rear"]})
    assert page.head(job).plan.pipes.edges == ("rear",)
    assert page.command(job, "pipes", 2, {"op": "edges", "edges": []}).status_code == 422
    page.set(job, "pipes", 2, pipes__mouth_from_mm="1 m")
    page.set(job, "pipes", 3, pipes__mouth_from_mm="")
    assert page.head(job).plan.pipes.mouth_from_mm is None


def test_a_search_offers_ways_that_the_checks_pass(page: Page) -> None:
    job = page.new("quarto-bare")
    shown = _search(page, job)
    ways = _commands(shown)
    assert 1 <= len(ways) <= MOST_WAYS
    assert "That is all that was found" in shown
    for letter, way in zip("ABC", ways, strict=False):
        assert f"Way {letter}" in shown
        fresh = page.new("quarto-bare")
        taken = page.command(fresh, "pipes", 1, way)
        assert taken.status_code == 200
        text = page.get(f"/jobs/{fresh}/pipes").text
        assert not re.search(
            r'class="finding[^"]*verdict-over"[^>]*data-rule="pipes\.(length|bends|radius|mouth)',
            text,
        )


def test_the_combustion_airs_search_offers_three_ways(page: Page) -> None:
    job = page.new("heron")
    ways = _commands(_search(page, job, "intake"))
    assert [way["tube"] for way in ways] == ["intake"] * MOST_WAYS
    page.command(job, "pipes", 1, ways[1])
    assert page.head(job).plan.pipes.intake.model_dump(mode="json") == ways[1]["route"]


def test_a_search_without_a_way_says_what_stops_it(page: Page) -> None:
    job = page.new("wren")
    page.command(job, "pipes", 1, {"op": "edges", "edges": ["rear"]})
    shown = _search(page, job)
    assert not any(command["op"] == "take-run" for command in _commands(shown))
    said = re.findall(r'<p class="stopped">(.*?)</p>', shown, re.DOTALL)
    assert said, shown
    assert re.search(r"\d", said[0])


def test_a_search_of_no_pipe_is_refused(page: Page) -> None:
    job = page.new("heron")
    assert page.get(f"/jobs/{job}/pipes/find?tube=hose").status_code == 422
    assert page.get(f"/jobs/{2**31 - 1}/pipes/find").status_code == 404


def test_without_a_spot_there_is_nothing_to_look_from(page: Page) -> None:
    answer = page.post(f"/jobs/{page.new('blank')}/pipes/find", {})
    assert answer.status_code == 422
    assert "choose a heater and a spot first" in answer.text
