"""What an edit leads to: on the revision it was made on, or on a newer one where that is
unambiguous.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.address import changed, find, overlap
from gale_nook.core.edits.apply import apply
from gale_nook.core.edits.commands import Command, SetValues, touches
from gale_nook.core.edits.summary import summary_of
from gale_nook.core.errors import BadInput, GaleNookError
from gale_nook.core.plan.document import Plan
from gale_nook.store.jobs import Head


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


@dataclass(frozen=True, slots=True)
class Edit:
    """What a command makes of the plan that it is laid on."""

    plan: Plan
    summary: str

    @classmethod
    def of(
        cls, command: Command, base: int, seen: Plan | None, head: Head, catalogue: Catalogue
    ) -> Edit:
        """Return the edit of a command on a job's head.

        Args:
            base: number of the revision that the user saw.
            seen: the plan of that revision; None where it is not kept any more.

        Raises:
            Collision: what the command writes was written by another edit since then.
            BadInput: the command cannot be carried out.
        """
        if base != head.number:
            _refuse_collision(command, seen, head)
        return cls(apply(head.plan, command, catalogue), summary_of(command, head.plan, catalogue))


def _refuse_collision(command: Command, seen: Plan | None, head: Head) -> None:
    if seen is None:
        raise Collision(command, head.number, ())
    before, now = seen.model_dump(mode="json"), head.plan.model_dump(mode="json")
    hit = overlap(touches(command), changed(before, now))
    clashes = tuple(Clash(a, _at(before, a), _at(now, a), _wanted(command, a)) for a in sorted(hit))
    if any(clash.theirs != clash.yours for clash in clashes):
        raise Collision(command, head.number, clashes)


def _at(data: Any, address: str) -> Any:
    try:
        return find(data, address)
    except BadInput:
        return None


def _wanted(command: Command, address: str) -> Any:
    if isinstance(command, SetValues):
        return next((change.value for change in command.changes if change.address == address), None)
    return getattr(command, address.rsplit(".", 1)[-1], None)
