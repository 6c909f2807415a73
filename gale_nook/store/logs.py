"""The log of a job: its entries, each with every version that it has had."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from gale_nook.core.errors import BadInput
from gale_nook.core.log.entries import LogEntry
from gale_nook.store.jobs import locked_job
from gale_nook.store.tables import LogRow

MOST_VERSIONS = 20_000


def stamp(session: Session, job_id: int) -> int:
    """Return a number that changes with every change of a job's log."""
    return session.scalar(select(func.max(LogRow.id)).where(LogRow.job_id == job_id)) or 0


def logged_jobs(session: Session, most: int) -> list[int]:
    """Return the jobs that have a log, by their ids."""
    wanted = select(LogRow.job_id).distinct().order_by(LogRow.job_id).limit(most)
    return list(session.scalars(wanted))


def count(session: Session, job_id: int) -> int:
    """Return how many versions of entries a job has."""
    return session.scalar(select(func.count()).where(LogRow.job_id == job_id)) or 0


def entries(session: Session, job_id: int) -> tuple[LogEntry, ...]:
    """Return the entries of a job as they stand, the oldest first."""
    newest = (
        select(LogRow.entry_id, LogRow.entry)
        .where(LogRow.job_id == job_id)
        .ext(distinct_on(LogRow.entry_id))
        .order_by(LogRow.entry_id, LogRow.id.desc())
    )
    found = [
        LogEntry.model_validate_json(entry)
        for _, entry in session.execute(newest)
        if entry is not None
    ]
    return tuple(sorted(found, key=lambda each: (each.on, each.id)))


@dataclass(frozen=True, slots=True)
class Version:
    """An entry as it stood once.

    Attributes:
        made_by: who wrote it so; empty where nobody signs in.
        entry: None where it was taken out.
    """

    made_at: datetime
    made_by: str
    entry: LogEntry | None


def versions(session: Session, job_id: int, entry_id: str) -> list[Version]:
    """Return every version of an entry, the newest first."""
    rows = session.execute(
        select(LogRow.made_at, LogRow.made_by, LogRow.entry)
        .where(LogRow.job_id == job_id, LogRow.entry_id == entry_id)
        .order_by(LogRow.id.desc())
    )
    return [
        Version(at, by, LogEntry.model_validate_json(text) if text is not None else None)
        for at, by, text in rows
    ]


def write(session: Session, job_id: int, new: Iterable[LogEntry], by: str = "") -> None:
    """Write entries down; of one that was there, the old version is kept. Raises NoSuchJob, and
    BadInput where there are too many.

    Args:
        by: who writes them.
    """
    locked_job(session, job_id)
    rows = [
        LogRow(job_id=job_id, entry_id=e.id, entry=e.model_dump_json(), made_by=by) for e in new
    ]
    if count(session, job_id) + len(rows) > MOST_VERSIONS:
        raise BadInput("log", None, f"A log keeps up to {MOST_VERSIONS} versions of entries.")
    session.add_all(rows)
    session.flush()


def take_out(session: Session, job_id: int, entry_id: str, by: str = "") -> None:
    """Take an entry out; what it was is kept."""
    locked_job(session, job_id)
    session.add(LogRow(job_id=job_id, entry_id=entry_id, entry=None, made_by=by))
