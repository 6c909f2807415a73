"""Customers' links: what they show and nothing else, remarks, choices, agreements."""

from __future__ import annotations

import re

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from gale_nook.core.apply import apply
from gale_nook.core.book.commands import taking_book
from gale_nook.core.build.agreed import PARTS, changed_since, prints_of
from gale_nook.core.build.handover import handover
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heater.commands import ChooseHeater, PutSheet
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.planner.search import find_layouts
from gale_nook.demo.load import demo_book, demo_plan
from gale_nook.store import customers as store
from gale_nook.worker.works import WorkState
from tests.vans import small_van
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def _link(page: Page, job: int, *shows: str, customer: str = "Cy Marlow", days: str = "30") -> str:
    form = {"customer": customer, "days": days, "shows": list(shows or ("drawing", "verdicts"))}
    told = page.post(f"/jobs/{job}/customer/link", form)
    assert told.status_code == 200, told.text
    found = re.search(r'id="customer-link"[^>]*>http://127.0.0.1(/c/[\w-]+)<', told.text)
    assert found is not None
    return found[1]


def test_a_link_shows_what_was_ticked_and_nothing_else(page: Page) -> None:
    job = page.new("heron")
    shown = page.get(_link(page, job, "drawing")).text
    assert shown.count('<figure class="shown-board">') == 2
    assert "checks clear" not in shown
    assert "parts cost" not in shown
    assert "How it is used" not in shown
    assert "Cy Marlow" in shown
    other = _link(page, job, "verdicts", "price", "handover")
    told = page.get(other).text
    assert "shown-board" not in told
    assert re.search(r"\d+ checks clear, \d+ tight, 0 over, 1 accepted, 0 to measure", told)
    assert re.search(r"parts cost about\s*<strong>\S+ \d+", told)
    assert "Burning it clean" in page.get(f"{other}/handover").text


def test_a_link_leads_to_nothing_else(page: Page) -> None:
    """No grip, no form of the workshop, no address of the job is on it."""
    job = page.new("heron")
    link = _link(page, job, "drawing", "verdicts")
    shown = page.get(link).text
    assert "/jobs/" not in shown
    assert 'class="grip"' not in shown
    assert page.get(f"{link}/handover").status_code == 404
    assert page.post(f"{link}/choose", {"letter": "A"}).status_code == 404


def test_links_end_by_their_date_and_by_hand(page: Page) -> None:
    job = page.new("heron")
    one, other = _link(page, job), _link(page, job)
    with Session(page.app.state.engine) as db, db.begin():
        last = db.scalar(text("SELECT max(id) FROM customer_links"))
        ended = text("UPDATE customer_links SET ends_at = now() - interval '1 s' WHERE id = :id")
        db.execute(ended, {"id": last})
    assert page.get(other).status_code == 404
    assert page.get(one).status_code == 200
    page.post(f"/jobs/{job}/customer/revoke", {"number": str(last - 1)})
    assert page.get(one).status_code == 404
    assert page.post(f"{one}/remark", {"text": "x"}).status_code == 404
    assert page.post(f"{one}/agree", {"number": "1", "name": "x"}).status_code == 404


@pytest.mark.parametrize("token", ["x", "0" * 43, "%00", "..%2f..", "a" * 100, "a" * 101])
def test_no_other_token_leads_anywhere(token: str, page: Page) -> None:
    assert page.get(f"/c/{token}").status_code in {404, 422}


def test_a_link_of_one_job_reaches_no_other(page: Page) -> None:
    """Another job's links and remarks are not ended or answered by its address."""
    mine, theirs = page.new("heron"), page.new("wren")
    link = _link(page, mine)
    page.post(f"{link}/remark", {"part": "fuel", "text": "Is it loud?", "name": "Cy"})
    with Session(page.app.state.engine) as db:
        number = db.scalar(text("SELECT max(id) FROM customer_links"))
        remark = db.scalar(text("SELECT max(id) FROM remarks"))
    page.post(f"/jobs/{theirs}/customer/revoke", {"number": str(number)})
    page.post(f"/jobs/{theirs}/customer/answer", {"number": str(remark), "answer": "No"})
    assert page.get(link).status_code == 200
    assert "The workshop:" not in page.get(link).text
    assert "Is it loud?" not in page.get(f"/jobs/{theirs}/customer").text


