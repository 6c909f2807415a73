"""Weather files: read, or refused with the line."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.errors import PlanUnreadable
from gale_nook.exchange.weather import read_lows, read_weather

EPW_HEAD = "LOCATION,Skerry,-,-,made up,0,0,0,0,0\n" + "DESIGN CONDITIONS,0\n" * 7


def _epw(rows: int = 48, bad: str | None = None) -> bytes:
    lines = [
        f"2025,{1 + i % 12},1,{1 + i % 24},60,flags,{-5 + i % 10}.4,1,2,3" for i in range(rows)
    ]
    if bad is not None:
        lines[5] = bad
    return (EPW_HEAD + "\n".join(lines)).encode()


def test_epw_is_counted_by_month_and_degree() -> None:
    """48 rows, every month four times; January's are the rows 0, 12, 24 and 36: −5.4, −3.4, −1.4
    and 1.4, rounded down.
    """
    climate = read_weather(_epw(), "skerry.epw")
    assert climate.source == "EPW file"
    assert sum(hours for _, _, hours in climate.bins()) == 48
    january = {celsius: hours for month, celsius, hours in climate.bins() if month == 1 and hours}
    assert january == {-6: 1, -4: 1, -2: 1, 1: 1}


def test_below_zero_is_rounded_down() -> None:
    rows = "".join(f"2025-01-{1 + h // 24:02}T{h % 24:02}:00,-0.2\n" for h in range(24))
    assert [(m, c, h) for m, c, h in read_weather(rows.encode(), "x.csv").bins()] == [(1, -1, 24)]


@pytest.mark.parametrize("sign", [",", ";"])
def test_csv_with_a_heading_and_a_decimal_comma(sign: str) -> None:
    value = "3,5" if sign == ";" else "3.5"
    rows = f"time{sign}temperature\n" + "".join(
        f"2025-11-03 {h:02}:00{sign}{value}\n" for h in range(24)
    )
    climate = read_weather(rows.encode(), "mine.csv")
    assert (climate.name, climate.source, list(climate.bins())) == (
        "mine.csv",
        "CSV file",
        [(11, 3, 24)],
    )


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (_epw(bad="2025,13,1,1,60,f,1.0"), "line 14.*'13' is not a month"),
        (_epw(bad="2025,1,1"), "line 14.*3 columns"),
        (_epw(bad="2025,1,1,1,60,f,warm"), "line 14.*'warm' is not a temperature"),
        (_epw(bad="2025,1,1,1,60,f,99.9"), "line 14.*not believable"),
        (_epw(bad="2025,1,1,1,60,f,nan"), "line 14.*not believable"),
        (_epw(rows=3), "holds 3 readings"),
        (b"time,temp\n2025-01-01T00:00,1\nyesterday,2\n", "line 3.*'yesterday' is not a time"),
        (b"2025-01-01T00:00\n", "line 1.*one column"),
        (b"\x00\x01", "not text"),
        (b"x" * 2_400_000, "weather files up to 2.3 MB"),
        (
            (EPW_HEAD + "2025,1,1,1,60,f,1.0\n" * 100_001).encode(),
            "too many lines|weather files up to",
        ),
        (b"", "holds 0 readings"),
    ],
)
def test_what_cannot_be_read_names_its_line(raw: bytes, said: str) -> None:
    with pytest.raises(PlanUnreadable, match=said):
        read_weather(raw, "x")


@given(st.binary(max_size=300) | st.text(max_size=200).map(str.encode))
def test_any_file_is_read_or_refused(raw: bytes) -> None:
    for text in (raw, EPW_HEAD.encode() + raw):
        try:
            read_weather(text, "x")
        except PlanUnreadable:
            continue


def test_lows_are_of_the_night_that_begins_in_the_evening() -> None:
    rows = ["time;c", "2026-01-02 12:00;-20", "2026-01-02 18:00;-1", "2026-01-03 06:00;-7,5"]
    rows += ["2026-01-03 10:00;-30", "2026-01-03 19:00;2"]
    assert read_lows("\n".join(rows).encode()) == {"2026-01-02": -7.5, "2026-01-03": 2.0}


@pytest.mark.parametrize(
    ("raw", "said"),
    [(b"", "no reading of a night"), (b"2026-01-02T20:00,cold\n", "line 1"), (b"\x00\x01", "text")],
)
def test_no_lows_are_told_with_the_line(raw: bytes, said: str) -> None:
    with pytest.raises(PlanUnreadable, match=said):
        read_lows(raw)


@given(st.binary(max_size=200) | st.text(max_size=200).map(str.encode))
def test_any_file_has_lows_or_is_refused(raw: bytes) -> None:
    with suppress(PlanUnreadable):
        assert read_lows(raw)
