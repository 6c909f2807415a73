"""The days of the work as a calendar file (RFC 5545), in the user's own local time."""

from __future__ import annotations

import datetime
from collections.abc import Sequence

from icalendar import Calendar, Event

from gale_nook.core.build.days import WorkDay
from gale_nook.core.errors import BadInput

BEGINS_AT = datetime.time(8, 0)


def work_calendar(job: str, days: Sequence[WorkDay], begins_on: str) -> bytes:
    """Return one event a day, one day after another.

    Args:
        job: what it is called.
        begins_on: the first day, as 2026-11-30.

    Raises:
        BadInput: no such day, or nothing left to do.
    """
    try:
        first = datetime.date.fromisoformat(begins_on)
    except ValueError:
        raise BadInput(
            "date", begins_on, "Say on which day it begins, written as 2026-11-30."
        ) from None
    if not days:
        raise BadInput("days", None, "There is nothing left to do.")
    calendar = Calendar()
    calendar.add("prodid", "-//Gale Nook//Build//EN")
    calendar.add("version", "2.0")
    stamp = datetime.datetime.combine(first, BEGINS_AT, tzinfo=datetime.UTC)
    for day in days:
        on = first + datetime.timedelta(days=day.number - 1)
        begins = datetime.datetime.combine(on, BEGINS_AT)
        lasts = datetime.timedelta(minutes=round(day.minutes[1] + day.wait_min))
        event = Event()
        event.add("uid", f"{job}-{begins_on}-{day.number}@gale-nook".replace(" ", "-"))
        event.add("dtstamp", stamp)
        event.add("dtstart", begins)
        event.add("dtend", min(begins + lasts, begins + datetime.timedelta(hours=14)))
        event.add("summary", f"{job}: day {day.number}, {day.cards[0].group}")
        titles = "\n".join(f"- {card.step.title}" for card in day.cards)
        after = f"\nEnds there: {day.ends_with}." if day.ends_with else ""
        event.add("description", f"{titles}{after}")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
