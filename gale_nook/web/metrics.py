"""Figures of this process in the open text format that monitoring reads."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import Response
from prometheus_client import (
    CONTENT_TYPE_LATEST,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    ProcessCollector,
    generate_latest,
)
from sqlalchemy import text
from sqlalchemy.exc import SQLAlchemyError
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from gale_nook.store.works import ENDED
from gale_nook.web.pairing import is_here

router = APIRouter()
SECONDS = (0.01, 0.025, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0)


class Metrics:
    """What a process has answered, and how long that took; by route, never by value."""

    def __init__(self) -> None:
        self.registry = CollectorRegistry()
        ProcessCollector(registry=self.registry)
        self._answers = Counter(
            "gale_nook_answers", "Answers", ["method", "route", "status"], registry=self.registry
        )
        self._seconds = Histogram(
            "gale_nook_answer_seconds",
            "Seconds until an answer",
            ["route"],
            buckets=SECONDS,
            registry=self.registry,
        )
        self.works = Gauge(
            "gale_nook_works", "Pieces of long work", ["state"], registry=self.registry
        )
        self.database = Gauge(
            "gale_nook_database_up", "1 where the database answers", registry=self.registry
        )

    def note(self, method: str, route: str, status: int, seconds: float) -> None:
        """Count an answer."""
        self._answers.labels(method, route, str(status)).inc()
        self._seconds.labels(route).observe(seconds)


@router.get("/metrics", response_class=Response)
async def metrics(request: Request) -> Response:
    """The figures of the process that answers; on this machine, or to an owner."""
    if not is_here(request.scope) and not request.app.state.workshop:
        raise HTTPException(404)
    told: Metrics = request.app.state.metrics
    await run_in_threadpool(_look, request, told)
    return Response(generate_latest(told.registry), media_type=CONTENT_TYPE_LATEST)


def _look(request: Request, told: Metrics) -> None:
    """Count the work that waits, in the database."""
    try:
        with request.app.state.engine.connect() as connection:
            rows = connection.execute(text("SELECT state, count(*) FROM works GROUP BY state"))
            counts = {state: count for state, count in rows}
    except SQLAlchemyError:
        told.database.set(0)
        return
    told.database.set(1)
    for state in ("waiting", "working", *sorted(ENDED)):
        told.works.labels(state).set(counts.get(state, 0))
