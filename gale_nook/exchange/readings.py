"""Readings of a running heater: the open line protocol, one JSON object a line, and CSV.

    {"at_s": 12.0, "phase": "glow", "voltage_v": 12.7, "current_a": 9.8, "outlet_c": 11.5}

Only `at_s`, the seconds from switching on, has to be there. `phase` is one of the words of
`base/phases.py`, or `off`; a device that knows none leaves it out. A CSV file has the same names in
its first line.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.phases import PHASES
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.firing.heater import Told
from gale_nook.core.firing.phases_told import with_phases
from gale_nook.core.firing.trace import Row, trace_of
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.firing import Trace
from gale_nook.core.text import delimiter_of, read_text

MAX_READINGS_BYTES = 6_000_000
MAX_LINES = 50_000
COLUMNS = ("at_s", "phase", "voltage_v", "current_a", "pump_hz", "outlet_c", "smoke")
OFF = "off"
UNREADABLE = "The readings cannot be read."


class Line(BaseModel):
    """One line; names that are not known are left alone."""

    model_config = ConfigDict(frozen=True, extra="ignore", allow_inf_nan=False)

    at_s: Annotated[float, Field(ge=0, le=86_400)]
    phase: Annotated[str, Field(max_length=20)] | None = None
    voltage_v: Annotated[float, Field(ge=0, le=60)] | None = None
    current_a: Annotated[float, Field(ge=0, le=100)] | None = None
    pump_hz: Annotated[float, Field(ge=0, le=40)] | None = None
    outlet_c: Annotated[float, Field(ge=-60, le=900)] | None = None
    smoke: Literal["not-looked", "none", "some", "thick"] | None = None
    code: Annotated[str, Field(max_length=20)] | None = None
    co_ppm: Annotated[float, Field(ge=0, le=10_000)] | None = None


@dataclass(frozen=True)
class ReadRun:
    """A run of readings.

    Attributes:
        code: that was shown last; empty for none, None where no line tells it.
        co_ppm: the most that was read; None where it was not, or there was none.
        ended: it has run, and is off.
    """

    trace: Trace
    code: str | None
    co_ppm: float | None
    ended: bool


def line_of(told: Told) -> str:
    """Return what the simulated heater tells as a line of the protocol."""
    return json.dumps(
        {
            "at_s": round(told.at_s, 2),
            "phase": told.phase,
            "voltage_v": round(told.voltage_v, 3),
            "current_a": round(told.current_a, 3),
            "pump_hz": round(told.pump_hz, 3),
            "outlet_c": round(told.outlet_c, 2),
            "room_c": round(told.room_c, 2),
            "smoke": told.smoke,
            "co_ppm": round(told.co_ppm, 1),
            "code": told.code,
        }
    )


def read_run(raw: bytes, name: str, sheet: HeaterSheet) -> ReadRun:
    """Return the run in a file of readings: lines of JSON, or CSV.

    Raises:
        PlanUnreadable: too large, not text, no reading in it, or a line that cannot be read; names
            the line.
    """
    text = read_text(raw, MAX_READINGS_BYTES, "files of readings")
    rows = text.lstrip().startswith("{")
    lines = list(_json_lines(text) if rows else _csv_lines(text))
    running = list(_first_run(lines))
    if not running:
        raise PlanUnreadable("There is no reading in the file.")
    read = [_row(number, line) for number, line in running]
    for (number, _), before, after in zip(running[1:], read, read[1:], strict=False):
        if after.at_s < before.at_s:
            raise _bad(
                number, f"{after.at_s:g} s comes after {before.at_s:g} s: the times have to rise"
            )
    codes = [line.code for _, line in lines if line.code is not None]
    co_ppm = max((line.co_ppm or 0.0 for _, line in lines), default=0.0)
    return ReadRun(
        trace_of(with_phases(read, sheet), _source(name)),
        next((code for code in reversed(codes) if code), "" if codes else None),
        co_ppm or None,
        any(line.phase == OFF and number > running[0][0] for number, line in lines),
    )


def _first_run(lines: Iterable[tuple[int, Line]]) -> Iterator[tuple[int, Line]]:
    """The lines of the first run; how it ended belongs to its after-run."""
    last = ""
    for number, line in lines:
        if line.phase != OFF:
            yield number, line
            last = line.phase or ""
        elif last:
            if last == "after-run":
                yield number, line.model_copy(update={"phase": last})
            return


def check_lines(lines: Sequence[str]) -> None:
    """Raise PlanUnreadable, naming the line, where there is none, or one is no reading."""
    if not lines:
        raise PlanUnreadable("There is no line of readings in this.")
    for number, line in _json_lines("\n".join(lines)):
        if line.phase != OFF:
            _row(number, line)


def is_reading(line: bytes) -> bool:
    """Return whether a line of a device is one of the protocol: the first may be cut off, and a
    device may say other things.
    """
    try:
        check_lines([line.decode("utf-8", "replace").strip()])
    except PlanUnreadable:
        return False
    return bool(line.strip())


def _source(name: str) -> str:
    kept = "".join(c for c in name if c.isprintable()).strip()[:60]
    return kept or "a file of readings"


def _row(number: int, line: Line) -> Row:
    phase = line.phase or None
    if phase is not None and phase not in PHASES:
        raise _bad(number, f"'{phase}' is no phase; {', '.join((*PHASES, OFF))} are read here")
    return Row(
        line.at_s,
        phase,
        line.voltage_v,
        line.current_a,
        line.pump_hz,
        line.outlet_c,
        line.smoke or "not-looked",
    )


def _json_lines(text: str) -> Iterator[tuple[int, Line]]:
    for number, each in _counted(text.splitlines()):
        if not each.strip():
            continue
        try:
            value = json.loads(each)
        except (json.JSONDecodeError, RecursionError, ValueError):
            raise _bad(number, "is not a line of JSON") from None
        if not isinstance(value, dict):
            raise _bad(number, "is JSON, but not one reading in { }")
        yield number, _line(number, value)


def _csv_lines(text: str) -> Iterator[tuple[int, Line]]:
    delimiter = delimiter_of(text.partition("\n")[0])
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    heading: list[str] = []
    try:
        for number, row in _counted(reader):
            if not any(cell.strip() for cell in row):
                continue
            if not heading:
                heading = [cell.strip() for cell in row]
                if "at_s" not in heading:
                    raise _bad(number, f"has to name the columns: {', '.join(COLUMNS)}")
                continue
            yield number, _line(number, _cells(heading, row, delimiter))
    except csv.Error as error:
        raise _bad(reader.line_num, str(error)) from None


def _cells(heading: list[str], row: list[str], delimiter: str) -> dict[str, Any]:
    """The cells of a row by their column; an empty one was not read."""
    results: dict[str, Any] = {}
    for name, cell in zip(heading, row, strict=False):
        text = cell.strip()
        if text and name != "phase" and delimiter != ",":
            text = text.replace(",", ".")
        results[name] = text or None
    return results


def _counted(rows: Iterable[Any]) -> Iterator[tuple[int, Any]]:
    for number, row in enumerate(rows, 1):
        if number > MAX_LINES:
            raise _bad(number, f"is too many; up to {MAX_LINES} lines are taken")
        yield number, row


def _line(number: int, value: Mapping[str, Any]) -> Line:
    try:
        return Line.model_validate(value)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise _bad(number, f"{place}: {problem}") from None


def _bad(number: int, problem: str) -> PlanUnreadable:
    return PlanUnreadable(UNREADABLE, ((f"line {number}", problem),))


def write_csv(trace: Trace) -> str:
    """Return a trace as CSV that `read_run` takes."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for number, at_s in enumerate(trace.at_s):
        columns = (trace.phase, trace.voltage_v, trace.current_a, trace.pump_hz, trace.outlet_c)
        cells = ["" if column[number] is None else column[number] for column in columns]
        writer.writerow([at_s, *cells, trace.smoke[number]])
    return out.getvalue()
