"""What the book changes in the jobs, shown before it is kept; and keeping it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Form, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import Field

from gale_nook.core.book.commands import taking_book
from gale_nook.core.book.document import OwnBook
from gale_nook.core.book.effect import book_effect
from gale_nook.core.book.taking import is_taken
from gale_nook.core.errors import BadInput, GaleNookError
from gale_nook.core.findings.changes import Changed
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.quantities.sentences import say
from gale_nook.exchange.finding_cards import VERDICT_WORDS, margin_words
from gale_nook.store import books as store
from gale_nook.store.jobs import JobHead, JobLine
from gale_nook.web.book.page import Typed, book_page, by, may_keep
from gale_nook.web.context import JobId, Read, ReadRequest, render
from gale_nook.web.forms import ShortText
from gale_nook.web.kept import kept_jobs

router = APIRouter(default_response_class=HTMLResponse)
MOST_JOBS = 120  # the last changed; others take the book on a page of their own
MOST_TOLD = 6
CHANGED = "Somebody changed the book meanwhile. Load this page again."
JOB = re.compile(r"(\d{1,9}):(\d{1,9})")


@dataclass(frozen=True, slots=True)
class BookOnHand:
    """The book that is looked at: what waits, else what holds.

    Attributes:
        edit: that it is, or will be.
        print: digest of what waits; empty where nothing does.
    """

    book: OwnBook
    edit: int
    print: str


def on_hand(read: ReadRequest) -> BookOnHand:
    """Return the book that is looked at."""
    with read.db.transaction() as session:
        held, draft = store.held(session), store.waiting(session)
    if draft is None:
        return BookOnHand(held.book, held.edit, "")
    return BookOnHand(draft.book, held.edit + 1, draft.print)


@router.get("/book/effect")
def effect(read: Read) -> Response:
    """Every job, each with what the book changes in it."""
    return render(
        "book/effect.html",
        hand=on_hand(read),
        jobs=_last_jobs(read),
        most=MOST_JOBS,
        may_keep=may_keep(read.request),
        system=read.system,
    )


def _last_jobs(read: ReadRequest) -> list[JobLine]:
    found: list[JobLine] = []
    page, more = 1, True
    while more and len(found) < MOST_JOBS:
        lines, more = read.db.page(page)
        found += lines
        page += 1
    return found[:MOST_JOBS]


@router.get("/book/effect/{job_id}")
def effect_on(
    read: Read, job_id: JobId, seen: Annotated[ShortText, Query(max_length=40)] = ""
) -> Response:
    """What the book changes in one job."""
    hand, head = on_hand(read), read.db.head(job_id)
    if seen != hand.print:  # told in its place: it may come when the page has gone on already
        return render("book/effect_row.html", head=head, taken=False, problem=CHANGED)
    return render("book/effect_row.html", **effect_values(read, hand, head, head.plan.book.school))


def effect_values(
    read: ReadRequest, hand: BookOnHand, head: JobHead, school: str | None
) -> dict[str, Any]:
    """Return what the template of one job's effect needs.

    Args:
        school: of the book that the job is to follow.
    """
    plan = head.plan
    values: dict[str, Any] = {"head": head, "problem": "", "effect": None, "told": []}
    if school == plan.book.school and is_taken(hand.book, plan, read.book):
        return {**values, "taken": True}
    job = kept_jobs.of(plan, read.book)
    command = taking_book(hand.book, hand.edit, school, plan, read.book)
    try:
        found = book_effect(job, command)
    except BadInput as error:
        return {**values, "taken": False, "problem": f"{error.name}: {error.problem}"}
    (need, needs), (cost, costs) = found.need_w, found.cost_money
    shown = [each for each in found.changed if each.turned] or list(found.changed)
    return {
        **values,
        "taken": False,
        "effect": found,
        "told": [changed_words(each, read) for each in shown[:MOST_TOLD]],
        "more": len(found.changed) - min(len(shown), MOST_TOLD),
        "need": (_watts(need, read), _watts(needs, read)) if abs(needs - need) >= 1 else None,
        "cost": (cost, costs, plan.fuel.currency) if abs(costs - cost) >= 1 else None,
        "over": len(found.gets_over),
    }


def changed_words(changed: Changed, read: ReadRequest) -> tuple[str, str, str]:
    """Return (verdict, finding, what it was and what it becomes)."""
    finding = changed.after or changed.before
    if finding is None:
        return "clear", "", ""
    what = finding.title + (f", {finding.subject_name}" if finding.subject_name else "")
    sides = []
    for each, without in ((changed.before, "not there"), (changed.after, "no longer there")):
        if each is None:
            sides.append(without)
            continue
        margin = margin_words(each, read.system)
        sides.append(f"{VERDICT_WORDS[each.verdict]}{f' by {margin}' if margin else ''}")
    verdict = changed.after.verdict.value if changed.after is not None else "clear"
    return verdict, say(what, read.system), " → ".join(sides)


def _watts(value: float, read: ReadRequest) -> str:
    return format_quantity(value, "w", read.system)


class KeepForm(Typed):
    """What is kept: what was seen of the book, and the jobs that take it, as they were seen."""

    seen: Annotated[ShortText, Field(max_length=40)] = ""
    job: Annotated[tuple[ShortText, ...], Field(max_length=MOST_JOBS)] = ()


@router.post("/book/keep")
def keep(read: Read, form: Annotated[KeepForm, Form()]) -> Response:
    """Let what waits hold, and let the ticked jobs take it, each by an edit of its own."""
    jobs = [_seen_job(text) for text in form.job]
    with read.db.transaction() as session:
        waits = store.waiting(session) is not None
        if waits or form.seen:
            held = store.keep(session, form.seen, by(read.request))
        else:
            held = store.held(session)
    told = [f"Edit {held.edit} of the book holds from now on."] if waits else []
    told += [_take(read, held, job_id, number) for job_id, number in jobs]
    return book_page(read, tuple(told))


def _seen_job(text: str) -> tuple[int, int]:
    found = JOB.fullmatch(text)
    if found is None:
        raise BadInput("job", text, "The form does not say which job. Load the page again.")
    return int(found[1]), int(found[2])


def _take(read: ReadRequest, held: store.HeldBook, job_id: int, number: int) -> str:
    """Let a job take the book; return what came of it."""
    try:
        head = read.db.head(job_id)
        if head.number != number:
            return f"{head.plan.name} was changed meanwhile, and has not taken it: look again."
        command = taking_book(held.book, held.edit, head.plan.book.school, head.plan, read.book)
        read.db.save(job_id, number, command, read.book)
    except GaleNookError as error:
        return f"Job {job_id} has not taken it. {error}"
    return f"{head.plan.name} has taken it."
