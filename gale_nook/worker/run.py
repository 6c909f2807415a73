"""A worker: takes pieces of work from the queue one after another, and mends what dead workers left
behind.
"""

from __future__ import annotations

import asyncio
import contextlib
import os
import signal
import threading
from datetime import timedelta

import structlog
from procrastinate import App, PsycopgConnector
from sqlalchemy import Engine
from sqlalchemy.exc import DBAPIError, SQLAlchemyError
from sqlalchemy.orm import Session

from gale_nook.store import works
from gale_nook.store.database import open_engine
from gale_nook.worker.kinds import KINDS, LONG, SHORT
from gale_nook.worker.nursery import Ended, Nursery, Told
from gale_nook.worker.queue import TASK, put_on, queue_app

log = structlog.get_logger("gale_nook.worker")
BEAT_SECONDS = 2.0
STALLED_SECONDS = 8.0
MEND_SECONDS = 3.0
FORGET_EVERY = 200  # rounds of mending
LOST_AFTER = timedelta(
    seconds=20
)  # after being asked for; what is on no queue then is put on it once more
AGAIN_SECONDS = 1.0
UNKEPT = (
    "This was worked out, but the database had no room for it. Make room on the disk, then "
    "look again."
)


def run_worker(url: str, nursery: Nursery, parent: int | None) -> None:
    """Work until the parent is gone, or SIGTERM comes. The database may go and come back meanwhile.

    Args:
        parent: file number of a pipe whose other end the parent holds.
    """
    engine = open_engine(url, pool_size=4)
    gone = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: gone.set())
    if parent is not None:
        threading.Thread(target=_watch, args=(parent, gone), daemon=True).start()
    while not gone.is_set():
        try:
            asyncio.run(_work(url, engine, nursery, gone))
        except Exception as error:
            log.error("queue away", kind=type(error).__name__)
            gone.wait(AGAIN_SECONDS)
    nursery.close()
    os._exit(0)  # whatever a thread still waits for


def _watch(parent: int, gone: threading.Event) -> None:
    os.read(parent, 1)  # returns when the parent's end is closed, however it ended
    gone.set()


async def _work(url: str, engine: Engine, nursery: Nursery, gone: threading.Event) -> None:
    address = url.replace("postgresql+psycopg://", "postgresql://")
    app = queue_app(PsycopgConnector(conninfo=address, min_size=1, max_size=6, timeout=5))

    @app.task(name=TASK, queue=SHORT)
    async def work(key: str) -> None:
        await asyncio.to_thread(do_work, engine, nursery, key, gone)
        if gone.is_set():
            await asyncio.to_thread(_give_back, app, engine, key)

    async with app.open_async():
        # one of each at a time: what takes minutes does not stand before what takes seconds
        workers = [asyncio.create_task(_taking(app, queue)) for queue in (SHORT, LONG)]
        mending = asyncio.create_task(_mend(app, engine))
        leaving = asyncio.create_task(asyncio.to_thread(gone.wait))
        try:
            done, _ = await asyncio.wait(
                {*workers, mending, leaving}, return_when=asyncio.FIRST_COMPLETED
            )
            for ended in done:
                ended.result()  # raises what ended it
        finally:
            for task in (*workers, mending):
                task.cancel()
                with contextlib.suppress(asyncio.CancelledError, Exception):
                    await task


async def _taking(app: App, queue: str) -> None:
    """Take pieces of work from one queue, one after another."""
    await app.run_worker_async(
        queues=[queue],
        concurrency=1,
        delete_jobs="always",
        fetch_job_polling_interval=1.0,
        shutdown_graceful_timeout=1.0,
        install_signal_handlers=False,
        update_heartbeat_interval=BEAT_SECONDS,
        stalled_worker_timeout=STALLED_SECONDS,
    )


def do_work(engine: Engine, nursery: Nursery, key: str, gone: threading.Event) -> None:
    """Do one piece of work and note how it ended."""
    with Session(engine) as session, session.begin():
        taken = works.take(session, key)
    if taken is None:
        return

    def told(news: Told) -> None:
        with Session(engine) as session, session.begin():
            works.tell(session, key, news.done, news.of, news.words, news.partial)

    def stop() -> bool:
        if gone.is_set():
            return True
        with contextlib.suppress(SQLAlchemyError), Session(engine) as session:
            return works.stop_wanted(session, key)
        return False

    try:
        ended = nursery.work(taken.kind, taken.plan, taken.arguments, told, stop)
    except OSError as error:  # the nursery is gone: a new worker begins with a new one
        log.error("nursery gone", kind=type(error).__name__)
        os._exit(1)
    if not gone.is_set():
        _note(engine, key, ended)


def _note(engine: Engine, key: str, ended: Ended) -> None:
    try:
        with Session(engine) as session, session.begin():
            works.end(session, key, ended.state, ended.result, ended.problem)
    except DBAPIError as error:
        log.error("result not kept", kind=type(error.orig).__name__)
        with Session(engine) as session, session.begin():
            works.end(session, key, "failed", problem=UNKEPT)


def _give_back(app: App, engine: Engine, key: str) -> None:
    """Leave a piece of work, that was under way when this worker was told to stop,
    to the next one.
    """
    with Session(engine) as session, session.begin():
        if works.give_back(session, key):
            put_on(app, session, key, 0, _queue_of(session, key))


def _queue_of(session: Session, key: str) -> str:
    kind = KINDS.get(works.kind_of(session, key))
    return kind.queue if kind is not None else SHORT


async def _mend(app: App, engine: Engine) -> None:
    """Put back on the queue what dead workers held, and what was lost on the way there; forget old
    results.
    """
    number = 0
    while True:
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_SECONDS):
            log.warning("work of a dead worker is taken up again")
            await app.job_manager.retry_job(job)
        await asyncio.to_thread(_put_back, app, engine, number % FORGET_EVERY == 0)
        number += 1
        await asyncio.sleep(MEND_SECONDS)


def _put_back(app: App, engine: Engine, and_forget: bool) -> None:
    with Session(engine) as session, session.begin():
        for key in works.lost_keys(session, LOST_AFTER):
            put_on(app, session, key, 0, _queue_of(session, key))
        if and_forget:
            works.forget(session)
