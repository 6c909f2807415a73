"""Heater station: its page, the season, the night, heaters side by side, and
heaters of one's own.
"""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from fastapi.responses import JSONResponse, Response
from markupsafe import Markup
from pydantic import ConfigDict, Field

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.season import heater_season, season
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.commands import AddUnit, ChooseHeater, DropSheet, PutSheet
from gale_nook.core.heater.station import HEATER
from gale_nook.core.job import with_own_book
from gale_nook.core.pipes.as_unit import unit_of
from gale_nook.core.plan.document import Plan
from gale_nook.drawing.season import season_chart
from gale_nook.drawing.svg import svg
from gale_nook.exchange.heater_sheets import read_sound_sheet, sheet_schema, write_sheet
from gale_nook.web.context import Book, Db, EditRequest, JobId, Units, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, Text, Upload
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.heater.fresh import fresh_heater_id
from gale_nook.web.stations.heater.nights import night_rows, night_shown
from gale_nook.web.stations.heater.sheet_form import (
    NO_SUCH_HEATER,
    YES_OR_NO,
    sheet_groups,
    sheet_of,
)
from gale_nook.web.stations.heater.sheet_wiring import LEADS, LOADS, TEXTS, wiring_form
from gale_nook.web.stations.heater.side_by_side import MOST_BESIDE, picked, side_by_side
from gale_nook.web.stations.routing import station_router

router = station_router(HEATER)
SheetId = Annotated[str, Query(max_length=60)]


