"""The page that every station has."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from gale_nook.core.station import Station
from gale_nook.core.stations import READY, WAITING
from gale_nook.web.context import Book, Db, JobId, Units, desk_for, show
from gale_nook.web.look import Look


def station_router(station: Station) -> APIRouter:
    """Return a router with the station's page: whole, or its working part for htmx. The look is in
    the query.
    """
    router = APIRouter(default_response_class=HTMLResponse)

    def page(request: Request, db: Db, book: Book, system: Units, job_id: JobId) -> Response:
        look = Look.of(request.query_params)
        return show(desk_for(db, book, system, job_id, station, look), request)

    router.add_api_route(
        f"/jobs/{{job_id}}/{station.word}",
        page,
        methods=["GET"],
        name=station.word,
        summary=f"{station.label} station",
    )
    return router


def by_word(word: str) -> Station:
    """Return a station by its word."""
    return next(station for station in (*READY, *WAITING) if station.word == word)
