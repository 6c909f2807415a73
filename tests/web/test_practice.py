"""Practice pages: their state is in the address, bad addresses are answered, no job is touched."""

from __future__ import annotations

import re

import pytest

from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_an_exercise_begins_at_each_level(page: Page) -> None:
    text = page.get("/practice").text
    for level in (1, 2, 3):
        assert f"/practice/begin?level={level}" in text
    where = page.get("/practice/begin?level=2").headers["location"]
    assert re.fullmatch(r"/practice/heater\?seed=\d+&level=2", where)
    assert "Nothing yet." in page.get(where).text


def test_looks_are_shown_in_their_order_and_cost_time(page: Page) -> None:
    text = page.get("/practice/heater?seed=12&level=2&looked=sensor,arrow").text
    assert text.index("thermometer beside the sensor") < text.index("arrow and its plug")
    assert "24 minutes so far" in text
    # the address has no word of what it is
    assert (
        "sensor-at-outlet"
        not in page.get("/practice/heater?seed=12&level=2").text.split("<select")[0]
    )


def test_a_cause_is_named_right_and_wrong(page: Page) -> None:
    at = "/practice/heater?seed=12&level=2&looked=sensor"
    assert "That is it: 100 of 100" in page.get(f"{at}&named=sensor-at-outlet").text
    wrong = page.get(f"{at}&named=worn-battery").text
    assert "That is not it: 0 of 100" in wrong
    assert "You named: worn battery" in wrong


@pytest.mark.parametrize(
    ("query", "status"),
    [
        ("seed=-1", 422),
        ("seed=99999", 422),
        ("level=9", 422),
        ("seed=x", 422),
        ("looked=dance,,arrow", 200),
        ("named=dance", 200),
        ("looked=" + "a" * 700, 422),
    ],
)
def test_any_address_is_answered(page: Page, query: str, status: int) -> None:
    answer = page.get(f"/practice/heater?{query}")
    assert answer.status_code == status
    assert "Traceback" not in answer.text


def test_a_plan_is_looked_at_marked_and_told(page: Page) -> None:
    at = "/practice/plan?seed=4&level=2"
    text = page.get(at).text
    assert "5 mistakes" in text
    assert "verdict-over" not in text
    looked = page.get(f"{at}&looked=fuel.pump&marked=fuel.pump").text
    assert "marked as a mistake" in looked
    assert "1 mark." in looked
    done = page.get(f"{at}&looked=fuel.pump&marked=fuel.pump&done=yes").text
    assert "of 5 found" in done
    assert "Missed:" in done
    assert (
        page.get("/practice/begin?on=plan&level=3")
        .headers["location"]
        .startswith("/practice/plan?seed=")
    )


@pytest.mark.parametrize(
    ("query", "status"),
    [("done=no", 422), ("level=0", 422), ("looked=x,,y", 200), ("marked=" + "z" * 2100, 422)],
)
def test_any_address_of_a_plan_is_answered(page: Page, query: str, status: int) -> None:
    assert page.get(f"/practice/plan?{query}").status_code == status
