"""Reading weather files: EPW, and plain CSV of time and temperature."""

from __future__ import annotations

import csv
import math
import re
import unicodedata
from collections.abc import Iterator
from datetime import date, datetime, timedelta

from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.climate import Climate, climate_of
from gale_nook.core.text import delimiter_of, read_text

MAX_WEATHER_BYTES = 2_300_000
MAX_ROWS = 100_000
EPW_HEADER_LINES = 8
EPW_MONTH, EPW_DRY_BULB = 1, 6
COLDEST_C, HOTTEST_C = -80.0, 70.0
LEAST_ROWS = 24
NIGHT_FROM_H, NIGHT_TO_H = 18, 10
MONTHS = {written for month in range(1, 13) for written in (str(month), f"{month:02}")}
_DAY = re.compile(r"\s*(\d{1,2})\s*/\s*(\d{1,2})\s*(?:/\s*\d{4}\s*)?", re.ASCII)


def read_weather(raw: bytes, file_name: str) -> Climate:
    """Return the climate in a weather file's bytes; EPW is known by its first word, anything else
    is read as CSV.

    Raises:
        PlanUnreadable: too large, not text, or a line that cannot be read; names the line.
    """
    text = read_text(raw, MAX_WEATHER_BYTES, "weather files")
    epw = text.startswith("LOCATION,")
    rows = _epw_rows(text) if epw else _csv_rows(text)
    counts: dict[tuple[int, int], int] = {}
    total = 0
    for month, celsius in rows:
        total += 1
        if total > MAX_ROWS:
            raise PlanUnreadable(
                "The file has too many lines.",
                ((f"line {MAX_ROWS}", f"up to {MAX_ROWS} readings are taken"),),
            )
        key = (month, math.floor(celsius))
        counts[key] = counts.get(key, 0) + 1
    if epw:
        _refuse_cut_off(text, total)
    if total < LEAST_ROWS:
        raise PlanUnreadable(
            f"The file holds {total} readings; at least a day of hourly ones is wanted."
        )
    name = (
        "".join(
            c for c in file_name if c.isprintable() and unicodedata.category(c) not in {"Cs", "Co"}
        ).strip()[:80]
        or "weather file"
    )
    return climate_of(name, "EPW file" if epw else "CSV file", counts)


def _epw_rows(text: str) -> Iterator[tuple[int, float]]:
    for number, row in enumerate(_lines(text, ","), 1):
        if number <= EPW_HEADER_LINES or not row:
            continue
        if len(row) <= EPW_DRY_BULB:
            raise _bad(number, f"has {len(row)} columns; the dry-bulb temperature is the seventh")
        yield _month(row[EPW_MONTH], number), _celsius(row[EPW_DRY_BULB], number)


def _refuse_cut_off(text: str, total: int) -> None:
    """Refuse a file that holds fewer readings than its own header promises; without a promise,
    parts of days.
    """
    promised = _promised(text.split("\n", EPW_HEADER_LINES)[:EPW_HEADER_LINES])
    if (promised and total not in promised) or (not promised and total % 24):
        wanted = f"its header promises {min(promised)}" if promised else "whole days are wanted"
        raise PlanUnreadable(f"The file holds {total} readings; {wanted}. It seems to be cut off.")


def _promised(head: list[str]) -> set[int]:
    """Return the numbers of readings that a header's data period can mean: with and without a leap
    day.
    """
    row = next((line.split(",") for line in head if line.startswith("DATA PERIODS,1,")), [])
    results = [_DAY.fullmatch(field) for field in row[5:7]]
    if (
        len(results) < 2
        or results[0] is None
        or results[1] is None
        or row[2].strip() not in {"1", "2", "4", "6", "12"}
    ):
        return set()
    try:
        first, last = (date(2025, int(day[1]), int(day[2])) for day in results if day is not None)
    except ValueError:
        return set()
    days = (last - first).days + 1
    return {(days + leap) * 24 * int(row[2]) for leap in (0, 1)} if days > 0 else set()


def read_lows(raw: bytes) -> dict[str, float]:
    """Return the lowest temperature of each night in a CSV file of time and temperature, by the day
    of its evening; a night is from NIGHT_FROM_H to NIGHT_TO_H.

    Raises:
        PlanUnreadable: too large, not text, or a line that cannot be read; names the line.
    """
    text = read_text(raw, MAX_WEATHER_BYTES, "weather files")
    lows: dict[str, float] = {}
    for number, (at, celsius) in enumerate(_timed_rows(text), 1):
        if number > MAX_ROWS:
            raise _bad(number, f"is too many; up to {MAX_ROWS} readings are taken")
        if NIGHT_TO_H <= at.hour < NIGHT_FROM_H:
            continue
        evening = at.date() if at.hour >= NIGHT_FROM_H else at.date() - timedelta(days=1)
        day = evening.isoformat()
        lows[day] = min(celsius, lows.get(day, celsius))
    if not lows:
        raise PlanUnreadable("There is no reading of a night in the file.")
    return lows


def _csv_rows(text: str) -> Iterator[tuple[int, float]]:
    return ((at.month, celsius) for at, celsius in _timed_rows(text))


def _timed_rows(text: str) -> Iterator[tuple[datetime, float]]:
    for number, row in enumerate(_lines(text, delimiter_of(text.partition("\n")[0])), 1):
        if not row or (number == 1 and not _is_time(row[0])):
            continue  # a heading
        if len(row) < 2:
            raise _bad(number, "has one column; time and temperature are wanted")
        if not _is_time(row[0]):
            raise _bad(number, f"'{row[0][:30]}' is not a time such as 2025-01-31T18:00")
        yield datetime.fromisoformat(row[0].strip()), _celsius(row[1], number)


def _lines(text: str, delimiter: str) -> Iterator[list[str]]:
    reader = csv.reader(text.splitlines(), delimiter=delimiter)
    try:
        yield from reader
    except csv.Error as error:
        raise _bad(reader.line_num, str(error)) from None


def _is_time(text: str) -> bool:
    try:
        datetime.fromisoformat(text.strip())
    except ValueError:
        return False
    return True


def _month(text: str, number: int) -> int:
    if text.strip() not in MONTHS:
        raise _bad(number, f"'{text[:20]}' is not a month")
    return int(text)


def _celsius(text: str, number: int) -> float:
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        raise _bad(number, f"'{text[:20]}' is not a temperature") from None
    if not COLDEST_C <= value < HOTTEST_C:
        raise _bad(
            number, f"{text[:20]} °C is not believable; {COLDEST_C:g} to {HOTTEST_C:g} are taken"
        )
    return value


def _bad(number: int, problem: str) -> PlanUnreadable:
    return PlanUnreadable("The weather file cannot be read.", ((f"line {number}", problem),))
