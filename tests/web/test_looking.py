"""Looking round a job: frames kept by job and station, the next finding wherever it is."""

from __future__ import annotations

import re

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Verdict
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.finding_cards import anchor_of
from gale_nook.web.looking import OPEN, Stepping, next_finding
from tests.web.conftest import Page

pytestmark = pytest.mark.store

FRAME = "900_-200_-50_700_300"


def _shown(text: str) -> str:
    return re.search(r'name="frame" value="([^"]*)"', text)[1]  # type: ignore[index]


def test_stations_of_the_work_open_close_and_the_survey_whole(page: Page) -> None:
    job = page.new("heron")
    for word, whole in (("vehicle", True), ("heat", True), ("spot", False), ("pipes", False)):
        assert (_shown(page.get(f"/jobs/{job}/{word}").text) == "whole") == whole, word
    blank = page.new("blank")
    assert _shown(page.get(f"/jobs/{blank}/spot").text) == "whole"


def test_a_frame_that_was_left_is_found_again_unless_another_is_asked_for(page: Page) -> None:
    job = page.new("heron")
    page.client.cookies.set("frame", FRAME, path=f"/jobs/{job}/pipes")
    assert _shown(page.get(f"/jobs/{job}/pipes").text) == FRAME
    assert _shown(page.get(f"/jobs/{job}/fuel").text) != FRAME
    assert _shown(page.get(f"/jobs/{job}/pipes?frame=whole").text) == "whole"
    assert f'data-shown="{FRAME}"' in page.get(f"/jobs/{job}/pipes/board").text
    page.client.cookies.set("frame", "drop table", path=f"/jobs/{job}/pipes")
    assert page.get(f"/jobs/{job}/pipes").status_code == 200


def test_an_edit_leaves_what_is_shown_where_it_was(page: Page) -> None:
    job = page.new("heron")
    before = _shown(page.get(f"/jobs/{job}/spot").text)
    done = page.post(
        f"/jobs/{job}/spot/set", {"base": "1", "frame": before, "set:spot.x_mm": "900"}
    )
    assert done.status_code == 200
    assert _shown(done.text) == before


def test_stepping_goes_through_every_open_finding_of_the_job_and_round(
    catalogue: Catalogue,
) -> None:
    done = check(demo_plan("wren"), catalogue)
    count = sum(finding.verdict in OPEN for finding in done.findings)
    seen: list[str] = []
    word, name = "vehicle", ""
    for _ in range(count):
        found = next_finding(done, word, Stepping(finding=name))
        assert found is not None
        word, name = found.station, anchor_of(found)
        seen.append(name)
    assert len(set(seen)) == count
    again = next_finding(done, word, Stepping(finding=name))
    assert again is not None
    assert anchor_of(again) == seen[0]
    back = next_finding(done, word, Stepping(finding=name, way="previous"))
    assert back is not None
    assert anchor_of(back) == seen[-2]


def test_a_count_leads_to_the_next_of_its_verdict(page: Page) -> None:
    job = page.new("wren")
    answer = page.client.get(f"/jobs/{job}/air/step?verdict=over", follow_redirects=False)
    assert answer.status_code == 303
    assert answer.headers["location"].startswith(f"/jobs/{job}/air?")
    shown = page.get(answer.headers["location"])
    name = re.search(r"finding=([a-z0-9-]+)", answer.headers["location"])[1]  # type: ignore[index]
    assert re.search(rf'id="about-{name}"[^>]* open>', shown.text)
    blank = page.new("blank")
    nothing = page.client.get(f"/jobs/{blank}/spot/step?verdict=over", follow_redirects=False)
    assert nothing.headers["location"] == f"/jobs/{blank}/spot"


def test_only_one_verdict_is_stepped_through_where_one_is_asked_for(catalogue: Catalogue) -> None:
    done = check(demo_plan("heron"), catalogue)
    found = next_finding(done, "vehicle", Stepping(verdict=Verdict.ACCEPTED))
    assert found is not None
    assert found.verdict is Verdict.ACCEPTED
