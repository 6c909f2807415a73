"""Log station: entries written and corrected, CSV in and out, service, finding a fault, all
vehicles.
"""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Path, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.log.service import due_list
from gale_nook.core.log.station import LOG
from gale_nook.core.plan.document import places_of
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import parse_quantity
from gale_nook.exchange.log_csv import read_log, service_calendar, write_log
from gale_nook.exchange.photos import kept_picture
from gale_nook.exchange.weather import read_lows
from gale_nook.web.context import EditRequest, JobId, Read, page_seen, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import show_after
from gale_nook.web.forms import PageForm, ShortText, Text, Upload, clean
from gale_nook.web.stations.log.fault import FaultAsked, FaultFinder
from gale_nook.web.stations.log.page import (
    NIGHT_FIELDS,
    NIGHT_TICKS,
    LogPage,
    job_of,
    season_of,
    today,
)
from gale_nook.web.stations.routing import station_router

router: APIRouter = station_router(LOG)
EntryId = Annotated[str, Path(pattern=r"^[A-Za-z0-9_-]{1,60}$")]
TYPED = {
    field.name: (field.kind, field.words.removeprefix("or "))
    for field in NIGHT_FIELDS
    if field.kind != "text"
}


class EntryForm(PageForm):
    """What is asked for: write an entry down, or correct one by its id."""

    id: ShortText = ""
    kind: ShortText = "night"
    on: ShortText = ""
    stick_before_mm: ShortText = ""
    stick_after_mm: ShortText = ""
    litres: ShortText = ""
    refilled_l: ShortText = ""
    hours_h: ShortText = ""
    set_c: ShortText = ""
    lowest_c: ShortText = ""
    people: ShortText = ""
    charge_ah: ShortText = ""
    drove: ShortText = ""
    slope: ShortText = ""
    smoke: ShortText = ""
    smell: ShortText = ""
    noise: ShortText = ""
    code: ShortText = ""
    note: Text = ""
    cause: ShortText = ""
    back: ShortText = ""
    file: Upload = None


@router.post("/jobs/{job_id}/log/entry")
def write_entry(
    ask: Annotated[EditRequest[EntryForm], edit_request(EntryForm)], job_id: JobId
) -> Response:
    """Write an entry down, or correct one: what it was is kept."""
    known = {entry.id: entry for entry in ask.db.log(job_id)}
    before = known.get(ask.form.id)
    if ask.form.id and before is None:
        raise Gone("entry", ask.form.id)
    data: dict[str, Any] = before.model_dump() if before is not None else {}
    data |= _typed(ask.form, ask.system)
    data["id"] = before.id if before is not None else fresh_id(tuple(known.values()), "n")
    if ask.form.file is not None and ask.form.file.filename:
        kept = kept_picture(ask.form.file.file.read())
        ask.db.keep_pictures(job_id, {kept.file: kept.data})
        data["photo"] = kept.file
    ask.db.write_log(job_id, (_entry(data),))
    return _shown(ask, job_id)


def _shown(ask: EditRequest[Any], job_id: int) -> Response:
    """The log as it is now: in its place, or gone back to from an entry's own page."""
    if ask.form.back:
        return Response(status_code=204, headers={"hx-redirect": f"/jobs/{job_id}/log"})
    return show_after(ask, job_id, "log")


def _typed(form: EntryForm, system: UnitSystem) -> dict[str, Any]:
    """What was typed, in the units of the log."""
    data: dict[str, Any] = {"kind": form.kind, "on": form.on.strip() or today()}
    for name, (kind, words) in TYPED.items():
        text = getattr(form, name).strip()
        if not text:
            data[name] = 0.0 if name == "refilled_l" else None
            continue
        value = parse_quantity(text, kind, system, words)
        data[name] = int(value) if name == "people" and value == int(value) else value
    data |= {name: getattr(form, name) in {"yes", "on", "true"} for name, _ in NIGHT_TICKS}
    return data | {"code": form.code, "note": form.note, "cause": form.cause}


def _entry(data: dict[str, Any]) -> LogEntry:
    try:
        return LogEntry.model_validate(data)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        words = TYPED.get(place, ("", {"on": "day"}.get(place, place)))[1]
        raise BadInput(words, data.get(place), problem) from None


