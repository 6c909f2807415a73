"""What an edit leads to: on the revision it was made on, or on a newer one where both stand."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.apply import applied
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.collisions import Clash, laid_over
from gale_nook.core.edits.command import Command
from gale_nook.core.errors import GaleNookError
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.store.jobs import JobHead


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
        cls, command: Command, base: int, seen: Plan | None, head: JobHead, catalogue: Catalogue
    ) -> Edit:
        """Return the edit of a command on a job's head.

        Args:
            base: number of the revision that the user saw.
            seen: the plan of that revision; None where it is not kept any more.

        Raises:
            Collision: it and another edit since then cannot both stand.
            BadInput: the command cannot be carried out.
        """
        now = Job(head.plan, catalogue)
        if base == head.number:
            return cls(applied(now, command), command.words(now))
        if seen is None:
            raise Collision(command, head.number, ())
        result = laid_over(command, now.with_plan(seen), now)
        if result.job is None:
            raise Collision(result.command, head.number, result.clashes)
        return cls(result.job.document, result.command.words(now))
