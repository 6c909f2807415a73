"""All vehicles of the workshop: what is due, the last fault, fuel and hours."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from gale_nook.core.log.service import Due, due_list
from gale_nook.exchange.csv_rows import text_cell
from gale_nook.web.context import Book, Db, Units, render
from gale_nook.web.forms import clean
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.log.page import season_of, today

router = APIRouter(default_response_class=HTMLResponse)
MOST_VEHICLES = 400


class FleetAsked(BaseModel):
    """Which vehicles are shown: with this in their name, and with something due."""

    model_config = ConfigDict(frozen=True, extra="ignore")

    name: Annotated[str, BeforeValidator(clean), Field(max_length=80)] = ""
    state: Literal["", "due", "soon"] = ""


@dataclass(frozen=True)
class Vehicle:
    """A line of the fleet."""

    job_id: int
    name: str
    nights: int
    hours_h: float
    litres: float
    due: tuple[Due, ...]
    fault: str
    last: str

    @property
    def due_words(self) -> str:
        return ", ".join(f"{each.kind.label} ({each.state})" for each in self.due)


def _vehicles(db: Db, book: Book, asked: FleetAsked) -> list[Vehicle]:
    """Vehicles with a log, what is due first."""
    results = []
    for job_id in db.logged_jobs(MOST_VEHICLES):
        head = db.head(job_id)
        if asked.name.casefold() not in head.plan.name.casefold():
            continue
        job = kept_jobs.of(head.plan, book)
        entries, season = season_of(db, job_id, head.number, job)
        wanted = {"": ("due", "soon"), "due": ("due",), "soon": ("due", "soon")}[asked.state]
        due = tuple(
            each for each in due_list(job, entries, season.nights, today()) if each.state in wanted
        )
        if asked.state and not due:
            continue
        faults = [entry for entry in entries if entry.kind == "fault"]
        cause = book.log.cause(faults[-1].cause) if faults else None
        label = cause.label if cause is not None else faults[-1].cause if faults else ""
        results.append(
            Vehicle(
                job_id,
                head.plan.name,
                len(season.nights),
                season.hours_h,
                season.litres,
                due,
                f"{faults[-1].on}: {label}" if faults else "",
                entries[-1].on if entries else "",
            )
        )
    return sorted(results, key=lambda each: (-len(each.due), each.name))


@router.get("/fleet")
def fleet(db: Db, book: Book, system: Units, asked: Annotated[FleetAsked, Query()]) -> HTMLResponse:
    """All vehicles that have a log."""
    vehicles = _vehicles(db, book, asked)
    return render("fleet.html", vehicles=vehicles, asked=asked, system=system)


@router.get("/fleet.csv", response_class=Response)
def fleet_file(db: Db, book: Book, asked: Annotated[FleetAsked, Query()]) -> Response:
    """The same as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("vehicle", "nights", "hours_h", "litres", "due", "last_fault", "last_entry"))
    for each in _vehicles(db, book, asked):
        figures = (each.nights, f"{each.hours_h:.0f}", f"{each.litres:.1f}")
        texts = (text_cell(text) for text in (each.due_words, each.fault, each.last))
        writer.writerow((text_cell(each.name), *figures, *texts))
    headers = {"content-disposition": 'attachment; filename="fleet.csv"'}
    return Response(out.getvalue(), media_type="text/csv; charset=utf-8", headers=headers)
