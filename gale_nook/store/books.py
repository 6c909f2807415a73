"""The workshop's own book in the database: what holds, what waits to be kept, and what held
before.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select, text
from sqlalchemy.orm import Session

from gale_nook.core.book.differences import book_changes, change_words
from gale_nook.core.book.document import OwnBook
from gale_nook.core.errors import BadInput
from gale_nook.store.bounded import BoundedCache
from gale_nook.store.tables import BookDraft, BookEdit

ChangeOfBook = Callable[[OwnBook], OwnBook]
KEPT_EDITS, SHOWN_EDITS = 300, 20
DRAFT = 1
MOST_BYTES = 2_000_000
_LOCK = 61_480_017  # of PostgreSQL's advisory locks: nobody else changes the book meanwhile
_BOOK_SIZE_FACTOR = 10  # a book takes some ten times the bytes of its text
_kept_books: BoundedCache[str, OwnBook] = BoundedCache(20_000_000)


@dataclass(frozen=True, slots=True)
class HeldBook:
    """The book that holds; edit 0 is the empty one that every workshop begins with."""

    edit: int
    book: OwnBook
    made_by: str = ""
    made_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Waiting:
    """The book with what was changed and not kept yet.

    Attributes:
        print: digest of it, by which a page says what it has seen.
    """

    book: OwnBook
    made_by: str
    made_at: datetime
    print: str


@dataclass(frozen=True, slots=True)
class EditOfBook:
    """An edit of the book, for a list of them."""

    number: int
    summary: str
    made_by: str
    made_at: datetime


def held(session: Session) -> HeldBook:
    """Return the book that holds."""
    row = session.scalar(select(BookEdit).order_by(BookEdit.id.desc()).limit(1))
    if row is None:
        return HeldBook(0, OwnBook())
    return HeldBook(row.id, _book_of(row.book), row.made_by, row.made_at)


def waiting(session: Session) -> Waiting | None:
    """Return what waits to be kept; None where nothing does."""
    row = session.get(BookDraft, DRAFT, populate_existing=True)
    if row is None:
        return None
    return Waiting(_book_of(row.book), row.made_by, row.made_at, _print_of(row.book))


def shown(session: Session) -> OwnBook:
    """Return the book as it is worked on: with what waits."""
    draft = waiting(session)
    return draft.book if draft is not None else held(session).book


def change(session: Session, edit: ChangeOfBook, by: str) -> OwnBook:
    """Change the book as it is worked on; what is then as it holds waits no more.

    Raises:
        BadInput: the book would be too large.
    """
    _lock(session)
    book = edit(shown(session))
    written = book.model_dump_json()
    if len(written.encode()) > MOST_BYTES:
        problem = f"With this the book takes more than {MOST_BYTES / 1e6:.0f} MB."
        raise BadInput("book", None, problem)
    session.execute(delete(BookDraft))
    if book != held(session).book:
        session.add(BookDraft(id=DRAFT, book=written, made_by=by))
    session.flush()
    return book


def forget(session: Session) -> None:
    """Forget what waits."""
    _lock(session)
    session.execute(delete(BookDraft))


def keep(session: Session, seen: str, by: str) -> HeldBook:
    """Let what waits hold from now on.

    Args:
        seen: digest of what its effect was shown of.

    Raises:
        BadInput: nothing waits, or it was changed since.
    """
    _lock(session)
    draft = waiting(session)
    if draft is None:
        raise BadInput("book", None, "Nothing waits to be kept.")
    if draft.print != seen:
        problem = "Somebody changed the book meanwhile. Look at its effect again."
        raise BadInput("book", None, problem)
    summary = change_words(book_changes(held(session).book, draft.book))
    session.add(BookEdit(book=draft.book.model_dump_json(), summary=summary, made_by=by))
    session.execute(delete(BookDraft))
    session.flush()
    session.execute(
        text(
            "DELETE FROM book_edits WHERE id NOT IN"
            " (SELECT id FROM book_edits ORDER BY id DESC LIMIT :most)"
        ),
        {"most": KEPT_EDITS},
    )
    return held(session)


def edits(session: Session) -> list[EditOfBook]:
    """Return the last edits of the book, the newest first."""
    rows = session.execute(
        select(BookEdit.id, BookEdit.summary, BookEdit.made_by, BookEdit.made_at)
        .order_by(BookEdit.id.desc())
        .limit(SHOWN_EDITS)
    )
    return [EditOfBook(*row) for row in rows]


def book_after(session: Session, number: int) -> OwnBook:
    """Return the book as it stood after an edit; raises BadInput where that is not kept."""
    found = session.scalar(select(BookEdit.book).where(BookEdit.id == number))
    if found is None:
        raise BadInput("edit of the book", number, "It is not kept any more.")
    return _book_of(found)


def _lock(session: Session) -> None:
    session.execute(select(func.pg_advisory_xact_lock(_LOCK)))


def _book_of(written: str) -> OwnBook:
    return _kept_books.of(
        written,
        lambda: OwnBook.model_validate_json(written),
        _BOOK_SIZE_FACTOR * len(written),
    )


def _print_of(written: str) -> str:
    return hashlib.sha256(written.encode()).hexdigest()[:24]
