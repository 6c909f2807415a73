"""What requests share: the database session, the catalogue, the user's units, the desk, and rendering."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path as FilePath
from typing import Annotated, Any

from fastapi import Depends, Path, Request
from fastapi.responses import HTMLResponse
from jinja2 import Environment, FileSystemLoader, StrictUndefined
from sqlalchemy.orm import Session
from starlette.datastructures import FormData

from gale_nook.core.catalogue import Catalogue
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.said import say
from gale_nook.exchange.sheet import TEMPLATES as SHEET_TEMPLATES
from gale_nook.store.jobs import MAX_JOB_ID, head_of
from gale_nook.web.desk import Desk
from gale_nook.web.forms import Form
from gale_nook.web.look import Look
from gale_nook.web.stationline import Station

UNITS_COOKIE = "units"
environment = Environment(
    loader=FileSystemLoader([FilePath(__file__).with_name("templates"), SHEET_TEMPLATES]),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)
environment.filters["say"] = say
environment.filters["zip_labels"] = lambda ids, table: [(entry_id, table[entry_id].label) for entry_id in ids]


def _session(request: Request) -> Iterator[Session]:
    with Session(request.app.state.engine) as session, session.begin():
        yield session


def _catalogue(request: Request) -> Catalogue:
    found: Catalogue = request.app.state.catalogue
    return found


def units(request: Request) -> UnitSystem:
    """The user's unit system, from its cookie."""
    return UnitSystem.IMPERIAL if request.cookies.get(UNITS_COOKIE) == "imperial" else UnitSystem.METRIC


# scope "function": the transaction is committed before the answer goes out, so that "saved" is never said too soon
Db = Annotated[Session, Depends(_session, scope="function")]
Book = Annotated[Catalogue, Depends(_catalogue)]
Units = Annotated[UnitSystem, Depends(units)]


@dataclass(frozen=True, slots=True)
class Ask:
    """A change that a form asks for, with all that carrying it out needs."""

    request: Request
    db: Session
    book: Catalogue
    system: UnitSystem
    form: FormData


def _ask(request: Request, db: Db, book: Book, system: Units, form: Form) -> Ask:
    return Ask(request, db, book, system, form)


Asked = Annotated[Ask, Depends(_ask)]
JobId = Annotated[int, Path(ge=1, le=MAX_JOB_ID)]


def is_fragment(request: Request) -> bool:
    """Whether htmx asks for a part of the page."""
    return request.headers.get("hx-request") == "true"


def render(template: str, status: int = 200, headers: dict[str, str] | None = None, **values: Any) -> HTMLResponse:
    """Return a page or fragment."""
    return HTMLResponse(environment.get_template(template).render(**values), status, headers)


def desk_for(db: Session, book: Catalogue, system: UnitSystem, job_id: int, station: Station, look: Look) -> Desk:
    """Return the desk of a job at a station; raises NoSuchJob."""
    return Desk(head_of(db, job_id), book, system, station, look)


def show(desk: Desk, request: Request, headers: dict[str, str] | None = None) -> HTMLResponse:
    """Return the station's page, or its working part when htmx asks."""
    template = "work.html" if is_fragment(request) else "page.html"
    return render(template, headers=headers, desk=desk)