def test_remarks_are_read_and_answered(page: Page) -> None:
    job = page.new("heron")
    link = _link(page, job)
    words = "<script>alert(1)</script> quiet\u202e please"
    told = page.post(f"{link}/remark", {"part": "fuel", "text": words, "name": "Cy"}).text
    assert "Your remark is with the workshop" in told
    assert "<script>alert" not in told
    assert "\u202e" not in told
    desk = page.get(f"/jobs/{job}/customer").text
    number = re.search(r'name="number" value="(\d+)"', desk)
    assert number is not None
    page.post(f"/jobs/{job}/customer/answer", {"number": number[1], "answer": "On rubber, yes."})
    assert "On rubber, yes." in page.get(link).text
    odd = page.post(f"{link}/remark", {"part": "../x", "text": "hm"})
    assert "<strong>anything else</strong>" in odd.text
    for bad in ({"text": ""}, {"text": "x" * 1001}, {"text": "x", "name": "n" * 61}):
        assert page.post(f"{link}/remark", bad).status_code == 422


@pytest.mark.parametrize(
    "form",
    [
        {"customer": "", "days": "30", "shows": ["drawing"]},
        {"customer": "Cy", "days": "0", "shows": ["drawing"]},
        {"customer": "Cy", "days": "181", "shows": ["drawing"]},
        {"customer": "Cy", "days": "soon", "shows": ["drawing"]},
        {"customer": "Cy", "days": "30", "shows": []},
        {"customer": "Cy", "days": "30", "shows": ["everything"]},
        {"customer": "Cy", "days": "30", "shows": ["layouts"]},  # none were found
    ],
)
def test_bad_links_are_refused(form: dict[str, object], page: Page) -> None:
    job = page.new("blank")
    assert page.post(f"/jobs/{job}/customer/link", form).status_code == 422
    with Session(page.app.state.engine) as db:
        assert store.links(db, job) == []


# --- agreeing ---


def test_an_agreement_is_to_one_edit_and_opens_again_with_what_changed(page: Page) -> None:
    job = page.new("heron")
    link = _link(page, job)
    told = page.post(f"{link}/agree", {"number": "1", "name": "Cy Marlow"}).text
    assert "Cy Marlow agreed on" in told
    assert "I agree to what" not in told
    assert "agreed by Cy Marlow" in page.get(f"/jobs/{job}/history").text
    assert "Nothing of it was changed" in page.get(f"/jobs/{job}/customer").text
    page.set(job, "heat", 1, heat__altitude_m="1900")
    desk = page.get(f"/jobs/{job}/customer").text
    assert "<strong>Open again</strong>, changed since then: how warm it gets." in desk
    again = page.get(link).text
    assert "Changed since then: how warm it gets" in again
    assert "I agree to what" in again


def test_nobody_agrees_to_what_was_changed_while_reading(page: Page) -> None:
    job = page.new("heron")
    link = _link(page, job)
    page.set(job, "heat", 1, heat__altitude_m="1900")
    late = page.post(f"{link}/agree", {"number": "1", "name": "Cy"})
    assert late.status_code == 422
    assert "changed it just now" in late.text
    assert "Nobody has agreed" in page.get(f"/jobs/{job}/customer").text
    assert page.post(f"{link}/agree", {"number": "2", "name": " "}).status_code == 422


@pytest.mark.parametrize("part", [*PARTS])
def test_every_part_opens_again_by_itself(part: str) -> None:
    """A part is all that the plan has of it, and no other part."""
    heron, other = demo_plan("heron"), demo_plan("quarto")
    changed = heron.model_copy(update={f: getattr(other, f) for f in PARTS[part][1]})
    assert changed_since(prints_of(heron), changed) == (PARTS[part][0],)
    assert changed_since(prints_of(heron), heron) == ()


