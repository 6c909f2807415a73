"""Turning errors into plain answers: a notice for htmx, a page otherwise. Nothing
ever answers 500.
"""

from __future__ import annotations

import json

import psycopg
import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from psycopg import errors as pg
from pydantic import ValidationError
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from starlette.exceptions import HTTPException
from starlette.responses import Response

from gale_nook.core.errors import BadInput, GaleNookError, PlanUnreadable, UnknownEntry
from gale_nook.core.plan.document import places_of, problem_of
from gale_nook.core.plan.words import field_words, item_id
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import quantity_of, write_quantity
from gale_nook.core.quantities.sentences import capital, say
from gale_nook.store.editing import Collision
from gale_nook.store.jobs import MovedOn, NoSuchJob
from gale_nook.web.context import is_fragment, render, units
from gale_nook.web.works import Waiting

log = structlog.get_logger("gale_nook.web")
BUSY = (
    "Others are changing the same thing just now. What you typed is still in its field; try "
    "again in a moment."
)
FULL = (
    "The disk is full: nothing more can be kept until there is room on it. What you typed is "
    "still in its field."
)
UNKEPT = (
    "A text holds a character, or a number is of a size, that cannot be kept. What you typed "
    "is still in its field."
)
AWAY = (
    "The database is not answering just now. What you typed is still in its field; try "
    "again in "
    "a moment."
)


def install(app: FastAPI) -> None:
    """Register the handlers."""
    app.add_exception_handler(BadInput, _bad_input)
    app.add_exception_handler(PlanUnreadable, _unreadable)
    app.add_exception_handler(UnknownEntry, _not_found)
    app.add_exception_handler(NoSuchJob, _not_found)
    app.add_exception_handler(Collision, _collision)
    app.add_exception_handler(MovedOn, _moved_on)
    app.add_exception_handler(RequestValidationError, _bad_request)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(ValidationError, _invalid)
    app.add_exception_handler(Waiting, _still_waiting)
    for away in (OperationalError, InterfaceError, PoolTimeout, DBAPIError):
        app.add_exception_handler(away, _database)
    app.add_exception_handler(GaleNookError, _other)


def _answer(
    request: Request, status: int, title: str, text: str, places: tuple[tuple[str, str], ...] = ()
) -> Response:
    template = "notice.html" if is_fragment(request) else "trouble.html"
    return render(template, status, title=title, text=text, places=places)


def _bad_input(request: Request, error: Exception) -> Response:
    if not isinstance(error, BadInput):
        raise error
    place = error.name.split("set.changes")[0]
    where = field_words(place) if "." in place else place
    item = item_id(place)
    title = f"{capital(where)}" + (f" of {item}" if item else "")
    return _answer(request, 422, title or "That cannot be taken", _said(error.problem, request))


def _said(problem: str, request: Request) -> str:
    return capital(say(problem, units(request)))


def _unreadable(request: Request, error: Exception) -> Response:
    if not isinstance(error, PlanUnreadable):
        raise error
    places = tuple((place, say(problem, units(request))) for place, problem in error.places)
    return _answer(request, 422, "The file was not taken", error.summary, places)


def _not_found(request: Request, error: Exception) -> Response:
    return _answer(
        request, 404, "Not there", f"{error} It may have been on another machine or database."
    )


def _collision(request: Request, error: Exception) -> Response:
    if not isinstance(error, Collision):
        raise error
    command = error.command.model_dump(mode="json")
    rows = [
        (
            field_words(c.address),
            item_id(c.address),
            *(shown_value(c.address, v, units(request)) for v in (c.was, c.theirs, c.yours)),
        )
        for c in error.clashes
    ]
    url = request.url.path.rsplit("/", 1)[0]
    mine = json.dumps({"command": json.dumps(command), "base": str(error.head)})
    return render(
        "collision.html", 409, rows=rows, url=url, mine=mine, full=not is_fragment(request)
    )


