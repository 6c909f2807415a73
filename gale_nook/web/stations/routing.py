"""The page that every station has."""

from __future__ import annotations

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response

from gale_nook.core.station import Station
from gale_nook.web.context import JobId, Read, page_for, show
from gale_nook.web.view_state import ViewState


def station_router(station: Station) -> APIRouter:
    """Return a router with the station's page: whole, or its working part for htmx. The view is in
    the query.
    """
    router = APIRouter(default_response_class=HTMLResponse)

    def page(read: Read, job_id: JobId) -> Response:
        view = ViewState.of(read.request.query_params)
        return show(page_for(read, read.db.head(job_id), station.word, view), read.request)

    router.add_api_route(
        f"/jobs/{{job_id}}/{station.word}",
        page,
        methods=["GET"],
        name=station.word,
        summary=f"{station.label} station",
    )
    return router