def test_what_people_agree_to_is_the_whole_layout() -> None:
    """Nothing of a plan that is built is left out of what is agreed to."""
    left_out = set(Plan.model_fields) - {field for _, fields in PARTS.values() for field in fields}
    built = {"vehicle", "heat", "heater", "spot", "pipes", "fuel", "air", "coolant", "power"}
    assert not left_out & built


# --- choosing a layout ---


def test_a_layout_is_offered_chosen_and_taken(
    page: Page, catalogue: Catalogue, monkeypatch: pytest.MonkeyPatch
) -> None:
    plan = small_van(3)
    found = find_layouts(Job(plan, catalogue), "quick", most=1)
    job = page.new("blank")
    with Session(page.app.state.engine) as db, db.begin():
        db.execute(
            text("UPDATE revisions SET plan = :plan WHERE job_id = :job"),
            {"plan": plan.model_dump_json(), "job": job},
        )
    state = WorkState("k", "done", "", found=found)
    monkeypatch.setattr(page.app.state.works, "known", lambda *_: state, raising=False)
    link = _link(page, job, "layouts")
    shown = page.get(link).text
    assert "I want layout A" in shown
    assert page.post(f"{link}/choose", {"letter": "Z"}).status_code == 422
    assert "Layout A, your choice" in page.post(f"{link}/choose", {"letter": "A"}).text
    desk = page.get(f"/jobs/{job}/customer").text
    number = re.search(r'customer/take" hx-swap="none" hx-vals=\'\{"number": (\d+)', desk)
    assert number is not None
    taken = page.post(f"/jobs/{job}/customer/take", {"number": number[1], "base": "1"})
    assert taken.status_code == 204
    assert page.head(job).plan.spot == found.layouts[0].command.spot


def test_no_layout_is_taken_that_nobody_chose(page: Page) -> None:
    job = page.new("heron")
    _link(page, job)
    assert page.post(f"/jobs/{job}/customer/take", {"number": "1", "base": "1"}).status_code == 422


# --- handover ---


def test_the_handover_tells_what_counts_in_this_job(page: Page, catalogue: Catalogue) -> None:
    heron, quarto = (Job(demo_plan(name), catalogue) for name in ("heron", "quarto"))
    words = {
        name: " ".join(point for section in handover(job) for point in section.points)
        for name, job in (("heron", heron), ("quarto", quarto))
    }
    assert "coolant's level" in words["quarto"]
    assert "coolant's level" not in words["heron"]
    assert "outlet that stays open" in words["heron"]
    for told in words.values():
        assert "everybody out at once" in told
        assert "blows on for some minutes" in told
    shown = page.get(f"/jobs/{page.new('heron')}/handover").text
    assert "manual, which comes first" in shown


def test_every_section_says_something_in_every_job(any_demo: Plan, catalogue: Catalogue) -> None:
    sections = handover(Job(any_demo, catalogue))
    ids = ["start", "stop", "burn-off", "alarm", "service", "never"]
    assert [each.id for each in sections] == ids
    assert all(each.points for each in sections)


def test_a_heater_that_can_be_chosen_opens_no_agreement(catalogue: Catalogue) -> None:
    """One that was chosen does, when its sheet says something else."""
    plan, book = demo_plan("heron"), demo_book()
    taken = apply(plan, taking_book(book, 1, None, plan, catalogue), catalogue)
    assert changed_since(prints_of(plan), taken) == ()
    sheet = taken.heater.own_sheets[0]
    chosen = apply(taken, ChooseHeater(sheet=sheet.id), catalogue)
    assert changed_since(prints_of(plan), chosen) == (PARTS["heater"][0],)
    louder = PutSheet(sheet=sheet.model_copy(update={"noise_db": 60}))
    assert changed_since(prints_of(chosen), apply(chosen, louder, catalogue)) == (
        PARTS["heater"][0],
    )