def shown_value(address: str, value: object, system: UnitSystem) -> str:
    """Return a value of a plan, or a group of them, in the user's units."""
    kind = quantity_of(address)
    if value is None:
        return "not there"
    if isinstance(value, dict | list):
        return _group_words(value)
    if isinstance(value, bool) or not isinstance(value, int | float) or kind == "text":
        return str(value)
    return write_quantity(float(value), kind, system)


def _group_words(value: dict[str, object] | list[object]) -> str:
    """A group of values in a few words: a run by its corners, an item by its name."""
    if isinstance(value, list):
        names = [
            str(item.get("name") or item.get("id")) for item in value if isinstance(item, dict)
        ]
        return ", ".join(names) or f"{len(value)} of them"
    nodes = value.get("nodes")
    if isinstance(nodes, list):
        return f"a run of {len(nodes)} corner{'' if len(nodes) == 1 else 's'}"
    return str(value.get("name") or value.get("kind") or value.get("id") or "another")


def _moved_on(request: Request, error: Exception) -> Response:
    return render(
        "moved_on.html",
        409,
        text=str(error),
        url=request.url.path.rsplit("/", 1)[0],
        full=not is_fragment(request),
    )


def _bad_request(request: Request, error: Exception) -> Response:
    if not isinstance(error, RequestValidationError):
        raise error
    first = error.errors()[0]
    name = str(first["loc"][-1])
    where = field_words(name) if first["loc"][0] == "body" else name
    problem = problem_of(first)
    return _answer(
        request,
        422,
        f"{capital(where)}",
        f"{_said(problem, request)}.",
    )


def _http(request: Request, error: Exception) -> Response:
    if not isinstance(error, HTTPException):
        raise error
    texts = {404: "There is nothing at this address.", 405: "This address is not used that way."}
    answer = _answer(
        request,
        error.status_code,
        "Not there" if error.status_code == 404 else "Not taken",
        texts.get(error.status_code, str(error.detail)),
    )
    for name, value in (error.headers or {}).items():
        answer.headers[name] = value
    return answer


def _database(request: Request, error: Exception) -> Response:
    """Tell apart a database that is busy, full, given what it cannot hold, or away."""
    cause = getattr(error, "orig", None)
    status, title, text = next(
        row[1:] for row in _DATABASE if isinstance(cause, row[0]) or isinstance(error, row[0])
    )
    log.error("database", kind=type(cause or error).__name__, status=status)
    answer = _answer(request, status, title, text)
    if status in {429, 503}:
        answer.headers["retry-after"] = "3"
    return answer


_DATABASE: tuple[tuple[tuple[type[BaseException], ...], int, str, str], ...] = (
    ((pg.LockNotAvailable, pg.QueryCanceled, pg.DeadlockDetected, PoolTimeout), 429, "Busy", BUSY),
    ((pg.DiskFull, pg.OutOfMemory, pg.ConfigurationLimitExceeded), 507, "No room", FULL),
    ((psycopg.DataError,), 422, "That cannot be kept", UNKEPT),
    ((BaseException,), 503, "The database is away", AWAY),
)


def _invalid(request: Request, error: Exception) -> Response:
    """A value that a part of the plan cannot have, met while the part was being made."""
    if not isinstance(error, ValidationError):
        raise error
    place, problem = places_of(error)[0]
    return _bad_input(request, BadInput(place, None, problem))


def _still_waiting(request: Request, error: Exception) -> Response:
    if not isinstance(error, Waiting):
        raise error
    state = error.state
    before = f" {state.ahead} came before it." if state.ahead else ""
    answer = _answer(
        request,
        202,
        "Yours is waiting",
        f"{state.words}: it is on its way.{before} This page looks again by itself.",
    )
    answer.headers["refresh"] = "2"
    return answer


def _other(request: Request, error: Exception) -> Response:
    return _answer(request, 422, "That cannot be taken", str(error))
