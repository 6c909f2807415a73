"""Build station: its page, ticks, values as built, cut lengths, stock, days."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError

from gale_nook.core.build.cards import cards
from gale_nook.core.build.commands import (
    AddCardPhoto,
    NoteBuilt,
    NoteCut,
    TakeCards,
    TakeStock,
    TickCard,
)
from gale_nook.core.build.drill import NOTHING_TO_DRILL
from gale_nook.core.build.effect import built_effect
from gale_nook.core.build.hole_sheets import drill_sheets
from gale_nook.core.build.lists import parts_list
from gale_nook.core.build.station import BUILD
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.job import Job
from gale_nook.core.plan.build import CardId as CardName
from gale_nook.core.plan.build import CardPhoto
from gale_nook.core.plan.document import places_of
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import parse_quantity
from gale_nook.exchange.calendar import work_calendar
from gale_nook.exchange.drill import drill_pdf
from gale_nook.exchange.photos import kept_picture
from gale_nook.exchange.sheet import Since
from gale_nook.exchange.stock import read_stock, write_shopping
from gale_nook.web.context import EditRequest, JobId, Read, page_seen, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited, show_after
from gale_nook.web.forms import PageForm, SetForm, ShortText, Text, Upload, clean, typed_values
from gale_nook.web.kept import kept_jobs
from gale_nook.web.prints import changed_since_print
from gale_nook.web.stations.build.page import BuildPage
from gale_nook.web.stations.routing import station_router

router = station_router(BUILD)
LONGEST_CUT_MM = 60_000.0
CardId = Annotated[str, Path(pattern=r"^[a-z][a-z0-9-]{0,79}$")]
PhotoId = Annotated[str, Path(max_length=60)]


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
    typed = next(iter(ask.form.typed.items()), None)
    if typed is None:
        raise BadInput("as built", None, "Nothing was typed.")
    return edited(ask, job_id, "build", _built(ask.system, job, *typed))


class CutForm(PageForm):
    """What is asked for: the length that a piece was cut to; empty for not yet."""

    piece: Annotated[Text, Field(max_length=120)] = ""
    length: ShortText = ""


@router.post("/jobs/{job_id}/build/cut")
def cut(ask: Annotated[EditRequest[CutForm], edit_request(CutForm)], job_id: JobId) -> Response:
    """Put in the length that a piece of the cutting list was cut to."""
    if not ask.form.piece:
        raise Gone("piece", ask.form.piece)
    return edited(ask, job_id, "build", _cut(ask.system, ask.form.piece, ask.form.length))


class PhotoForm(PageForm):
    """What is asked for: keep a photo with a card."""

    card: Annotated[Text, Field(max_length=80)] = ""
    file: Upload = None


@router.post("/jobs/{job_id}/build/photo")
def photo(
    ask: Annotated[EditRequest[PhotoForm], edit_request(PhotoForm)], job_id: JobId
) -> Response:
    """Keep a photo with a card, scaled down, without what the camera wrote of place and device. It
    holds for the job as it is now.
    """
    head, upload = ask.db.head(job_id), ask.form.file
    if ask.form.card not in {card.id for card in cards(kept_jobs.of(head.plan, ask.book))}:
        raise Gone("card", ask.form.card)
    if upload is None or not upload.filename:
        raise BadInput("photo", None, "No photo was chosen.")
    kept, photos = kept_picture(upload.file.read()), head.plan.build.photos
    ask.db.keep_pictures(job_id, {kept.file: kept.data})
    item = CardPhoto(id=fresh_id(photos, "photo"), card=ask.form.card, file=kept.file)
    ask.db.save(job_id, head.number, AddCardPhoto(item=item), ask.book)
    return show_after(ask, job_id, "build")


@router.get("/jobs/{job_id}/build/photos/{photo_id}.jpg")
def picture(read: Read, job_id: JobId, photo_id: PhotoId) -> Response:
    """A photo that is kept with a card."""
    photos = read.db.head(job_id).plan.build.photos
    known = next((each for each in photos if each.id == photo_id), None)
    data = read.db.picture(job_id, known.file) if known is not None else None
    if data is None:
        raise Gone("photo", photo_id)
    return Response(data, media_type="image/jpeg")


@router.get("/jobs/{job_id}/build/phone")
def phone(read: Read, job_id: JobId) -> HTMLResponse:
    """The order of work for the phone, which keeps what is typed without signal."""
    return render("build/phone.html", page=page_seen(read, job_id, "build"))


class PhoneCards(BaseModel):
    """What the phone gives back: of each card what differs from what it was told, as typed."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    ticks: Annotated[dict[CardName, bool], Field(max_length=200)] = {}
    notes: Annotated[dict[CardName, Text], Field(max_length=200)] = {}
    built: Annotated[dict[ShortText, ShortText], Field(max_length=100)] = {}
    cut: Annotated[dict[ShortText, ShortText], Field(max_length=200)] = {}


