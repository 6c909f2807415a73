"""Power station: its page, and bends of its leads."""

from __future__ import annotations

from typing import Annotated

from fastapi.responses import Response
from pydantic import Field

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import Gone
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.power.clear_way import RADIUS_MM
from gale_nook.core.power.commands import AddLeadBend
from gale_nook.core.power.leads import lead_run
from gale_nook.core.power.station import POWER
from gale_nook.web.context import EditRequest, JobId
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, Text
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.routing import station_router

router = station_router(POWER)


class InsertLeadBendForm(PageForm):
    """What is asked for: put a bend into the middle of one straight of a lead."""

    lead: Annotated[Text, Field(max_length=20)] = ""
    straight: Annotated[Text, Field(max_length=4)] = ""


@router.post("/jobs/{job_id}/power/insert")
def insert_bend(
    ask: Annotated[EditRequest[InsertLeadBendForm], edit_request(InsertLeadBendForm)],
    job_id: JobId,
) -> Response:
    """Put a bend into the middle of one straight of a lead."""
    plan = ask.db.head(job_id).plan
    run, text = lead_run(kept_jobs.of(plan, ask.book), ask.form.lead), ask.form.straight
    index = int(text) if text.isascii() and text.isdigit() else -1
    if run is None or not 0 <= index < len(run.geometry.straights):
        raise Gone("stretch", text)
    straight, nodes = run.geometry.straights[index], run.lead.nodes
    x, y, z = (round((straight.start[i] + straight.end[i]) / 2, 1) for i in range(3))
    node = RouteNode(id=fresh_id(nodes, "n"), x_mm=x, y_mm=y, z_mm=z, radius_mm=RADIUS_MM)
    after = nodes[index - 1].id if index > 0 else None
    command = AddLeadBend(
        collection=f"power.leads.{run.lead.id}.nodes", item=node, first=index == 0, after=after
    )
    return edited(ask, job_id, "power", command)
