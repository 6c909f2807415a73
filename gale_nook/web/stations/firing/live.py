"""Readings that come one after another: a recorder sends them, the page shows them, and a person
keeps or drops them.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response
from pydantic import BeforeValidator, Field

from gale_nook.core.apply import applied
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.firing.commands import TakeTrace
from gale_nook.core.firing.heater import Told
from gale_nook.core.firing.looks import looks_for
from gale_nook.core.firing.model import SIMULATED
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.exchange.readings import ReadRun, check_lines, line_of, read_run
from gale_nook.store.jobs import JobHead
from gale_nook.store.live_runs import Batch, Shown
from gale_nook.web.context import (
    EditRequest,
    JobId,
    Read,
    ReadRequest,
    page_for,
    render,
)
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited, show_after
from gale_nook.web.forms import PageForm, ShortText, clean
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.firing.page import FiringPage
from gale_nook.web.view_state import ViewState

live = APIRouter(default_response_class=HTMLResponse)
TIMES_FASTER = 60.0  # that a simulated run is shown at: a first firing in well under a minute
BATCH_S = 1.0
MOST_SENT = 600_000
NO_SHEET = "Readings can be shown once a heater is chosen: its sheet tells the phases apart."


def batches_of(told: Sequence[Told]) -> Iterator[Batch]:
    """Yield what the simulated heater told, a second at a time, as it is to be shown."""
    lines: list[str] = []
    until_s = BATCH_S * TIMES_FASTER
    for each in told:
        if each.at_s > until_s and lines:
            yield _batch(lines, until_s / TIMES_FASTER)
            lines = []
        while each.at_s > until_s:
            until_s += BATCH_S * TIMES_FASTER
        lines.append(line_of(each))
    if lines:
        yield _batch(lines, until_s / TIMES_FASTER)


def _batch(lines: Sequence[str], after_s: float) -> Batch:
    return Batch("".join(f"{line}\n" for line in lines), len(lines), after_s)


@dataclass(frozen=True)
class Now:
    """What is read just now: in words, what is expected, and whether it lies outside."""

    words: str
    text: str
    expected: str
    outside: bool


class LivePage(FiringPage):
    """The station as it would be with the readings so far kept."""

    run: Shown
    read: ReadRun

    @property
    def is_simulated(self) -> bool:
        return self.run.source == SIMULATED

    @property
    def is_silent(self) -> bool:
        """Whether nothing more comes, though it has not ended."""
        return self.run.silent and not self.run.ahead and not self.read.ended

    @property
    def phase_label(self) -> str:
        return self.book.phase(self.read.trace.phase[-1]).label

    @property
    def clock(self) -> str:
        """Minutes and seconds from switching on."""
        minutes, seconds = divmod(round(self.read.trace.at_s[-1]), 60)
        return f"{minutes}:{seconds:02d}"

    @property
    def now(self) -> list[Now]:
        """The last reading of each column, against the band of its phase; none once it is off."""
        trace = self.read.trace
        if self.read.ended:
            return []
        row = next((row for row in self.phases if row.told.id == trace.phase[-1]), None)
        bands = next((each.values for each in self.expected if each.phase == trace.phase[-1]), {})
        results = []
        for cell in row.cells if row is not None else ():
            value, band = getattr(trace, cell.name)[-1], bands.get(cell.name)
            if value is None:
                continue
            inside = band is None or band.low - 1e-9 <= value <= band.high + 1e-9
            text = self.amount(round(value, 2), _KINDS[cell.name])
            results.append(Now(cell.words, text, cell.expected, not inside))
        return results

    @property
    def first_looks(self) -> list[tuple[str, str]]:
        """What is over so far, with the first thing to look at."""
        over = [f for f in self.check.of(self.station.word) if f.verdict is Verdict.OVER]
        told = ((finding.title, looks_for(self.job, finding)) for finding in over)
        return [(title, self.say(looks[0])) for title, looks in told if looks][:3]


_KINDS = {"voltage_v": "v", "current_a": "a", "pump_hz": "hz", "outlet_c": "c"}


@live.get("/jobs/{job_id}/firing/live")
def live_readings(read: Read, job_id: JobId) -> Response:
    """The readings as they come; nothing where none do."""
    run = read.db.live(job_id)
    head = read.db.head(job_id)
    page = page_for(read, head, "firing", ViewState())
    so_far, problem = None, ""
    if run is not None and run.lines:
        try:
            so_far = _page_with(read, head, run)
        except PlanUnreadable as error:
            problem = str(error) if error.places else ""  # it is there, and still off
        except BadInput as error:
            problem = str(error)
    return render("firing/live.html", page=page, run=run, live=so_far, problem=problem)


def _page_with(read: ReadRequest, head: JobHead, run: Shown) -> LivePage:
    job = kept_jobs.of(head.plan, read.book)
    told = _read(job, run)
    taken = TakeTrace(trace=told.trace, code=told.code, co_ppm=told.co_ppm)
    station = read.request.app.state.stations["firing"].station
    after = job.with_plan(applied(job, taken))
    result = LivePage(head, after, read.system, station, ViewState(), alone=True)
    result.run, result.read = run, told
    return result


def _read(job: Job, run: Shown) -> ReadRun:
    sheet = heater_sheet(job)
    if sheet is None:
        raise BadInput("heater", None, NO_SHEET)
    return read_run(run.lines.encode(), run.source, sheet)


class BeginForm(PageForm):
    """What is asked for: begin a run of readings, in place of one before."""

    source: ShortText = ""


@live.post("/jobs/{job_id}/firing/live/begin")
def begin(
    ask: Annotated[EditRequest[BeginForm], edit_request(BeginForm)], job_id: JobId
) -> Response:
    """Begin a run of readings; a recorder asks for this once."""
    if heater_sheet(kept_jobs.of(ask.db.head(job_id).plan, ask.book)) is None:
        raise BadInput("heater", None, NO_SHEET)
    source = " ".join(ask.form.source.split())[:60] or "a recorder"
    if source == SIMULATED:
        source = "a recorder"
    ask.db.begin_live(job_id, source)
    return Response(status_code=204)


class LinesForm(PageForm):
    """What is asked for: add lines of the open protocol to the run that was begun."""

    lines: Annotated[str, BeforeValidator(clean), Field(max_length=MOST_SENT)] = ""


@live.post("/jobs/{job_id}/firing/live/lines")
def add_lines(
    ask: Annotated[EditRequest[LinesForm], edit_request(LinesForm)], job_id: JobId
) -> Response:
    """Add lines to the run; refused whole where one of them cannot be read."""
    ask.db.head(job_id)
    lines = [line for line in ask.form.lines.splitlines() if line.strip()]
    check_lines(lines)
    ask.db.add_live(job_id, _batch(lines, 0.0))
    return Response(status_code=204)


@live.post("/jobs/{job_id}/firing/live/keep")
def keep(ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId) -> Response:
    """Keep the readings with the job: an edit like any other."""
    run = ask.db.live(job_id)
    if run is None or not run.lines:
        raise BadInput("readings", None, "There are no readings to keep yet.")
    told = _read(kept_jobs.of(ask.db.head(job_id).plan, ask.book), run)
    taken = TakeTrace(trace=told.trace, code=told.code, co_ppm=told.co_ppm)
    answer = edited(ask, job_id, "firing", taken)
    ask.db.drop_live(job_id)
    return answer


@live.post("/jobs/{job_id}/firing/live/drop")
def drop(ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId) -> Response:
    """Forget the readings that came; what is kept with the job stays."""
    ask.db.drop_live(job_id)
    return show_after(ask, job_id, "firing")
