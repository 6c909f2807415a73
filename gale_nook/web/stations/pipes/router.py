"""Pipes station: its page, inserting corners into a run, and looking for a way."""

from __future__ import annotations

from typing import Annotated

from fastapi.responses import Response

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.pipes.commands import AddCorner
from gale_nook.core.pipes.route_search import RouteSearch
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.start import PORTS_FIRST
from gale_nook.core.pipes.station import PIPES
from gale_nook.core.plan.pipes import RouteNode, Tube
from gale_nook.web.context import EditRequest, JobId, Read, ReadRequest, page_for, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import (
    PageForm,
    Text,
)
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.routing import station_router
from gale_nook.web.view_state import ViewState
from gale_nook.web.works import LOOK_AGAIN_MS, ask_for

router = station_router(PIPES)


class InsertCornerForm(PageForm):
    """What is asked for: put a corner into the middle of the straight that leads to a node."""

    node: Text = ""


@router.post("/jobs/{job_id}/pipes/insert")
def insert_corner(
    ask: Annotated[EditRequest[InsertCornerForm], edit_request(InsertCornerForm)], job_id: JobId
) -> Response:
    """Put a corner into the middle of the straight that leads to a node."""
    plan, tube = ask.db.head(job_id).plan, ask.form.view.tube
    route, run = plan.pipes.route(tube), pipe_run(kept_jobs.of(plan, ask.book), tube)
    wanted = ask.form.node
    index = (
        next((i for i, node in enumerate(route.nodes) if node.id == wanted), -1)
        if route is not None
        else -1
    )
    if route is None or run is None or index < 0:
        raise Gone("corner", wanted)
    straight = run.straights[index]
    x, y, z = (round((straight.start[i] + straight.end[i]) / 2, 1) for i in range(3))
    radius = route.nodes[max(index - 1, 0)].radius_mm
    node = RouteNode(id=fresh_id(route.nodes, "n"), x_mm=x, y_mm=y, z_mm=z, radius_mm=radius)
    after = route.nodes[index - 1].id if index > 0 else None
    command = AddCorner(collection=f"pipes.{tube}.nodes", item=node, first=index == 0, after=after)
    return edited(ask, job_id, "pipes", command)


@router.post("/jobs/{job_id}/pipes/find")
def find(ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId) -> Response:
    """Begin to look for a way; one that was stopped is begun anew."""
    return _search(ask, job_id, ask.form.view.tube, anew=True)


@router.get("/jobs/{job_id}/pipes/find")
def found(read: Read, job_id: JobId, tube: Tube = "exhaust", anew: bool = False) -> Response:
    """How far the search is, and what it has found."""
    return _search(read, job_id, tube, anew=anew)


def _search(read: ReadRequest, job_id: int, tube: Tube, *, anew: bool) -> Response:
    view, head = ViewState(tube=tube), read.db.head(job_id)
    page = page_for(read, head, "pipes", view)
    if page.plan.spot is None or chosen_mount(page.job) is None:
        raise BadInput("way", None, PORTS_FIRST)
    state = ask_for(read.request, "ways", page.plan, read.book, {"tube": tube}, anew=anew)
    url = f"{page.url}/find?tube={tube}"
    return render(
        "pipes/found.html",
        page=page,
        state=state,
        found=state.found or RouteSearch(),
        tube=tube,
        url=url,
        again=f"{url}&anew=yes",
        delay_ms=LOOK_AGAIN_MS,
    )
