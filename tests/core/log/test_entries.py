"""What an entry says of the fuel that was used, and what is due when."""

from __future__ import annotations

import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.job import Job
from gale_nook.core.log.entries import LogEntry, day_number
from gale_nook.core.log.measured import dip_table, log_vessel, used
from gale_nook.core.log.season import season
from gale_nook.core.log.service import due_list, services
from gale_nook.demo.load import demo_log, demo_plan

BOOK = load_catalogue()
WREN = Job(demo_plan("wren"), BOOK)  # with a tank of its own
HERON = Job(demo_plan("heron"), BOOK)


@given(st.dates(datetime.date(1900, 1, 1), datetime.date(2099, 12, 31)))
def test_days_are_counted_as_the_calendar_does(day: datetime.date) -> None:
    assert day_number(day.isoformat()) == day.toordinal()


@pytest.mark.parametrize("on", ["2026-02-29", "2026-13-01", "2026-00-10", "1899-01-01", "soon"])
def test_no_day_is_no_entry(on: str) -> None:
    with pytest.raises(ValidationError):
        LogEntry(id="a", on=on)


def _night(**told: object) -> LogEntry:
    known = {"hours_h": 9.0, "lowest_c": -3.0, **told}
    return LogEntry.model_validate({"id": "a", "on": "2026-01-02", **known})


def test_a_stick_before_and_after_are_the_tanks_litres_between() -> None:
    vessel = log_vessel(WREN)
    assert vessel is not None
    found = used(WREN, _night(stick_before_mm=90, stick_after_mm=60))
    exact = vessel.litres(vessel.bottom_mm + 90) - vessel.litres(vessel.bottom_mm + 60)
    assert found.litres == pytest.approx(exact, rel=0.01)
    assert not found.doubt
    filled = used(WREN, _night(stick_before_mm=60, stick_after_mm=90, refilled_l=5))
    assert filled.litres == pytest.approx(5 - exact, rel=0.01)
    slope = used(WREN, _night(stick_before_mm=90, stick_after_mm=60, slope=True))
    assert slope.sd_l > 2 * found.sd_l


@pytest.mark.parametrize(
    ("told", "said"),
    [
        ({"stick_before_mm": 60, "stick_after_mm": 120}, "filled in between"),
        ({"stick_before_mm": 60}, "Neither litres nor both dips"),
        ({"stick_before_mm": 1900, "stick_after_mm": 60}, "deeper than the tank"),
        ({"litres": 2, "hours_h": None}, "Hours and the lowest"),
    ],
)
def test_what_cannot_count_says_why(told: dict[str, object], said: str) -> None:
    assert said in used(WREN, _night(**told)).doubt


def test_driving_on_the_same_tank_does_not_count() -> None:
    assert "driven on the same tank" in used(HERON, _night(litres=2, drove=True)).doubt
    assert not used(WREN, _night(litres=2, drove=True)).doubt  # a tank of its own


def test_the_dip_table_rises() -> None:
    table = dip_table(WREN)
    assert table is not None
    assert (table[1][1:] >= table[1][:-1]).all()


def _due(entries: tuple[LogEntry, ...], today: str) -> dict[str, str]:
    nights = season(HERON, entries).nights
    return {each.kind.id: each.state for each in due_list(HERON, entries, nights, today)}


def test_service_is_due_by_hours_litres_and_the_calendar_and_done_again() -> None:
    entries = demo_log("heron")
    spring = _due(entries, "2026-03-20")
    assert spring["filter"] == "later"  # done in the winter
    assert spring["monthly-run"] == "later"  # it ran a few days ago
    autumn = _due(entries, "2026-10-20")
    assert autumn["monthly-run"] == "due"
    assert autumn["winter-diesel"] == "soon"
    assert autumn["alarm-test"] == "due"
    done = LogEntry(id="s", kind="service", on="2026-10-20", done=("alarm-test", "winter-diesel"))
    after = _due((*entries, done), "2026-10-21")
    assert after["alarm-test"] == "later"
    assert after["winter-diesel"] == "later"


def test_clamps_are_due_once_after_the_first_hours() -> None:
    nights = tuple(
        LogEntry(id=f"n{n}", on=f"2026-01-{n:02d}", hours_h=8, lowest_c=0, litres=1) for n in (1, 2)
    )
    assert _due(nights[:1], "2026-01-03")["clamps"] == "later"
    assert _due(nights, "2026-01-03")["clamps"] == "due"
    done = LogEntry(id="s", kind="service", on="2026-01-03", done=("clamps",))
    assert _due((*nights, done), "2027-01-03")["clamps"] == "later"


def test_an_empty_log_has_a_season_without_nights() -> None:
    for name in ("blank", "heron"):
        found = season(Job(demo_plan(name), BOOK), ())
        assert found.nights == ()
        assert found.fit is None


def test_the_sheets_own_intervals_come_before_the_usual_ones() -> None:
    usual = {kind.id: kind for kind in BOOK.log.services}
    own = {kind.id: kind for kind in services(HERON)}
    assert own["burner"].every_h == 1200 != usual["burner"].every_h
    assert own["filter"] == usual["filter"]
