"""Build station: its page, ticks, values as built, cut lengths, stock, days."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path
from fastapi.responses import HTMLResponse, Response
from pydantic import Field

from gale_nook.core.build.cards import cards
from gale_nook.core.build.commands import NoteBuilt, NoteCut, TakeStock, TickCard
from gale_nook.core.build.effect import built_effect
from gale_nook.core.build.lists import parts_list
from gale_nook.core.build.station import BUILD
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.quantities.measures import parse_quantity
from gale_nook.exchange.calendar import work_calendar
from gale_nook.exchange.stock import read_stock, write_shopping
from gale_nook.web.context import EditRequest, JobId, Read, page_seen, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, SetForm, ShortText, Text, Upload, typed_values
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.build.page import BuildPage
from gale_nook.web.stations.routing import station_router

router = station_router(BUILD)
CardId = Annotated[str, Path(pattern=r"^[a-z][a-z0-9-]{0,79}$")]


class TickForm(PageForm):
    """What is asked for: tick a card, or take its tick back."""

    card: Annotated[Text, Field(max_length=80)] = ""
    done: ShortText = ""
    note: Text = ""


@router.post("/jobs/{job_id}/build/tick")
def tick(ask: Annotated[EditRequest[TickForm], edit_request(TickForm)], job_id: JobId) -> Response:
    """Tick a card of the work off with what was found, or take its tick back."""
    known = {card.id for card in cards(kept_jobs.of(ask.db.head(job_id).plan, ask.book))}
    if ask.form.card not in known:
        raise Gone("card", ask.form.card)
    command = TickCard(card=ask.form.card, done=ask.form.done == "yes", note=ask.form.note)
    return edited(ask, job_id, "build", command)


@router.post("/jobs/{job_id}/build/built")
def built(ask: Annotated[EditRequest[SetForm], edit_request(SetForm)], job_id: JobId) -> Response:
    """Put a value in that was measured on what was built."""
    job = kept_jobs.of(ask.db.head(job_id).plan, ask.book)
    change = typed_values(ask.form, ask.system, job).changes[0]
    if not isinstance(change.value, int | float) or isinstance(change.value, bool):
        raise BadInput("as built", str(change.value), "Type what was measured, as a number.")
    command = NoteBuilt(address=change.address, value=float(change.value))
    return edited(ask, job_id, "build", command)


class CutForm(PageForm):
    """What is asked for: the length that a piece was cut to; empty for not yet."""

    piece: Annotated[Text, Field(max_length=120)] = ""
    length: ShortText = ""


@router.post("/jobs/{job_id}/build/cut")
def cut(ask: Annotated[EditRequest[CutForm], edit_request(CutForm)], job_id: JobId) -> Response:
    """Put in the length that a piece of the cutting list was cut to."""
    text, piece = ask.form.length.strip(), ask.form.piece
    if not piece:
        raise Gone("piece", piece)
    length = parse_quantity(text, "mm", ask.system, "cut length") if text else None
    if length is not None and not 0 < length <= 60_000:
        raise BadInput("cut length", text, "A cut length is more than 0 and at most 60 m.")
    return edited(ask, job_id, "build", NoteCut(piece=piece, length_mm=length))


class StockForm(PageForm):
    """What is asked for: take stock and prices over."""

    file: Upload = None


@router.post("/jobs/{job_id}/build/stock")
def stock(
    ask: Annotated[EditRequest[StockForm], edit_request(StockForm)], job_id: JobId
) -> Response:
    """Take stock and prices over from a CSV file."""
    upload = ask.form.file
    if upload is None or not upload.filename:
        raise BadInput("file", None, "Choose a CSV file first, with the columns part, have, price.")
    lines = read_stock(upload.file.read(), ask.book.parts)
    return edited(ask, job_id, "build", TakeStock(lines=lines))


@router.get("/jobs/{job_id}/build/shopping.csv")
def shopping(read: Read, job_id: JobId) -> Response:
    """The parts list as CSV."""
    job = kept_jobs.of(read.db.head(job_id).plan, read.book)
    return _file(write_shopping(parts_list(job)).encode(), "text/csv; charset=utf-8", "parts.csv")


@router.get("/jobs/{job_id}/build/days.ics")
def days(read: Read, job_id: JobId) -> Response:
    """The days of the work as a calendar file."""
    page = page_seen(read, job_id, "build")
    listed = page.days if isinstance(page, BuildPage) else ()
    calendar = work_calendar(page.plan.name, listed, page.plan.build.begins_on)
    return _file(calendar, "text/calendar; charset=utf-8", "days.ics")


def _file(content: bytes, kind: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=kind, headers=headers)


@router.get("/jobs/{job_id}/build/cards/{card_id}/drawing")
def drawing(read: Read, job_id: JobId, card_id: CardId) -> HTMLResponse:
    """The drawing of just the place that a card is about."""
    page = page_seen(read, job_id, "build")
    if not isinstance(page, BuildPage):
        raise Gone("card", card_id)
    card = next((card for card in page.cards if card.id == card_id), None)
    if card is None:
        raise Gone("card", card_id)
    return HTMLResponse(page.drawing(card))


@router.get("/jobs/{job_id}/build/effect")
def effect(read: Read, job_id: JobId) -> HTMLResponse:
    """What the values measured on what was built changed."""
    page = page_seen(read, job_id, "build")
    return render("build/effect.html", page=page, changed=built_effect(page.job))
