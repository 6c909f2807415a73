"""The measuring round: one thing to measure at a time, on the phone or on paper."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import BaseModel, Field

from gale_nook.core.checking import checked
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.job import Job
from gale_nook.core.measuring_round import Measurement, measuring_round
from gale_nook.core.plan.looked import LookedArea, LookedWhere
from gale_nook.core.vehicle.commands import AddLookedArea, Ink
from gale_nook.core.vehicle.looked import looked_domain
from gale_nook.web.context import EditRequest, JobId, Read, is_fragment, page_for, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.forms import SetForm, Text, extra_text, typed_values
from gale_nook.web.kept import kept_jobs
from gale_nook.web.view_state import ViewState

WHERE_WORDS = {
    "outside": "outside the vehicle",
    "inside": "inside",
    "engine-bay": "in the engine bay",
    "below": "below the floor, from front to rear",
}
LATER_MOST = 2000

router = APIRouter(default_response_class=HTMLResponse)


class Round(BaseModel):
    """Where one is in the round.

    Attributes:
        later: ids of what is put off, with spaces between.
        paper: all of it, to print.
    """

    later: Annotated[str, Field(max_length=LATER_MOST)] = ""
    paper: bool = False


@dataclass(frozen=True, slots=True)
class Left:
    """What is left of the round: what comes now, and the rest."""

    now: Measurement | None
    done: int
    every: tuple[Measurement, ...]


@router.get("/jobs/{job_id}/vehicle/round")
def show_round(read: Read, job_id: JobId, asked: Annotated[Round, Query()]) -> Response:
    """Show what to measure next."""
    page = page_for(read, read.db.head(job_id), "vehicle", ViewState())
    every = measuring_round(checked(page.job))
    later = asked.later.split()
    now = next((each for each in every if each.id not in later), None)
    left = Left(now, sum(each.id in later for each in every), every)
    whole = "round_paper" if asked.paper else "round"
    template = "round_main" if is_fragment(read.request) else whole
    return render(
        f"vehicle/{template}.html", page=page, left=left, later=asked.later, where_words=WHERE_WORDS
    )


class RoundForm(SetForm):
    """What was measured: the values, or that it is right as drawn, or not there."""

    at: Text = ""
    did: Text = ""


def _looked(job: Job, where: LookedWhere) -> AddLookedArea:
    """Say that somebody has looked at all that is there, today."""
    from_x, left_y, to_x, right_y = looked_domain(job, where)
    area = LookedArea(
        id=fresh_id(job.plan.vehicle.looked_at, "area"),
        where=where,
        how="seen",
        on=datetime.now(UTC).date().isoformat(),
        from_x_mm=from_x,
        to_x_mm=to_x,
        left_y_mm=left_y,
        right_y_mm=right_y,
    )
    return AddLookedArea(item=area)


@router.post("/jobs/{job_id}/vehicle/round")
def measured(
    ask: Annotated[EditRequest[RoundForm], edit_request(RoundForm)], job_id: JobId
) -> Response:
    """Keep what was measured, and go on to the next."""
    later = extra_text(ask.form, "later", LATER_MOST)
    job = kept_jobs.of(ask.db.head(job_id).plan, ask.book)
    wanted = next((m for m in measuring_round(checked(job)) if m.id == ask.form.at), None)
    if wanted is not None and ask.form.did == "not-there" and wanted.part:
        gone = RemoveItem(collection="vehicle.solids", item_id=wanted.part)
        ask.db.save(job_id, ask.form.revision, gone, ask.book)
    elif wanted is not None and ask.form.did == "later":
        later = " ".join(dict.fromkeys([*later.split(), wanted.id]))
    elif wanted is not None and wanted.look is not None:
        ask.db.save(job_id, ask.form.revision, _looked(job, wanted.look), ask.book)
    elif ask.form.typed:  # also where another tab was quicker: what was typed is not lost
        typed = typed_values(ask.form, ask.system, job)
        ask.db.save(job_id, ask.form.revision, typed, ask.book)
        if wanted is not None:
            ink = Ink(addresses=wanted.marks)
            ask.db.save(job_id, ask.db.head(job_id).number, ink, ask.book)
    query = f"?later={later.replace(' ', '+')}" if later else ""
    return RedirectResponse(f"/jobs/{job_id}/vehicle/round{query}", 303)
