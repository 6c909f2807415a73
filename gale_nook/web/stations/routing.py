"""The page that every station has."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response

from gale_nook.core.job import Job
from gale_nook.core.station import Station
from gale_nook.web.context import (
    EditRequest,
    JobId,
    Read,
    ReadRequest,
    page_for,
    page_seen,
    render,
    show,
)
from gale_nook.web.edit_request import edit_request
from gale_nook.web.forms import PageForm
from gale_nook.web.view_state import ViewState
from gale_nook.web.works import ask_for, show_waiting


def station_router(station: Station) -> APIRouter:
    """Return a router with the station's page: whole, or its working part for htmx. The view is in
    the query.
    """
    router = APIRouter(default_response_class=HTMLResponse)

    def page(read: Read, job_id: JobId) -> Response:
        return show(page_seen(read, job_id, station.word), read.request)

    router.add_api_route(
        f"/jobs/{{job_id}}/{station.word}",
        page,
        methods=["GET"],
        name=station.word,
        summary=f"{station.label} station",
    )
    return router


def add_search(
    router: APIRouter, word: str, kind: str, template: str, ready: Callable[[Job], object]
) -> None:
    """Add a search to a station: begun by a form, which begins one anew that was stopped, and asked
    how far it is.

    Args:
        kind: of long work, without arguments.
        template: that shows what was found.
        ready: raises BadInput where there is nothing to look for.
    """

    def search(read: ReadRequest, job_id: int, *, anew: bool) -> Response:
        page = page_for(read, read.db.head(job_id), word, ViewState())
        ready(page.job)
        state = ask_for(read.request, kind, page.plan, read.book, {}, anew=anew)
        if state.state != "done":
            return show_waiting(state, f"{page.url}/find")
        return render(template, page=page, found=state.found)

    def find(
        ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId
    ) -> Response:
        return search(ask, job_id, anew=True)

    def found(read: Read, job_id: JobId, anew: bool = False) -> Response:
        return search(read, job_id, anew=anew)

    path = f"/jobs/{{job_id}}/{word}/find"
    router.add_api_route(path, find, methods=["POST"], summary="Begin to look")
    router.add_api_route(path, found, methods=["GET"], summary="How far it is, and what was found")
