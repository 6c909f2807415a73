"""First fire station: its page, readings from a file or from the simulated heater, its record."""

from __future__ import annotations

from typing import Annotated

from fastapi.responses import HTMLResponse, Response
from pydantic import Field

from gale_nook.core.errors import BadInput
from gale_nook.core.firing.commands import TakeTrace
from gale_nook.core.firing.heater import SimulatedHeater
from gale_nook.core.firing.model import SIMULATED, heater_model
from gale_nook.core.firing.station import FIRING
from gale_nook.core.firing.trace import rows_of, run_of, trace_of
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.exchange.readings import read_run, write_csv
from gale_nook.web.context import EditRequest, JobId, Read, page_seen, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited, show_after
from gale_nook.web.forms import PageForm, Text, Upload
from gale_nook.web.stations.firing.live import batches_of, live
from gale_nook.web.stations.routing import station_router

router = station_router(FIRING)
router.include_router(live)
NO_HEATER = "There is no heater yet: its sheet tells the phases apart. Choose one first."


class TakeReadingsForm(PageForm):
    """What is asked for: take in the readings of a logger."""

    file: Upload = None


@router.post("/jobs/{job_id}/firing/readings")
def take_readings(
    ask: Annotated[EditRequest[TakeReadingsForm], edit_request(TakeReadingsForm)], job_id: JobId
) -> Response:
    """Take in the readings of a logger: lines of JSON, or CSV."""
    upload, sheet = ask.form.file, heater_sheet(Job(ask.db.head(job_id).plan, ask.book))
    if sheet is None:
        raise BadInput("heater", None, NO_HEATER)
    if upload is None or not upload.filename:
        raise BadInput("file", None, "Choose a file of readings first: CSV, or lines of JSON.")
    run = read_run(upload.file.read(), upload.filename, sheet)
    return edited(
        ask, job_id, "firing", TakeTrace(trace=run.trace, code=run.code, co_ppm=run.co_ppm)
    )


class SimulateForm(PageForm):
    """What is asked for: a first firing of the simulated heater, with a fault or without."""

    fault: Annotated[Text, Field(max_length=60)] = ""
    watch: bool = False


@router.post("/jobs/{job_id}/firing/simulate")
def simulate(
    ask: Annotated[EditRequest[SimulateForm], edit_request(SimulateForm)], job_id: JobId
) -> Response:
    """Run the plan's heater as a simulation: show its readings as they come, or take them over at
    once.
    """
    job = Job(ask.db.head(job_id).plan, ask.book)
    heater = SimulatedHeater(heater_model(job, ask.form.fault))
    if ask.form.watch:
        ask.db.begin_live(job_id, SIMULATED, batches_of(run_of(heater)))
        return show_after(ask, job_id, "firing")
    trace = trace_of(rows_of(run_of(heater)), SIMULATED)
    co_ppm = round(heater.co_ppm, 1) if heater.co_ppm > 0 else None
    return edited(ask, job_id, "firing", TakeTrace(trace=trace, code=heater.code, co_ppm=co_ppm))


@router.get("/jobs/{job_id}/firing/readings.csv")
def readings_file(read: Read, job_id: JobId) -> Response:
    """The readings of the job as CSV."""
    trace = read.db.head(job_id).plan.firing.trace
    if trace is None:
        raise BadInput("readings", None, "No readings of a device are kept with this job.")
    name = {"content-disposition": 'attachment; filename="readings.csv"'}
    return Response(write_csv(trace), media_type="text/csv; charset=utf-8", headers=name)


@router.get("/jobs/{job_id}/firing/record")
def record(read: Read, job_id: JobId) -> HTMLResponse:
    """The commissioning sheet, to print."""
    return render("firing/record.html", page=page_seen(read, job_id, "firing"))
