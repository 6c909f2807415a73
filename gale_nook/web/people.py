"""Signing in and out, joining by an invitation, the owner's list of people, one's own account."""

from __future__ import annotations

from typing import Annotated, Any

import segno
from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from gale_nook.core.errors import BadInput
from gale_nook.store import people as store
from gale_nook.store.people import Person, Role
from gale_nook.web.context import Db, is_fragment, render, units
from gale_nook.web.doors import COOKIE, person_of

router = APIRouter(default_response_class=HTMLResponse)
PersonId = Annotated[int, Field(ge=1, le=2**31 - 1)]


PASSPHRASE_FIELDS = (
    ("old", "The one you have now", "current-password"),
    ("new", "The new one", "new-password"),
    ("again", "The new one again", "new-password"),
)
NOT_SAME = "The two are not the same: type them once more."


class Typed(BaseModel):
    """A form as it was typed."""

    model_config = ConfigDict(extra="ignore")


Line = Annotated[str, Field(max_length=200)]


def _page(request: Request, template: str, status: int = 200, **values: Any) -> Response:
    return render(template, status, system=units(request), **values)


def _workshop(request: Request) -> None:
    if not request.app.state.workshop:
        raise HTTPException(404)


def _person(request: Request) -> Person:
    found = person_of(request)
    if found is None:
        raise HTTPException(404)
    return found


def _inside(to: str) -> str:
    """Where to go after signing in: an address of ours, or the list of jobs."""
    ours = to.startswith("/") and not to.startswith(("//", "/\\")) and to.isprintable()
    return to if ours and not to.startswith("/sign-in") else "/"


def _with_session(request: Request, token: str, to: str) -> Response:
    answer = Response(status_code=204, headers={"hx-redirect": to})
    answer.set_cookie(
        COOKIE,
        token,
        max_age=int(store.SESSION_LIVES.total_seconds()),
        httponly=True,
        secure=request.url.scheme == "https" or request.app.state.public.startswith("https:"),
        samesite="lax",
    )
    return answer


def _from(request: Request) -> tuple[str, str]:
    """The address and the browser that a request comes from."""
    address = request.client.host if request.client is not None else ""
    return address, request.headers.get("user-agent", "")


# --- coming in ---


@router.get("/sign-in")
def ask_to_sign_in(request: Request, to: Annotated[str, Query(max_length=500)] = "/") -> Response:
    """Ask for name and passphrase."""
    _workshop(request)
    return _page(request, "people/sign_in.html", to=_inside(to), problem="")


class SignInForm(Typed):
    name: Line = ""
    passphrase: Line = ""
    digits: Line = ""
    to: Annotated[str, Field(max_length=500)] = "/"


@router.post("/sign-in")
def sign_in(request: Request, db: Db, form: Annotated[SignInForm, Form()]) -> Response:
    """Begin a session."""
    _workshop(request)
    address, browser = _from(request)
    with db.transaction() as session:
        token = store.sign_in(
            session, form.name, form.passphrase, form.digits, address=address, browser=browser
        )
    if token is None:
        raise BadInput("sign-in", None, store.WRONG)
    return _with_session(request, token, _inside(form.to))


@router.post("/sign-out")
def sign_out(request: Request, db: Db) -> Response:
    """End this session."""
    person = _person(request)
    with db.transaction() as session:
        store.end_session(session, person.id, person.session_id)
    answer = Response(status_code=204, headers={"hx-redirect": "/sign-in"})
    answer.delete_cookie(COOKIE)
    return answer


@router.get("/join")
def ask_to_join(
    request: Request, db: Db, link: Annotated[str, Query(max_length=200)] = ""
) -> Response:
    """What an invitation leads to."""
    _workshop(request)
    with db.transaction() as session:
        invited = store.invited(session, link)
    if invited is None:
        return _page(request, "people/join.html", 404, link="", name="", role="")
    name, role = invited
    return _page(request, "people/join.html", link=link, name=name, role=role)


class JoinForm(Typed):
    link: Line = ""
    name: Line = ""
    passphrase: Annotated[str, Field(max_length=400)] = ""
    again: Annotated[str, Field(max_length=400)] = ""


@router.post("/join")
def join(request: Request, db: Db, form: Annotated[JoinForm, Form()]) -> Response:
    """Take an invitation."""
    _workshop(request)
    if form.passphrase != form.again:
        raise BadInput("passphrase", None, NOT_SAME)
    _, browser = _from(request)
    with db.transaction() as session:
        token = store.join(session, form.link, form.name, form.passphrase, browser)
    return _with_session(request, token, "/")


# --- the owner's list ---


@router.get("/people")
def people(request: Request, db: Db) -> Response:
    """Who is of the workshop, and who is invited."""
    _person(request)
    return _list(request, db)


