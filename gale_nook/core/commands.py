"""Every command there is, as one type to read from JSON: those of the edits, and the stations'."""

from __future__ import annotations

from functools import reduce
from operator import or_
from typing import Annotated, Any

from pydantic import BeforeValidator, Discriminator, PlainSerializer, Tag, TypeAdapter

from gale_nook.core.book.commands import TakeBook
from gale_nook.core.edits.acceptances import Accept, Withdraw
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import AddItem, RemoveItem
from gale_nook.core.edits.values import SetValues
from gale_nook.core.stations import STATIONS

GENERAL: tuple[type[Command], ...] = (SetValues, RemoveItem, Accept, Withdraw, TakeBook)
COMMANDS: tuple[type[Command], ...] = (
    *GENERAL,
    *(command for station in STATIONS for command in station.commands),
)
ADDS = tuple(command for command in COMMANDS if issubclass(command, AddItem))


def tag_of(command: type[Command]) -> str:
    """Return what tells a command's class from all others."""
    return command.__name__ if issubclass(command, AddItem) else command.model_fields["op"].default


def _tag(data: Any) -> str | None:
    """Return the tag that data should be read by: its `op`; of what is added, by the list."""
    if isinstance(data, Command):
        return tag_of(type(data))
    if not isinstance(data, dict):
        return None
    op, collection = data.get("op"), data.get("collection")
    if op == "add":
        return next((tag_of(add) for add in ADDS if add.takes(collection)), None)
    return op if isinstance(op, str) else None


def _any_command() -> Any:
    tagged = [Annotated[command, Tag(tag_of(command))] for command in COMMANDS]
    return Annotated[reduce(or_, tagged), Discriminator(_tag)]


COMMAND: TypeAdapter[Command] = TypeAdapter(_any_command())


def _read(value: Any) -> Any:
    return value if isinstance(value, Command) else COMMAND.validate_python(value)


def _written(command: Command) -> Any:
    return command.model_dump(mode="json")


# a command of any kind, as a field of something that is written down
AnyCommand = Annotated[Command, BeforeValidator(_read), PlainSerializer(_written)]
