"""Spot station: its page, the floor map, why a place is not clear, the nearest and the best places,
candidates.
"""

from __future__ import annotations

from pathlib import Path as FilePath
from typing import Annotated, Literal

from fastapi import Query, Request
from fastapi.responses import HTMLResponse, JSONResponse, Response
from pydantic import BaseModel, BeforeValidator, Field, ValidationError
from starlette.concurrency import run_in_threadpool

from gale_nook.core.build.drill import NOTHING_TO_DRILL, drill_sheet
from gale_nook.core.build.drill_sheet import DrillSheet, Views
from gale_nook.core.checking import check
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.spot import Candidate, Spot
from gale_nook.core.quantities.length import parse_length_mm
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.commands import AddCandidate, PlaceHeater
from gale_nook.core.spot.costs import Weights
from gale_nook.core.spot.floor_map import YAWS
from gale_nook.core.spot.station import SPOT
from gale_nook.core.spot.why import why
from gale_nook.exchange.creeper_card import card_holes, card_page, creeper_card_of
from gale_nook.exchange.drill import drill_dxf, drill_pdf
from gale_nook.exchange.from_card import MAX_LINE, read_below
from gale_nook.web.context import Book, Db, EditRequest, JobId, Read, Units, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited, show_after
from gale_nook.web.forms import PageForm, ShortText, Text, Upload, clean
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.routing import station_router
from gale_nook.web.stations.spot.rows import SpotRow, best_rows, candidate_rows
from gale_nook.web.works import Waiting, ask_for, file_of, show_waiting

router = station_router(SPOT)
REACH_MM = 30_000
STATIC = FilePath(__file__).parents[2] / "static"
KEPT_S = 7 * 24 * 3600
Coordinate = Annotated[float, Field(ge=-REACH_MM, le=REACH_MM, allow_inf_nan=False)]
Weight = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]


class Place(BaseModel):
    """Which place is asked about, and whether at the best turn."""

    x: Coordinate = 0.0
    y: Coordinate = 0.0
    best: bool = False


class Weighing(BaseModel):
    """How much each cost of a place counts."""

    exhaust: Weight = 5.0
    fuel: Weight = 3.0
    duct: Weight = 3.0
    quiet: Weight = 4.0
    margin: Weight = 2.0
    anew: bool = False


class Picture(BaseModel):
    """Which picture of the map is asked for."""

    key: Annotated[str, Field(pattern="^[0-9a-f]{16}$")]
    turn: Literal["0", "90", "180", "270", "best"] = "best"
    plan: Literal["above", "below"] = "above"


class PutThereForm(PageForm):
    """What is asked for: put the heater where the two typed lengths say."""

    x: Text = ""
    y: Text = ""


@router.post("/jobs/{job_id}/spot/place")
def put_there(
    ask: Annotated[EditRequest[PutThereForm], edit_request(PutThereForm)], job_id: JobId
) -> Response:
    """Put the heater where the two typed lengths say."""
    x = parse_length_mm(ask.form.x, ask.system, "behind the datum")
    y = parse_length_mm(ask.form.y, ask.system, "right of centre")
    for name, value in (("behind the datum", x), ("right of centre", y)):
        if abs(value) > REACH_MM:
            raise BadInput(name, value, f"Up to {REACH_MM / 1000:.0f} m from the datum are taken.")
    return edited(ask, job_id, "spot", PlaceHeater(x_mm=x, y_mm=y))


@router.get("/jobs/{job_id}/spot/floor.png", response_class=Response)
async def floor(
    request: Request, db: Db, book: Book, job_id: JobId, edit_request: Annotated[Picture, Query()]
) -> Response:
    """The clear-spot map as a picture; its address names all that it depends on, so
    it may be kept.
    """
    plan = (await run_in_threadpool(db.head, job_id)).plan
    if plan.heater.sheet is None:
        raise BadInput("heater", None, "The map needs a heater.")
    picture = await file_of(
        request, "floor", plan, book, {"turn": edit_request.turn, "plan": edit_request.plan}
    )
    if not isinstance(picture, bytes):
        raise Waiting(picture)
    return Response(
        picture,
        media_type="image/png",
        headers={"cache-control": f"private, max-age={KEPT_S}, immutable"},
    )


