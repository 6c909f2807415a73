"""Edits of a job from any station: typed values, commands, previews, undo and redo, remedies,
acceptances.
"""

from __future__ import annotations

import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, JSONResponse, Response
from pydantic import BaseModel, Field, ValidationError

from gale_nook.core.apply import applied
from gale_nook.core.edits.acceptances import Accept
from gale_nook.core.edits.command import Command, fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.lapse import bound_to
from gale_nook.core.heater.commands import SetOwnLimit
from gale_nook.core.plan.document import Plan, places_of
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.settings import Acceptance, RunName
from gale_nook.drawing.board import overlay_of
from gale_nook.drawing.svg import nodes
from gale_nook.exchange.finding_cards import finding_cards
from gale_nook.web.context import (
    EditRequest,
    JobId,
    Read,
    Word,
    environment,
    page_for,
    render,
    show,
)
from gale_nook.web.edit_request import edit_request
from gale_nook.web.forms import (
    CommandForm,
    PageForm,
    SetForm,
    ShortText,
    Text,
    typed_values,
)
from gale_nook.web.kept import kept_jobs
from gale_nook.web.limit_ends import band_of, limit_end
from gale_nook.web.live import live_fields, live_parts
from gale_nook.web.station import WebStation
from gale_nook.web.view_state import ViewState
from gale_nook.web.works import ask_for, show_waiting

router = APIRouter(default_response_class=HTMLResponse)


LEAST_REASON = 10
LISTED = 6  # findings that a panel lists before the others fold


def show_after(
    ask: EditRequest[Any], job_id: int, word: str, view: ViewState | None = None
) -> Response:
    """Return the working part of the station, as it stands after an edit."""
    head, look = ask.db.head(job_id), view or ask.form.view
    return show(page_for(ask, head, word, look), ask.request)


def edited(
    ask: EditRequest[Any], job_id: int, word: str, command: Command, view: ViewState | None = None
) -> Response:
    """Save a command and show the station again."""
    ask.db.save(job_id, ask.form.revision, command, ask.book)
    return show_after(ask, job_id, word, view)


@router.post("/jobs/{job_id}/{word}/set")
def set_typed(
    ask: Annotated[EditRequest[SetForm], edit_request(SetForm)], job_id: JobId, word: Word
) -> Response:
    """Set typed values, named `set:<address>`."""
    job = kept_jobs.of(ask.db.head(job_id).plan, ask.book, job_id)
    return edited(ask, job_id, word, typed_values(ask.form, ask.system, job))


@router.post("/jobs/{job_id}/{word}/command")
def run_command(
    ask: Annotated[EditRequest[CommandForm], edit_request(CommandForm)], job_id: JobId, word: Word
) -> Response:
    """Carry out a command given as JSON."""
    return edited(ask, job_id, word, ask.form.parsed)


@router.post("/jobs/{job_id}/{word}/preview", response_class=JSONResponse)
def preview(
    ask: Annotated[EditRequest[CommandForm], edit_request(CommandForm)], job_id: JobId, word: Word
) -> Response:
    """Show what a command would lead to, without saving: the board's overlay, the findings, the
    figures.
    """
    head = ask.db.head(job_id)
    command, view = ask.form.parsed, ask.form.view
    station: WebStation = ask.request.app.state.stations[word]

    now = kept_jobs.of(head.plan, ask.book, job_id)
    page = page_for(ask, head, word, view, now.with_plan(applied(now, command)))
    result = finding_cards(page.check.of(word), ask.system)
    listed = environment.get_template("findings_list.html").render(
        cards=result, job_id=job_id, word=word, live=True, chosen="", shown=LISTED
    )
    shown = {
        "overlay": nodes(overlay_of(page.check, page.board_options)) if page.has_board else "",
        "findings": listed,
        "over": page.check.tally(word)["over"],
        "parts": live_parts(station, page),
        "fields": live_fields(page, command),
    }
    return JSONResponse(shown)


@router.post("/jobs/{job_id}/{word}/undo")
def undo(
    ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId, word: Word
) -> Response:
    """Go back one revision."""
    ask.db.undo(job_id, ask.form.revision)
    return show_after(ask, job_id, word)


