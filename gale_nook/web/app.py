"""The web application, put together."""

from __future__ import annotations

import logging
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from pathlib import Path

import structlog
from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette_csrf.middleware import CSRFMiddleware

from gale_nook import __version__
from gale_nook.catalogue.load import load_catalogue
from gale_nook.drawing.svg import styles
from gale_nook.store.database import open_engine
from gale_nook.web import troubles
from gale_nook.web.editing import router as editing
from gale_nook.web.guard import Headers, RequestLog, UploadLimit
from gale_nook.web.jobs import router as jobs
from gale_nook.web.pairing import Pairing
from gale_nook.web.pairing import router as pairing
from gale_nook.web.stations import routers

STATIC = Path(__file__).with_name("static")
HOSTS = ["127.0.0.1", "localhost"]


def create_app(database_url: str, csrf_secret: str = "", lan: Sequence[str] = ()) -> FastAPI:
    """Return the application on a database.

    Args:
        lan: this machine's addresses on the local network, where paired devices are let in; none for this machine only.
    """
    _configure_log()
    engine = open_engine(database_url)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        yield
        engine.dispose()

    app = FastAPI(title="Gale Nook", version=__version__, docs_url=None, redoc_url=None, lifespan=lifespan)
    app.state.engine = engine
    app.state.catalogue = load_catalogue()
    app.state.lan = list(lan)
    for router in (*routers(), editing, jobs, pairing):
        app.include_router(router)

    @app.get("/static/drawing.css", include_in_schema=False)
    def drawing_css() -> Response:
        return Response(styles(), media_type="text/css", headers={"cache-control": "max-age=600"})

    @app.get("/card-worker.js", include_in_schema=False)
    def card_worker() -> Response:
        # from the root, so that it may keep the cards, which do not lie under /static
        return FileResponse(
            STATIC / "card-worker.js", media_type="text/javascript", headers={"cache-control": "no-cache"}
        )

    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    troubles.install(app)
    # every process behind the same database has to accept the others' tokens
    secret = csrf_secret or database_url
    app.add_middleware(CSRFMiddleware, secret=secret, cookie_samesite="strict", header_name="x-csrftoken")
    app.add_middleware(UploadLimit)
    app.add_middleware(Pairing, engine=engine)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=[*HOSTS, *lan], www_redirect=False)
    app.add_middleware(Headers)
    app.add_middleware(RequestLog)
    return app


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
