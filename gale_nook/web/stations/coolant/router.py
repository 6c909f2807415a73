"""Coolant station: its page, bends of its hoses, and hoses between two ends."""

from __future__ import annotations

from typing import Annotated

from fastapi.responses import Response
from pydantic import Field

from gale_nook.core.coolant.commands import AddHose, AddHoseBend, BranchOff, SplitHose
from gale_nook.core.coolant.laying import NARROW_HOSE, RADIUS_MM, WIDE_HOSE, laid_hose
from gale_nook.core.coolant.start import BETWEEN_MM
from gale_nook.core.coolant.station import COOLANT
from gale_nook.core.edits.command import Command, fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.loop.hoses import end_point, hose_run, port_mm
from gale_nook.core.loop.night import warm_up_orders
from gale_nook.core.plan.coolant import Hose
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.web.context import EditRequest, JobId, Read, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, Text
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.routing import station_router

router = station_router(COOLANT)
FIRST_WORDS = {
    "": "all at once",
    "block": "engine first",
    "water": "water first",
    "room": "room first",
}


class InsertHoseBendForm(PageForm):
    """What is asked for: put a bend into the middle of one straight of a hose."""

    hose: Annotated[Text, Field(max_length=60)] = ""
    straight: Annotated[Text, Field(max_length=4)] = ""


@router.post("/jobs/{job_id}/coolant/insert")
def insert_bend(
    ask: Annotated[EditRequest[InsertHoseBendForm], edit_request(InsertHoseBendForm)],
    job_id: JobId,
) -> Response:
    """Put a bend into the middle of one straight of a hose."""
    plan = ask.db.head(job_id).plan
    run, text = hose_run(kept_jobs.of(plan, ask.book), ask.form.hose), ask.form.straight
    index = int(text) if text.isascii() and text.isdigit() else -1
    if run is None or not 0 <= index < len(run.geometry.straights):
        raise Gone("stretch", text)
    straight, nodes = run.geometry.straights[index], run.hose.nodes
    x, y, z = (round((straight.start[i] + straight.end[i]) / 2, 1) for i in range(3))
    node = RouteNode(id=fresh_id(nodes, "n"), x_mm=x, y_mm=y, z_mm=z, radius_mm=RADIUS_MM)
    after = nodes[index - 1].id if index > 0 else None
    command = AddHoseBend(
        collection=f"coolant.hoses.{run.hose.id}.nodes", item=node, first=index == 0, after=after
    )
    return edited(ask, job_id, "coolant", command)


class PutInForm(PageForm):
    """What is asked for: put a part into a hose, or between it and another one."""

    hose: Annotated[Text, Field(max_length=60)] = ""
    back: Annotated[Text, Field(max_length=60)] = ""
    kind: Annotated[Text, Field(max_length=60)] = ""


@router.post("/jobs/{job_id}/coolant/put-in")
def put_in(
    ask: Annotated[EditRequest[PutInForm], edit_request(PutInForm)], job_id: JobId
) -> Response:
    """Put a part into the middle of a hose; with a return beside it, between two tees."""
    form, plan = ask.form, ask.db.head(job_id).plan
    run = hose_run(kept_jobs.of(plan, ask.book), form.hose)
    if run is None:
        raise Gone("hose", form.hose)
    command: Command = (
        BranchOff(hose=form.hose, back=form.back, kind=form.kind)
        if form.back
        else SplitHose(hose=form.hose, at_mm=round(run.length_mm / 2), kind=form.kind)
    )
    return edited(ask, job_id, "coolant", command)


class JoinForm(PageForm):
    """What is asked for: lay a hose between two ends."""

    start: Annotated[Text, Field(max_length=120)] = ""
    end: Annotated[Text, Field(max_length=120)] = ""


@router.post("/jobs/{job_id}/coolant/join")
def join_ends(
    ask: Annotated[EditRequest[JoinForm], edit_request(JoinForm)], job_id: JobId
) -> Response:
    """Lay a hose between two ends, of the bore of the wider one."""
    job = kept_jobs.of(ask.db.head(job_id).plan, ask.book)
    ends = []
    for name, text in (("from", ask.form.start), ("to", ask.form.end)):
        part, _, end = text.partition(":")
        if end_point(job, (part, end)) is None:
            raise BadInput(name, text, "Choose one of the ends that are free.")
        ends.append((part, end))
    if ends[0] == ends[1]:
        raise BadInput("to", ask.form.end, "A hose leads from one end to another one.")
    sizes = [port_mm(job, end) or 0.0 for end in ends]
    hose = Hose(
        id=fresh_id(job.plan.coolant.hoses, "hose"),
        from_part=ends[0][0],
        from_end=ends[0][1],
        to_part=ends[1][0],
        to_end=ends[1][1],
        kind=WIDE_HOSE if max(sizes) > BETWEEN_MM else NARROW_HOSE,
    )
    with_it = job.plan.coolant.model_copy(update={"hoses": (*job.plan.coolant.hoses, hose)})
    there = job.with_parts(coolant=with_it)
    return edited(ask, job_id, "coolant", AddHose(item=laid_hose(there, hose)))


@router.get("/jobs/{job_id}/coolant/orders")
def orders(read: Read, job_id: JobId) -> Response:
    """Show what comes of warming one thing first."""
    job = kept_jobs.of(read.db.head(job_id).plan, read.book)
    return render("coolant/orders.html", orders=warm_up_orders(job), words=FIRST_WORDS)
