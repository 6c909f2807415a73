"""Readings as they come: a recorder sends them, the page shows them, they are kept or dropped."""

from __future__ import annotations

import json
import re

import pytest
from sqlalchemy import update

from gale_nook.core.firing.model import SIMULATED
from gale_nook.exchange.readings import line_of
from gale_nook.store.live_runs import MOST_LINES
from gale_nook.store.tables import LiveLines
from tests.core.firing.fired import fired
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def _lines(*fields: tuple[float, float]) -> str:
    return "\n".join(json.dumps({"at_s": at_s, "voltage_v": volts}) for at_s, volts in fields)


def _live(page: Page, job: int) -> str:
    return page.get(f"/jobs/{job}/firing/live").text


def test_lines_are_shown_as_they_come_and_kept_by_one_edit(page: Page) -> None:
    job = page.new("heron")
    assert _live(page, job).strip() == ""
    assert (
        page.post(f"/jobs/{job}/firing/live/begin", {"source": "bench logger"}).status_code == 204
    )
    assert "Nothing has come yet" in _live(page, job)
    told = [line_of(each) for each in fired("heron", "thin-cable")[1]]
    half = len(told) // 2
    for some in (told[:half], told[half:]):
        sent = page.post(f"/jobs/{job}/firing/live/lines", {"lines": "\n".join(some)})
        assert sent.status_code == 204
        text = _live(page, job)
        assert "As it comes: bench logger" in text
        assert "strip-trace" in text
    assert "Outside so far: look here first" in text
    assert "It has run, and is off" in text
    assert page.head(job).number == 1  # nothing is changed by looking
    kept = page.post(f"/jobs/{job}/firing/live/keep", {"base": "1"})
    assert "Where to look first" in kept.text
    firing = page.head(job).plan.firing
    assert firing.trace.source == "bench logger"
    assert firing.code == "low voltage"
    assert _live(page, job).strip() == ""


def test_a_phase_says_what_is_within_and_what_is_outside(page: Page) -> None:
    job = page.new("heron")
    page.post(f"/jobs/{job}/firing/live/begin", {"source": "x"})
    low = json.dumps({"at_s": 20, "phase": "glow", "voltage_v": 10.2, "pump_hz": 0})
    page.post(f"/jobs/{job}/firing/live/lines", {"lines": low})
    text = _live(page, job)
    assert re.search(r'class="over"[^>]*>\s*Voltage <strong>10.2 V</strong>', text)
    assert re.search(r"<li>\s*Ticks <strong>0 /s</strong>\s*<small>within", text)


def test_a_watched_simulation_is_shown_little_by_little(page: Page) -> None:
    job = page.new("heron")
    page.post(f"/jobs/{job}/firing/simulate", {"base": "1", "fault": "", "watch": "true"})
    assert page.head(job).number == 1
    assert "Nothing has come yet" in _live(page, job)
    with page.app.state.engine.begin() as db:
        everything = db.execute(
            LiveLines.__table__.select().where(LiveLines.job_id == job).order_by(LiveLines.id)
        ).all()
        shown = [row.shown_at for row in everything]
        assert shown == sorted(shown)
        assert 10 < (shown[-1] - shown[0]).total_seconds() < 90
        half = everything[len(everything) // 2]
        db.execute(
            update(LiveLines)
            .where(LiveLines.job_id == job, LiveLines.id <= half.id)
            .values(shown_at=shown[0].replace(year=2020))
        )
    text = _live(page, job)
    assert "sixty times as fast" in text
    assert "It has run" not in text
    page.post(f"/jobs/{job}/firing/live/keep", {"base": "1"})
    assert page.head(job).plan.firing.trace.source == SIMULATED
    assert page.head(job).plan.firing.readings[-1].began_s is None  # only what was shown is kept


def test_a_run_is_dropped_and_another_begun_in_its_place(page: Page) -> None:
    job = page.new("heron")
    for source in ("one", "two"):
        page.post(f"/jobs/{job}/firing/live/begin", {"source": source})
        page.post(f"/jobs/{job}/firing/live/lines", {"lines": _lines((1, 12.9))})
    assert "As it comes: two" in _live(page, job)
    page.post(f"/jobs/{job}/firing/live/drop", {"base": "1"})
    assert _live(page, job).strip() == ""
    assert page.head(job).plan.firing.trace is None


@pytest.mark.parametrize(
    ("lines", "said"),
    [
        ("", "no line of readings"),
        ("hello", "line 1"),
        (_lines((1, 12.0), (2, 900.0)), "line 2"),
        ('{"at_s": 1, "phase": "dancing"}', "is no phase"),
    ],
)
def test_bad_lines_are_refused_whole(page: Page, lines: str, said: str) -> None:
    job = page.new("heron")
    page.post(f"/jobs/{job}/firing/live/begin", {"source": "x"})
    answer = page.post(f"/jobs/{job}/firing/live/lines", {"lines": lines})
    assert answer.status_code == 422
    assert said in answer.text
    assert "Nothing has come yet" in _live(page, job)


def test_what_cannot_be_is_told(page: Page) -> None:
    job = page.new("heron")
    sent = page.post(f"/jobs/{job}/firing/live/lines", {"lines": _lines((1, 12.9))})
    assert "begin one first" in sent.text
    assert "no readings to keep" in page.post(f"/jobs/{job}/firing/live/keep", {"base": "1"}).text
    blank = page.new("blank")
    assert "heater is chosen" in page.post(f"/jobs/{blank}/firing/live/begin").text
    page.post(f"/jobs/{job}/firing/live/begin", {"source": SIMULATED})
    assert SIMULATED not in _live(page, job)  # nobody but the button is called that
    page.post(f"/jobs/{job}/firing/live/lines", {"lines": _lines((5, 12.9))})
    page.post(f"/jobs/{job}/firing/live/lines", {"lines": _lines((2, 12.9))})
    assert "times have to rise" in _live(page, job)


def test_a_run_is_bounded(page: Page) -> None:
    job = page.new("heron")
    page.post(f"/jobs/{job}/firing/live/begin", {"source": "x"})
    page.post(f"/jobs/{job}/firing/live/lines", {"lines": _lines((1, 12.9))})
    with page.app.state.engine.begin() as db:
        db.execute(update(LiveLines).where(LiveLines.job_id == job).values(count=MOST_LINES))
    full = page.post(f"/jobs/{job}/firing/live/lines", {"lines": _lines((2, 12.9))})
    assert full.status_code == 422
    assert "50000 lines" in full.text
