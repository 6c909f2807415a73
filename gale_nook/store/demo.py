"""Loading the demo workshop once into a database."""

from __future__ import annotations

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from gale_nook.core.book.document import OwnBook
from gale_nook.demo.load import DEMO_NAMES, demo_book, demo_log, demo_plan
from gale_nook.store import books, logs
from gale_nook.store.jobs import create_job
from gale_nook.store.tables import Mark

DEMO = "demo-loaded"


def load_demo_once(engine: Engine) -> bool:
    """Load the demo's jobs unless that was done before; returns whether it was done now."""
    with Session(engine) as session, session.begin():
        if session.get(Mark, DEMO) is not None:
            return False
        session.add(Mark(key=DEMO))
        # the list shows the last changed first: Heron on top
        for name in reversed(DEMO_NAMES):
            job_id = create_job(session, demo_plan(name), "demo")
            logs.write(session, job_id, demo_log(name))
            session.flush()
        _load_book(session)
    return True


def _load_book(session: Session) -> None:
    """Let the part of the demo's book hold that changes no verdict, and the rest wait: what it does
    in the jobs is to be looked at first.
    """
    book = demo_book()
    held = OwnBook(prices=book.prices, vehicles=book.vehicles, wishes=book.wishes)
    books.change(session, lambda _: held, "")
    waits = books.waiting(session)
    if waits is not None:
        books.keep(session, waits.print, "")
    books.change(session, lambda _: book, "")
