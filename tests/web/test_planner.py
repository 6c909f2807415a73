"""The planner's page: wishes typed and refused, layouts found, compared, taken and undone."""

from __future__ import annotations

import re
from typing import Any

import pytest
from sqlalchemy.orm import Session

from gale_nook.core.edits.values import set_value
from gale_nook.core.plan.wishes import WishArea, Wishes
from gale_nook.store.jobs import create_job
from tests.vans import small_van
from tests.web.conftest import Page

pytestmark = pytest.mark.store
CORNER = WishArea(
    id="corner", name="corner", from_x_mm=1100, to_x_mm=3300, left_y_mm=-900, right_y_mm=-200
)


def _van(page: Page) -> int:
    plan = small_van(3, wishes=Wishes(areas=(CORNER,)))
    with Session(page.app.state.engine) as session, session.begin():
        return create_job(session, plan, "made for the test")


def _post(page: Page, job: int, path: str, **data: Any) -> Any:
    base = {"base": str(page.head(job).number)}
    return page.post(f"/jobs/{job}/planner/{path}", {**base, **data})


def test_an_area_is_painted_typed_and_taken_out(page: Page) -> None:
    job = page.new("heron")
    painted = _post(page, job, "paint", wanted="yes", drawn="1000 -700 900 500")
    assert painted.status_code == 200
    typed = {"from_x": "2 m", "to_x": "2500", "left_y": "-30 cm", "right_y": "300"}
    assert _post(page, job, "paint", **typed).status_code == 200
    wanted, kept = page.head(job).plan.wishes.areas
    assert (wanted.wanted, wanted.from_x_mm, wanted.right_y_mm) == (True, 1000, -200)
    assert (kept.wanted, kept.from_x_mm, kept.left_y_mm) == (False, 2000, -300)
    gone = {"op": "remove", "collection": "wishes.areas", "item_id": wanted.id}
    assert page.command(job, "planner", page.head(job).number, gone).status_code == 200
    assert page.head(job).plan.wishes.areas == (kept,)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ({"drawn": "1 2 3"}, "Four numbers"),
        ({"from_x": "wide", "to_x": "2", "left_y": "0", "right_y": "1"}, "wide"),
        ({"from_x": "3000", "to_x": "2000", "left_y": "0", "right_y": "1"}, "front end"),
    ],
)
def test_an_area_that_is_none_is_refused(page: Page, data: dict[str, str], words: str) -> None:
    job = page.new("heron")
    answer = _post(page, job, "paint", **data)
    assert answer.status_code == 422
    assert words in answer.text
    assert page.head(job).plan.wishes.areas == ()


def test_what_counts_is_slid_and_refused_beyond_ten(page: Page) -> None:
    job = page.new("heron")
    assert _post(page, job, "weigh", fuel="9", cost="0").status_code == 200
    weights = page.head(job).plan.wishes.weights
    assert (weights.fuel, weights.cost, weights.heat) == (9, 0, 5)
    refused = _post(page, job, "weigh", fuel="11")
    assert refused.status_code == 422
    assert "at most 10" in refused.text


def test_wishes_are_chosen_on_the_page(page: Page) -> None:
    job = page.new("heron")
    shown = page.get(f"/jobs/{job}/planner").text
    for words in ("Stays as it is", "Paint where it is wanted", "storage kept", "The layout now"):
        assert words in shown
    assert _post(page, job, "weigh", hours="9", cost="8").status_code == 200  # nobody looked so yet
    assert "Not looked for yet" in page.get(f"/jobs/{job}/planner/found").text
    answer = page.set(job, "planner", page.head(job).number, **{"wishes.side": "right"})
    assert answer.status_code == 200
    assert "Wanted is the heater on the right" in answer.text
    wish = {"op": "add", "collection": "wishes.parts", "item": {"id": "w", "part": "bed"}}
    assert page.command(job, "planner", page.head(job).number, wish).status_code == 200
    pin = {"op": "pin", "pinned": ["spot", "pipes"]}
    assert page.command(job, "planner", page.head(job).number, pin).status_code == 200
    assert page.head(job).plan.wishes.pinned == ("spot", "pipes")


@pytest.mark.slow
def test_layouts_are_found_compared_taken_and_undone(page: Page) -> None:
    job = _van(page)
    found = _post(page, job, "find", effort="quick")
    letters = re.findall(r'id="layout-card-([A-E])"', found.text)
    assert letters[:2] == ["A", "B"]
    assert "Tightest:" in found.text
    assert page.get(f"/jobs/{job}/planner/found").text.count('class="layout-card"') == len(letters)
    side = page.get(f"/jobs/{job}/planner/compare?letters=AB").text
    assert side.count("<figure>") == 2
    assert "better" in side or "worse" in side
    assert "other" in side  # what the others have, faintly
    for wrong in ("", "A", "AZ"):
        assert page.get(f"/jobs/{job}/planner/compare?letters={wrong}").status_code == 422
    command = re.search(r"hx-vals='([^']*take-layout[^']*)'", found.response.text)
    assert command is not None
    state = page.app.state.works.known(
        "layouts", page.head(job).plan, page.app.state.catalogue, {"effort": "quick"}
    )
    first = state.found.layouts[0].command.model_dump(mode="json", exclude_none=True)
    before = page.head(job)
    assert page.command(job, "planner", before.number, first).status_code == 200
    after = page.head(job)
    assert after.number == before.number + 1
    assert after.plan.spot is not None
    assert after.plan.pipes.exhaust is not None
    assert after.plan.fuel.line is not None
    again = page.get(f"/jobs/{job}/planner/found").text
    assert 'id="layout-card-B"' in again  # they stay, to take another in its place
    undone = page.post(f"/jobs/{job}/planner/undo", {"base": str(after.number)})
    assert undone.status_code == 200
    assert page.head(job).plan == before.plan


def test_what_is_over_is_cleared_as_one_edit(page: Page) -> None:
    job = page.new("heron")
    for address, value in (("fuel.line.pump.forwards", False), ("fuel.line.pump.rubber", False)):
        command = set_value(address, value).model_dump(mode="json")
        page.command(job, "fuel", page.head(job).number, command)
    shown = _post(page, job, "clear").text
    assert "none after 2 changes" in shown
    some = _post(page, job, "effect", ids=["1"]).text
    assert re.search(r"<strong>[1-9]\d* over</strong>\s*after 1 change", some)
    refused = _post(page, job, "take-changes")
    assert refused.status_code == 422
    before = page.head(job).number
    assert _post(page, job, "take-changes", ids=["1", "2"]).status_code == 200
    assert page.head(job).number == before + 1
    assert page.head(job).plan.fuel.line.pump.forwards
    stale = _post(page, job, "take-changes", ids=["1"])
    assert stale.status_code == 422
    assert page.head(job).number == before + 1
