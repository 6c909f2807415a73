"""A log as CSV: one entry a line, in and out; and what is due as a calendar file."""

from __future__ import annotations

import csv
import datetime
import io
from collections.abc import Sequence
from typing import Any

from icalendar import Calendar, Event
from pydantic import ValidationError

from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.log.service import Due
from gale_nook.core.plan.document import places_of
from gale_nook.core.text import read_text
from gale_nook.exchange.csv_rows import rows_by_name, text_cell

MAX_LOG_BYTES = 2_000_000
MOST_ENTRIES = 5_000
COLUMNS = tuple(LogEntry.model_fields)
YES = {"yes", "true", "1", "x", "y"}
TICKS = ("drove", "slope", "smoke", "smell", "noise")
UNREADABLE = "The log cannot be read."


def read_log(raw: bytes) -> tuple[LogEntry, ...]:
    """Return the entries in a CSV file's bytes. Its first line names the columns; only `on` has to
    be there, others that are not known are left alone.

    Raises:
        PlanUnreadable: too large, not text, or a line that cannot be read; names the line.
    """
    text = read_text(raw, MAX_LOG_BYTES, "logs")
    found: dict[str, LogEntry] = {}
    for number, delimiter, cells in rows_by_name(text, ("on",), _bad):
        entry = _entry(cells, number, delimiter)
        found[entry.id] = entry
        if len(found) > MOST_ENTRIES:
            raise _bad(number, f"is too many; up to {MOST_ENTRIES} entries are taken")
    if not found:
        raise PlanUnreadable("There is no entry in the file.")
    return tuple(found.values())


def _entry(cells: dict[str, str], number: int, delimiter: str) -> LogEntry:
    data: dict[str, Any] = {"id": cells.get("id") or f"entry-{number}"}
    for name in COLUMNS:
        text = cells.get(name, "")
        if not text or name == "id":
            continue
        if name in TICKS:
            data[name] = text.casefold() in YES
        elif name == "done":
            data[name] = tuple(text.split())
        elif delimiter != "," and name not in {"on", "note", "code", "cause", "kind", "photo"}:
            data[name] = text.replace(",", ".")
        else:
            data[name] = text
    try:
        return LogEntry.model_validate(data)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise _bad(number, f"{place}: {problem}") from None


def _bad(number: int, problem: str) -> PlanUnreadable:
    return PlanUnreadable(UNREADABLE, ((f"line {number}", problem),))


def write_log(entries: Sequence[LogEntry]) -> str:
    """Return entries as CSV that `read_log` takes."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for entry in entries:
        writer.writerow([_cell(name, getattr(entry, name)) for name in COLUMNS])
    return out.getvalue()


def _cell(name: str, value: Any) -> str:
    if value is None or value is False:
        return ""
    if value is True:
        return "yes"
    if name == "done":
        return " ".join(value)
    if isinstance(value, float):
        return f"{value:g}"
    return text_cell(str(value))


def service_calendar(job: str, due: Sequence[Due], today: str) -> bytes:
    """Return what is due as a calendar file (RFC 5545): a day each, of what the calendar asks for
    and of what is due already.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Gale Nook//Service//EN")
    calendar.add("version", "2.0")
    first = datetime.date.fromisoformat(today)
    stamp = datetime.datetime.combine(first, datetime.time(8), tzinfo=datetime.UTC)
    for each in due:
        if each.in_days is None and each.state == "later":
            continue
        on = first + datetime.timedelta(days=max(each.in_days or 0, 0))
        event = Event()
        event.add("uid", f"{job}-{each.kind.id}-{on}@gale-nook".replace(" ", "-"))
        event.add("dtstamp", stamp)
        event.add("dtstart", on)
        event.add("dtend", on + datetime.timedelta(days=1))
        event.add("summary", f"{job}: {each.kind.label}")
        event.add("description", f"{each.kind.text}\n{each.why}")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