@router.get("/jobs/{job_id}/spot/drill.pdf", response_class=Response)
def drill_sheet_pdf(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The drill sheet at 1:1, both faces."""
    sheet, cautions = _drill(kept_jobs.of(db.head(job_id).plan, book))
    disposition = f'attachment; filename="gale-nook-{job_id}-drill.pdf"'
    return Response(
        drill_pdf((sheet,), cautions, system),
        media_type="application/pdf",
        headers={"content-disposition": disposition},
    )


@router.get("/jobs/{job_id}/spot/drill-{face}.dxf", response_class=Response)
def drill_sheet_dxf(db: Db, book: Book, job_id: JobId, face: Views) -> Response:
    """One face of the drill sheet as DXF, in millimetres."""
    sheet, _ = _drill(kept_jobs.of(db.head(job_id).plan, book))
    disposition = f'attachment; filename="gale-nook-{job_id}-drill-{face}.dxf"'
    result = next((f for f in sheet.faces if f.face == face), None)
    if result is None:
        raise BadInput("face", face, f"This sheet has {' and '.join(f.face for f in sheet.faces)}.")
    text = drill_dxf(sheet, result)
    return Response(text, media_type="image/vnd.dxf", headers={"content-disposition": disposition})


def _drill(job: Job) -> tuple[DrillSheet, tuple[str, ...]]:
    sheet = drill_sheet(job)
    if sheet is None:
        raise BadInput(
            "drill sheet",
            None,
            NOTHING_TO_DRILL,
        )
    return sheet, tuple(c.text for c in job.catalogue.cautions_at("spot", job.plan.vehicle.moves))


@router.get("/jobs/{job_id}/spot/card")
def card(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The card for someone lying under the vehicle."""
    head = db.head(job_id)
    return HTMLResponse(
        card_page(creeper_card_of(check(head.plan, book), job_id, head.number, system))
    )


@router.get("/jobs/{job_id}/spot/card.html", response_class=Response)
def card_file(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The same card as one file that needs no server."""
    head = db.head(job_id)
    style, script = ((STATIC / name).read_text("utf-8") for name in ("card.css", "card.js"))
    page = card_page(
        creeper_card_of(check(head.plan, book), job_id, head.number, system), style, script
    )
    disposition = f'attachment; filename="below-{job_id}.html"'
    return Response(
        page, media_type="text/html; charset=utf-8", headers={"content-disposition": disposition}
    )


class TakeBelowForm(PageForm):
    """What is asked for."""

    line: Annotated[str, BeforeValidator(clean), Field(max_length=MAX_LINE)] = ""
    file: Upload = None


@router.post("/jobs/{job_id}/spot/below")
def take_below(
    ask: Annotated[EditRequest[TakeBelowForm], edit_request(TakeBelowForm)], job_id: JobId
) -> Response:
    """Take in what a card gave back: its line, or its file. It holds for the job as it is now."""
    upload = ask.form.file
    line = ask.form.line
    if upload is not None and upload.filename:
        line = upload.file.read().decode("utf-8", "replace")
    head = ask.db.head(job_id)
    job = kept_jobs.of(head.plan, ask.book)
    told = read_below(line, job, job_id, card_holes(job))
    if told.pictures:
        ask.db.keep_pictures(job_id, told.pictures)
    ask.db.save(job_id, head.number, told.command, ask.book)
    return show_after(ask, job_id, "spot")


@router.get("/jobs/{job_id}/spot/why", response_class=JSONResponse)
def why_not(
    db: Db, book: Book, system: Units, job_id: JobId, place: Annotated[Place, Query()]
) -> Response:
    """What stops a place, or by how much it is clear: at the heater's turn, or at the best of the
    four.
    """
    job = kept_jobs.of(db.head(job_id).plan, book)
    if heater_sheet(job) is None:
        return JSONResponse({"words": ""})
    spot = job.plan.spot
    turns = YAWS if place.best or spot is None else (spot.yaw_deg,)
    return JSONResponse({"words": say(why(job, place.x, place.y, turns), system)})


@router.get("/jobs/{job_id}/spot/nearest")
def nearest(read: Read, job_id: JobId, anew: bool = False) -> Response:
    """Show the nearest place at which no spot check is over."""
    state = ask_for(read.request, "nearest", read.db.head(job_id).plan, read.book, {}, anew=anew)
    url = f"/jobs/{job_id}/spot"
    if state.state != "done":
        return show_waiting(state, f"{url}/nearest")
    return render(
        "remedies.html", offered=state.found, page_url=url, system=read.system, searched=True
    )


@router.get("/jobs/{job_id}/spot/best")
def best(read: Read, job_id: JobId, weighing: Annotated[Weighing, Query()]) -> Response:
    """The best places, scored on weights that can be slid."""
    plan, weights = read.db.head(job_id).plan, weighing.model_dump(exclude={"anew"})
    state = ask_for(read.request, "best", plan, read.book, weights, anew=weighing.anew)
    url = f"/jobs/{job_id}/spot"
    if state.state != "done":
        return show_waiting(state, f"{url}/best", **weights)
    rows = best_rows(kept_jobs.of(plan, read.book), state.found, read.system)
    return render(
        "spot/best.html", rows=rows, weights=Weights(**weights), job_id=job_id, page_url=url
    )


class WayFromPlace(BaseModel):
    """A place for the heater: as it stands now but there, turned and on that mount."""

    x: Coordinate
    y: Coordinate
    yaw: Annotated[int, Field(ge=0, lt=360)] = 0
    mount: Annotated[str, Field(max_length=60)] = ""
    anew: bool = False


@router.get("/jobs/{job_id}/spot/way")
def way_from(read: Read, job_id: JobId, place: Annotated[WayFromPlace, Query()]) -> Response:
    """Whether the exhaust finds a way from a place, looked for with every check of it."""
    plan = read.db.head(job_id).plan
    there = {"x_mm": place.x, "y_mm": place.y, "yaw_deg": place.yaw, "mount": place.mount}
    kept = plan.spot.model_dump(mode="json") if plan.spot is not None else {}
    try:
        spot = Spot.model_validate({**kept, **there})
    except ValidationError as error:
        where, problem = places_of(error)[0]
        raise BadInput(where, None, problem) from None
    if heater_sheet(kept_jobs.of(plan, read.book)) is None:
        raise BadInput("heater", None, "Choose a heater first.")
    arguments = spot.model_dump(mode="json")
    state = ask_for(read.request, "way-from", plan, read.book, arguments, anew=place.anew)
    if state.state != "done":
        asked = {"x": place.x, "y": place.y, "yaw": place.yaw, "mount": place.mount}
        return show_waiting(state, f"/jobs/{job_id}/spot/way", **asked)
    length = format_quantity(round(state.found.length_mm), "mm", read.system)
    return render("spot/way_from.html", found=state.found, length=length)


@router.get("/jobs/{job_id}/spot/candidates")
def candidates(read: Read, job_id: JobId, anew: bool = False) -> Response:
    """The spots that were kept, side by side, the rejected ones with their reasons."""
    plan, url = read.db.head(job_id).plan, f"/jobs/{job_id}/spot"
    rows: list[SpotRow] = []
    if plan.candidates:
        state = ask_for(read.request, "kept", plan, read.book, {}, anew=anew)
        if state.state != "done":
            return show_waiting(state, f"{url}/candidates")
        rows = candidate_rows(kept_jobs.of(plan, read.book), state.found, read.system)
    return render("spot/candidates.html", rows=rows, job_id=job_id, page_url=url)


class KeepForm(PageForm):
    """What is asked for."""

    note: Annotated[Text, Field(max_length=400)] = ""
    name: ShortText = ""


@router.post("/jobs/{job_id}/spot/keep")
def keep(ask: Annotated[EditRequest[KeepForm], edit_request(KeepForm)], job_id: JobId) -> Response:
    """Keep the heater's present place beside others, with a name and why it was rejected, if it
    was.
    """
    plan = ask.db.head(job_id).plan
    if plan.spot is None:
        raise BadInput("spot", None, "There is no place yet that could be kept.")
    note = ask.form.note.strip()
    kept = _candidate(plan.spot, fresh_id(plan.candidates, "spot"), ask.form.name, note)
    return edited(ask, job_id, "spot", AddCandidate(item=kept))


def _candidate(spot: Spot, candidate_id: str, name: str, note: str) -> Candidate:
    named = name.strip() or f"spot {candidate_id.rsplit('-', 1)[-1]}"
    return Candidate(id=candidate_id, name=named, spot=spot, rejected=bool(note), note=note)
