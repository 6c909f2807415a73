"""Adding to and taking out of the plan's lists. Each station says which of its lists take what."""

from __future__ import annotations

import re
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import Frozen, ItemId
from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.command import Address, Command, Data, fresh_id, items_at
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.words import item_name

_NUMBER = re.compile(r"-\d+$")


class AddItem(Command):
    """Add an item to a list of the plan: first, after another, or (neither given) at the end.

    Stations derive one for each kind of item, with the lists that take it.

    Attributes:
        lists: a pattern of these lists' addresses.
    """

    lists: ClassVar[re.Pattern[str]]
    op: Literal["add"] = "add"
    collection: Address
    item: Any
    first: bool = False
    after: ItemId | None = None

    @classmethod
    def takes(cls, collection: object) -> bool:
        """Return whether a list is one of those that take this kind of item."""
        return isinstance(collection, str) and cls.lists.fullmatch(collection) is not None

    def change(self, data: Data, before: Job) -> None:
        del before
        items = items_at(data, self.collection)
        index = 0 if self.first else len(items)
        if self.after is not None:
            places = (i + 1 for i, item in enumerate(items) if item.get("id") == self.after)
            index = next(places, len(items))
        items.insert(index, self.item.model_dump(mode="json"))

    def words(self, before: Job) -> str:
        return f"added {item_name(before.plan, self.item.id, getattr(self.item, 'name', ''))}"

    def rebased(self, seen: Plan, now: Plan) -> Command:
        """Return it with another id, where somebody else took its id in the meantime."""
        taken, known = _ids(now, self.collection), _ids(seen, self.collection)
        if self.item.id not in taken or self.item.id in known:
            return self
        new = fresh_id(tuple(_Named(id=name) for name in taken), _NUMBER.sub("", self.item.id))
        return self.model_copy(update={"item": self.item.model_copy(update={"id": new})})


class _Named(Frozen):
    id: str


def _ids(plan: Plan, collection: str) -> set[str]:
    try:
        items = items_at(plan.model_dump(mode="json"), collection)
    except BadInput:
        return set()
    return {item["id"] for item in items if isinstance(item, dict)}


class RemoveItem(Command):
    """Take an item out of a list of the plan."""

    generic: ClassVar[bool] = True
    op: Literal["remove"] = "remove"
    collection: Address
    item_id: Annotated[str, Field(max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        del before
        items = items_at(data, self.collection)
        kept = [i for i in items if not (isinstance(i, dict) and i.get("id") == self.item_id)]
        if len(kept) == len(items):
            raise BadInput(
                self.collection, self.item_id, f"'{self.item_id}' is not there any more."
            )
        addresses.put(data, self.collection, kept)

    def words(self, before: Job) -> str:
        return f"took out {item_name(before.plan, self.item_id)}"