@router.get("/jobs/{job_id}/heater/night")
def night(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The night of the chosen heater as a chart, and of every heater in a table."""
    job = kept_jobs.of(db.head(job_id).plan, book, job_id)
    return render(
        "heater/night.html",
        rows=night_rows(job, system),
        shown=night_shown(job, system),
        chosen=job.plan.heater.sheet,
    )


@router.get("/jobs/{job_id}/heater/season")
def season_of(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The hours of the season in which each heater cycles, serves or falls short."""
    plan = db.head(job_id).plan
    book, bins = with_own_book(plan, book), season(plan, book)
    altitude, chosen = plan.heat.altitude_m, plan.heater.sheet
    sheet = book.heaters.get(chosen) if chosen is not None else None
    outputs = (
        (sheet.output.minimum_w, derated_w(sheet.output, altitude)) if sheet is not None else None
    )
    chart = Markup(svg(season_chart(bins, outputs, system))) if bins else Markup("")
    rows = (
        [
            (heater_season(s, derated_w(s.output, altitude), bins), s.label)
            for s in book.heaters.values()
        ]
        if bins
        else []
    )
    total = sum(b.hours for b in bins)
    return render(
        "heater/season.html",
        climate=plan.heat.climate,
        rows=rows,
        total=total,
        chosen=chosen,
        chart=chart,
        job_id=job_id,
    )


@router.get("/jobs/{job_id}/heater/beside")
def beside(
    db: Db,
    book: Book,
    system: Units,
    job_id: JobId,
    heater: Annotated[
        list[Annotated[str, Query(max_length=60)]] | None, Query(max_length=12)
    ] = None,
) -> Response:
    """Two or three heaters side by side; the chosen and the recommended one where
    none are named.
    """
    job = kept_jobs.of(db.head(job_id).plan, book, job_id)
    judged = judgements(job)
    shown = picked(judged, job.plan.heater.sheet, heater or [])
    return render(
        "heater/beside.html",
        judged=judged,
        shown=[j.sheet.id for j in shown],
        most=MOST_BESIDE,
        rows=side_by_side(job, shown, system),
        labels=[j.sheet.label for j in shown],
        job_id=job_id,
    )


class ChooseForm(PageForm):
    """What is asked for: choose a heater; over the recommended one, with the reason why."""

    sheet: Annotated[Text, Field(max_length=60)] = ""
    reason: Annotated[Text, Field(max_length=400)] = ""


@router.post("/jobs/{job_id}/heater/choose")
def choose(
    ask: Annotated[EditRequest[ChooseForm], edit_request(ChooseForm)], job_id: JobId
) -> Response:
    """Choose a heater; over the recommended one, with the reason why."""
    plan = ask.db.head(job_id).plan
    wanted, reason = ask.form.sheet, ask.form.reason.strip()
    if wanted not in with_own_book(plan, ask.book).heaters:
        raise BadInput("heater", wanted, "There is no heater of that name any more.")
    best = next((j for j in judgements(kept_jobs.of(plan, ask.book)) if j.recommended), None)
    over = best.sheet.id if best is not None and best.sheet.id != wanted else None
    if over is not None and best is not None and not reason:
        raise BadInput(
            "reason",
            reason,
            f"The {best.sheet.label} is recommended; type why this one is taken instead.",
        )
    return edited(ask, job_id, "heater", ChooseHeater(sheet=wanted, reason=reason, instead_of=over))


@router.get("/jobs/{job_id}/heater/sheet")
def open_sheet(db: Db, book: Book, system: Units, job_id: JobId, sheet: SheetId = "") -> Response:
    """The limit sheet of a heater as a form: one's own to change, the catalogue's to begin one's
    own from.
    """
    plan = db.head(job_id).plan
    base = _sheet(plan, book, sheet)
    own = any(known.id == base.id for known in plan.heater.own_sheets)
    label = base.label if own else f"{base.label}, my own"[:80]
    return render(
        "heater/sheet.html",
        sheet=base,
        own=own,
        label=label,
        groups=sheet_groups(base, book, system),
        kept_at=f"/jobs/{job_id}/heater/sheet",
        target="#work",
        swap="morph:outerHTML",
        yes_or_no=YES_OR_NO,
        wiring=wiring_form(base),
        kinds_of_load=LOADS,
        leads=LEADS,
        pin_texts=TEXTS,
    )


class KeepSheetForm(PageForm):
    """What is asked for: keep a heater of one's own as the form describes it."""

    model_config = ConfigDict(frozen=True, extra="allow")

    base_sheet: Annotated[Text, Field(max_length=60)] = ""


@router.post("/jobs/{job_id}/heater/sheet")
def keep_sheet(
    ask: Annotated[EditRequest[KeepSheetForm], edit_request(KeepSheetForm)], job_id: JobId
) -> Response:
    """Keep a heater of one's own as the form describes it."""
    plan = ask.db.head(job_id).plan
    base = _sheet(plan, ask.book, ask.form.base_sheet)
    sheet = sheet_of(ask.form, base, ask.book, ask.system)
    if base.id in ask.book.heaters:
        sheet = sheet.model_copy(update={"id": fresh_heater_id(plan, ask.book, sheet.label)})
    return edited(ask, job_id, "heater", PutSheet(sheet=sheet))


class ImportSheetForm(PageForm):
    """What is asked for: take in a limit sheet from a YAML or JSON file."""

    file: Upload = None


@router.post("/jobs/{job_id}/heater/import-sheet")
def import_sheet(
    ask: Annotated[EditRequest[ImportSheetForm], edit_request(ImportSheetForm)], job_id: JobId
) -> Response:
    """Take in a limit sheet from a YAML or JSON file."""
    upload = ask.form.file
    if upload is None or not upload.filename:
        raise PlanUnreadable("No file was chosen. Choose a heater's sheet, YAML or JSON.")
    plan, sheet = ask.db.head(job_id).plan, read_sound_sheet(upload.file.read(), ask.book)
    if sheet.id in ask.book.heaters:
        sheet = sheet.model_copy(update={"id": fresh_heater_id(plan, ask.book, sheet.label)})
    return edited(ask, job_id, "heater", PutSheet(sheet=sheet))


class DropSheetForm(PageForm):
    """What is asked for: take out a heater of one's own."""

    sheet: Annotated[Text, Field(max_length=60)] = ""


@router.post("/jobs/{job_id}/heater/drop-sheet")
def drop_sheet(
    ask: Annotated[EditRequest[DropSheetForm], edit_request(DropSheetForm)], job_id: JobId
) -> Response:
    """Take out a heater of one's own."""
    return edited(ask, job_id, "heater", DropSheet(sheet_id=ask.form.sheet))


@router.get("/jobs/{job_id}/heater/sheet.yaml", response_class=Response)
def export_sheet(db: Db, book: Book, job_id: JobId, sheet: SheetId = "") -> Response:
    """A heater's sheet as a file, to be filled in for another and taken in again."""
    result = _sheet(db.head(job_id).plan, book, sheet)
    disposition = f'attachment; filename="heater-{result.id}.yaml"'
    return Response(
        write_sheet(result),
        media_type="application/yaml",
        headers={"content-disposition": disposition},
    )


class UnitForm(PageForm):
    """What is asked for: the heater of another job on the same vehicle, by the job's name."""

    job: Annotated[Text, Field(max_length=200)] = ""


@router.post("/jobs/{job_id}/heater/unit")
def take_unit(
    ask: Annotated[EditRequest[UnitForm], edit_request(UnitForm)], job_id: JobId
) -> Response:
    """Take over the heater of another job, as it stands there now."""
    plan, wanted = ask.db.head(job_id).plan, ask.form.job.strip()
    other = ask.db.named(wanted) if wanted else None
    if other is None or other.name == plan.name:
        raise BadInput("job", wanted, "Type the name of another job, as the list of jobs has it.")
    if other.vehicle.shell != plan.vehicle.shell or other.vehicle.datum != plan.vehicle.datum:
        raise BadInput(
            "job",
            wanted,
            "Its vehicle has other main dimensions or another datum: it is not this one.",
        )
    unit = unit_of(kept_jobs.of(other, ask.book), fresh_id(plan.heater.others, "unit"), "room")
    return edited(ask, job_id, "heater", AddUnit(item=unit))


@router.get("/heater.schema.json", response_class=JSONResponse)
def schema() -> Response:
    """The JSON Schema of a heater's sheet."""
    return JSONResponse(sheet_schema())


def _sheet(plan: Plan, book: Catalogue, sheet_id: str) -> HeaterSheet:
    result = with_own_book(plan, book).heaters.get(sheet_id)
    if result is None:
        raise BadInput("heater", sheet_id, NO_SUCH_HEATER)
    return result
