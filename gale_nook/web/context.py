"""What requests share: jobs, catalogue, the user's units, a station's page, and rendering."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path as FilePath
from typing import Annotated, Any, Generic, TypeVar

from fastapi import Depends, Path, Request
from fastapi.responses import HTMLResponse
from jinja2 import (
    BaseLoader,
    ChoiceLoader,
    Environment,
    FileSystemLoader,
    PrefixLoader,
    StrictUndefined,
)
from jinja2.ext import Extension
from jinja2.utils import htmlsafe_json_dumps
from markupsafe import Markup
from pydantic import AfterValidator

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import Job
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.sentences import counted, say
from gale_nook.core.stations import BY_WORD
from gale_nook.exchange.finding_cards import KEPT_CARDS, FindingCard
from gale_nook.exchange.sheet import TEMPLATES as SHEET_TEMPLATES
from gale_nook.store.job_store import JobStore
from gale_nook.store.jobs import MAX_JOB_ID, JobHead
from gale_nook.web.doors import only_of
from gale_nook.web.forms import PageForm
from gale_nook.web.kept import kept_jobs
from gale_nook.web.page import StationPage
from gale_nook.web.person import person
from gale_nook.web.station import WebStation
from gale_nook.web.view_state import FRAME_COOKIE, ViewState

F = TypeVar("F", bound=PageForm)
UNITS_COOKIE = "units"
HTMX_CONFIG = {
    "includeIndicatorStyles": False,
    "allowEval": False,
    "historyCacheSize": 0,
    "scrollIntoViewOnBoost": False,
    "responseHandling": [
        {"code": "204", "swap": False},
        {"code": "[23]..", "swap": True},
        {
            "code": "[45]..",
            "swap": True,
            "error": True,
            "target": "#notice",
            "swapOverride": "innerHTML",
        },
    ],
}
STATIONS_FOLDER = FilePath(__file__).with_name("stations")


def command_values(command: Any) -> Markup:
    """Return what htmx sends with a button that carries out a command, for an attribute."""
    return htmlsafe_json_dumps({"command": json.dumps(command)})


def dom_id(address: str) -> str:
    """Return an address as it is written in ids of elements.

    >>> dom_id("spot.x_mm")
    'spot-x-mm'
    """
    return address.replace(".", "-").replace("_", "-")


def _loader() -> BaseLoader:
    """Shared templates by their name, a station's under its word."""
    folders = (folder for folder in STATIONS_FOLDER.iterdir() if (folder / "templates").is_dir())
    own = {folder.name: FileSystemLoader(folder / "templates") for folder in folders}
    shared = FileSystemLoader([FilePath(__file__).with_name("templates"), SHEET_TEMPLATES])
    return ChoiceLoader([PrefixLoader(own), shared])


class WithoutIndentation(Extension):
    """Leaves out how a template is indented, which is a fifth of a page. One space stays: words of
    two lines must not meet.
    """

    def preprocess(self, source: str, name: str | None, filename: str | None = None) -> str:
        return re.sub(r"(?m)^[ \t]+", " ", source)


environment = Environment(
    extensions=[WithoutIndentation],
    loader=_loader(),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)


@lru_cache(maxsize=KEPT_CARDS)
def live_finding(card: FindingCard) -> Markup:
    """Return a finding as it is shown while something is dragged, without what could be done about
    it.
    """
    template = environment.get_template("finding.html")
    return Markup(template.render(card=card, live=True, chosen=""))


environment.globals["htmx_config"] = HTMX_CONFIG
environment.globals["live_finding"] = live_finding
environment.globals["signed_in"] = person
environment.filters["say"] = say
environment.filters["counted"] = counted
environment.filters["vals"] = command_values
environment.filters["dom_id"] = dom_id
environment.filters["zip_labels"] = lambda ids, table: [
    (entry_id, table[entry_id].label) for entry_id in ids
]


async def _jobs(request: Request) -> JobStore:
    """The jobs, as whoever is signed in edits them."""
    result: JobStore = request.app.state.jobs
    name, only = only_of(request)
    return result.made_by(name, only) if name else result


async def _catalogue(request: Request) -> Catalogue:
    result: Catalogue = request.app.state.catalogue
    return result


def units(request: Request) -> UnitSystem:
    """The user's unit system, from its cookie."""
    return (
        UnitSystem.IMPERIAL
        if request.cookies.get(UNITS_COOKIE) == "imperial"
        else UnitSystem.METRIC
    )


async def _units(request: Request) -> UnitSystem:
    return units(request)


# none of these waits for anything: asynchronous ones are called where they stand, others would each
# change threads
Db = Annotated[JobStore, Depends(_jobs)]
Book = Annotated[Catalogue, Depends(_catalogue)]
Units = Annotated[UnitSystem, Depends(_units)]


@dataclass(frozen=True, slots=True)
class ReadRequest:
    """A request that only looks at a job, with all that answering it needs."""

    request: Request
    db: JobStore
    book: Catalogue
    system: UnitSystem


@dataclass(frozen=True, slots=True)
class EditRequest(ReadRequest, Generic[F]):
    """A change that a form asks for, with all that carrying it out needs."""

    form: F


async def _read_request(request: Request, db: Db, book: Book, system: Units) -> ReadRequest:
    return ReadRequest(request, db, book, system)


Read = Annotated[ReadRequest, Depends(_read_request)]
JobId = Annotated[int, Path(ge=1, le=MAX_JOB_ID)]


def _ready(word: str) -> str:
    """A station that is there."""
    if word not in BY_WORD:
        raise ValueError(f"there is no station '{word}' to edit at")
    return word


Word = Annotated[str, AfterValidator(_ready)]


def is_fragment(request: Request) -> bool:
    """Whether htmx asks for a part of the page."""
    return request.headers.get("hx-request") == "true"


def render(
    template: str, status: int = 200, headers: dict[str, str] | None = None, **values: Any
) -> HTMLResponse:
    """Return a page or fragment."""
    return HTMLResponse(environment.get_template(template).render(**values), status, headers)


def page_for(
    read: ReadRequest, head: JobHead, word: str, view: ViewState, of: Job | None = None
) -> StationPage:
    """Return the page of a job at a station.

    Args:
        of: another job than the head's, of which this station alone is checked.
    """
    station: WebStation = read.request.app.state.stations[word]
    job = of if of is not None else kept_jobs.of(head.plan, read.book, head.job_id)
    alone = of is not None and not station.station.tells_all
    page = station.page(head, job, read.system, station.station, view, alone=alone)
    if station.fill is not None:
        station.fill(page, read.db)
    return page


def page_seen(read: ReadRequest, job_id: int, word: str) -> StationPage:
    """Return the page of a job at a station as it is looked at: by the query, and where that does
    not say what the board shows, as it was left.
    """
    asked = read.request.query_params
    left = {} if "finding" in asked else {"frame": read.request.cookies.get(FRAME_COOKIE, "")}
    view = ViewState.of({**left, **asked})
    return page_for(read, read.db.head(job_id), word, view)


def show(
    page: StationPage, request: Request, headers: dict[str, str] | None = None
) -> HTMLResponse:
    """Return the station's page, or its working part when htmx asks."""
    template = "work.html" if is_fragment(request) else "page.html"
    return render(template, headers=headers, page=page)
