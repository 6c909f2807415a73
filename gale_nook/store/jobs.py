"""Jobs and their revisions: making, reading, listing, undo and redo."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import JSON, cast, delete, func, select
from sqlalchemy.orm import Session

from gale_nook.core.errors import GaleNookError
from gale_nook.core.plan.document import Plan, compact, kept_plan
from gale_nook.store.bounded import BoundedCache
from gale_nook.store.tables import JobRow, RevisionRow

KEEP_REVISIONS = 400
PAGE_SIZE = 30
MAX_JOB_ID = 2**31 - 1


class NoSuchJob(GaleNookError):
    """A job that is not, or no longer, there."""

    def __init__(self, job_id: int) -> None:
        super().__init__(f"There is no job {job_id}.")


class MovedOn(GaleNookError):
    """An undo or redo asked for on a revision that is no longer the one shown."""

    def __init__(self) -> None:
        super().__init__(
            "The job was changed elsewhere in the meantime. It is shown as it stands now; undo "
            "again if you mean that."
        )


@dataclass(frozen=True, slots=True)
class JobHead:
    """A job as it stands: its revision's number, its plan, and which ways it can go from there."""

    job_id: int
    number: int
    plan: Plan
    undo_summary: str | None
    redo_summary: str | None


@dataclass(frozen=True, slots=True)
class JobLine:
    """One line of the workshop's list."""

    id: int
    name: str
    vehicle: str
    note: str
    head: int
    changed_at: datetime

    @property
    def ask_to_delete(self) -> str:
        return (
            f"Delete {self.name} and all that was done on it for good? Export it first if in doubt."
        )


def is_named(session: Session, name: str) -> bool:
    """Return whether a job is called so."""
    return session.scalar(select(JobRow.id).where(JobRow.name == name).limit(1)) is not None


def plan_named(session: Session, name: str) -> Plan | None:
    """Return the plan of the job that is called so, as it stands; None where there is none."""
    job_id = session.scalar(select(JobRow.id).where(JobRow.name == name).limit(1))
    return head_of(session, job_id).plan if job_id is not None else None


def create_job(session: Session, plan: Plan, summary: str, by: str = "") -> int:
    """Add a job with its first revision; returns its id."""
    job = JobRow(name=plan.name, head=1, tip=1)
    session.add(job)
    session.flush()
    session.add(
        RevisionRow(
            job_id=job.id, number=1, parent=None, summary=summary, plan=compact(plan), made_by=by
        )
    )
    session.flush()
    return job.id


def list_jobs(session: Session, page: int = 1) -> tuple[list[JobLine], bool]:
    """Return one page of jobs, last changed first, and whether there are more."""
    told = cast(RevisionRow.plan, JSON)
    vehicle, note = told["vehicle"]["name"].as_string(), told["note"].as_string()
    shown = select(JobRow, vehicle, note).join(
        RevisionRow, (RevisionRow.job_id == JobRow.id) & (RevisionRow.number == JobRow.head)
    )
    ordered = shown.order_by(JobRow.changed_at.desc(), JobRow.id.desc())
    rows = session.execute(ordered.offset((page - 1) * PAGE_SIZE).limit(PAGE_SIZE + 1)).all()
    lines = [
        JobLine(job.id, job.name, vehicle, note, job.head, job.changed_at)
        for job, vehicle, note in rows
    ]
    return lines[:PAGE_SIZE], len(rows) > PAGE_SIZE


def job_ids(session: Session) -> list[int]:
    """Return every job's id, the oldest first."""
    return list(session.scalars(select(JobRow.id).order_by(JobRow.id)))


def delete_job(session: Session, job_id: int) -> None:
    """Take a job out with all its revisions; raises NoSuchJob."""
    session.delete(locked_job(session, job_id))
    session.flush()


def locked_job(session: Session, job_id: int) -> JobRow:
    """Return a job's row as it is now, held against other edits until the transaction ends."""
    job = None
    if 0 < job_id <= MAX_JOB_ID:
        # what this session read before may have been overtaken while it waited for the row
        locked = (
            select(JobRow)
            .where(JobRow.id == job_id)
            .with_for_update()
            .execution_options(populate_existing=True)
        )
        job = session.scalar(locked)
    if job is None:
        raise NoSuchJob(job_id)
    return job


