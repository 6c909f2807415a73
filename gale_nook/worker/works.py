"""Asking for long work: by the workers through the queue, or here and now."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, Protocol

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.plan.document import Plan, compact
from gale_nook.store import works as store
from gale_nook.store.bounded import BoundedCache
from gale_nook.worker.kinds import KINDS, Arguments, Kind, key_of
from gale_nook.worker.queue import put_on, queue_app

KEPT_BYTES = 20_000_000


@dataclass(frozen=True, slots=True)
class WorkState:
    """How a piece of work stands, ready to show.

    Attributes:
        state: "waiting", "working", "done", "stopped" or "failed".
        ahead: pieces that come before it.
        found: the result, or what there is of it so far; None for nothing yet.
    """

    key: str
    state: str
    words: str
    done: int = 0
    of: int = 0
    ahead: int = 0
    found: Any = None
    problem: str = ""

    @property
    def ended(self) -> bool:
        return self.state in store.ENDED


class Works(Protocol):
    """Whoever gets long work done."""

    def ask(
        self,
        name: str,
        plan: Plan,
        book: Catalogue,
        arguments: Arguments,
        person: str = "",
        *,
        anew: bool = False,
    ) -> WorkState:
        """Return how a piece of work stands, begun now unless it was before.

        Args:
            name: of its kind.
            person: whose turn it takes.
            anew: begin again where it was stopped or has failed.
        """

    def known(
        self, name: str, plan: Plan, book: Catalogue, arguments: Arguments
    ) -> WorkState | None:
        """Return how a piece of work stands; None where it was not asked for yet."""

    def stop(self, key: str) -> None:
        """Stop a piece of work."""

    def close(self) -> None:
        """Let go of whatever it holds."""


class WorksHere:
    """Does the work at once, in the caller's own thread; results are kept by content."""

    def __init__(self) -> None:
        self._kept: BoundedCache[str, bytes] = BoundedCache(KEPT_BYTES)
        self._asked: set[str] = set()

    def ask(
        self,
        name: str,
        plan: Plan,
        book: Catalogue,
        arguments: Arguments,
        person: str = "",
        *,
        anew: bool = False,
    ) -> WorkState:
        kind, key = KINDS[name], key_of(name, plan, book, arguments)

        def make() -> bytes:
            return kind.write(kind.run(plan, book, arguments, lambda *_: None))

        self._asked.add(key)
        raw = self._kept.of(key, make, 100_000)
        return WorkState(key, "done", kind.words, found=kind.read(raw))

    def known(
        self, name: str, plan: Plan, book: Catalogue, arguments: Arguments
    ) -> WorkState | None:
        if key_of(name, plan, book, arguments) not in self._asked:
            return None
        return self.ask(name, plan, book, arguments)

    def stop(self, key: str) -> None:
        """Nothing is ever under way here."""

    def close(self) -> None:
        """Nothing is held."""


class QueuedWorks:
    """Puts the work on the queue; a result is found again by its content, whoever asked for it
    first.
    """

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._app = queue_app()

    def ask(
        self,
        name: str,
        plan: Plan,
        book: Catalogue,
        arguments: Arguments,
        person: str = "",
        *,
        anew: bool = False,
    ) -> WorkState:
        kind, key = KINDS[name], key_of(name, plan, book, arguments)
        with Session(self._engine) as session, session.begin():
            line = store.line_of(session, key)
            if line is None or (anew and line.state in {"stopped", "failed"}):
                text = json.dumps(dict(arguments), sort_keys=True)
                waiting = store.begin(
                    session, key, store.Wanted(name, person, compact(plan), text), anew
                )
                if waiting is not None:
                    put_on(self._app, session, key, waiting, kind.queue)
                line = store.line_of(session, key)
            elif line.state == "done":
                store.note_use(session, key)
        if line is None:
            raise RuntimeError("work that was just asked for is not there")
        return _state(kind, line)

    def known(
        self, name: str, plan: Plan, book: Catalogue, arguments: Arguments
    ) -> WorkState | None:
        with Session(self._engine) as session:
            line = store.line_of(session, key_of(name, plan, book, arguments))
        return _state(KINDS[name], line) if line is not None else None

    def stop(self, key: str) -> None:
        with Session(self._engine) as session, session.begin():
            store.ask_to_stop(session, key)

    def close(self) -> None:
        """Nothing is held beyond the engine."""


def _state(kind: Kind, line: store.WorkLine) -> WorkState:
    result = kind.read(line.found) if line.found is not None else None
    words = line.words or kind.words
    told = (line.done, line.of, line.ahead)
    return WorkState(line.key, line.state, words, *told, result, line.problem)
