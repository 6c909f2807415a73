"""Customers: the workshop's page with links, remarks and agreements; and what a link shows."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Form, Path, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from gale_nook.core.apply import applied
from gale_nook.core.build.agreed import PARTS, changed_since
from gale_nook.core.build.handover import handover, heater_words
from gale_nook.core.checking import Check, checked
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.planner.measures import measures_of
from gale_nook.core.quantities.sentences import say
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.layouts import layout_picture
from gale_nook.drawing.mapping import BoardView
from gale_nook.drawing.svg import svg
from gale_nook.exchange.finding_cards import finding_cards
from gale_nook.store import customers as store
from gale_nook.store import history
from gale_nook.store.customers import Link
from gale_nook.web.context import JobId, Read, ReadRequest, is_fragment, render
from gale_nook.web.doors import only_of
from gale_nook.web.forms import parse_command
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.planner.found import known_layouts
from gale_nook.web.stations.planner.page import measure_texts

router = APIRouter(default_response_class=HTMLResponse)
Number = Annotated[int, Field(ge=1, le=2**31 - 1)]
Token = Annotated[str, Path(max_length=100)]
WORDS = {
    "drawing": "the drawing",
    "verdicts": "what was checked",
    "layouts": "layouts to choose from",
    "price": "what the parts cost, about",
    "handover": "how it is used",
}
ALL = "anything else"
NOT_THERE = "This link has ended, or was never there. Ask the workshop for a new one."


class Typed(BaseModel):
    """A form as it was typed."""

    model_config = ConfigDict(extra="ignore")


# --- the workshop's page ---


@router.get("/jobs/{job_id}/customer")
def customer_page(read: Read, job_id: JobId) -> Response:
    """Links, remarks and agreements of a job."""
    return _workshop(read, job_id)


def _workshop(read: ReadRequest, job_id: int, link: str = "", customer: str = "") -> Response:
    head = read.db.head(job_id)
    with read.db.transaction() as session:
        links, remarks = store.links(session, job_id), store.remarks(session, job_id)
        agreed = store.agreed(session, job_id)
    changed = changed_since(agreed.prints, head.plan) if agreed is not None else ()
    return render(
        "customers/workshop_parts.html" if is_fragment(read.request) else "customers/workshop.html",
        head=head,
        links=links,
        remarks=remarks,
        agreed=agreed,
        changed=changed,
        words=WORDS,
        link=link,
        customer=customer,
        usual_days=store.USUAL_DAYS,
        most_days=store.MOST_DAYS,
        has_layouts=bool(known_layouts(read, head.plan)),
        public=read.request.app.state.public,
        url=f"/jobs/{job_id}/customer",
        system=read.system,
    )


class LinkForm(Typed):
    customer: Annotated[str, Field(max_length=200)] = ""
    days: Annotated[int, Field(ge=-(2**31), lt=2**31)] = store.USUAL_DAYS
    shows: tuple[store.Shown, ...] = ()


@router.post("/jobs/{job_id}/customer/link")
def make_link(read: Read, job_id: JobId, form: Annotated[LinkForm, Form()]) -> Response:
    """Make a link that shows a customer what was ticked."""
    plan = read.db.head(job_id).plan
    shows = frozenset(form.shows)
    if not shows:
        raise BadInput("link", None, "Tick what the customer is to see.")
    offers = _offers(read, kept_jobs.of(plan, read.book)) if "layouts" in shows else ()
    by, _ = only_of(read.request)
    with read.db.transaction() as session:
        token = store.make_link(
            session,
            job_id,
            customer=form.customer,
            by=by,
            days=form.days,
            shows=shows,
            offers=offers,
        )
    return _workshop(read, job_id, f"{_base(read.request)}c/{token}", form.customer)


def _offers(read: ReadRequest, job: Job) -> tuple[dict[str, Any], ...]:
    """The layouts that the planner has found for the plan, as a customer is offered them."""
    found = known_layouts(read, job.plan)
    if not found:
        raise BadInput("layouts", None, "Let layouts be found first, at Layouts.")
    kinds = read.book.planner.measures
    return tuple(
        {
            "letter": each.letter,
            "where": each.where,
            "measures": {k.label: each.measures[k.id] for k in kinds if k.id in each.measures},
            "command": each.command.model_dump(mode="json", exclude_none=True),
        }
        for each in found
    )


def _base(request: Request) -> str:
    """The address under which a customer reaches this."""
    public: str = request.app.state.public
    return f"{public}/" if public else str(request.base_url)


class NumberForm(Typed):
    number: Number


@router.post("/jobs/{job_id}/customer/revoke")
def revoke(read: Read, job_id: JobId, form: Annotated[NumberForm, Form()]) -> Response:
    """End a link at once."""
    with read.db.transaction() as session:
        store.revoke_link(session, job_id, form.number)
    return _workshop(read, job_id)


class AnswerForm(Typed):
    number: Number
    answer: Annotated[str, Field(max_length=4000)] = ""


@router.post("/jobs/{job_id}/customer/answer")
def answer(read: Read, job_id: JobId, form: Annotated[AnswerForm, Form()]) -> Response:
    """Answer a remark."""
    with read.db.transaction() as session:
        store.answer(session, job_id, form.number, form.answer)
    return _workshop(read, job_id)


class TakeForm(Typed):
    number: Number
    base: Number


@router.post("/jobs/{job_id}/customer/take")
def take(read: Read, job_id: JobId, form: Annotated[TakeForm, Form()]) -> Response:
    """Take the layout that a customer has chosen: one edit."""
    with read.db.transaction() as session:
        link = next((each for each in store.links(session, job_id) if each.id == form.number), None)
    offer = _offer(link, link.chosen) if link is not None else None
    if offer is None:
        raise BadInput("layout", None, "No layout was chosen by this link.")
    read.db.save(job_id, form.base, parse_command(json.dumps(offer["command"])), read.book)
    return Response(status_code=204, headers={"hx-redirect": f"/jobs/{job_id}/spot"})


def _offer(link: Link, letter: str) -> dict[str, Any] | None:
    return next((offer for offer in link.offers if offer["letter"] == letter), None)


@router.get("/jobs/{job_id}/handover")
def handover_sheet(read: Read, job_id: JobId) -> Response:
    """How the heater of a job is used, to be printed."""
    head = read.db.head(job_id)
    return _handover(kept_jobs.of(head.plan, read.book), read)


def _handover(job: Job, read: ReadRequest) -> Response:
    return render(
        "customers/handover.html",
        plan=job.plan,
        sections=handover(job),
        heater=heater_words(job),
        system=read.system,
    )


# --- what a link shows ---


@dataclass(frozen=True)
class Customer:
    """A request by a link that is alive."""

    read: ReadRequest
    link: Link

    @property
    def job_id(self) -> int:
        return self.link.job_id


async def _by_link(read: Read, token: Token) -> Customer:
    with read.db.transaction() as session:
        link = store.link_of(session, token)
    if link is None:
        raise HTTPException(404, NOT_THERE)
    return Customer(read, link)


ByLink = Annotated[Customer, Depends(_by_link)]


@router.get("/c/{token}")
def shown(by: ByLink, token: Token) -> Response:
    """What the workshop shows its customer."""
    return _shown(by, token)


def _shown(by: Customer, token: str, said: str = "") -> Response:
    read, link = by.read, by.link
    head = read.db.head(by.job_id)
    check = checked(kept_jobs.of(head.plan, read.book))
    with read.db.transaction() as session:
        remarks, agreed = store.remarks(session, by.job_id), store.agreed(session, by.job_id)
    changed = changed_since(agreed.prints, head.plan) if agreed is not None else ()
    shows = link.shows
    return render(
        "customers/shown_parts.html" if is_fragment(read.request) else "customers/shown.html",
        head=head,
        link=link,
        url=f"/c/{token}",
        heater=heater_words(check.job),
        drawings=_drawings(check, read) if "drawing" in shows else [],
        findings=_findings(check, read) if "verdicts" in shows else None,
        tally=check.tally(),
        offers=_offered(by, check.job) if "layouts" in shows else [],
        price=_price(check.job) if "price" in shows else "",
        remarks=remarks,
        parts=[words for words, _ in PARTS.values()] + [ALL],
        agreed=agreed,
        changed=changed,
        said=said,
        system=read.system,
    )


def _drawings(check: Check, read: ReadRequest) -> list[tuple[str, Markup]]:
    results = []
    for below, side, title in (
        (False, "left", "From above, and the left side"),
        (True, "right", "From below, mirrored, and the right side"),
    ):
        view = BoardView(below, side)
        tag = "below-" if below else "above-"
        options = BoardOptions(view, "build", "", read.system, editable=False, tag=tag)
        results.append((title, Markup(svg(board(check, options)))))
    return results


def _findings(check: Check, read: ReadRequest) -> list[tuple[str, str, str]]:
    """What is not clear, each with its verdict."""
    wanted = {Verdict.OVER, Verdict.TIGHT, Verdict.ACCEPTED, Verdict.UNKNOWN}
    cards = finding_cards(tuple(f for f in check.findings if f.verdict in wanted), read.system)
    return [(card.verdict, card.title, card.sentence) for card in cards]


def _offered(by: Customer, job: Job) -> list[dict[str, Any]]:
    """The layouts to choose from, each drawn on the job as it stands."""
    page = by.read
    results = []
    for offer in by.link.offers:
        try:
            laid = job.with_plan(applied(job, parse_command(json.dumps(offer["command"]))))
        except BadInput:
            continue  # the vehicle was changed so that it does not fit any more
        picture = Markup(svg(layout_picture(laid, (), f"offer-{offer['letter']}")))
        where = say(offer["where"], page.system)
        measures = measure_texts(laid, measures_of(laid), page.system)
        results.append({**offer, "where": where, "picture": picture, "measures": measures})
    return results


def _price(job: Job) -> str:
    value = measures_of(job).get("cost")
    return f"{job.plan.fuel.currency} {value:.0f}" if value is not None else ""


class RemarkForm(Typed):
    part: Annotated[str, Field(max_length=80)] = ALL
    text: Annotated[str, Field(max_length=8000)] = ""
    name: Annotated[str, Field(max_length=200)] = ""


@router.post("/c/{token}/remark")
def remark(by: ByLink, token: Token, form: Annotated[RemarkForm, Form()]) -> Response:
    """Keep what a customer remarks about a part."""
    known = {words for words, _ in PARTS.values()} | {ALL}
    part = form.part if form.part in known else ALL
    with by.read.db.transaction() as session:
        store.remark(session, by.job_id, part, form.text, form.name or by.link.customer)
    return _shown(by, token, "Your remark is with the workshop.")


class ChooseForm(Typed):
    letter: Annotated[str, Field(max_length=4)] = ""


@router.post("/c/{token}/choose")
def choose(by: ByLink, token: Token, form: Annotated[ChooseForm, Form()]) -> Response:
    """Note which layout the customer wants."""
    _sees(by, "layouts")
    with by.read.db.transaction() as session:
        store.choose(session, by.link, form.letter)
        link = store.link_of(session, token)
    return _shown(Customer(by.read, link or by.link), token, f"Layout {form.letter} is noted.")


class AgreeForm(Typed):
    number: Number
    name: Annotated[str, Field(max_length=200)] = ""


@router.post("/c/{token}/agree")
def agree(by: ByLink, token: Token, form: Annotated[AgreeForm, Form()]) -> Response:
    """Keep that the customer agrees to what is shown; that edit is kept for good."""
    with by.read.db.transaction() as session:
        store.confirm(session, by.job_id, form.number, form.name)
        history.name_edit(session, by.job_id, form.number, f"agreed by {form.name.strip()}"[:80])
    return _shown(by, token, "Thank you: the workshop sees that you agree.")


@router.get("/c/{token}/handover")
def handover_of_link(by: ByLink) -> Response:
    """How it is used, where the workshop shows that."""
    _sees(by, "handover")
    head = by.read.db.head(by.job_id)
    return _handover(kept_jobs.of(head.plan, by.read.book), by.read)


def _sees(by: Customer, what: store.Shown) -> None:
    if what not in by.link.shows:
        raise HTTPException(404, NOT_THERE)
