"""The measuring round on the web: one thing at a time, kept, put off, not there, to its end."""

from __future__ import annotations

import re

import pytest

from tests.web.conftest import Page

pytestmark = pytest.mark.store


def _begun(page: Page, name: str) -> int:
    made = page.post("/jobs", {"name": name, "start": "body:mid-van"})
    return int(re.findall(r"/jobs/(\d+)/", made.headers["hx-redirect"])[0])


def _form(text: str) -> dict[str, str]:
    return dict(re.findall(r'name="((?:set:[^"]+|base|at|later))" value="([^"]*)"', text))


def test_a_round_ends_when_more_would_change_nothing(page: Page) -> None:
    job = _begun(page, "Round to its end")
    url, seen, made_of = f"/jobs/{job}/vehicle/round", [], False
    for _ in range(40):
        shown = page.get(url)
        if "Nothing more to measure." in shown.text:
            break
        form = _form(shown.text)
        made_of = made_of or '<option value="plastic" selected>' in shown.text
        seen.append(form["at"])
        answer = page.post(url, {**form, "did": "measured"})
        assert answer.status_code == 303
    assert len(seen) == len(set(seen)) > 8
    assert seen[-1] == "look-below"
    assert made_of
    plan = page.head(job).plan
    assert {area.where for area in plan.vehicle.looked_at} == {"inside", "below"}
    left = {a for a in plan.vehicle.pencilled if ".fuel-tank." in a}
    assert left == set()  # what it is made of was asked, too


def test_what_is_typed_is_kept_and_a_slip_is_refused(page: Page) -> None:
    job = _begun(page, "Round with a slip")
    url = f"/jobs/{job}/vehicle/round"
    form = _form(page.get(url).text)
    assert form["at"] == "ground"
    wrong = page.post(url, {**form, "set:vehicle.shell.ground_z_mm": "low", "did": "measured"})
    assert wrong.status_code == 422
    assert "&#39;low&#39; cannot be read as a length" in wrong.text
    typed = {**form, "set:vehicle.shell.ground_z_mm": "-590", "did": "measured"}
    assert page.post(url, typed).status_code == 303
    assert page.head(job).plan.vehicle.shell.ground_z_mm == -590
    assert _form(page.get(url).text)["at"] != "ground"


def test_something_is_put_off_or_not_there(page: Page) -> None:
    job = _begun(page, "Round put off")
    url = f"/jobs/{job}/vehicle/round"
    form = _form(page.get(url).text)
    later = page.post(url, {**form, "did": "later"})
    after = page.get(later.headers["location"])
    assert _form(after.text)["at"] != form["at"]
    assert "1 put off" in after.text
    at = {"base": form["base"], "at": "wiring-loom", "did": "not-there"}
    assert page.post(url, at).status_code == 303
    assert "wiring-loom" not in {s.id for s in page.head(job).plan.vehicle.solids}


def test_the_paper_lists_what_the_phone_asks_for(page: Page) -> None:
    job = _begun(page, "Round on paper")
    paper = page.get(f"/jobs/{job}/vehicle/round?paper=yes").text
    for words in ("Outside the vehicle", "fuel tank", "its lower face", "decides"):
        assert words in paper


def test_a_job_at_a_glance_tells_its_worst_finding_and_its_next_step(page: Page) -> None:
    wren = page.get(f"/jobs/{page.new('wren')}/glance").text
    assert re.search(r"✕</span> ?\d+ over", wren)
    assert "Next: Clear what is over" in wren
    heron = page.get(f"/jobs/{page.new('heron')}/glance").text
    assert "nothing over" in heron
    assert "Next: Lay the fuel line" in heron
