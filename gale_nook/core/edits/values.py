"""Setting values by their address."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import Frozen
from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.command import OWNED_ELSEWHERE, Address, Command, Data, Value
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.words import field_words, item_id, item_name

NO_VALUE = "This names a group, not one value."


class Change(Frozen):
    """One value of the plan and what it becomes."""

    address: Address
    value: Value


class SetValues(Command):
    """Set one or several existing values together."""

    generic: ClassVar[bool] = True
    op: Literal["set"] = "set"
    changes: Annotated[tuple[Change, ...], Field(min_length=1, max_length=200)]

    def change(self, data: Data, before: Job) -> None:
        del before
        for change in self.changes:
            address = change.address
            if address.split(".")[0] in OWNED_ELSEWHERE or address.endswith(".id"):
                raise BadInput(address, change.value, "This value cannot be set.")
            if isinstance(addresses.find(data, address), dict | list):
                raise BadInput(address, change.value, NO_VALUE)
            addresses.put(data, address, change.value)

    def typed(self) -> tuple[str, ...]:
        return tuple(change.address for change in self.changes)

    def words(self, before: Job) -> str:
        first = self.changes[0].address
        item = item_id(first)
        where = f"{item_name(before.plan, item)}: " if item else ""
        more = len(self.changes) - 1
        return f"{where}{field_words(first)}" + (f" and {more} more" if more else "")


def set_value(address: str, value: Value) -> SetValues:
    """Return a SetValues of one address."""
    return SetValues(changes=(Change(address=address, value=value),))
