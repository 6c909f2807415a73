"""Readings of a heater as they come, until they are kept with the job or dropped."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from gale_nook.core.errors import BadInput
from gale_nook.store.jobs import locked_job
from gale_nook.store.tables import LiveLines, LiveRun

MOST_LINES = 50_000
KEPT_FOR = timedelta(days=14)  # then nobody will take them over any more
SILENT_AFTER = timedelta(seconds=15)


@dataclass(frozen=True, slots=True)
class Shown:
    """A run as far as it is to be seen by now.

    Attributes:
        lines: of the protocol, joined.
        silent: nothing has come for a while, and nothing is to come.
        ahead: more is known already, and will be shown when its time has come.
    """

    source: str
    begun_at: datetime
    lines: str
    silent: bool
    ahead: bool


@dataclass(frozen=True, slots=True)
class Batch:
    """Some lines, and how long after now they are shown."""

    lines: str
    count: int
    after_s: float = 0.0


def begin(session: Session, job_id: int, source: str) -> None:
    """Begin a run of a job; one before it is dropped. Raises NoSuchJob."""
    locked_job(session, job_id)
    session.execute(delete(LiveRun).where(LiveRun.begun_at < func.now() - KEPT_FOR))
    drop(session, job_id)
    session.add(LiveRun(job_id=job_id, source=source))
    session.flush()


def add(session: Session, job_id: int, batches: Iterable[Batch]) -> None:
    """Add lines to the run of a job.

    Raises:
        BadInput: no run was begun, or it has too many lines already.
    """
    run = session.get(LiveRun, job_id, with_for_update=True)
    if run is None:
        raise BadInput("readings", None, "No run of readings is open; begin one first.")
    now = _now(session)
    kept = session.scalar(select(func.sum(LiveLines.count)).where(LiveLines.job_id == job_id)) or 0
    for batch in batches:
        kept += batch.count
        if kept > MOST_LINES:
            raise BadInput("readings", kept, f"Up to {MOST_LINES} lines of a run are taken.")
        shown_at = now + timedelta(seconds=batch.after_s)
        session.add(
            LiveLines(job_id=job_id, shown_at=shown_at, count=batch.count, lines=batch.lines)
        )


def shown(session: Session, job_id: int, *, whole: bool = False) -> Shown | None:
    """Return the run of a job as far as its time has come, or the whole of it; None where there is
    none.
    """
    run = session.get(LiveRun, job_id)
    if run is None:
        return None
    now = _now(session)
    rows = session.execute(
        select(LiveLines.shown_at, LiveLines.lines)
        .where(LiveLines.job_id == job_id)
        .order_by(LiveLines.id)
    ).all()
    seen = [lines for at, lines in rows if whole or at <= now]
    last = max((at for at, _ in rows), default=run.begun_at)
    ahead = len(seen) < len(rows)
    return Shown(run.source, run.begun_at, "".join(seen), last < now - SILENT_AFTER, ahead)


def drop(session: Session, job_id: int) -> None:
    """Forget the run of a job."""
    session.execute(delete(LiveRun).where(LiveRun.job_id == job_id))


def _now(session: Session) -> datetime:
    result: datetime = session.execute(select(func.clock_timestamp())).scalar_one()
    return result
