"""What has changed since the build sheet was printed last."""

from __future__ import annotations

from typing import Any

from gale_nook.core.build.changes import changes
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import Job
from gale_nook.store.job_store import JobStore
from gale_nook.store.jobs import JobHead
from gale_nook.web.kept import kept_jobs


def changed_since_print(db: JobStore, book: Catalogue, head: JobHead) -> dict[str, Any] | None:
    """Return the edit that was printed last, other than this one, and what has changed since; None
    where none was.
    """
    printed = db.printed_before(head.job_id, head.number)
    if printed is None:
        return None
    number, plan = printed
    told = changes(Job(plan, book), kept_jobs.of(head.plan, book))
    return {"edit": number, "changes": list(told)}
