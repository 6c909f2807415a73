"""Reading weather files: EPW, and plain CSV of time and temperature."""

from __future__ import annotations

import csv
import math
from collections.abc import Iterator
from datetime import datetime

from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.climate import Climate, climate_of

MAX_WEATHER_BYTES = 2_300_000
MAX_ROWS = 100_000
EPW_HEADER_LINES = 8
EPW_MONTH, EPW_DRY_BULB = 1, 6
COLDEST_C, HOTTEST_C = -80.0, 70.0
LEAST_ROWS = 24


def read_weather(raw: bytes, file_name: str) -> Climate:
    """Return the climate in a weather file's bytes; EPW is known by its first word, anything else is read as CSV.

    Raises:
        PlanUnreadable: too large, not text, or a line that cannot be read; names the line.
    """
    if len(raw) > MAX_WEATHER_BYTES:
        raise PlanUnreadable(
            f"The file is {len(raw) / 1e6:.1f} MB; weather files up to {MAX_WEATHER_BYTES / 1e6:.1f} MB are read."
        )
    text = raw.decode("utf-8-sig", errors="replace")
    if "\x00" in text or "\ufffd" in text[:2000]:
        raise PlanUnreadable("The file is not text.")
    epw = text.startswith("LOCATION,")
    rows = _epw_rows(text) if epw else _csv_rows(text)
    counts: dict[tuple[int, int], int] = {}
    total = 0
    for month, celsius in rows:
        total += 1
        if total > MAX_ROWS:
            raise PlanUnreadable(
                "The file has too many lines.", ((f"line {MAX_ROWS}", f"up to {MAX_ROWS} readings are taken"),)
            )
        key = (month, math.floor(celsius))
        counts[key] = counts.get(key, 0) + 1
    if total < LEAST_ROWS:
        raise PlanUnreadable(f"The file holds {total} readings; at least a day of hourly ones is wanted.")
    name = "".join(c for c in file_name if c.isprintable()).strip()[:80] or "weather file"
    return climate_of(name, "EPW file" if epw else "CSV file", counts)


def _epw_rows(text: str) -> Iterator[tuple[int, float]]:
    for number, row in enumerate(_lines(text, ","), 1):
        if number <= EPW_HEADER_LINES or not row:
            continue
        if len(row) <= EPW_DRY_BULB:
            raise _bad(number, f"has {len(row)} columns; the dry-bulb temperature is the seventh")
        yield _month(row[EPW_MONTH], number), _celsius(row[EPW_DRY_BULB], number)


def _csv_rows(text: str) -> Iterator[tuple[int, float]]:
    first = text.split("\n", 1)[0]
    delimiter = ";" if first.count(";") > first.count(",") else ","
    for number, row in enumerate(_lines(text, delimiter), 1):
        if not row or (number == 1 and not _is_time(row[0])):
            continue  # a heading
        if len(row) < 2:
            raise _bad(number, "has one column; time and temperature are wanted")
        if not _is_time(row[0]):
            raise _bad(number, f"'{row[0][:30]}' is not a time such as 2025-01-31T18:00")
        yield datetime.fromisoformat(row[0].strip()).month, _celsius(row[1], number)


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
    if not text.strip().isdigit() or not 1 <= int(text) <= 12:
        raise _bad(number, f"'{text[:20]}' is not a month")
    return int(text)


def _celsius(text: str, number: int) -> float:
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        raise _bad(number, f"'{text[:20]}' is not a temperature") from None
    if not COLDEST_C <= value < HOTTEST_C:
        raise _bad(number, f"{text[:20]} °C is not believable; {COLDEST_C:g} to {HOTTEST_C:g} are taken")
    return value


def _bad(number: int, problem: str) -> PlanUnreadable:
    return PlanUnreadable("The weather file cannot be read.", ((f"line {number}", problem),))
