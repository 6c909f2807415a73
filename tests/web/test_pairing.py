"""The local network: paired devices are let in, everybody else gets one plain page and nothing
else.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import text
from sqlalchemy.orm import Session

from gale_nook.store.devices import (
    MOST_DEVICES,
    TOKEN_LIVES,
    TRIES,
    UNSEEN_LIVES,
    devices,
    new_code,
    pair,
)
from gale_nook.web.app import create_app
from tests.web.conftest import Page

pytestmark = pytest.mark.store
HERE, PHONE = "192.0.2.7", "192.0.2.50"


@pytest.fixture
def open_app(database_url: str) -> Iterator[FastAPI]:
    app = create_app(database_url, lan=[HERE])
    with Session(app.state.engine) as db, db.begin():
        db.execute(text("TRUNCATE devices, pairing_codes"))
    yield app
    app.state.engine.dispose()


def _phone(app: FastAPI) -> Any:
    return TestClient(app, base_url=f"http://{HERE}", client=(PHONE, 40000), follow_redirects=False)


def _digits(desk: Page) -> str:
    shown = desk.post("/devices/code").text
    found = re.search(r'id="code">(\d{3}) (\d{3})', shown)
    assert found is not None
    assert "<svg" in shown
    return found[1] + found[2]


def test_who_is_not_paired_gets_one_plain_page(open_app: FastAPI) -> None:
    job = Page(open_app).new("heron")
    phone = _phone(open_app)
    bodies = set()
    for url in (
        "/",
        f"/jobs/{job}/heat",
        f"/jobs/{job}/plan.json",
        "/static/js/main.js",
        "/health",
        "/openapi.json",
        "/nothing",
    ):
        answer = phone.get(url)
        assert answer.status_code == 401
        bodies.add(answer.text)
    assert phone.post("/jobs", data={"name": "mine"}).status_code == 401
    assert phone.post("/devices/code").status_code == 401
    assert len(bodies) == 1
    assert "Heron" not in bodies.pop()


def test_a_paired_device_works_until_it_is_revoked(open_app: FastAPI) -> None:
    desk, phone = Page(open_app), _phone(open_app)
    job = desk.new("heron")
    code = _digits(desk)
    assert f'value="{code}"' in phone.get(f"/pair?code={code}").text
    paired = phone.post("/pair", data={"code": code, "name": "workshop phone"})
    assert (paired.status_code, paired.headers["location"]) == (303, "/")
    assert "HttpOnly; SameSite=Strict" in paired.headers["set-cookie"]
    assert "394 mm" in phone.get(f"/jobs/{job}/spot/card").text
    assert phone.get("/devices").status_code == 422
    listed = desk.get("/devices").text
    assert "workshop phone" in listed
    device = re.search(r"/devices/(\d+)/revoke", listed)
    assert device is not None
    desk.post(f"/devices/{device[1]}/revoke")
    assert phone.get("/").status_code == 401


def test_digits_pair_one_device_once(open_app: FastAPI) -> None:
    desk = Page(open_app)
    code = _digits(desk)
    assert _phone(open_app).post("/pair", data={"code": code}).status_code == 303
    second = _phone(open_app).post("/pair", data={"code": code})
    assert second.status_code == 403
    assert "no longer" in second.text


def test_tries_are_limited_and_new_digits_kill_the_old(open_app: FastAPI) -> None:
    desk = Page(open_app)
    code = _digits(desk)
    wrong = f"{(int(code) + 1) % 1_000_000:06d}"
    for _ in range(TRIES):
        assert _phone(open_app).post("/pair", data={"code": wrong}).status_code == 403
    assert _phone(open_app).post("/pair", data={"code": code}).status_code == 403
    first, second = _digits(desk), _digits(desk)
    if first != second:
        assert _phone(open_app).post("/pair", data={"code": first}).status_code == 403
    assert _phone(open_app).post("/pair", data={"code": second}).status_code == 303


def test_digits_die_after_their_time(open_app: FastAPI) -> None:
    code = _digits(Page(open_app))
    with Session(open_app.state.engine) as db, db.begin():
        db.execute(text("UPDATE pairing_codes SET expires_at = now() - interval '1 second'"))
    assert _phone(open_app).post("/pair", data={"code": code}).status_code == 403


def test_only_hashes_are_kept_and_the_list_is_bounded(open_app: FastAPI) -> None:
    with Session(open_app.state.engine) as db, db.begin():
        tokens = []
        for number in range(MOST_DEVICES + 3):
            code = new_code(db)
            db.flush()
            tokens.append(pair(db, code, f"phone {number}"))
        assert len(devices(db)) == MOST_DEVICES
        kept = {row[0] for row in db.execute(text("SELECT token_hash FROM devices"))}
    assert None not in tokens
    assert not kept & set(tokens)


def test_started_for_this_machine_only_nothing_is_paired(page: Page) -> None:
    assert page.post("/devices/code").status_code == 422
    assert "./start --lan" in page.get("/devices").text
    assert page.get("/", host="evil.example").status_code == 400


@settings(max_examples=60)
@given(
    st.binary(max_size=80),
    st.text(max_size=30),
    st.sampled_from(["GET", "POST", "PUT", "DELETE", "HEAD"]),
)
def test_nothing_that_is_sent_opens_it_or_fails(
    open_app: FastAPI, body: bytes, cookie: str, method: str
) -> None:
    phone = _phone(open_app)
    headers = {
        "cookie": "device="
        + cookie.encode("ascii", "ignore")
        .decode()
        .replace("\n", "")
        .replace("\r", "")
        .replace("\x00", "")
    }
    for path in ("/pair", "/", "/jobs/1/heat"):
        assert phone.request(method, path, content=body, headers=headers).status_code in {401, 403}


@pytest.mark.parametrize(
    ("column", "days"), [("made_at", TOKEN_LIVES.days + 1), ("seen_at", UNSEEN_LIVES.days + 1)]
)
def test_a_pairing_ends_after_its_time_and_when_it_is_not_used(
    open_app: FastAPI, column: str, days: int
) -> None:
    desk, phone = Page(open_app), _phone(open_app)
    phone.post("/pair", data={"code": _digits(desk), "name": "phone\x00\x1b"})
    assert phone.get("/").status_code == 200
    with Session(open_app.state.engine) as db, db.begin():
        db.execute(text(f"UPDATE devices SET {column} = now() - interval '{days} days'"))
    assert phone.get("/").status_code == 401
    with Session(open_app.state.engine) as db, db.begin():
        db.execute(text(f"UPDATE devices SET {column} = now() - interval '{days - 2} days'"))
    assert phone.get("/").status_code == 200


@pytest.mark.parametrize(
    "cookie",
    ["a[b]=c", "device=", "device=\xe9", "=; ;", "device=" + "x" * 4000, "$Path=/; device=y"],
)
def test_odd_cookies_of_a_device_are_no_trouble(open_app: FastAPI, cookie: str) -> None:
    assert (
        _phone(open_app).get("/", headers={"cookie": cookie.encode("latin-1")}).status_code == 401
    )