def head_of(session: Session, job_id: int) -> JobHead:
    """Return a job as it stands; raises NoSuchJob."""
    job = session.get(JobRow, job_id) if 0 < job_id <= MAX_JOB_ID else None
    if job is None:
        raise NoSuchJob(job_id)
    revision = _revision(session, job_id, job.head)
    undo = (
        revision.summary
        if revision.parent is not None and _exists(session, job_id, revision.parent)
        else None
    )
    forward = _next(session, job)
    plan = _plan_of(revision.plan)
    return JobHead(job_id, job.head, plan, undo, forward.summary if forward is not None else None)


# a plan takes some ten times the bytes of its text
PLAN_SIZE_FACTOR = 10
_kept_plans: BoundedCache[str, Plan] = BoundedCache(40_000_000)


def _plan_of(text: str) -> Plan:
    """The plan that a revision's text stands for; plans never change, so it may be one and the
    same.
    """
    return _kept_plans.of(text, lambda: kept_plan(text), PLAN_SIZE_FACTOR * len(text))


def plan_at(session: Session, job_id: int, number: int) -> Plan | None:
    """Return the plan of a revision, or None if it is not kept any more."""
    text = session.scalar(
        select(RevisionRow.plan).where(RevisionRow.job_id == job_id, RevisionRow.number == number)
    )
    return _plan_of(text) if text is not None else None


def append(session: Session, job: JobRow, plan: Plan, summary: str, by: str = "") -> int:
    """Add a revision on top of the head and show it; returns its number. The job must be locked.

    Args:
        by: who made it.
    """
    number = job.tip + 1
    session.add(
        RevisionRow(
            job_id=job.id,
            number=number,
            parent=job.head,
            summary=summary,
            plan=compact(plan),
            made_by=by,
        )
    )
    job.head = job.tip = number
    job.name = plan.name
    job.changed_at = func.now()
    session.flush()
    _prune(session, job)
    return number


def undo(session: Session, job_id: int, base: int) -> str | None:
    """Show the revision before the head; returns what was undone, None when there is nothing before
    it.
    """
    job = locked_job(session, job_id)
    if job.head != base:
        raise MovedOn
    revision = _revision(session, job_id, job.head)
    if revision.parent is None or not _exists(session, job_id, revision.parent):
        return None
    _show(session, job, revision.parent)
    return revision.summary


def redo(session: Session, job_id: int, base: int) -> str | None:
    """Show the revision that was last undone; returns what was redone, None when there is none."""
    job = locked_job(session, job_id)
    if job.head != base:
        raise MovedOn
    forward = _next(session, job)
    if forward is None:
        return None
    _show(session, job, forward.number)
    return forward.summary


def _show(session: Session, job: JobRow, number: int) -> None:
    job.head = number
    job.name = json.loads(_revision(session, job.id, number).plan)["name"]
    job.changed_at = func.now()
    session.flush()


def _next(session: Session, job: JobRow) -> RevisionRow | None:
    """Walk back from the tip to the revision whose parent is the head."""
    if job.head == job.tip:
        return None
    parents: dict[int, int | None] = {
        number: parent
        for number, parent in session.execute(
            select(RevisionRow.number, RevisionRow.parent).where(RevisionRow.job_id == job.id)
        )
    }
    number: int | None = job.tip
    while number is not None and number in parents:
        if parents[number] == job.head:
            return _revision(session, job.id, number)
        number = parents[number]
    return None


def _revision(session: Session, job_id: int, number: int) -> RevisionRow:
    return session.scalars(
        select(RevisionRow).where(RevisionRow.job_id == job_id, RevisionRow.number == number)
    ).one()


def _exists(session: Session, job_id: int, number: int) -> bool:
    result = session.scalar(
        select(RevisionRow.id).where(RevisionRow.job_id == job_id, RevisionRow.number == number)
    )
    return result is not None


def _prune(session: Session, job: JobRow) -> None:
    """Keep the newest KEEP_REVISIONS, whatever is shown, and what has a name."""
    oldest = job.tip - KEEP_REVISIONS
    if oldest > 0:
        session.execute(
            delete(RevisionRow).where(
                RevisionRow.job_id == job.id,
                RevisionRow.number <= oldest,
                RevisionRow.number != job.head,
                RevisionRow.label.is_(None),
            )
        )