class OneForm(PageForm):
    """What is asked for: something about one entry, or one service."""

    id: ShortText = ""
    back: ShortText = ""


@router.post("/jobs/{job_id}/log/remove")
def remove(ask: Annotated[EditRequest[OneForm], edit_request(OneForm)], job_id: JobId) -> Response:
    """Take an entry out; its versions are kept."""
    if ask.form.id not in {entry.id for entry in ask.db.log(job_id)}:
        raise Gone("entry", ask.form.id)
    ask.db.take_out_of_log(job_id, ask.form.id)
    return _shown(ask, job_id)


@router.post("/jobs/{job_id}/log/done")
def done(ask: Annotated[EditRequest[OneForm], edit_request(OneForm)], job_id: JobId) -> Response:
    """Note that something was serviced today."""
    if ask.form.id not in {kind.id for kind in ask.book.log.services}:
        raise Gone("service", ask.form.id)
    entries = ask.db.log(job_id)
    entry = LogEntry(id=fresh_id(entries, "s"), kind="service", on=today(), done=(ask.form.id,))
    ask.db.write_log(job_id, (entry,))
    return show_after(ask, job_id, "log")


@router.get("/jobs/{job_id}/log/entries/{entry_id}")
def entry(read: Read, job_id: JobId, entry_id: EntryId) -> HTMLResponse:
    """An entry to correct, with what it was before."""
    versions = read.db.log_versions(job_id, entry_id)
    if not versions or versions[0].entry is None:
        raise Gone("entry", entry_id)
    page = page_seen(read, job_id, "log")
    return render(
        "log/entry.html", page=page, entry=versions[0].entry, now=versions[0], versions=versions[1:]
    )


@router.get("/jobs/{job_id}/log/effect")
def effect(read: Read, job_id: JobId) -> HTMLResponse:
    """What taking over what was learned would change."""
    return render("log/effect.html", page=page_seen(read, job_id, "log"))


class LogFileForm(PageForm):
    """What is asked for: take entries in from a CSV file."""

    file: Upload = None


@router.post("/jobs/{job_id}/log/csv")
def take_csv(
    ask: Annotated[EditRequest[LogFileForm], edit_request(LogFileForm)], job_id: JobId
) -> Response:
    """Take entries in; those whose id is known are corrected."""
    upload = ask.form.file
    if upload is None or not upload.filename:
        raise BadInput("file", None, "Choose a CSV file first, with the columns of the export.")
    ask.db.write_log(job_id, read_log(upload.file.read()))
    return show_after(ask, job_id, "log")


@router.post("/jobs/{job_id}/log/weather")
def take_weather(
    ask: Annotated[EditRequest[LogFileForm], edit_request(LogFileForm)], job_id: JobId
) -> Response:
    """Put the lowest temperature outside into nights that have none, from a weather file."""
    upload = ask.form.file
    if upload is None or not upload.filename:
        raise BadInput("file", None, "Choose a CSV file of time and temperature first.")
    lows = read_lows(upload.file.read())
    told = [
        entry.model_copy(update={"lowest_c": lows[entry.on]})
        for entry in ask.db.log(job_id)
        if entry.kind == "night" and entry.lowest_c is None and entry.on in lows
    ]
    if not told:
        problem = "No night without a temperature is in the days of this file."
        raise BadInput("weather", None, problem)
    ask.db.write_log(job_id, told)
    return show_after(ask, job_id, "log")


@router.get("/jobs/{job_id}/log/log.csv")
def log_file(read: Read, job_id: JobId) -> Response:
    """All entries as CSV."""
    read.db.head(job_id)
    return _file(write_log(read.db.log(job_id)).encode(), "text/csv; charset=utf-8", "log.csv")


@router.get("/jobs/{job_id}/log/service.ics")
def service_file(read: Read, job_id: JobId) -> Response:
    """What is due as a calendar file."""
    job = job_of(read.db, job_id, read.book)
    head = read.db.head(job_id)
    entries, season = season_of(read.db, job_id, head.number, job)
    due = due_list(job, entries, season.nights, today())
    calendar = service_calendar(job.plan.name, due, today())
    return _file(calendar, "text/calendar; charset=utf-8", "service.ics")


