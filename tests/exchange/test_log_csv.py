"""Logs as CSV, in and out; what is due as a calendar file."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.job import Job
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.log.season import season
from gale_nook.core.log.service import due_list
from gale_nook.demo.load import demo_log, demo_plan
from gale_nook.exchange.csv_rows import FORMULA_BEGINS
from gale_nook.exchange.job_file import job_file, read_job_file, read_job_log
from gale_nook.exchange.log_csv import read_log, service_calendar, write_log


def test_a_log_comes_back_as_it_was_written() -> None:
    entries = demo_log("heron")
    assert read_log(write_log(entries).encode()) == entries


def test_a_spreadsheets_csv_is_read_too() -> None:
    raw = b"on;litres;hours_h;lowest_c;smoke;comment\r\n2026-01-02;2,5;9;-3,5;yes;cold\r\n"
    (entry,) = read_log(raw)
    assert (entry.litres, entry.hours_h, entry.lowest_c, entry.smoke) == (2.5, 9, -3.5, True)


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "no entry"),
        (b"litres\n2\n", "has to name the columns: on"),
        (b"on,litres\n2026-01-02,lots\n", "line 2"),
        (b"on,litres\n2026-02-30,2\n", "line 2"),
        (b"on,lowest_c\n2026-01-02,-300\n", "line 2"),
        (b"on,photo\n2026-01-02,../../etc\n", "line 2"),
        (b"on\n" + b"2026-01-02\n" * 5_002, "too many"),
        (b"\x00\x01", "not text"),
    ],
)
def test_bad_files_are_refused_with_the_line(raw: bytes, said: str) -> None:
    with pytest.raises(PlanUnreadable) as refused:
        read_log(raw)
    places = " ".join(f"{place}: {problem}" for place, problem in refused.value.places)
    assert said in f"{refused.value.summary} {places}"


@given(st.binary(max_size=300) | st.text(max_size=300).map(str.encode))
def test_any_file_is_read_or_refused(raw: bytes) -> None:
    with suppress(PlanUnreadable):
        assert read_log(raw)


@pytest.mark.parametrize("begins", FORMULA_BEGINS[:4])
def test_no_cell_is_a_formula(begins: str) -> None:
    """And it comes back as it was."""
    entry = LogEntry(id="a", on="2026-01-02", note=f"{begins}cmd()")
    told = write_log((entry,))
    assert f",{begins}cmd" not in told
    assert read_log(told.encode())[0].note == entry.note


def test_a_log_goes_along_with_its_job() -> None:
    entries = demo_log("heron")
    raw = job_file(demo_plan("heron"), {}, entries)
    assert read_job_file(raw)[0] == demo_plan("heron")
    assert read_job_log(raw) == entries
    assert read_job_log(job_file(demo_plan("heron"), {})) == ()


def test_what_is_due_is_a_calendar() -> None:
    job, entries = Job(demo_plan("heron"), load_catalogue()), demo_log("heron")
    due = due_list(job, entries, season(job, entries).nights, "2026-10-20")
    calendar = Calendar.from_ical(service_calendar("Heron", due, "2026-10-20"))
    told = {str(event["summary"]): event["dtstart"].dt.isoformat() for event in calendar.events}
    assert told["Heron: winter diesel in the tank"] == "2026-11-01"
    assert told["Heron: alarms' test buttons"] == "2026-10-20"
