"""What every edit is: a small typed command that changes a plan, and says in words what it did."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable
from typing import Annotated, Any, ClassVar

from pydantic import Field

from gale_nook.core.base.models import Frozen
from gale_nook.core.edits import address as addresses
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan

Data = dict[str, Any]
Address = Annotated[str, Field(max_length=160, pattern=r"^[A-Za-z0-9_.-]+$")]
Whole = Annotated[int, Field(ge=-(10**12), le=10**12)]
Value = bool | Whole | float | Annotated[str, Field(max_length=2000)] | None
OWNED_ELSEWHERE = ("format", "version", "acceptances")


class Command(Frozen):
    """An edit of a plan. Each station has commands of its own, told apart by their `op`.

    Attributes:
        generic: it knows nothing of what it changes; the stations put in order what hangs on that.
    """

    generic: ClassVar[bool] = False
    op: str

    @abstractmethod
    def change(self, data: Data, before: Job) -> None:
        """Carry the command out on a plan's plain data, in place.

        Args:
            before: the job as it was.

        Raises:
            BadInput: it names something that is not there.
        """

    @abstractmethod
    def words(self, before: Job) -> str:
        """Return what it did, in a few words, for undo and the list of revisions."""

    def typed(self) -> tuple[str, ...]:
        """Return the addresses of the values, or of what holds some, that somebody typed or
        measured by it: they are pencilled no more.
        """
        return ()

    def rebased(self, seen: Plan, now: Plan) -> Command:
        """Return the command for a plan that moved on since it was made; most stay as they are."""
        del seen, now
        return self


def items_at(data: Data, collection: str) -> list[Any]:
    """Return a list of the plan's plain data that can be changed; raises BadInput."""
    items = addresses.find(data, collection)
    if not isinstance(items, list) or collection.split(".", maxsplit=1)[0] in OWNED_ELSEWHERE:
        raise BadInput(collection, collection, "This is not a list that can be changed.")
    return items


def fresh_id(items: tuple[Any, ...], stem: str) -> str:
    """Return an id that no item has: the stem with the lowest free number.

    >>> fresh_id((), "member")
    'member-1'
    """
    return fresh_ids(items, (stem,))[0]


def fresh_ids(items: tuple[Any, ...], stems: Iterable[str]) -> list[str]:
    """Return an id for each stem that neither an item has nor another of them.

    >>> fresh_ids((), ("member", "rail", "member"))
    ['member-1', 'rail-1', 'member-2']
    """
    taken, results = {item.id for item in items}, []
    for stem in stems:
        number = 1
        while f"{stem[:30]}-{number}" in taken:
            number += 1
        results.append(f"{stem[:30]}-{number}")
        taken.add(results[-1])
    return results
