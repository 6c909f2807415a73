"""Saving an edit: on the revision it was made on, or on a newer one where that is unambiguous."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from gale_nook.core.catalogue import Catalogue
from gale_nook.core.edits.address import changed, find, overlap
from gale_nook.core.edits.apply import apply
from gale_nook.core.edits.commands import Command, SetValues, touches
from gale_nook.core.edits.summary import summary_of
from gale_nook.core.errors import BadInput, GaleNookError
from gale_nook.core.plan.document import Plan
from gale_nook.store.jobs import append, head_of, locked_job, plan_at


@dataclass(frozen=True, slots=True)
class Clash:
    """One value that two edits set differently; None where it was not there."""

    address: str
    was: Any
    theirs: Any
    yours: Any


class Collision(GaleNookError):
    """An edit that cannot be laid over what somebody else did in the meantime."""

    def __init__(self, command: Command, head: int, clashes: tuple[Clash, ...]) -> None:
        self.command = command
        self.head = head
        self.clashes = clashes
        super().__init__("Somebody else changed the same thing in the meantime.")


def save(session: Session, job_id: int, base: int, command: Command, catalogue: Catalogue) -> int:
    """Apply and save a command; returns the new revision's number.

    Args:
        base: number of the revision that the user saw.

    Raises:
        Collision: what the command writes was written by another edit since then.
        BadInput: the command cannot be carried out.
    """
    job = locked_job(session, job_id)
    head = head_of(session, job_id)
    if base != head.number:
        _refuse_collision(session, job_id, base, command, head.plan, head.number)
    plan = apply(head.plan, command, catalogue)
    if plan == head.plan:
        return head.number
    return append(session, job, plan, summary_of(command, head.plan, catalogue))


def _refuse_collision(session: Session, job_id: int, base: int, command: Command, head: Plan, number: int) -> None:
    seen = plan_at(session, job_id, base)
    if seen is None:
        raise Collision(command, number, ())
    before, now = seen.model_dump(mode="json"), head.model_dump(mode="json")
    hit = overlap(touches(command), changed(before, now))
    clashes = tuple(Clash(a, _at(before, a), _at(now, a), _wanted(command, a)) for a in sorted(hit))
    if any(clash.theirs != clash.yours for clash in clashes):
        raise Collision(command, number, clashes)


def _at(data: Any, address: str) -> Any:
    try:
        return find(data, address)
    except BadInput:
        return None


def _wanted(command: Command, address: str) -> Any:
    if isinstance(command, SetValues):
        return next((change.value for change in command.changes if change.address == address), None)
    return getattr(command, address.rsplit(".", 1)[-1], None)
