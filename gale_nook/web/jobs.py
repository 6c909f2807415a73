"""The workshop's list of jobs; making, copying, importing and exporting them; units."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, Field, ValidationError
from starlette.concurrency import run_in_threadpool

from gale_nook.core.book.entries import entry_of
from gale_nook.core.checking import Check, checked
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.next_step import next_step
from gale_nook.core.plan.document import Plan, places_of, plan_schema, write_plan
from gale_nook.core.plan.size import too_large
from gale_nook.core.references import check_references
from gale_nook.core.vehicle.assumed_parts import with_assumed_parts
from gale_nook.demo.load import like, new_plan, on_vehicle
from gale_nook.drawing.svg import svg
from gale_nook.drawing.thumbnail import thumbnail
from gale_nook.exchange.finding_cards import VERDICT_MARKS, VERDICT_WORDS, finding_cards
from gale_nook.exchange.job_file import job_file, read_job_file, read_job_log
from gale_nook.web.book.of_job import new_with_book
from gale_nook.web.context import (
    UNITS_COOKIE,
    Book,
    Db,
    JobId,
    Read,
    ReadRequest,
    Units,
    render,
)
from gale_nook.web.forms import ShortText, Text, Upload
from gale_nook.web.kept import kept_jobs
from gale_nook.web.prints import changed_since_print
from gale_nook.web.works import Waiting, file_of

router = APIRouter(default_response_class=HTMLResponse)
ONE_YEAR_S = 365 * 24 * 3600


@router.get("/")
def workshop(read: Read, page: Annotated[int, Query(ge=1, le=100_000)] = 1) -> Response:
    """The list of jobs, last changed first."""
    lines, more = read.db.page(page)
    return render(
        "jobs/list.html",
        jobs=lines,
        page=page,
        more=more,
        system=read.system,
        bodies=read.book.bodies.values(),
        vehicles=read.db.held_book().book.vehicles,
    )


@router.get("/jobs/{job_id}/glance")
def glance(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """A job at a glance: its drawing, its worst finding, its next step."""
    check = checked(kept_jobs.of(db.head(job_id).plan, book))
    open_ones = [f for f in check.findings if f.verdict in {Verdict.OVER, Verdict.UNKNOWN}]
    worst = finding_cards(tuple(open_ones[:1]), system)
    return render(
        "jobs/glance.html",
        job_id=job_id,
        drawing=Markup(svg(thumbnail(check.job))),
        step=next_step(check),
        worst=worst[0] if worst else None,
        told=_told(check),
    )


def _told(check: Check) -> list[tuple[str, str, str]]:
    """(verdict, mark, words) of what is over or to be measured; or that nothing is over."""
    counts = check.tally()
    told = [
        (v.value, VERDICT_MARKS[v], f"{counts[v.value]} {VERDICT_WORDS[v]}")
        for v in (Verdict.OVER, Verdict.UNKNOWN)
        if counts[v.value]
    ]
    return told or [(Verdict.CLEAR.value, VERDICT_MARKS[Verdict.CLEAR], "nothing over")]


class NewJobForm(BaseModel):
    """What a job is called, and what it begins on: `job:<number>`, `body:<id>`, `book:<id>` of a
    vehicle, or nothing.
    """

    name: Annotated[Text, Field(max_length=200)] = ""
    start: ShortText = ""


class ImportForm(BaseModel):
    """A plan file."""

    file: Upload = None


@router.post("/jobs")
def new_job(read: Read, form: Annotated[NewJobForm, Form()]) -> Response:
    """Begin a job on a body type's shell, on the vehicle that another job has surveyed, or on one
    of the workshop's book; it takes what the book says.
    """
    try:
        plan = new_with_book(read, _begun(read, form))
    except ValidationError as error:
        raise BadInput("name of the job", form.name, places_of(error)[0][1]) from None
    if read.db.is_named(plan.name):
        problem = f"There is a job called {plan.name} already. Give this one another name."
        raise BadInput("name of the job", plan.name, problem)
    return _go_to(read.db.create(plan, "new job"))


def _begun(read: ReadRequest, form: NewJobForm) -> Plan:
    """The fresh plan that a form asks for."""
    kind, _, wanted = form.start.partition(":")
    if kind == "job" and wanted.isascii() and wanted.isdigit():
        return like(form.name, read.db.head(int(wanted)).plan)
    if kind == "book":
        return on_vehicle(form.name, entry_of(read.db.held_book().book, "vehicles", wanted))
    if kind != "body":
        return new_plan(form.name, None)
    if wanted not in read.book.bodies:
        raise BadInput("body type", wanted, "Choose a body type from the list.")
    return with_assumed_parts(new_plan(form.name, read.book.bodies[wanted]), read.book)


@router.post("/jobs/import")
def import_job(db: Db, book: Book, form: Annotated[ImportForm, Form()]) -> Response:
    """Read a plan file as a new job."""
    upload = form.file
    if upload is None or not upload.filename:
        raise PlanUnreadable("No file was chosen. Choose a plan file that was exported from here.")
    raw = upload.file.read()
    read, pictures = read_job_file(raw)
    plan = check_references(read, book)
    problem = too_large(plan)
    if problem:
        raise PlanUnreadable(problem)
    return _go_to(db.create(plan, "imported", pictures, read_job_log(raw)))


@router.post("/jobs/{job_id}/copy")
def copy_job(db: Db, job_id: JobId) -> Response:
    """Begin a job as a copy of another."""
    plan = db.head(job_id).plan
    named = plan.model_copy(update={"name": f"{plan.name[:73]}, copy"})
    return _go_to(db.create(named, "copied", db.pictures(job_id, plan)))


@router.post("/jobs/{job_id}/delete")
def delete_job(db: Db, job_id: JobId) -> Response:
    """Take a job out for good; the page asks first."""
    db.delete(job_id)
    return Response(status_code=204, headers={"hx-refresh": "true"})


@router.get("/jobs/{job_id}")
def job(job_id: JobId) -> Response:
    """A job opens at its first station."""
    return RedirectResponse(f"/jobs/{job_id}/vehicle", 303)


@router.get("/jobs/{job_id}/plan.json", response_class=JSONResponse)
def export_plan(db: Db, job_id: JobId) -> Response:
    """The plan as a file."""
    head = db.head(job_id)
    disposition = f'attachment; filename="gale-nook-{job_id}-edit-{head.number}.json"'
    return Response(
        write_plan(head.plan),
        media_type="application/json",
        headers={"content-disposition": disposition},
    )


@router.get("/jobs/{job_id}/build.pdf", response_class=Response)
async def export_pdf(
    request: Request, db: Db, book: Book, system: Units, job_id: JobId
) -> Response:
    """The build sheet on paper."""
    head = await run_in_threadpool(db.head, job_id)
    since = await run_in_threadpool(changed_since_print, db, book, head)
    arguments = {"system": system.value, "edit": head.number, "since": since}
    printed = await file_of(request, "print", head.plan, book, arguments)
    if not isinstance(printed, bytes):
        raise Waiting(printed)
    await run_in_threadpool(db.note_print, job_id, head.number)
    disposition = f'attachment; filename="gale-nook-{job_id}-build.pdf"'
    return Response(
        printed, media_type="application/pdf", headers={"content-disposition": disposition}
    )


@router.get("/jobs/{job_id}/job.zip", response_class=Response)
def export_job(db: Db, job_id: JobId) -> Response:
    """The plan with its photos, as one file."""
    head = db.head(job_id)
    disposition = f'attachment; filename="gale-nook-{job_id}-edit-{head.number}.zip"'
    return Response(
        job_file(head.plan, db.all_pictures(job_id, head.plan), db.log(job_id)),
        media_type="application/zip",
        headers={"content-disposition": disposition},
    )


@router.get("/plan.schema.json", response_class=JSONResponse)
def schema() -> Response:
    """The JSON Schema of the plan file."""
    return JSONResponse(plan_schema())


@router.post("/units")
def switch_units(system: Units) -> Response:
    """Switch between metric and imperial, and show the page again."""
    answer = Response(status_code=204, headers={"hx-refresh": "true"})
    other = "metric" if system == "imperial" else "imperial"
    answer.set_cookie(UNITS_COOKIE, other, max_age=ONE_YEAR_S, samesite="strict", httponly=True)
    return answer


def _go_to(job_id: int) -> Response:
    """Let htmx open the job."""
    return Response(status_code=204, headers={"hx-redirect": f"/jobs/{job_id}/vehicle"})
