"""Two workshops on one PostgreSQL: nothing of one opens anything of the other."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from fastapi import FastAPI
from sqlalchemy import text
from sqlalchemy.orm import Session

from gale_nook.store import customers, people
from gale_nook.store.devices import is_paired, new_code, pair
from gale_nook.store.people import ROLES, Role
from gale_nook.web.app import create_app
from gale_nook.web.doors import COOKIE
from gale_nook.web.roles import is_open
from tests.web.conftest import Page

pytestmark = pytest.mark.store
WORDS = "nine dry gloves on a line"


@pytest.fixture(scope="module")
def two(database_url: str, quiet_url: str) -> Iterator[tuple[FastAPI, FastAPI]]:
    apps = tuple(create_app(url, workshop=True) for url in (database_url, quiet_url))
    for app in apps:
        with Session(app.state.engine) as db, db.begin():
            db.execute(text("TRUNCATE people, sessions, invitations, tries, devices CASCADE"))
    yield apps[0], apps[1]
    for app in apps:
        app.state.engine.dispose()


def _joined(app: FastAPI, name: str, role: Role) -> Page:
    with Session(app.state.engine) as db, db.begin():
        link = people.invite(db, name, role, "test")
    page = Page(app)
    form = {"link": link, "name": name, "passphrase": WORDS, "again": WORDS}
    assert page.post("/join", form).status_code == 204
    return page


@pytest.mark.parametrize("role", ROLES)
def test_a_session_of_one_opens_no_address_of_the_other(
    role: Role, two: tuple[FastAPI, FastAPI]
) -> None:
    """Every operation, by every role, with ids that are there in both."""
    ours, theirs = two
    mine = _joined(ours, f"Ada {role}", role)
    job = Page(theirs).new("heron")
    stranger = Page(theirs)
    stranger.client.cookies.set(COOKIE, mine.client.cookies[COOKIE])
    headers = {"x-csrftoken": stranger.client.cookies.get("csrftoken") or "", "hx-request": "true"}
    asked = 0
    for path, methods in theirs.openapi()["paths"].items():
        there = path.replace("{job_id}", str(job)).replace("{word}", "heat")
        there = re.sub(r"\{\w+\}", "1", there)
        if is_open(there):
            continue
        for method in methods:
            asked += 1
            answer = stranger.client.request(method.upper(), there, headers=headers)
            assert answer.status_code == 401, (method, there)
            assert "Heron" not in answer.text
    assert asked > 80
    assert mine.get("/").status_code == 200


def test_links_invitations_and_phones_of_one_are_nothing_to_the_other(
    two: tuple[FastAPI, FastAPI],
) -> None:
    ours, theirs = two
    job = Page(ours).new("heron")
    with Session(ours.state.engine) as db, db.begin():
        link = customers.make_link(
            db, job, customer="Cy", by="", days=3, shows=frozenset({"drawing"})
        )
        invitation = people.invite(db, "Di", "owner", "test")
        phone = pair(db, new_code(db), "phone")
    assert phone is not None
    assert Page(ours).get(f"/c/{link}").status_code == 200
    assert Page(theirs).get(f"/c/{link}").status_code == 404
    assert Page(theirs).get(f"/join?link={invitation}").status_code == 404
    with Session(theirs.state.engine) as db, db.begin():
        assert not is_paired(db, phone)
        assert people.invited(db, invitation) is None
