"""Air station: its page, and bends put into ducts."""

from __future__ import annotations

from typing import Annotated

from fastapi.responses import Response
from pydantic import Field

from gale_nook.core.air.commands import AddDuctBend, AddWanted
from gale_nook.core.air.pointing import outlet_in_the_middle, pointed_outlet
from gale_nook.core.air.station import AIR
from gale_nook.core.air.tree_proposals import ready_for_trees
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.web.context import EditRequest, JobId
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, Text
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.routing import add_search, station_router

router = station_router(AIR)
add_search(router, "air", "trees", "air/found.html", ready_for_trees)
FAR_MM = 100_000.0


class InsertDuctBendForm(PageForm):
    """What is asked for: put a bend into the middle of one straight of a duct."""

    duct: Annotated[Text, Field(max_length=60)] = ""
    straight: Annotated[Text, Field(max_length=4)] = ""


@router.post("/jobs/{job_id}/air/insert")
def insert_bend(
    ask: Annotated[EditRequest[InsertDuctBendForm], edit_request(InsertDuctBendForm)], job_id: JobId
) -> Response:
    """Put a bend into the middle of one straight of a duct."""
    plan = ask.db.head(job_id).plan
    runs = {run.duct.id: run for run in all_runs(kept_jobs.of(plan, ask.book))}
    run, text = runs.get(ask.form.duct), ask.form.straight
    index = int(text) if text.isascii() and text.isdigit() else -1
    if run is None or not 0 <= index < len(run.geometry.straights):
        raise Gone("stretch", text)
    straight, nodes = run.geometry.straights[index], run.duct.nodes
    x, y, z = (round((straight.start[i] + straight.end[i]) / 2, 1) for i in range(3))
    radius = run.kind.least_radius_mm
    node = RouteNode(id=fresh_id(nodes, "n"), x_mm=x, y_mm=y, z_mm=z, radius_mm=radius)
    after = nodes[index - 1].id if index > 0 else None
    back = run.duct is plan.air.return_duct
    where = "air.return_duct" if back else f"air.ducts.{run.duct.id}"
    command = AddDuctBend(collection=f"{where}.nodes", item=node, first=index == 0, after=after)
    return edited(ask, job_id, "air", command)


class PointForm(PageForm):
    """What is asked for: an outlet at a place in plan, `x y` in mm; in a usual one without."""

    at: Annotated[Text, Field(max_length=60)] = ""


@router.post("/jobs/{job_id}/air/point")
def point(
    ask: Annotated[EditRequest[PointForm], edit_request(PointForm)], job_id: JobId
) -> Response:
    """Point at a place where the warm air should come out."""
    job = kept_jobs.of(ask.db.head(job_id).plan, ask.book)
    at = ask.form.at
    outlet = pointed_outlet(job, *_place(at)) if at else outlet_in_the_middle(job)
    return edited(ask, job_id, "air", AddWanted(item=outlet))


def _place(text: str) -> tuple[float, float]:
    """A place in plan, mm."""
    try:
        x, y = (float(part) for part in text.split())
    except ValueError:
        raise BadInput("outlet", text, "The place could not be read; point at it again.") from None
    if not (abs(x) < FAR_MM and abs(y) < FAR_MM):
        raise BadInput("outlet", text, "That is far away: point at a place inside the vehicle.")
    return x, y
