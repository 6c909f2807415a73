"""What differs between two plans, value by value, as it is shown to people."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from gale_nook.core.edits.address import ORDER, find, leaves
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.document import Plan

MOST_OF_ONE = 8  # values of one thing, over which the thing is told as a whole


@dataclass(frozen=True, slots=True)
class Difference:
    """One value, or one thing, that differs.

    Attributes:
        before, after: None where it is not there.
    """

    address: str
    before: Any
    after: Any


def differences(before: Plan, after: Plan) -> tuple[Difference, ...]:
    """Return what differs, by address: a thing that is only in one as one, single values else."""
    plans = [plan.model_dump(mode="json") for plan in (before, after)]
    one, other = (leaves(plan) for plan in plans)
    missing = object()
    addresses = {
        _held(address, plans)
        for address in one.keys() | other.keys()
        if one.get(address, missing) != other.get(address, missing)
    }
    return tuple(
        Difference(address, *(_at(plan, address) for plan in plans))
        for address in sorted(_gathered(addresses))
    )


def _held(address: str, plans: list[Any]) -> str:
    """The address of a value, or of what holds it where that is only in one plan."""
    if address.endswith(f".{ORDER}"):
        return address.rsplit(".", 2)[0]
    parts = address.split(".")
    for end in range(1, len(parts)):
        place = ".".join(parts[:end])
        if any(_at(plan, place) is None for plan in plans):
            return place
    return address


def _gathered(addresses: set[str]) -> set[str]:
    """Many values of one thing as that thing; nothing twice."""
    of_thing: dict[str, set[str]] = {}
    for address in addresses:
        of_thing.setdefault(".".join(address.split(".")[:3]), set()).add(address)
    results: set[str] = set()
    for thing, some in of_thing.items():
        results |= {thing} if len(some) > MOST_OF_ONE else some
    return {a for a in results if not any(a.startswith(f"{b}.") for b in results)}


def _at(data: Any, address: str) -> Any:
    try:
        return find(data, address)
    except BadInput:
        return None
