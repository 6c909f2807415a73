"""Looking round a job: another part of the drawing, the next finding."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import BaseModel, Field

from gale_nook.core.checking import Check, checked
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.stations import STATIONS
from gale_nook.exchange.finding_cards import anchor_of
from gale_nook.web.context import JobId, Read, Word, page_seen, render
from gale_nook.web.kept import kept_jobs
from gale_nook.web.view_state import ViewState

OPEN = (Verdict.OVER, Verdict.UNKNOWN, Verdict.TIGHT)

router = APIRouter(default_response_class=HTMLResponse)


@router.get("/jobs/{job_id}/{word}/board")
def board(read: Read, job_id: JobId, word: Word) -> Response:
    """Show a station's drawing alone, as the query says what of the vehicle."""
    return render("board.html", page=page_seen(read, job_id, word))


class Stepping(BaseModel):
    """Which finding comes next: after or before one, of one verdict or of all that are open."""

    finding: Annotated[str, Field(max_length=240)] = ""
    way: Literal["next", "previous"] = "next"
    verdict: Verdict | None = None


@router.get("/jobs/{job_id}/{word}/step")
def step(read: Read, job_id: JobId, word: Word, by: Annotated[Stepping, Query()]) -> Response:
    """Go to the next finding of the job, at whichever station it is."""
    check = checked(kept_jobs.of(read.db.head(job_id).plan, read.book))
    found = next_finding(check, word, by)
    if found is None:
        return RedirectResponse(f"/jobs/{job_id}/{word}", 303)
    tube: Tube = "intake" if found.runs == ("intake",) else "exhaust"
    query = ViewState(tube=tube).query(finding=anchor_of(found))
    return RedirectResponse(f"/jobs/{job_id}/{found.station}?{query}", 303)


def next_finding(check: Check, word: str, by: Stepping) -> Finding | None:
    """Return the finding after or before one, in the order of the stations and worst first at each,
    round and round; from a station without a chosen one, the first that comes. None without any.
    """
    wanted = (by.verdict,) if by.verdict is not None else OPEN
    words = [station.word for station in STATIONS]
    found = [
        (place, finding)
        for place, each in enumerate(words)
        for finding in check.of(each)
        if finding.verdict in wanted
    ]
    if not found:
        return None
    onward = by.way == "next"
    here = [i for i, (_, f) in enumerate(found) if (f.station, anchor_of(f)) == (word, by.finding)]
    if here:
        return found[(here[0] + (1 if onward else -1)) % len(found)][1]
    at = words.index(word)
    after = [f for place, f in found if place >= at]
    before = [f for place, f in found if place < at]
    return (after or before)[0] if onward else (before or after)[-1]
