"""Two edits that meet: told apart by what they change.

A command was made on a plan that somebody has seen. Where the job moved on since then, it is laid
on the plan as it stands now, but only if both edits then stand: every value that it changed on the
plan as seen is what it made of it, every value that the others changed is what they made of it, and
nothing else is another.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from gale_nook.core.apply import applied
from gale_nook.core.edits.address import ORDER, find, leaves
from gale_nook.core.edits.command import Command
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.vehicle.datum import is_along

MISSING = object()
MOST_SHOWN = 5  # values of one group; more are shown as the group
Values = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Clash:
    """One value, or group of values, that two edits leave differently; None where it is not
    there.
    """

    address: str
    was: Any
    theirs: Any
    yours: Any


@dataclass(frozen=True, slots=True)
class LaidOver:
    """A command laid on a plan that moved on: with what it clashes, and the job with both edits
    where nothing does.
    """

    command: Command
    job: Job | None
    clashes: tuple[Clash, ...] = ()


def laid_over(command: Command, seen: Job, now: Job) -> LaidOver:
    """Return a command that was made on a plan as seen, laid on the plan as it is now.

    Raises:
        BadInput: it could not be carried out on the plan as seen either.
    """
    command = command.rebased(seen.plan, now.plan)
    mine = seen.with_plan(applied(seen, command))
    was, theirs, yours = (leaves(job.plan.model_dump(mode="json")) for job in (seen, now, mine))
    mine_changed = _differing(was, yours)
    if not any(_other(theirs, yours, address) for address in mine_changed):
        return LaidOver(command, now)  # somebody else did the same
    data = mine.plan.model_dump(mode="json")
    if seen.plan.vehicle.datum != now.plan.vehicle.datum and any(
        is_along(data, a) for a in mine_changed if a in yours
    ):  # it was measured from the old datum
        return LaidOver(command, None, _clashes({"vehicle.datum"}, seen, now, mine))
    try:
        both = now.with_plan(applied(now, command))
    except BadInput:
        hit = {a for a in mine_changed if _within(a, _differing(was, theirs))} or mine_changed
        return LaidOver(command, None, _clashes(hit, seen, now, mine))
    result = leaves(both.plan.model_dump(mode="json"))
    hit = {a for a in mine_changed if _other(result, yours, a)}
    hit |= {a for a in _differing(was, theirs) if _other(result, theirs, a)}
    hit |= _differing(theirs, result) - mine_changed
    if hit:
        return LaidOver(command, None, _clashes(hit, seen, now, mine))
    return LaidOver(command, both)


def _differing(one: Values, other: Values) -> set[str]:
    return {a for a in one.keys() | other.keys() if _other(one, other, a)}


def _other(one: Values, other: Values, address: str) -> bool:
    return bool(one.get(address, MISSING) != other.get(address, MISSING))


def _within(address: str, others: set[str]) -> bool:
    return any(
        address == b or address.startswith(b + ".") or b.startswith(address + ".") for b in others
    )


def _clashes(hit: set[str], seen: Job, now: Job, mine: Job) -> tuple[Clash, ...]:
    plans = [job.plan.model_dump(mode="json") for job in (seen, now, mine)]
    shown = sorted({_shown_as(address, plans) for address in hit})
    groups: dict[str, list[str]] = {}
    for address in shown:
        groups.setdefault(".".join(address.split(".")[:2]), []).append(address)
    addresses = [a for group, some in groups.items() for a in _some_or_group(group, some)]
    return tuple(Clash(a, *(_at(plan, a) for plan in plans)) for a in addresses)


def _some_or_group(group: str, addresses: list[str]) -> list[str]:
    return addresses if len(addresses) <= MOST_SHOWN else [group]


def _shown_as(address: str, plans: list[Any]) -> str:
    """The address under which a value is shown: what holds it, where that is not there in all."""
    if address.endswith(f".{ORDER}"):
        return address.rsplit(".", 2)[0]
    parts = address.split(".")
    for end in range(1, len(parts)):
        if any(_at(plan, ".".join(parts[:end])) is None for plan in plans):
            return ".".join(parts[:end])
    return ".".join(parts)


def _at(data: Any, address: str) -> Any:
    try:
        return find(data, address)
    except BadInput:
        return None
