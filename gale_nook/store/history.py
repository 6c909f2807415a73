"""The edits of a job as they were made: by whom, when, with the names that some were given."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import or_, select, update
from sqlalchemy.orm import Session

from gale_nook.core.errors import BadInput
from gale_nook.core.plan.document import Plan
from gale_nook.store.jobs import locked_job, plan_at
from gale_nook.store.tables import RevisionRow

PAGE_SIZE = 60
MOST_LABEL, MOST_LABELLED = 80, 50


@dataclass(frozen=True, slots=True)
class EditLine:
    """One edit of a job."""

    number: int
    parent: int | None
    summary: str
    made_by: str
    label: str
    made_at: datetime


def edits(
    session: Session, job_id: int, before: int | None = None
) -> tuple[list[EditLine], list[EditLine]]:
    """Return a page of a job's edits, the newest first, and all that have a name.

    Args:
        before: the page begins with the newest that is older than this one.
    """
    columns = select(
        RevisionRow.number,
        RevisionRow.parent,
        RevisionRow.summary,
        RevisionRow.made_by,
        RevisionRow.label,
        RevisionRow.made_at,
    ).where(RevisionRow.job_id == job_id)
    older = columns if before is None else columns.where(RevisionRow.number < before)
    newest_first = RevisionRow.number.desc()
    page = session.execute(older.order_by(newest_first).limit(PAGE_SIZE + 1)).all()
    labelled = session.execute(
        columns.where(RevisionRow.label.is_not(None)).order_by(newest_first).limit(MOST_LABELLED)
    ).all()
    shown, named = ([_line(tuple(row)) for row in rows] for rows in (page, labelled))
    return shown, named


def _line(row: tuple) -> EditLine:  # type: ignore[type-arg]
    number, parent, summary, made_by, label, made_at = row
    return EditLine(number, parent, summary, made_by, label or "", made_at)


def name_edit(session: Session, job_id: int, number: int, label: str) -> None:
    """Give an edit a name, with which it is kept for good; an empty one takes it away.

    Raises:
        BadInput: it is not kept any more, the name is too long, or too many have one.
    """
    told = " ".join(label.split())
    if len(told) > MOST_LABEL:
        raise BadInput("name of the edit", told[:MOST_LABEL], f"up to {MOST_LABEL} letters")
    locked_job(session, job_id)
    here = RevisionRow.job_id == job_id
    named = select(RevisionRow.number).where(
        here, or_(RevisionRow.label.is_not(None), RevisionRow.number == number)
    )
    if told and len(session.scalars(named).all()) > MOST_LABELLED:
        raise BadInput("name of the edit", told, f"up to {MOST_LABELLED} edits can have a name")
    wanted = update(RevisionRow).where(here, RevisionRow.number == number)
    done = session.execute(wanted.values(label=told or None))
    if done.rowcount == 0:  # type: ignore[attr-defined]
        raise _gone(number)


def plan_of(session: Session, job_id: int, number: int) -> Plan:
    """Return the plan as it stood after an edit; raises BadInput where it is not kept."""
    plan = plan_at(session, job_id, number)
    if plan is None:
        raise _gone(number)
    return plan


def _gone(number: int) -> BadInput:
    return BadInput("edit", number, "This edit is not kept any more, or was never made.")
