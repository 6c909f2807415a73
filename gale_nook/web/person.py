"""Who is signed in, for the request that is being answered."""

from __future__ import annotations

from contextvars import ContextVar

from gale_nook.store.people import Person

# a request's own: threads that work for it see it too
_now: ContextVar[Person | None] = ContextVar("person", default=None)


def set_person(person: Person | None) -> None:
    """Say who the request being answered is from."""
    _now.set(person)


def person() -> Person | None:
    """Return who that is; None where nobody signs in."""
    return _now.get()
