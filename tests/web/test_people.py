"""A workshop: joining, signing in, roles at every address, and who made what."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import datetime, timedelta

import pyotp
import pytest
from fastapi import FastAPI
from sqlalchemy import text
from sqlalchemy.orm import Session

from gale_nook.core.errors import BadInput
from gale_nook.store import people
from gale_nook.store.people import ROLES, Role
from gale_nook.web.app import create_app
from gale_nook.web.roles import is_open, least_role
from tests.web.conftest import Page

pytestmark = pytest.mark.store
WORDS = "four cold hands under a floor"
OTHER_WORDS = "seven warm ducts over a bed"


@pytest.fixture(scope="module")
def workshop(database_url: str) -> Iterator[FastAPI]:
    app = create_app(database_url, workshop=True)
    yield app
    app.state.engine.dispose()


@pytest.fixture(autouse=True)
def nobody(workshop: FastAPI) -> None:
    with Session(workshop.state.engine) as db, db.begin():
        db.execute(text("TRUNCATE people, sessions, invitations, tries CASCADE"))


def _join(app: FastAPI, name: str, role: Role) -> Page:
    with Session(app.state.engine) as db, db.begin():
        link = people.invite(db, name, role, "test")
    page = Page(app)
    answer = page.post("/join", {"link": link, "name": name, "passphrase": WORDS, "again": WORDS})
    assert answer.status_code == 204, answer.text
    return page


def _sign_in(page: Page, name: str, passphrase: str = WORDS, digits: str = "", to: str = "/"):  # type: ignore[no-untyped-def]
    form = {"name": name, "passphrase": passphrase, "digits": digits, "to": to}
    return page.post("/sign-in", form)


def test_nobody_is_let_in_without_signing_in(workshop: FastAPI) -> None:
    page = Page(workshop)
    there = page.get("/jobs/1/heat?x=1")
    assert there.status_code == 303
    assert there.headers["location"] == "/sign-in?to=/jobs/1/heat%3Fx%3D1"
    assert "passphrase" in page.get("/sign-in").text
    assert page.post("/jobs", {"name": "x", "start": "body:van"}).status_code == 401
    assert page.get("/", **{"hx-request": "true"}).status_code == 401


def test_alone_nothing_changes(page: Page) -> None:
    """Without a workshop no address asks for anybody, and none of these is there."""
    assert page.get("/").status_code == 200
    for url in ("/sign-in", "/join", "/people", "/account"):
        assert page.get(url).status_code == 404, url


def test_joining_signing_out_and_in_again(workshop: FastAPI) -> None:
    page = _join(workshop, "Ada", "owner")
    assert "Ada" in page.get("/").text
    assert page.post("/sign-out").headers["hx-redirect"] == "/sign-in"
    assert page.get("/").status_code == 303
    assert _sign_in(page, "ada", "not the right words").status_code == 422
    signed = _sign_in(page, "ADA", to="/fleet")
    assert signed.headers["hx-redirect"] == "/fleet"
    cookie = signed.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=lax" in cookie
    assert page.get("/").status_code == 200


@pytest.mark.parametrize("to", ["//evil.example", "https://evil.example", "/\\evil", "x", "/a\nb"])
def test_signing_in_leads_nowhere_else(to: str, workshop: FastAPI) -> None:
    page = _join(workshop, "Ada", "owner")
    assert _sign_in(page, "Ada", to=to).headers["hx-redirect"] == "/"


def test_an_invitation_works_once(workshop: FastAPI) -> None:
    owner = _join(workshop, "Ada", "owner")
    made = owner.post("/people/invite", {"name": "Bo", "role": "helper"}).text
    link = re.search(r"link=([\w-]+)", made)
    assert link is not None
    form = {"link": link[1], "name": "Bo", "passphrase": WORDS, "again": WORDS}
    first, second = Page(workshop), Page(workshop)
    assert "helper" in first.get(f"/join?link={link[1]}").text
    assert first.post("/join", form).status_code == 204
    assert second.post("/join", form).status_code == 422
    assert second.get(f"/join?link={link[1]}").status_code == 404
    assert second.get("/").status_code == 303


def test_an_invitation_can_be_withdrawn_and_ends(workshop: FastAPI) -> None:
    owner = _join(workshop, "Ada", "owner")
    owner.post("/people/invite", {"name": "Bo", "role": "helper"})
    shown = owner.get("/people").text
    number = re.search(r"/people/invitations/(\d+)/withdraw", shown)
    assert number is not None
    assert "invitations/" not in owner.post(number[0]).text
    with Session(workshop.state.engine) as db, db.begin():
        late = people.invite(db, "Cy", "viewer", "Ada")
        db.execute(text("UPDATE invitations SET made_at = now() - interval '8 days'"))
        assert people.invited(db, late) is None


@pytest.mark.parametrize(
    ("name", "passphrase"),
    [
        ("", WORDS),
        ("x" * 61, WORDS),
        ("Bo", "short"),
        ("Bo", "aaaaaaaaaaaaaaaa"),
        ("Bo", "x" * 201),
        ("Bo", "passwordpassword"),  # these stand in lists of known ones
        ("Bo", "qwertyuiop1234567890"),
        ("Bo", "Password123456!"),
    ],
)
def test_bad_names_and_passphrases_are_refused(
    name: str, passphrase: str, workshop: FastAPI
) -> None:
    """And the invitation is still good."""
    with Session(workshop.state.engine) as db, db.begin():
        link = people.invite(db, "Bo", "viewer", "test")
    page = Page(workshop)
    form = {"link": link, "name": name, "passphrase": passphrase, "again": passphrase}
    assert page.post("/join", form).status_code == 422
    different = {**form, "name": "Bo", "passphrase": WORDS, "again": OTHER_WORDS}
    assert "not the same" in page.post("/join", different).text
    good = {**form, "name": "Bo", "passphrase": WORDS, "again": WORDS}
    assert page.post("/join", good).status_code == 204


def test_nobody_takes_the_name_of_somebody_else(workshop: FastAPI) -> None:
    _join(workshop, "Ada", "owner")
    with Session(workshop.state.engine) as db, db.begin():
        link = people.invite(db, "Bo", "viewer", "Ada")
    form = {"link": link, "name": "aDA", "passphrase": OTHER_WORDS, "again": OTHER_WORDS}
    assert "is there already" in Page(workshop).post("/join", form).text
    assert _sign_in(Page(workshop), "Ada").status_code == 204


def test_wrong_tries_are_limited(workshop: FastAPI) -> None:
    """The right words are of no use after too many wrong ones, until the window is over."""
    _join(workshop, "Ada", "owner")
    page = Page(workshop)
    for _ in range(people.MOST_TRIES):
        assert "not right" in _sign_in(page, "Ada", "wrong wrong wrong").text
    assert "too often" in _sign_in(page, "Ada").text
    with Session(workshop.state.engine) as db, db.begin():
        db.execute(text("UPDATE tries SET first_at = now() - interval '16 minutes'"))
    assert _sign_in(page, "Ada").status_code == 204


def test_many_names_from_one_address_are_limited_too(workshop: FastAPI) -> None:
    with Session(workshop.state.engine) as db, db.begin():
        for number in range(people.MOST_FROM_ONE_PLACE):
            assert people.sign_in(db, f"n{number}", "", "", address="a", browser="") is None
        with pytest.raises(BadInput):
            people.sign_in(db, "another", "", "", address="a", browser="")
        assert people.sign_in(db, "another", "", "", address="b", browser="") is None


def test_the_second_factor_is_asked_for_and_lets_in_once(workshop: FastAPI) -> None:
    page = _join(workshop, "Ada", "owner")
    shown = page.post("/account/second-factor/begin").text
    found = re.search(r'id="secret">([A-Z2-7]+)<', shown)
    assert found is not None
    totp = pyotp.TOTP(found[1])
    wrong = page.post("/account/second-factor", {"secret": found[1], "digits": "000000x"})
    assert wrong.status_code == 422
    earlier = totp.at(datetime.now().astimezone() - timedelta(seconds=people.STEP_SECONDS))
    answer = page.post("/account/second-factor", {"secret": found[1], "digits": earlier})
    assert "From now on" in answer.text
    other = Page(workshop)
    assert _sign_in(other, "Ada").status_code == 422
    assert _sign_in(other, "Ada", digits=earlier).status_code == 422  # they let somebody in before
    now = totp.now()
    assert _sign_in(other, "Ada", digits=now).status_code == 204
    assert _sign_in(Page(workshop), "Ada", digits=now).status_code == 422
    assert "not your passphrase" in page.post("/account/second-factor/drop").text
    page.post("/account/second-factor/drop", {"passphrase": WORDS})
    assert _sign_in(Page(workshop), "Ada").status_code == 204


def test_sessions_end_by_time_by_hand_and_with_the_passphrase(workshop: FastAPI) -> None:
    one, other = _join(workshop, "Ada", "owner"), Page(workshop)
    _sign_in(other, "Ada")
    ends = re.findall(r"/account/sessions/\d+/end", one.get("/account").text)
    assert len(ends) == 1
    one.post(ends[0])
    assert other.get("/").status_code == 303
    _sign_in(other, "Ada")
    refused = one.post(
        "/account/passphrase", {"old": "no", "new": OTHER_WORDS, "again": OTHER_WORDS}
    )
    assert refused.status_code == 422
    one.post("/account/passphrase", {"old": WORDS, "new": OTHER_WORDS, "again": OTHER_WORDS})
    assert one.get("/").status_code == 200
    assert other.get("/").status_code == 303
    for old in ("made_at = now() - interval '15 days'", "seen_at = now() - interval '13 hours'"):
        _sign_in(other, "Ada", OTHER_WORDS)
        assert other.get("/").status_code == 200
        with Session(workshop.state.engine) as db, db.begin():
            db.execute(text(f"UPDATE sessions SET {old}"))
        assert other.get("/").status_code == 303


def test_somebody_let_go_is_out_at_once(workshop: FastAPI) -> None:
    owner, helper = _join(workshop, "Ada", "owner"), _join(workshop, "Bo", "helper")
    numbers = dict(
        re.findall(r'aria-label="role of (\w+)" hx-post="/people/(\d+)', owner.get("/people").text)
    )
    assert helper.get("/").status_code == 200
    owner.post(f"/people/{numbers['Bo']}/let-go")
    assert helper.get("/").status_code == 303
    assert _sign_in(helper, "Bo").status_code == 422
    assert "needs an owner" in owner.post(f"/people/{numbers['Ada']}/let-go").text
    assert "needs an owner" in owner.post(f"/people/{numbers['Ada']}/role", {"role": "viewer"}).text


def test_the_last_owner_stays_one_by_an_invitation_too(workshop: FastAPI) -> None:
    _join(workshop, "Ada", "owner")
    with Session(workshop.state.engine) as db, db.begin():
        link = people.invite(db, "Ada", "viewer", "Ada")
    form = {"link": link, "name": "Ada", "passphrase": WORDS, "again": WORDS}
    assert "needs an owner" in Page(workshop).post("/join", form).text


# --- roles ---


def _addresses(app: FastAPI) -> list[tuple[str, str]]:
    """Every operation, at a job and a station that are not there."""
    filled = {"job_id": "999999", "word": "heat", "key": "k", "person_id": "999999"}

    def fill(match: re.Match[str]) -> str:
        return filled.get(match[1], "999999")

    return [
        (method.upper(), re.sub(r"\{(\w+)\}", fill, path))
        for path, methods in app.openapi()["paths"].items()
        for method in methods
    ]


@pytest.mark.parametrize("role", [*ROLES, None])
def test_every_address_asks_for_its_role(role: Role | None, workshop: FastAPI) -> None:
    """What somebody may not is refused before anything is looked at; what somebody may is not."""
    page = _join(workshop, "Ada", role) if role is not None else Page(workshop)
    headers = {"x-csrftoken": page.client.cookies.get("csrftoken") or "", "hx-request": "true"}
    looked = 0
    for method, path in _addresses(workshop):
        if is_open(path) or path in {"/sign-out", "/account/passphrase"}:
            continue
        looked += 1
        status = page.client.request(method, path, headers=headers).status_code
        if role is None:
            assert status == 401, (method, path)
        elif ROLES.index(role) > ROLES.index(least_role(method, path)):
            assert status == 403, (method, path)
        else:
            assert status not in {401, 403, 500}, (method, path)
    assert looked > 80


@pytest.mark.parametrize(
    ("method", "path", "least"),
    [
        ("POST", "/jobs/1/heat/set", "fitter"),
        ("POST", "/jobs/1/spot/command", "fitter"),
        ("POST", "/jobs/1/vehicle/undo", "fitter"),
        ("POST", "/jobs/1/history/back", "fitter"),
        ("POST", "/jobs/import", "fitter"),
        ("POST", "/jobs/1/delete", "owner"),
        ("POST", "/people/invite", "owner"),
        ("GET", "/people", "owner"),
        ("POST", "/devices/code", "owner"),
        ("POST", "/jobs/1/build/tick", "helper"),
        ("POST", "/jobs/1/log/entry", "helper"),
        ("POST", "/jobs/1/firing/live/keep", "helper"),
        ("POST", "/jobs/1/build/stock", "fitter"),
        ("POST", "/jobs/1/firing/undo", "fitter"),
        ("PUT", "/something/new", "fitter"),
        ("GET", "/jobs/1/heat", "viewer"),
        ("POST", "/account/passphrase", "viewer"),
    ],
)
def test_what_each_role_may(method: str, path: str, least: Role) -> None:
    assert least_role(method, path) == least
    assert not is_open(path)


@pytest.mark.parametrize("path", ["/static/../people", "/health/x", "/sign-in/x", "/c/", "/joinx"])
def test_nothing_is_open_that_only_begins_like_it(path: str) -> None:
    assert not is_open(path) or path.startswith("/static/")


def test_a_helper_answers_at_the_first_fire_and_changes_nothing_else(workshop: FastAPI) -> None:
    helper = _join(workshop, "Bo", "helper")
    job = helper.new("heron")
    said = helper.set(job, "firing", 1, heat__altitude_m="900")
    assert said.status_code == 422
    assert "Helpers tick cards" in said.text
    assert helper.head(job).number == 1
    assert (
        helper.command(job, "firing", 1, {"op": "place", "x_mm": 2000, "y_mm": -300}).status_code
        == 422
    )
    assert helper.head(job).number == 1
    assert helper.set(job, "heat", 1, heat__altitude_m="900").status_code == 403


# --- who, and history ---


def test_every_entry_of_the_log_says_who(workshop: FastAPI) -> None:
    owner, helper = _join(workshop, "Ada", "owner"), _join(workshop, "Bo", "helper")
    job = owner.new("heron")
    night = {"kind": "night", "on": "2026-01-14", "litres": "2.4"}
    assert helper.post(f"/jobs/{job}/log/entry", night).status_code == 200
    entry = workshop.state.jobs.log(job)[0].id
    assert "by Bo" in owner.get(f"/jobs/{job}/log/entries/{entry}").text
    owner.post(f"/jobs/{job}/log/entry", {**night, "id": entry, "litres": "3.1", "back": "yes"})
    shown = owner.get(f"/jobs/{job}/log/entries/{entry}").text
    assert "by Ada" in shown
    assert ", Bo" in shown
    assert [each.made_by for each in workshop.state.jobs.log_versions(job, entry)] == ["Ada", "Bo"]


def test_every_edit_says_who(workshop: FastAPI) -> None:
    ada, bo = _join(workshop, "Ada", "owner"), _join(workshop, "Bo", "fitter")
    job = ada.new("heron")
    ada.set(job, "heat", 1, heat__altitude_m="900")
    bo.set(job, "heat", 2, heat__altitude_m="1200")
    shown = bo.get(f"/jobs/{job}/history").text
    rows = re.findall(r'id="edit-(\d)">.*?</tr>', shown)
    assert rows == ["3", "2", "1"]
    assert re.search(r'id="edit-3">.*?<td>Bo</td>', shown)
    assert re.search(r'id="edit-2">.*?<td>Ada</td>', shown)
