"""Every job as an open file of its own, and the workshop's own book."""

from __future__ import annotations

import re
from pathlib import Path

from gale_nook.core.book.document import write_book
from gale_nook.exchange.job_file import job_file
from gale_nook.store.database import open_engine
from gale_nook.store.job_store import JobStore

MOST_NAME = 60


def export_all(url: str, folder: Path) -> list[Path]:
    """Write every job of a database, and the workshop's book, as files that can be brought in
    again; returns the files.
    """
    folder.mkdir(parents=True, exist_ok=True)
    engine = open_engine(url)
    store = JobStore(engine)
    try:
        files = [_written(store, job_id, folder) for job_id in store.job_ids()]
        return [*files, _book(store, folder)]
    finally:
        engine.dispose()


def _written(store: JobStore, job_id: int, folder: Path) -> Path:
    head = store.head(job_id)
    file = folder / f"{job_id}-{plain_name(head.plan.name)}.zip"
    log = store.log(job_id)
    file.write_bytes(job_file(head.plan, store.all_pictures(job_id, head.plan), log))
    return file


def _book(store: JobStore, folder: Path) -> Path:
    file = folder / "book.json"
    file.write_text(write_book(store.held_book().book), encoding="utf-8")
    return file


def plain_name(name: str) -> str:
    """Return a name as part of a file's: letters, digits and dashes only.

    >>> plain_name("../Heron 2 (blue)")
    'heron-2-blue'
    """
    return re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-")[:MOST_NAME] or "job"