class PhoneForm(PageForm):
    """What is asked for: take over what was ticked and measured on the phone."""

    cards: Annotated[str, BeforeValidator(clean), Field(max_length=100_000)] = ""


@router.post("/jobs/{job_id}/build/phone")
def take_phone(
    ask: Annotated[EditRequest[PhoneForm], edit_request(PhoneForm)], job_id: JobId
) -> Response:
    """Take over what was ticked and measured on the phone. It holds for the job as it is now."""
    try:
        told = PhoneCards.model_validate_json(ask.form.cards)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None
    head = ask.db.head(job_id)
    job = kept_jobs.of(head.plan, ask.book)
    ask.db.save(job_id, head.number, _taken(ask, job, told), ask.book)
    return show_after(ask, job_id, "build")


def _taken(ask: EditRequest[PhoneForm], job: Job, told: PhoneCards) -> TakeCards:
    """The command for what the phone gave back."""
    known = {card.id: card for card in cards(job)}
    ticks = []
    for card_id in dict.fromkeys((*told.ticks, *told.notes)):
        card = known.get(card_id)
        if card is None:
            raise Gone("card", card_id)
        done = told.ticks.get(card_id, card.done is not None)
        before = card.done.note if card.done is not None else ""
        ticks.append(TickCard(card=card_id, done=done, note=told.notes.get(card_id, before)))
    built = tuple(_built(ask.system, job, address, text) for address, text in told.built.items())
    cut = tuple(_cut(ask.system, piece, text) for piece, text in told.cut.items())
    command = TakeCards(ticks=tuple(ticks), built=built, cuts=cut)
    if not (ticks or built or cut):
        raise BadInput("cards", None, "Nothing new was typed on the phone.")
    return command


def _built(system: UnitSystem, job: Job, address: str, text: str) -> NoteBuilt:
    form = SetForm.model_validate({f"set:{address}": text})
    value = typed_values(form, system, job).changes[0].value
    if not isinstance(value, int | float) or isinstance(value, bool):
        raise BadInput("as built", text[:40], "Type what was measured, as a number.")
    return NoteBuilt(address=address, value=float(value))


def _cut(system: UnitSystem, piece: str, typed: str) -> NoteCut:
    text = typed.strip()
    length = parse_quantity(text, "mm", system, "cut length") if text else None
    if length is not None and not 0 < length <= LONGEST_CUT_MM:
        raise BadInput("cut length", text, "A cut length is more than 0 and at most 60 m.")
    return NoteCut(piece=piece, length_mm=length)


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


@router.get("/jobs/{job_id}/build/holes.pdf")
def holes(read: Read, job_id: JobId) -> Response:
    """A drill sheet at 1:1 for every hole of the job."""
    job = kept_jobs.of(read.db.head(job_id).plan, read.book)
    sheets = drill_sheets(job)
    if not sheets:
        raise BadInput("drill sheet", None, NOTHING_TO_DRILL)
    cautions = tuple(c.text for c in read.book.cautions_at("spot", job.plan.vehicle.moves))
    return _file(drill_pdf(sheets, cautions, read.system), "application/pdf", "holes.pdf")


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


@router.get("/jobs/{job_id}/build/since")
def since_print(read: Read, job_id: JobId) -> HTMLResponse:
    """What has changed since the build sheet was printed last."""
    page = page_seen(read, job_id, "build")
    told = changed_since_print(read.db, read.book, page.head)
    return render(
        "build/since.html",
        page=page,
        since=Since(told["edit"], tuple(told["changes"])) if told else None,
    )


@router.get("/jobs/{job_id}/build/effect")
def effect(read: Read, job_id: JobId) -> HTMLResponse:
    """What the values measured on what was built changed."""
    page = page_seen(read, job_id, "build")
    return render("build/effect.html", page=page, changed=built_effect(page.job))
