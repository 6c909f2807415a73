"""Fuel station: its page, bends of the line, and the dip-stick to print."""

from __future__ import annotations

from typing import Annotated

from fastapi.responses import HTMLResponse, Response
from pydantic import Field

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.fuel.items import AddBend
from gale_nook.core.fuel.line import fuel_run, supply
from gale_nook.core.fuel.station import FUEL
from gale_nook.core.fuel.tank import fallen_l
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.quantities.length import parse_length_mm
from gale_nook.web.context import (
    Book,
    Db,
    EditRequest,
    JobId,
    Read,
    Units,
    page_for,
    render,
)
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import (
    PageForm,
    Text,
)
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.routing import add_search, station_router
from gale_nook.web.view_state import ViewState

router = station_router(FUEL)
add_search(router, "fuel", "lines", "fuel/found.html", lambda _job: None)


class InsertBendForm(PageForm):
    """What is asked for: put a bend into the middle of one straight of the line."""

    straight: Annotated[Text, Field(max_length=4)] = ""


@router.post("/jobs/{job_id}/fuel/insert")
def insert_bend(
    ask: Annotated[EditRequest[InsertBendForm], edit_request(InsertBendForm)], job_id: JobId
) -> Response:
    """Put a bend into the middle of one straight of the line."""
    plan = ask.db.head(job_id).plan
    run, line = fuel_run(kept_jobs.of(plan, ask.book)), plan.fuel.line
    text = ask.form.straight
    index = int(text) if text.isascii() and text.isdigit() else -1
    if run is None or line is None or not 0 <= index < len(run.geometry.straights):
        raise Gone("stretch", text)
    straight = run.geometry.straights[index]
    x, y, z = (round((straight.start[i] + straight.end[i]) / 2, 1) for i in range(3))
    node = RouteNode(id=fresh_id(line.nodes, "n"), x_mm=x, y_mm=y, z_mm=z, radius_mm=30.0)
    after = line.nodes[index - 1].id if index > 0 else None
    return edited(ask, job_id, "fuel", AddBend(item=node, first=index == 0, after=after))


@router.get("/jobs/{job_id}/fuel/fell")
def fell(
    db: Db, book: Book, system: Units, job_id: JobId, before: str = "", after: str = ""
) -> Response:
    """What was used between two readings of the dip-stick."""
    job = kept_jobs.of(db.head(job_id).plan, book)
    source = supply(job)
    if source is None or source.vessel is None:
        raise BadInput("level", None, "There is no tank yet.")
    tall = source.vessel.top_mm - source.vessel.bottom_mm
    high, low = (
        parse_length_mm(text, system, name)
        for text, name in ((before, "dip-stick before"), (after, "dip-stick now"))
    )
    for name, value in (("dip-stick before", high), ("dip-stick now", low)):
        if not 0 <= value <= tall + 1:
            raise BadInput(name, value, f"The tank is {tall:.0f} mm high inside.")
    used = fallen_l(source.vessel, high, high - low)
    words = f"{abs(used):.1f} l {'used' if used >= 0 else 'filled in'}"
    return HTMLResponse(words)


@router.get("/jobs/{job_id}/fuel/dip-stick")
def dip_stick_page(read: Read, job_id: JobId) -> Response:
    """The dip-stick's marks on a page to print, in mm and in inches."""
    page = page_for(read, read.db.head(job_id), "fuel", ViewState())
    return render("fuel/dip_stick.html", page=page)