@router.post("/jobs/{job_id}/{word}/redo")
def redo(
    ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId, word: Word
) -> Response:
    """Go forward one revision."""
    ask.db.redo(job_id, ask.form.revision)
    return show_after(ask, job_id, word)


class Asking(BaseModel):
    """Which finding a remedy is asked for."""

    rule: Annotated[str, Field(max_length=60)] = ""
    run: RunName | None = None
    subject: Annotated[str, Field(max_length=120)] = ""
    anew: bool = False


@router.get("/jobs/{job_id}/{word}/remedy")
def remedy(read: Read, job_id: JobId, word: Word, asking: Annotated[Asking, Query()]) -> Response:
    """Show the remedies of one finding that really clear it."""
    about = {"rule": asking.rule, "run": asking.run, "subject": asking.subject}
    state = ask_for(
        read.request, "remedies", read.db.head(job_id).plan, read.book, about, anew=asking.anew
    )
    url = f"/jobs/{job_id}/{word}"
    if state.state != "done":
        return show_waiting(state, f"{url}/remedy", **about)
    return render("remedies.html", offered=state.found, page_url=url, system=read.system)


class OwnLimitForm(PageForm):
    """What is asked for: put in a limit of one's own, with its source."""

    limit: Annotated[Text, Field(max_length=60)] = ""
    note: Annotated[Text, Field(max_length=200)] = ""
    least: ShortText = ""
    most: ShortText = ""


@router.post("/jobs/{job_id}/{word}/limit")
def own_limit(
    ask: Annotated[EditRequest[OwnLimitForm], edit_request(OwnLimitForm)], job_id: JobId, word: Word
) -> Response:
    """Put in a limit of one's own, with its source."""
    name = ask.form.limit
    band = band_of(name, ask.book)
    ends = [
        limit_end(text, band, field, ask.system)
        for field, text in (("least", ask.form.least), ("most", ask.form.most))
    ]
    try:
        limit = OwnLimit(id=name, minimum=ends[0], maximum=ends[1], note=ask.form.note)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput({"note": "whose limit"}.get(place, band.label), None, problem) from None
    return edited(ask, job_id, word, SetOwnLimit(limit=limit))


class AcceptForm(PageForm):
    """What is asked for: accept a finding that is over, with name and reason."""

    rule: Annotated[Text, Field(max_length=60)] = ""
    subject: Annotated[Text, Field(max_length=120)] = ""
    run: Annotated[Text, Field(max_length=20)] = ""
    reason: Text = ""
    by: ShortText = ""


@router.post("/jobs/{job_id}/{word}/accept")
def accept(
    ask: Annotated[EditRequest[AcceptForm], edit_request(AcceptForm)], job_id: JobId, word: Word
) -> Response:
    """Accept a finding that is over, with name and reason."""
    plan = ask.db.head(job_id).plan
    rule, subject = ask.form.rule, ask.form.subject
    finding = kept_jobs.check_of(plan, ask.book).find(rule, subject, ask.form.run)
    if finding is None or finding.verdict is not Verdict.OVER:
        raise BadInput(
            "finding", rule, "This finding is not over any more; there is nothing to accept."
        )
    return edited(ask, job_id, word, Accept(acceptance=_acceptance(ask, plan, finding)))


def _acceptance(ask: EditRequest[Any], plan: Plan, finding: Finding) -> Acceptance:
    reason, by = ask.form.reason.strip(), ask.form.by.strip()
    if finding.hazard and len(reason) < LEAST_REASON:
        problem = (
            f"This is about {finding.hazard}: type why it is acceptable here, in at least a "
            "few words."
        )
        raise BadInput("reason", reason, problem)
    today = datetime.datetime.now(tz=datetime.UTC).date().isoformat()
    try:
        return Acceptance.model_validate(
            {
                "id": fresh_id(plan.acceptances, "a"),
                "rule": finding.rule,
                "run": finding.run,
                "subject": finding.subject,
                "reason": reason,
                "by": by,
                "on": today,
                **bound_to(kept_jobs.of(plan, ask.book), finding),
            }
        )
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput({"by": "accepted by"}.get(place, place), by, problem) from None
