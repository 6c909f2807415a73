"""Whether the database answers: told within a second, whatever hangs."""

from __future__ import annotations

import asyncio
from concurrent.futures import Future, ThreadPoolExecutor

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response
from sqlalchemy import NullPool, create_engine, text
from sqlalchemy.exc import SQLAlchemyError

ANSWER_SECONDS = 0.8
router = APIRouter()


class Health:
    """Asks the database on a connection and a thread of its own; while one question hangs, no
    second one is asked.
    """

    def __init__(self, database_url: str) -> None:
        options = {
            "connect_timeout": 2,
            "options": "-c statement_timeout=2000",
            "tcp_user_timeout": 2000,
        }
        self._engine = create_engine(database_url, poolclass=NullPool, connect_args=options)
        self._thread = ThreadPoolExecutor(1, thread_name_prefix="health")
        self._asked: Future[bool] | None = None

    async def answers(self) -> bool:
        """Return whether the database answered in time."""
        if self._asked is None or self._asked.done():
            self._asked = self._thread.submit(self._ask)
        try:
            return await asyncio.wait_for(
                asyncio.shield(asyncio.wrap_future(self._asked)), ANSWER_SECONDS
            )
        except TimeoutError:
            return False

    def _ask(self) -> bool:
        try:
            with self._engine.connect() as connection:
                connection.execute(text("SELECT 1"))
        except SQLAlchemyError:
            return False
        return True


@router.get("/ready", response_class=JSONResponse)
async def ready(request: Request) -> Response:
    """Whether this process can take requests: a proxy sends none to one that cannot."""
    return await health(request)


@router.get("/health", response_class=JSONResponse)
async def health(request: Request) -> Response:
    """Whether the database answers."""
    asked: Health = request.app.state.health
    if await asked.answers():
        return JSONResponse({"database": "answers"})
    return JSONResponse(
        {"database": "does not answer", "problem": "The database is away."},
        503,
        {"retry-after": "3"},
    )
