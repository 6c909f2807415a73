"""Stock and prices in, the shopping list out, the days as a calendar."""

from __future__ import annotations

import csv
import io
from contextlib import suppress
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.build.cards import cards
from gale_nook.core.build.days import work_days
from gale_nook.core.build.lists import parts_list
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.job import Job
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.calendar import work_calendar
from gale_nook.exchange.csv_rows import FORMULA_BEGINS
from gale_nook.exchange.stock import read_stock, write_shopping

BOOK = load_catalogue()


def test_a_stock_list_is_read_by_id_or_name() -> None:
    raw = "Part;Have;Price;shelf\npipe clip;4;2,50;A3\ncable-2-5;12000;;B1\n".encode("utf-16")
    clip, cable = read_stock(raw, BOOK.parts)
    assert (clip.id, clip.have, clip.price) == ("pipe-clip", 4, 2.5)
    assert (cable.id, cable.have, cable.price) == ("cable-2-5", 12000, None)


def test_the_shopping_list_is_read_back_as_stock() -> None:
    lines = parts_list(Job(demo_plan("heron"), BOOK))
    back = read_stock(write_shopping(lines).encode(), BOOK.parts)
    assert [line.id for line in back] == [line.part for line in lines]


@pytest.mark.parametrize("begins", FORMULA_BEGINS[:5])
def test_no_part_of_the_shopping_list_is_a_formula(begins: str) -> None:
    lines = parts_list(Job(demo_plan("heron"), BOOK))
    odd = replace(lines[0], label=f"{begins}cmd()")
    row = next(csv.reader(io.StringIO(write_shopping((odd,)).split("\n", 1)[1])))
    assert not any(cell.startswith(FORMULA_BEGINS) for cell in row)


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "no part"),
        (b"name,amount\nx,1\n", "part, have"),
        (b"part,have\nunicorn,1\n", "line 2"),
        (b"part,have\npipe-clip,lots\n", "not a number"),
        (b"part,have\npipe-clip,-1\n", "between 0"),
        (b"part,have,price\npipe-clip,1,inf\n", "between 0"),
        (b"\x00", "not text"),
    ],
)
def test_bad_lists_are_refused_with_the_line(raw: bytes, said: str) -> None:
    with pytest.raises(PlanUnreadable) as refused:
        read_stock(raw, BOOK.parts)
    places = " ".join(f"{place}: {problem}" for place, problem in refused.value.places)
    assert said in f"{refused.value.summary} {places}"


@given(st.binary(max_size=200) | st.text(max_size=200).map(lambda t: ("part,have\n" + t).encode()))
def test_any_file_is_read_or_refused(raw: bytes) -> None:
    with suppress(PlanUnreadable):
        assert read_stock(raw, BOOK.parts)


def test_each_day_is_an_event_on_its_date() -> None:
    days = work_days(cards(Job(demo_plan("heron"), BOOK)), 7)
    calendar = Calendar.from_ical(work_calendar("Heron", days, "2026-12-30"))
    events = calendar.walk("VEVENT")
    assert [str(e["dtstart"].dt.date()) for e in events] == [
        f"2026-12-{29 + n}" if n < 3 else f"2027-01-0{n - 2}" for n in range(1, len(days) + 1)
    ]
    assert days[0].cards[0].step.title in events[0]["description"]
    assert len({str(event["uid"]) for event in events}) == len(events)
    for event in events:
        assert event["dtend"].dt > event["dtstart"].dt


@pytest.mark.parametrize("on", ["", "tomorrow", "2026-02-30"])
def test_a_calendar_needs_a_day_that_there_is(on: str) -> None:
    days = work_days(cards(Job(demo_plan("heron"), BOOK)), 7)
    with pytest.raises(BadInput, match="2026-11-30"):
        work_calendar("Heron", days, on)


def test_nothing_left_makes_no_calendar() -> None:
    with pytest.raises(BadInput, match="nothing left"):
        work_calendar("Heron", (), "2026-12-01")
