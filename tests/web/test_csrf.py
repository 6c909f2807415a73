"""Forms: another site's are refused; a page that was open when the application was started anew
goes on.
"""

from __future__ import annotations

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from gale_nook.web.app import create_app
from tests.web.conftest import Page

pytestmark = pytest.mark.store
OURS = {"origin": "http://127.0.0.1", "host": "127.0.0.1"}


@pytest.fixture(scope="module")
def again(database_url: str) -> FastAPI:
    """The application on the same data, started anew with another secret."""
    return create_app(database_url, "another secret than before")


def _open_page(app: FastAPI, database_url: str) -> tuple[TestClient, str]:
    client = TestClient(app, base_url="http://127.0.0.1", follow_redirects=False)
    client.get("/")
    return client, client.cookies["csrftoken"]


def test_the_same_secret_knows_the_tokens_of_the_process_before(database_url: str) -> None:
    _, token = _open_page(create_app(database_url, "kept in the data folder"), database_url)
    after = TestClient(
        create_app(database_url, "kept in the data folder"), base_url="http://127.0.0.1"
    )
    after.cookies.set("csrftoken", token)
    answer = after.post("/units", headers={"x-csrftoken": token})
    assert answer.status_code == 204
    assert "csrftoken" not in answer.headers.get("set-cookie", "")


@pytest.mark.parametrize(
    "vouched", [{"origin": "http://127.0.0.1"}, {"sec-fetch-site": "same-origin"}]
)
def test_a_stale_token_of_our_own_page_is_replaced_without_a_word(
    page: Page, again: FastAPI, database_url: str, vouched: dict[str, str]
) -> None:
    job = page.new("heron")
    _, stale = _open_page(page.app, database_url)
    client = TestClient(again, base_url="http://127.0.0.1")
    client.cookies.set("csrftoken", stale)
    answer = client.post(
        f"/jobs/{job}/heat/set",
        data={"base": "1", "set:heat.outside_c": "-19"},
        headers={"x-csrftoken": stale, **vouched},
    )
    assert answer.status_code == 200
    assert "edit 2 · saved" in answer.text
    assert "csrftoken=" in answer.headers["set-cookie"]


@pytest.mark.parametrize(
    "headers",
    [
        {},
        {"origin": "http://evil.test"},
        {"sec-fetch-site": "cross-site"},
        {"origin": "null"},
        {"sec-fetch-site": "same-site", "origin": "http://127.0.0.1"},
    ],
)
def test_a_stale_token_from_anywhere_else_is_refused(
    again: FastAPI, page: Page, headers: dict[str, str], database_url: str
) -> None:
    _, stale = _open_page(page.app, database_url)
    client = TestClient(again, base_url="http://127.0.0.1")
    client.cookies.set("csrftoken", stale)
    answer = client.post("/units", headers={"x-csrftoken": stale, **headers})
    assert answer.status_code == 403
    assert "Reload the page" in answer.text
    assert "csrftoken=" in answer.headers["set-cookie"]  # so that reloading helps


def test_our_own_origin_is_no_token(page: Page) -> None:
    """Without the page's token in a header a form is refused, whatever its origin says."""
    assert page.client.post("/units", headers=OURS).status_code == 403
    wrong = {**OURS, "x-csrftoken": "something else"}
    assert page.client.post("/units", headers=wrong).status_code == 403


def test_reloading_replaces_a_cookie_that_is_not_ours(page: Page) -> None:
    client = TestClient(page.app, base_url="http://127.0.0.1")
    client.cookies.set("csrftoken", "mine.own")
    assert "csrftoken=" in client.get("/").headers["set-cookie"]


@pytest.mark.parametrize(
    "cookie",
    [
        "a[b]=c; csrftoken=x",
        "=",
        ";;;",
        "person=\u00e9",
        "units=" + "x" * 3000,
        "$Version=1",
        "a b=c",
    ],
)
def test_odd_cookies_are_no_trouble(page: Page, cookie: str) -> None:
    answer = TestClient(page.app, base_url="http://127.0.0.1").get(
        "/", headers={"cookie": cookie.encode()}
    )
    assert answer.status_code == 200
