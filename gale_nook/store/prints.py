"""Which revisions of a job were printed: the last few."""

from __future__ import annotations

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from gale_nook.core.plan.document import Plan
from gale_nook.store.jobs import plan_at
from gale_nook.store.tables import Print

KEPT = 5


def note(session: Session, job_id: int, number: int) -> None:
    """Note that a revision was printed."""
    new = insert(Print).values(job_id=job_id, number=number)
    now = {"printed_at": func.clock_timestamp()}
    session.execute(new.on_conflict_do_update(index_elements=["job_id", "number"], set_=now))
    of_job = select(Print.number).where(Print.job_id == job_id)
    old = of_job.order_by(Print.printed_at.desc(), Print.number.desc()).offset(KEPT)
    session.execute(delete(Print).where(Print.job_id == job_id, Print.number.in_(old)))


def last_before(session: Session, job_id: int, number: int) -> tuple[int, Plan] | None:
    """Return the last revision that was printed, other than one, with its plan; None where there is
    none, or where it is not kept any more.
    """
    wanted = select(Print.number).where(Print.job_id == job_id, Print.number != number)
    printed = session.scalar(wanted.order_by(Print.printed_at.desc(), Print.number.desc()).limit(1))
    plan = plan_at(session, job_id, printed) if printed is not None else None
    return (printed, plan) if printed is not None and plan is not None else None