def _list(request: Request, db: Db, link: str = "", name: str = "") -> Response:
    with db.transaction() as session:
        known, invited = store.everybody(session), store.invitations(session)
    return _page(
        request,
        "people/list.html" if is_fragment(request) else "people/people.html",
        people=known,
        invitations=invited,
        roles=store.ROLES,
        me=_person(request),
        link=link,
        invited_name=name,
        days=store.INVITATION_LIVES.days,
    )


class InviteForm(Typed):
    name: Line = ""
    role: Role = "viewer"


@router.post("/people/invite")
def invite(request: Request, db: Db, form: Annotated[InviteForm, Form()]) -> Response:
    """Make a link with which one person can join."""
    person = _person(request)
    with db.transaction() as session:
        token = store.invite(session, form.name, form.role, person.name)
    base = request.app.state.public or str(request.base_url).rstrip("/")
    return _list(request, db, f"{base}/join?link={token}", form.name)


class RoleForm(Typed):
    role: Role


@router.post("/people/{person_id}/role")
def set_role(
    request: Request, db: Db, person_id: PersonId, form: Annotated[RoleForm, Form()]
) -> Response:
    """Give somebody another role."""
    with db.transaction() as session:
        store.set_role(session, person_id, form.role)
    return _list(request, db)


@router.post("/people/{person_id}/let-go")
def let_go(request: Request, db: Db, person_id: PersonId) -> Response:
    """End somebody's account."""
    with db.transaction() as session:
        store.let_go(session, person_id)
    return _list(request, db)


@router.post("/people/invitations/{invitation_id}/withdraw")
def withdraw(request: Request, db: Db, invitation_id: PersonId) -> Response:
    """Let an invitation in nobody any more."""
    with db.transaction() as session:
        store.withdraw(session, invitation_id)
    return _list(request, db)


# --- one's own account ---


@router.get("/account")
def account(request: Request, db: Db) -> Response:
    """One's own passphrase, second factor and sessions."""
    return _account(request, db)


def _account(request: Request, db: Db, said: str = "", secret: str = "") -> Response:
    person = _person(request)
    with db.transaction() as session:
        own = store.sessions_of(session, person.id)
        second = store.has_second_factor(session, person.id)
    picture: Markup | str = ""
    if secret:
        url = store.secret_url(secret, person.name)
        picture = Markup(segno.make(url, error="m").svg_inline(scale=4, border=2))
    return _page(
        request,
        "people/account_parts.html"
        if request.headers.get("hx-request") == "true"
        else "people/account.html",
        person=person,
        sessions=own,
        second=second,
        said=said,
        secret=secret,
        picture=picture,
        least=store.LEAST_PASSPHRASE,
        fields=PASSPHRASE_FIELDS,
    )


class PassphraseForm(Typed):
    old: Annotated[str, Field(max_length=400)] = ""
    new: Annotated[str, Field(max_length=400)] = ""
    again: Annotated[str, Field(max_length=400)] = ""


@router.post("/account/passphrase")
def change_passphrase(
    request: Request, db: Db, form: Annotated[PassphraseForm, Form()]
) -> Response:
    """Change one's passphrase; one's other sessions end."""
    if form.new != form.again:
        raise BadInput("passphrase", None, NOT_SAME)
    with db.transaction() as session:
        store.change_passphrase(session, _person(request), form.old, form.new)
    return _account(request, db, "The passphrase is changed. Other sessions of yours have ended.")


@router.post("/account/second-factor/begin")
def begin_second_factor(request: Request, db: Db) -> Response:
    """Show a fresh secret for an authenticator app."""
    return _account(request, db, secret=store.new_secret())


class SecondFactorForm(Typed):
    secret: Annotated[str, Field(max_length=64, pattern=r"[A-Z2-7]{16,64}")]
    digits: Line = ""


@router.post("/account/second-factor")
def set_second_factor(
    request: Request, db: Db, form: Annotated[SecondFactorForm, Form()]
) -> Response:
    """Ask for the app's digits from now on."""
    with db.transaction() as session:
        store.set_second_factor(session, _person(request), form.secret, form.digits)
    return _account(request, db, "From now on you are asked for digits when you sign in.")


class DropForm(Typed):
    passphrase: Annotated[str, Field(max_length=400)] = ""


@router.post("/account/second-factor/drop")
def drop_second_factor(request: Request, db: Db, form: Annotated[DropForm, Form()]) -> Response:
    """Ask for digits no more."""
    with db.transaction() as session:
        store.drop_second_factor(session, _person(request), form.passphrase)
    return _account(request, db, "You are asked for digits no more.")


@router.post("/account/sessions/{session_id}/end")
def end_session(request: Request, db: Db, session_id: PersonId) -> Response:
    """End one of one's own sessions."""
    person = _person(request)
    with db.transaction() as session:
        store.end_session(session, person.id, session_id)
    return _account(request, db, "That session has ended.")
