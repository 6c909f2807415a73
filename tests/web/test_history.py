"""The edits of a job: read, compared, named, gone back to."""

from __future__ import annotations

import pytest
from sqlalchemy.orm import Session

from gale_nook.core.edits.differences import differences
from gale_nook.demo.load import demo_plan
from gale_nook.store import jobs
from gale_nook.store.history import MOST_LABELLED
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def _edited(page: Page, *altitudes: str) -> int:
    job = page.new("heron")
    for number, altitude in enumerate(altitudes, 1):
        assert page.set(job, "heat", number, heat__altitude_m=altitude).status_code == 200
    return job


def test_two_edits_are_compared_in_words(page: Page) -> None:
    job = _edited(page, "900", "1200")
    told = page.get(f"/jobs/{job}/history/compare?one=3&other=2").text
    assert "From edit 2 to edit 3" in told
    assert "<td>900.0 m</td><td>1200.0 m</td>" in told or "900" in told
    assert "Nothing differs" in page.get(f"/jobs/{job}/history/compare?one=2&other=2").text


def test_going_back_is_an_edit_that_can_be_undone(page: Page) -> None:
    job = _edited(page, "900", "1200")
    before = page.head(job).plan
    shown = page.post(f"/jobs/{job}/history/back", {"number": "2", "base": "3"}).text
    assert "Went back to edit 2" in shown
    assert page.head(job).number == 4
    assert page.head(job).plan.heat.altitude_m == 900
    page.post(f"/jobs/{job}/heat/undo", {"base": "4"})
    assert page.head(job).plan == before


def test_going_back_waits_for_nobody_elses_edit(page: Page) -> None:
    job = _edited(page, "900", "1200")
    late = page.post(f"/jobs/{job}/history/back", {"number": "1", "base": "2"})
    assert late.status_code == 409
    assert page.head(job).number == 3


def test_what_is_not_kept_is_said(page: Page) -> None:
    job = _edited(page, "900")
    for url, form in (
        ("back", {"number": "77", "base": "2"}),
        ("name", {"number": "77", "label": "x"}),
    ):
        said = page.post(f"/jobs/{job}/history/{url}", form)
        assert said.status_code == 422
        assert "not kept any more" in said.text
    assert page.get(f"/jobs/{job}/history/compare?one=1&other=77").status_code == 422
    assert page.get("/jobs/999999/history").status_code == 404


def test_a_named_edit_is_kept_for_good(page: Page, monkeypatch: pytest.MonkeyPatch) -> None:
    job = _edited(page, "900")
    page.post(f"/jobs/{job}/history/name", {"number": "2", "label": "approved by customer"})
    monkeypatch.setattr(jobs, "KEEP_REVISIONS", 3)
    for number in range(2, 9):
        page.set(job, "heat", number, heat__altitude_m=str(1000 + number))
    with Session(page.app.state.engine) as db:
        assert jobs.plan_at(db, job, 3) is None
        kept = jobs.plan_at(db, job, 2)
    assert kept is not None
    assert kept.heat.altitude_m == 900
    shown = page.get(f"/jobs/{job}/history").text
    assert "approved by customer" in shown.split("All, the newest first")[0]
    page.post(f"/jobs/{job}/history/name", {"number": "2", "label": ""})
    assert "approved by customer" not in page.get(f"/jobs/{job}/history").text


def test_not_everything_can_have_a_name(page: Page) -> None:
    job = page.new("blank")
    with Session(page.app.state.engine) as db, db.begin():
        row = jobs.locked_job(db, job)
        for number in range(MOST_LABELLED):
            plan = demo_plan("blank").model_copy(update={"note": str(number)})
            jobs.append(db, row, plan, "edit")
    for number in range(1, MOST_LABELLED + 1):
        assert (
            page.post(
                f"/jobs/{job}/history/name", {"number": str(number), "label": "n"}
            ).status_code
            == 200
        )
    more = page.post(f"/jobs/{job}/history/name", {"number": str(MOST_LABELLED + 1), "label": "n"})
    assert more.status_code == 422
    long = page.post(f"/jobs/{job}/history/name", {"number": "1", "label": "n" * 81})
    assert long.status_code == 422


def test_differences_of_plans_hide_nothing() -> None:
    """Every change is told, single values by value and whole things as one."""
    heron = demo_plan("heron")
    assert differences(heron, heron) == ()
    higher = heron.model_copy(update={"heat": heron.heat.model_copy(update={"altitude_m": 900.0})})
    (only,) = differences(heron, higher)
    assert (only.address, only.after) == ("heat.altitude_m", 900.0)
    solids = tuple(s for s in heron.vehicle.solids if s.id != "tank")
    less = heron.model_copy(update={"vehicle": heron.vehicle.model_copy(update={"solids": solids})})
    (gone,) = differences(heron, less)
    assert gone.address == "vehicle.solids.tank"
    assert gone.after is None
    told = differences(heron, demo_plan("wren"))
    assert {each.address.split(".")[0] for each in told} >= {"vehicle", "heat", "pipes", "name"}
