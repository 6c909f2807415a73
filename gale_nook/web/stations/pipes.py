"""Pipes station: its page, and inserting corners into a run."""

from __future__ import annotations

from fastapi.responses import Response

from gale_nook.core.derived import Derived
from gale_nook.core.edits.apply import fresh_id
from gale_nook.core.edits.commands import AddItem
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.store import jobs as store
from gale_nook.web.context import Asked, JobId
from gale_nook.web.editing import edited
from gale_nook.web.forms import text_of
from gale_nook.web.look import Look
from gale_nook.web.stations.page import by_word, station_router

router = station_router(by_word("pipes"))


@router.post("/jobs/{job_id}/pipes/insert")
def insert_corner(ask: Asked, job_id: JobId) -> Response:
    """Put a corner into the middle of the straight that leads to a node."""
    plan, tube = store.head_of(ask.db, job_id).plan, Look.of(ask.form).tube
    route, run = plan.pipes.route(tube), Derived(plan, ask.book).run(tube)
    wanted = text_of(ask.form, "node")
    index = next((i for i, node in enumerate(route.nodes) if node.id == wanted), -1) if route is not None else -1
    if route is None or run is None or index < 0:
        raise BadInput("corner", wanted, "This corner is not there any more.")
    straight = run.straights[index]
    x, y, z = (round((straight.start[i] + straight.end[i]) / 2, 1) for i in range(3))
    radius = route.nodes[max(index - 1, 0)].radius_mm
    node = RouteNode(id=fresh_id(route.nodes, "n"), x_mm=x, y_mm=y, z_mm=z, radius_mm=radius)
    after = route.nodes[index - 1].id if index > 0 else None
    command = AddItem(collection=f"pipes.{tube}.nodes", item=node, first=index == 0, after=after)
    return edited(ask, job_id, "pipes", command)
