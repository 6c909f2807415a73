"""What differs between two books, entry by entry."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from gale_nook.core.book.document import SECTIONS, OwnBook


@dataclass(frozen=True, slots=True)
class EntryChange:
    """An entry that is new, is not there any more, or says something else.

    Attributes:
        before, after: None where it is not there.
        values: (path, before, after) of what it says otherwise.
    """

    section: str
    id: str
    before: Any
    after: Any
    values: tuple[tuple[str, Any, Any], ...] = ()


def book_changes(before: OwnBook, after: OwnBook) -> tuple[EntryChange, ...]:
    """Return every entry that differs, in the order of the sections."""
    found: list[EntryChange] = []
    for section in SECTIONS:
        ours, theirs = (
            {entry.id: entry for entry in getattr(book, section)} for book in (before, after)
        )
        for entry_id in dict.fromkeys([*ours, *theirs]):
            one, other = ours.get(entry_id), theirs.get(entry_id)
            if one != other:
                found.append(EntryChange(section, entry_id, one, other, _values(one, other)))
    return tuple(found)


def change_words(changes: tuple[EntryChange, ...]) -> str:
    """Return in a few words how many entries were changed, and where."""
    counts: dict[str, int] = {}
    for change in changes:
        counts[change.section] = counts.get(change.section, 0) + 1
    return ", ".join(f"{section}: {count}" for section, count in counts.items())


def _values(one: Any, other: Any) -> tuple[tuple[str, Any, Any], ...]:
    if one is None or other is None:
        return ()
    ours, theirs = _leaves(one.model_dump(mode="json")), _leaves(other.model_dump(mode="json"))
    return tuple(
        (path, ours.get(path), theirs.get(path))
        for path in dict.fromkeys([*ours, *theirs])
        if ours.get(path) != theirs.get(path)
    )


def _leaves(data: Any, path: str = "") -> dict[str, Any]:
    if isinstance(data, Mapping):
        items = data.items()
    elif isinstance(data, list):
        items = {_name(n, each): each for n, each in enumerate(data)}.items()
    else:
        return {path: data}
    found: dict[str, Any] = {}
    for name, value in items:
        found |= _leaves(value, f"{path}.{name}" if path else str(name))
    return found


def _name(number: int, item: Any) -> str:
    return str(item["id"]) if isinstance(item, Mapping) and "id" in item else str(number)
