"""The workshop's own book on a real PostgreSQL: it waits, it holds, and nobody's change is lost."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import pytest
from sqlalchemy import Engine, text
from sqlalchemy.orm import Session

from gale_nook.core.book.document import OwnBook
from gale_nook.core.book.entries import with_entry
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.book import BookLimit
from gale_nook.demo.load import demo_book
from gale_nook.store import books
from gale_nook.store.database import open_engine

pytestmark = pytest.mark.store
NAMES = ("fuel_clip_mm", "exhaust_ground_mm", "mouths_apart_mm", "cable_clip_mm", "bundle_mm")


@pytest.fixture
def engine(database_url: str) -> Iterator[Engine]:
    made = open_engine(database_url)
    _empty(made)
    yield made
    _empty(made)
    made.dispose()


def _empty(engine: Engine) -> None:
    with Session(engine) as session, session.begin():
        session.execute(text("TRUNCATE book_edits, book_drafts RESTART IDENTITY"))


def _limit(book: OwnBook, name: str, most: float = 250) -> OwnBook:
    return with_entry(book, "limits", BookLimit(id=name, maximum=most, source="ours"))


def test_what_is_changed_waits_until_it_is_kept(engine: Engine) -> None:
    with Session(engine) as session, session.begin():
        assert books.held(session).book == OwnBook()
        assert books.waiting(session) is None
        books.change(session, lambda book: _limit(book, NAMES[0]), "Ada")
        draft = books.waiting(session)
        assert draft is not None
        assert (draft.made_by, books.held(session).edit) == ("Ada", 0)
        held = books.keep(session, draft.print, "Bo")
        assert (held.book, held.made_by) == (draft.book, "Bo")
        assert books.waiting(session) is None
        assert [each.summary for each in books.edits(session)] == ["limits: 1"]
        assert books.book_after(session, held.edit) == draft.book


def test_what_was_changed_since_it_was_seen_is_not_kept(engine: Engine) -> None:
    with Session(engine) as session, session.begin():
        with pytest.raises(BadInput, match="Nothing waits"):
            books.keep(session, "", "Ada")
        books.change(session, lambda book: _limit(book, NAMES[0]), "Ada")
        seen = books.waiting(session)
        assert seen is not None
        books.change(session, lambda book: _limit(book, NAMES[1]), "Bo")
        with pytest.raises(BadInput, match="meanwhile"):
            books.keep(session, seen.print, "Ada")
        assert books.held(session).edit == 0


def test_what_is_changed_back_waits_no_more(engine: Engine) -> None:
    with Session(engine) as session, session.begin():
        books.change(session, lambda _: demo_book(), "")
        books.change(session, lambda _: OwnBook(), "")
        assert books.waiting(session) is None
        books.change(session, lambda _: demo_book(), "")
        books.forget(session)
        assert books.shown(session) == OwnBook()


def test_changes_at_one_time_are_all_there(engine: Engine) -> None:
    def put(name: str) -> None:
        with Session(engine) as session, session.begin():
            books.change(session, lambda book: _limit(book, name), name)

    threads = [threading.Thread(target=put, args=(name,)) for name in NAMES]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    with Session(engine) as session:
        assert {each.id for each in books.shown(session).limits} == set(NAMES)


def test_old_edits_are_forgotten_and_the_last_holds(
    engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(books, "KEPT_EDITS", 3)
    with Session(engine) as session, session.begin():
        for most in range(201, 207):
            books.change(session, lambda book, m=most: _limit(book, NAMES[0], m), "")  # type: ignore[misc]
            draft = books.waiting(session)
            assert draft is not None
            held = books.keep(session, draft.print, "")
        assert held.book.limits[0].maximum == 206
        assert [each.number for each in books.edits(session)] == [6, 5, 4]
        with pytest.raises(BadInput):
            books.book_after(session, 3)


def test_a_book_that_is_too_large_is_refused(
    engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(books, "MOST_BYTES", 1000)
    with Session(engine) as session, session.begin():
        with pytest.raises(BadInput, match="MB"):
            books.change(session, lambda _: demo_book(), "")
        assert books.waiting(session) is None
