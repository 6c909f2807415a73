"""The queues: one task, which does a piece of work by its key. They live in the same PostgreSQL as
everything else. What takes minutes has a queue of its own, with workers of its own.
"""

from __future__ import annotations

import contextlib
from typing import Any

from procrastinate import App, BaseConnector, SyncPsycopgConnector
from procrastinate.exceptions import AlreadyEnqueued
from sqlalchemy.orm import Session

TASK = "work"


def queue_app(connector: BaseConnector | None = None) -> App:
    """Return the queue; without a connector it can only put on it, on connections that are handed
    to it.
    """
    return App(connector=connector or SyncPsycopgConnector())


def put_on(app: App, session: Session, key: str, waiting: int, queue: str) -> None:
    """Put a piece of work on the queue, in the session's own transaction; what is on it already is
    left there.

    Args:
        waiting: how many pieces the same person is waiting for: each goes behind the next person's
            first.
        queue: of its kind.
    """
    with contextlib.suppress(AlreadyEnqueued), session.begin_nested():
        # asked for inside: the savepoint is made when the connection is used
        connection: Any = session.connection().connection.driver_connection
        task = app.configure_task(
            TASK,
            allow_unknown=True,
            queue=queue,
            queueing_lock=key,
            priority=-min(waiting, 1000),
            connection=connection,
        )
        task.defer(key=key)
