"""What one job takes from the workshop's book, and what it gives to it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import Field

from gale_nook.core.apply import apply
from gale_nook.core.book.commands import taking_book
from gale_nook.core.book.document import BookWishes, OwnBook, vehicle_of
from gale_nook.core.book.entries import fresh_entry_id, with_entry
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.document import Plan
from gale_nook.core.planner.commands import TakeWishes
from gale_nook.store import books as store
from gale_nook.store.jobs import MovedOn
from gale_nook.web.book.effect import BookOnHand, effect_values
from gale_nook.web.book.page import Typed, by, limit_words, made
from gale_nook.web.context import EditRequest, JobId, Read, ReadRequest, is_fragment, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, ShortText, Text
from gale_nook.web.limit_ends import band_of

router = APIRouter(default_response_class=HTMLResponse)
EntryId = Annotated[Text, Field(max_length=60)]


@router.get("/jobs/{job_id}/book")
def book_of_job(read: Read, job_id: JobId) -> Response:
    """What the job takes from the book, and what taking the one that holds would change."""
    return _page(read, job_id)


def _page(read: ReadRequest, job_id: int, told: str = "") -> Response:
    head = read.db.head(job_id)
    held = read.db.held_book()
    hand, school = BookOnHand(held.book, held.edit, ""), held.book.school(head.plan.book.school)
    return render(
        "book/of_job_parts.html" if is_fragment(read.request) else "book/of_job.html",
        held=held,
        schools=[("", "the book’s own limits"), *((s.id, s.label) for s in held.book.schools)],
        follows=school.label if school is not None else head.plan.book.school,
        catalogue=read.book,
        said=lambda limit: limit_words(limit, band_of(limit.id, read.book), read.system),
        told_now=told,
        url=f"/jobs/{job_id}/book",
        system=read.system,
        **effect_values(read, hand, head, head.plan.book.school),
    )


@router.get("/jobs/{job_id}/book/effect")
def effect_of_school(
    read: Read, job_id: JobId, school: Annotated[EntryId, Query()] = ""
) -> Response:
    """What taking the book that holds would change, as a school of it has it."""
    head, held = read.db.head(job_id), read.db.held_book()
    hand = BookOnHand(held.book, held.edit, "")
    values = effect_values(read, hand, head, school or None)
    return render("book/effect_told.html", **values)


class TakeForm(Typed):
    """The school that the job follows, and the edit that was seen."""

    school: EntryId = ""
    base: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0


@router.post("/jobs/{job_id}/book/take")
def take(read: Read, job_id: JobId, form: Annotated[TakeForm, Form()]) -> Response:
    """Let the job take the book that holds, as a school of it has it."""
    head = read.db.head(job_id)
    if head.number != form.base:
        raise MovedOn
    held = read.db.held_book()
    school = form.school or None
    if school is not None and held.book.school(school) is None:
        raise BadInput("school", school, "The book does not have it any more.")
    command = taking_book(held.book, held.edit, school, head.plan, read.book)
    read.db.save(job_id, head.number, command, read.book)
    return _page(read, job_id, f"The job takes edit {held.edit} of the book.")


class GiveForm(Typed):
    """What something is called in the book, and where it comes from."""

    label: ShortText = ""
    source: Text = ""


@router.post("/jobs/{job_id}/book/vehicle")
def give_vehicle(read: Read, job_id: JobId, form: Annotated[GiveForm, Form()]) -> Response:
    """Put the job's surveyed vehicle into the book, where it waits to be kept."""
    plan = read.db.head(job_id).plan

    def edit(book: OwnBook) -> OwnBook:
        entry_id = fresh_entry_id(book, "vehicles", form.label)
        entry = vehicle_of(entry_id, plan.vehicle.name, "survey", plan.heat, plan.vehicle)
        values = {**dict(entry), "label": form.label, "source": form.source}
        return with_entry(book, "vehicles", made(type(entry), values, {"label": "name"}))

    return _given(read, job_id, edit, "The vehicle")


@router.post("/jobs/{job_id}/book/wishes")
def give_wishes(read: Read, job_id: JobId, form: Annotated[GiveForm, Form()]) -> Response:
    """Put the job's wishes into the book, where they wait to be kept."""
    # what they say of parts means nothing in another vehicle
    wishes = read.db.head(job_id).plan.wishes.model_copy(update={"parts": (), "pinned": ()})

    def edit(book: OwnBook) -> OwnBook:
        values = {
            "id": fresh_entry_id(book, "wishes", form.label),
            "label": form.label,
            "source": form.source,
            "wishes": wishes,
        }
        return with_entry(book, "wishes", made(BookWishes, values, {"label": "name"}))

    return _given(read, job_id, edit, "What the job wishes")


class GiveHeaterForm(Typed):
    """A heater of the job's own, by its id."""

    sheet: EntryId = ""


@router.post("/jobs/{job_id}/book/heater")
def give_heater(read: Read, job_id: JobId, form: Annotated[GiveHeaterForm, Form()]) -> Response:
    """Put a heater of the job's own into the book, where it waits to be kept."""
    plan = read.db.head(job_id).plan
    sheet = next((s for s in plan.heater.own_sheets if s.id == form.sheet), None)
    if sheet is None:
        raise BadInput("heater", form.sheet, "The job has no such heater of its own.")

    def edit(book: OwnBook) -> OwnBook:
        known = {each.id for each in book.heaters}
        entry_id = sheet.id if sheet.id in known else fresh_entry_id(book, "heaters", sheet.label)
        return with_entry(book, "heaters", sheet.model_copy(update={"id": entry_id}))

    return _given(read, job_id, edit, f"The {sheet.label}")


def _given(read: ReadRequest, job_id: int, edit: store.ChangeOfBook, what: str) -> Response:
    with read.db.transaction() as session:
        store.change(session, edit, by(read.request))
    return _page(read, job_id, f"{what} waits in the book until that is kept.")


class WishesForm(PageForm):
    """Which wishes of the book the planner begins with."""

    wishes: EntryId = ""


@router.post("/jobs/{job_id}/planner/from-book")
def take_wishes(
    ask: Annotated[EditRequest[WishesForm], edit_request(WishesForm)], job_id: JobId
) -> Response:
    """Begin with wishes of the book; what the job wishes of its parts stays."""
    wishes = ask.db.held_book().book.wishes
    entry = next((e for e in wishes if e.id == ask.form.wishes), None)
    if entry is None:
        raise BadInput("wishes", ask.form.wishes, "The book does not have them any more.")
    command = TakeWishes(name=entry.label, wishes=entry.wishes)
    return edited(ask, job_id, "planner", command)


def new_with_book(read: ReadRequest, plan: Plan) -> Plan:
    """Return a fresh plan that takes the book that holds."""
    held = read.db.held_book()
    if held.edit == 0:
        return plan
    return apply(plan, taking_book(held.book, held.edit, None, plan, read.book), read.book)
