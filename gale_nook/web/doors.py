"""In a workshop people sign in: who has not is shown the way there, and each role may do what
belongs to it.
"""

from __future__ import annotations

from urllib.parse import quote

from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from gale_nook.store import people
from gale_nook.store.people import Person
from gale_nook.web.person import set_person
from gale_nook.web.roles import is_open, least_role, may_change

COOKIE, PERSON = "session", "gale_nook.person"
SIGN_IN = "/sign-in"
AWAY = "The database is not answering just now: try again in a moment."
ENDED = "You are signed out. What you typed is still in its field: sign in in another window."
WHO_MAY = {
    "owner": "Only an owner of the workshop may do this.",
    "fitter": "Only fitters and owners may change this: your role may look.",
    "helper": "Only helpers, fitters and owners may do this: your role may look.",
}


class Doors:
    """Lets in who is signed in, as far as the role goes. Without a workshop everybody is."""

    def __init__(self, app: ASGIApp, engine: Engine, workshop: bool) -> None:
        self.app, self.engine, self.workshop = app, engine, workshop

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or not self.workshop:
            await self.app(scope, receive, send)
            return
        request = Request(scope)
        token = request.cookies.get(COOKIE, "")
        try:
            known = await run_in_threadpool(self._known, token) if token else None
        except SQLAlchemyError:
            if not is_open(scope["path"]):
                await PlainTextResponse(AWAY, 503)(scope, receive, send)
                return
            known = None
        set_person(known)
        scope[PERSON] = known
        answer = None if is_open(scope["path"]) else refused(request, known)
        await (answer or self.app)(scope, receive, send)

    def _known(self, token: str) -> Person | None:
        with Session(self.engine) as session, session.begin():
            return people.signed_in(session, token)


def person_of(request: Request) -> Person | None:
    """Return who a request is from; None where nobody signs in."""
    found: Person | None = request.scope.get(PERSON)
    return found


def refused(request: Request, person: Person | None) -> Response | None:
    """Return the answer to who may not; None to who may."""
    path = request.url.path
    if person is None:
        return _to_sign_in(request, path)
    least = least_role(request.method, path)
    return None if person.may(least) else PlainTextResponse(WHO_MAY[least], 403)


def _to_sign_in(request: Request, path: str) -> Response:
    if request.headers.get("hx-request") == "true" or request.method not in {"GET", "HEAD"}:
        return PlainTextResponse(ENDED, 401)
    there = path + (f"?{request.url.query}" if request.url.query else "")
    return RedirectResponse(f"{SIGN_IN}?to={quote(there, safe='/')}", 303)


def only_of(request: Request) -> tuple[str, frozenset[str] | None]:
    """Return who a request is from, and the parts of a plan that it may change."""
    person = person_of(request)
    if person is None:
        return "", None
    return person.name, may_change(person.role, request.url.path)
