"""Long work on a page: what is being done and how far it is, a way to stop it, and its result when
there is one.
"""

from __future__ import annotations

import asyncio
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Path, Request
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.document import Plan
from gale_nook.web.context import render
from gale_nook.web.forms import Text
from gale_nook.worker.kinds import Arguments
from gale_nook.worker.works import Works, WorkState

router = APIRouter(default_response_class=HTMLResponse)
Key = Annotated[str, Path(pattern="^[0-9a-f]{64}$")]
LOOK_AGAIN_MS = 300
SLOWEST_MS = 1500
FILE_SECONDS = 60.0  # that a picture or a print is waited for in its own request
FIRST_LOOK_S, SLOWEST_LOOK_S = 0.05, 0.5


class Waiting(Exception):
    """A picture or print that is still being made when its request has waited long enough."""

    def __init__(self, state: WorkState) -> None:
        self.state = state


def ask_for(
    request: Request,
    name: str,
    plan: Plan,
    book: Catalogue,
    arguments: Arguments,
    *,
    anew: bool = False,
) -> WorkState:
    """Return how a piece of work stands, begun now unless it was before."""
    works: Works = request.app.state.works
    person = str(request.scope.get("state", {}).get("person", ""))
    return works.ask(name, plan, book, arguments, person, anew=anew)


def show_waiting(state: WorkState, url: str, **query: object) -> HTMLResponse:
    """Return the part of a page that asks again by itself until the work has ended; for what ended
    without a result too.

    Args:
        url: that shows the work, and begins it anew when `anew=yes` is added.
    """
    asked = f"{url}?{urlencode(query)}" if query else url
    delay = min(LOOK_AGAIN_MS * (1 + state.ahead), SLOWEST_MS)
    again = f"{url}?{urlencode({**query, 'anew': 'yes'})}"
    return render("works/waiting.html", state=state, url=asked, again=again, delay_ms=delay)


async def file_of(
    request: Request, name: str, plan: Plan, book: Catalogue, arguments: Arguments
) -> bytes | WorkState:
    """Return the bytes of a picture or print, waited for without holding a thread; how it stands
    when that takes too long.

    Raises:
        BadInput: it could not be made.
    """
    pause, waited = FIRST_LOOK_S, 0.0
    while True:
        state = await run_in_threadpool(
            ask_for, request, name, plan, book, arguments, anew=waited == 0
        )
        if state.state == "done":
            return bytes(state.found)
        if state.ended:
            raise BadInput("", None, state.problem or "It was stopped.")
        if waited >= FILE_SECONDS or await request.is_disconnected():
            return state
        await asyncio.sleep(pause)
        waited += pause
        pause = min(pause * 1.5, SLOWEST_LOOK_S)


class StopForm(BaseModel):
    """Where the page asks again how the work stands."""

    url: Annotated[Text, Field(max_length=400)] = ""


@router.post("/works/{key}/stop")
def stop(request: Request, key: Key, form: Annotated[StopForm, Form()]) -> Response:
    """Stop a piece of work, and let the page ask how it stands."""
    works: Works = request.app.state.works
    works.stop(key)
    return render("works/stopping.html", url=form.url if form.url.startswith("/jobs/") else "/")