def _file(content: bytes, kind: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=kind, headers=headers)


class PhotoForm(PageForm):
    """What is asked for: keep a photo with an entry."""

    id: ShortText = ""
    file: Upload = None


@router.post("/jobs/{job_id}/log/photo")
def add_photo(
    ask: Annotated[EditRequest[PhotoForm], edit_request(PhotoForm)], job_id: JobId
) -> Response:
    """Keep a photo with an entry that is there; the phone sends it after the night."""
    known = next((each for each in ask.db.log(job_id) if each.id == ask.form.id), None)
    if known is None:
        raise Gone("entry", ask.form.id)
    if ask.form.file is None or not ask.form.file.filename:
        raise BadInput("photo", None, "Choose a photo first, then send it.")
    kept = kept_picture(ask.form.file.file.read())
    ask.db.keep_pictures(job_id, {kept.file: kept.data})
    ask.db.write_log(job_id, (known.model_copy(update={"photo": kept.file}),))
    return show_after(ask, job_id, "log")


@router.get("/jobs/{job_id}/log/photos/{entry_id}.jpg")
def photo(read: Read, job_id: JobId, entry_id: EntryId) -> Response:
    """The photo of an entry."""
    known = next((each for each in read.db.log(job_id) if each.id == entry_id), None)
    data = read.db.picture(job_id, known.photo) if known is not None and known.photo else None
    if data is None:
        raise Gone("photo", entry_id)
    return Response(data, media_type="image/jpeg")


@router.get("/jobs/{job_id}/log/fault")
def fault(read: Read, job_id: JobId, asked: Annotated[FaultAsked, Query()]) -> HTMLResponse:
    """Find a fault: what is likely, and what to check next. Its whole state is in its address."""
    page = page_seen(read, job_id, "log")
    if not isinstance(page, LogPage):
        raise Gone("log", job_id)
    return render("log/fault.html", page=page, finder=FaultFinder(page, asked))


class NamedForm(PageForm):
    """What is asked for: keep a fault that was found."""

    cause: ShortText = ""
    note: Text = ""


@router.post("/jobs/{job_id}/log/fault")
def keep_fault(
    ask: Annotated[EditRequest[NamedForm], edit_request(NamedForm)], job_id: JobId
) -> Response:
    """Write down which fault it was."""
    if ask.book.log.cause(ask.form.cause) is None:
        raise BadInput("cause", ask.form.cause, "Choose a cause from the list.")
    entries = ask.db.log(job_id)
    told = LogEntry(
        id=fresh_id(entries, "f"),
        kind="fault",
        on=today(),
        cause=ask.form.cause,
        note=ask.form.note,
    )
    ask.db.write_log(job_id, (told,))
    return Response(status_code=204, headers={"hx-redirect": f"/jobs/{job_id}/log"})


@router.get("/jobs/{job_id}/log/phone")
def phone(read: Read, job_id: JobId) -> HTMLResponse:
    """A night's entry on the phone, which keeps what is typed without signal."""
    return render("log/phone.html", page=page_seen(read, job_id, "log"))


class PhoneNights(BaseModel):
    """What the phone gives back: entries as they were typed."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    nights: Annotated[tuple[dict[ShortText, Text], ...], Field(max_length=60)] = ()


class PhoneForm(PageForm):
    """What is asked for: take over what was written down on the phone."""

    nights: Annotated[str, BeforeValidator(clean), Field(max_length=200_000)] = ""


@router.post("/jobs/{job_id}/log/phone")
def take_phone(
    ask: Annotated[EditRequest[PhoneForm], edit_request(PhoneForm)], job_id: JobId
) -> Response:
    """Take the phone's nights over, all of them or none. A night that was sent before is the same
    entry.
    """
    try:
        told = PhoneNights.model_validate_json(ask.form.nights)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None
    if not told.nights:
        raise BadInput("nights", None, "Nothing was written down on the phone.")
    found = []
    for night in told.nights:
        form = EntryForm.model_validate({k: v for k, v in night.items() if k != "file"})
        data = _typed(form, ask.system)
        data["id"] = form.id or fresh_id(ask.db.log(job_id), "n")
        found.append(_entry(data))
    ask.db.write_log(job_id, found)
    return show_after(ask, job_id, "log")
