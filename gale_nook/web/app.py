"""The web application, put together."""

from __future__ import annotations

import logging
import os
import secrets
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from pathlib import Path
from urllib.parse import urlsplit

import structlog
from fastapi import FastAPI, HTTPException
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.middleware.trustedhost import TrustedHostMiddleware

from gale_nook import __version__, garbage
from gale_nook.catalogue.load import load_catalogue
from gale_nook.drawing.svg import styles
from gale_nook.store.database import open_engine
from gale_nook.store.job_store import JobStore
from gale_nook.web import troubles
from gale_nook.web.book.effect import router as book_effect
from gale_nook.web.book.heaters import router as book_heaters
from gale_nook.web.book.of_job import router as book_of_job
from gale_nook.web.book.router import router as book
from gale_nook.web.csrf import FormGuard
from gale_nook.web.customers import router as customers
from gale_nook.web.doors import Doors
from gale_nook.web.editing import router as editing
from gale_nook.web.fairness import Fairness
from gale_nook.web.fleet import router as fleet
from gale_nook.web.guard import Headers, LastResort, RequestLog, UploadLimit
from gale_nook.web.health import Health
from gale_nook.web.health import router as health
from gale_nook.web.history import router as history
from gale_nook.web.jobs import router as jobs
from gale_nook.web.looking import router as looking
from gale_nook.web.metrics import Metrics
from gale_nook.web.metrics import router as metrics
from gale_nook.web.pairing import Letters, Pairing
from gale_nook.web.pairing import router as pairing
from gale_nook.web.patterns import router as patterns
from gale_nook.web.people import router as people
from gale_nook.web.practice import router as practice
from gale_nook.web.practice_plan import router as practice_plan
from gale_nook.web.stations.every import WEB_STATIONS
from gale_nook.web.works import router as works_router
from gale_nook.worker.works import QueuedWorks, WorksHere

STATIC = Path(__file__).with_name("static")
HOSTS = ["127.0.0.1", "localhost"]


def create_app(  # noqa: PLR0913 - each is one way in which it can be opened
    database_url: str,
    form_secret: str = "",
    lan: Sequence[str] = (),
    *,
    letters: Letters | None = None,
    queued: bool = False,
    workshop: bool = False,
    public: str = "",
) -> FastAPI:
    """Return the application on a database.

    Args:
        form_secret: shared by every process behind the same database; made up for this one when
            left out.
        queued: long work goes to the workers; else it is done in the request, as tests and single
            commands want it.
        letters: what it shows of itself to the local network, where that is encrypted.
        workshop: people sign in.
        public: address under which a proxy shows it to the world; with a workshop only.
        lan: this machine's addresses on the local network, where paired devices are let in; none
            for this machine only.
    """
    _configure_log()
    engine = open_engine(database_url)
    works = QueuedWorks(engine) if queued else WorksHere()

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        garbage.rest()
        yield
        works.close()
        engine.dispose()

    app = FastAPI(
        title="Gale Nook", version=__version__, docs_url=None, redoc_url=None, lifespan=lifespan
    )
    app.state.engine = engine
    app.state.jobs = JobStore(engine)
    app.state.works = works
    app.state.health = Health(database_url)
    app.state.metrics = Metrics()
    app.state.catalogue = load_catalogue()
    app.state.lan = list(lan)
    app.state.letters = letters
    app.state.workshop = workshop
    app.state.public = public
    hosts = [*HOSTS, *lan, *([urlsplit(public).hostname or ""] if public else [])]
    app.state.stations = {station.word: station for station in WEB_STATIONS}
    routers = [station.router for station in WEB_STATIONS]
    routers += [editing, fleet, looking, jobs, pairing, patterns, practice, practice_plan]
    routers += [health, works_router, history, people, customers, metrics]
    routers += [book, book_effect, book_heaters, book_of_job]
    for router in routers:
        app.include_router(router)

    _serve_files(app)
    troubles.install(app)
    app.add_middleware(LastResort)
    app.add_middleware(Fairness)
    app.add_middleware(FormGuard, secret=form_secret or secrets.token_urlsafe(32))
    app.add_middleware(Doors, engine=engine, workshop=workshop)
    app.add_middleware(UploadLimit)
    if not public:  # there everybody signs in, and all come from the proxy
        app.add_middleware(Pairing, engine=engine, letters=letters)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=hosts, www_redirect=False)
    app.add_middleware(LastResort)  # of what the others themselves meet
    app.add_middleware(Headers)
    app.add_middleware(RequestLog, metrics=app.state.metrics)
    return app


def _serve_files(app: FastAPI) -> None:
    """Let the application give its styles, scripts and fonts."""

    @app.get("/static/drawing.css", include_in_schema=False)
    def drawing_css() -> Response:
        return Response(styles(), media_type="text/css", headers={"cache-control": "max-age=600"})

    @app.get("/static/stations/{word}.css", include_in_schema=False)
    def station_css(word: str) -> Response:
        station = app.state.stations.get(word)
        style = station.style if station is not None else ""
        if not style:
            raise HTTPException(404)
        return Response(style, media_type="text/css", headers={"cache-control": "max-age=600"})

    @app.get("/card-worker.js", include_in_schema=False)
    def card_worker() -> Response:
        # from the root, so that it may keep the cards, which do not lie under /static
        return FileResponse(
            STATIC / "card-worker.js",
            media_type="text/javascript",
            headers={"cache-control": "no-cache"},
        )

    app.mount("/static", Files(directory=STATIC), name="static")


class Files(StaticFiles):
    """Our own files; a name that no file can have is a file that is not there."""

    def lookup_path(self, path: str) -> tuple[str, os.stat_result | None]:
        try:
            return super().lookup_path(path)
        except (ValueError, OSError):
            return "", None


def _configure_log() -> None:
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso"),
            structlog.processors.JSONRenderer(),
        ],
        wrapper_class=structlog.make_filtering_bound_logger(logging.INFO),
        cache_logger_on_first_use=False,
    )
