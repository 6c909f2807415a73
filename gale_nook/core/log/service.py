"""What is due, by hours, litres, starts, soot and the calendar, since it was done last."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.catalogue.log import ServiceKind
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.log.entries import LogEntry, day_number
from gale_nook.core.log.night_model import conditions, night_table
from gale_nook.core.log.season import NightLine

DAYS_A_MONTH = 30.4
DAYS_A_YEAR = 365
SOON_SHARE = 0.9  # of an interval, from which it is due soon
SOON_DAYS = 21


@dataclass(frozen=True)
class Run:
    """What the heater has run since a day.

    Attributes:
        soot: idle hours, as the soot index counts them.
    """

    hours_h: float
    litres: float
    starts: float
    soot: float


@dataclass(frozen=True)
class Due:
    """Something to be serviced.

    Attributes:
        state: "due", "soon" or "later".
        share: of its interval that has passed; the largest of its measures.
        why: what counts, in words, with its figures.
        last: day that it was done; empty for never.
        in_days: until the calendar asks for it; None where only running counts.
    """

    kind: ServiceKind
    state: str
    share: float
    why: str
    last: str
    in_days: int | None


@dataclass(frozen=True)
class Runs:
    """What the heater ran night by night, (n,) each; day counts as `day_number` does."""

    day: Any
    hours_h: Any
    litres: Any
    starts: Any
    soot: Any

    def since(self, day: int) -> Run:
        """Return what ran after a day."""
        later = self.day > day
        sums = (each[later].sum() for each in (self.hours_h, self.litres, self.starts, self.soot))
        return Run(*(float(each) for each in sums))


def runs(job: Job, nights: Sequence[NightLine]) -> Runs:
    """Return what some nights ran."""
    entries = [night.entry for night in nights]
    day = np.array([day_number(entry.on) for entry in entries], int)
    hours = np.array([entry.hours_h or 0.0 for entry in entries], float)
    used = [night.used.litres or 0.0 if night.counts else 0.0 for night in nights]
    table = night_table(job)
    if table is None or not entries:
        return Runs(day, hours, np.array(used, float), 0.0 * hours, 0.0 * hours)
    at = conditions(table, entries, job.plan.heat.sleepers)
    starts, idle = (
        np.interp(at.difference_k, table.differences_k, each) * hours
        for each in (table.starts_h, table.idle_h)
    )
    soot = idle * job.catalogue.log.soot_per_idle_h
    return Runs(day, hours, np.array(used, float), starts, soot)


def services(job: Job) -> tuple[ServiceKind, ...]:
    """Return what is serviced, with the intervals of the heater's sheet where it has its own."""
    sheet = heater_sheet(job)
    own = {each.id: each for each in sheet.service} if sheet is not None else {}
    results = []
    for kind in job.catalogue.log.services:
        asked = own.get(kind.id)
        told = asked.model_dump(exclude={"id"}) if asked is not None else {}
        results.append(kind.model_copy(update=told) if told else kind)
    return tuple(results)


def due_list(
    job: Job, entries: Sequence[LogEntry], nights: Sequence[NightLine], today: str
) -> tuple[Due, ...]:
    """Return everything that is serviced, what is due first.

    Args:
        nights: those among the entries, as the season has them.
    """
    now, ran = day_number(today), runs(job, nights)
    begun = min((entry.on for entry in entries), default=today)
    last_night = max((night.entry.on for night in nights), default="")
    found = []
    for kind in services(job):
        done = [entry.on for entry in entries if kind.id in entry.done]
        done += [last_night] if kind.nights_count and last_night else []
        last = max(done, default="")
        since = day_number(last) if last else day_number(begun) - 1
        found.append(_due(kind, ran.since(since), last, since, today, now))
    return tuple(sorted(found, key=lambda each: (-each.share, each.kind.id)))


def _due(kind: ServiceKind, ran: Run, last: str, since: int, today: str, now: int) -> Due:
    measures: list[tuple[float, str]] = []
    if kind.after_h is not None:
        share = 0.0 if last else ran.hours_h / kind.after_h
        measures.append((share, f"{ran.hours_h:.0f} of {kind.after_h:.0f} h"))
    for every, value, unit in (
        (kind.every_h, ran.hours_h, "h"),
        (kind.every_l, ran.litres, "l"),
        (kind.every_starts, ran.starts, "starts"),
        (kind.after_soot_h, ran.soot, "idle hours"),
    ):
        if every is not None:
            measures.append((value / every, f"{value:.0f} of {every:.0f} {unit}"))
    in_days = _calendar(kind, since, now, today)
    if in_days is not None:
        whole = kind.months * DAYS_A_MONTH if kind.months is not None else float(DAYS_A_YEAR)
        share = 1.0 - in_days / whole
        words = f"in {in_days} days" if in_days >= 0 else f"{-in_days} days late"
        measures.append((share, words))
    share, why = max(measures, default=(0.0, ""))
    soon = share >= SOON_SHARE or (in_days is not None and in_days <= SOON_DAYS and share > 0.5)
    state = "due" if share >= 1 else "soon" if soon else "later"
    return Due(kind, state, share, why, last, in_days)


def _calendar(kind: ServiceKind, since: int, now: int, today: str) -> int | None:
    """Days until the calendar asks for it; None where it does not."""
    if kind.months is not None:
        return round(since + kind.months * DAYS_A_MONTH) - now
    if kind.before_month is None:
        return None
    year = int(today[:4])
    wanted = day_number(f"{year:04d}-{kind.before_month:02d}-01")
    if since >= wanted - DAYS_A_YEAR // 2 or now > wanted + DAYS_A_YEAR // 4:
        wanted = day_number(f"{year + 1:04d}-{kind.before_month:02d}-01")
    return wanted - now
