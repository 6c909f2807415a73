"""A client that behaves like the page: same host, htmx headers, CSRF token from its cookie."""

from __future__ import annotations

import json
import re
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response
from sqlalchemy.orm import Session

from gale_nook.store.jobs import create_job, head_of
from gale_nook.web.app import create_app
from tests.plans import example


class Answer:
    """A response whose HTML reads as a browser shows it: line breaks and indents count for
    nothing.
    """

    def __init__(self, response: Response) -> None:
        self.response = response

    def __getattr__(self, name: str) -> Any:
        return getattr(self.response, name)

    @property
    def text(self) -> str:
        if "html" not in self.response.headers.get("content-type", ""):
            return self.response.text
        one_line = re.sub(r"\s+", " ", self.response.text)
        return re.sub(r"> (?=<)|(?<=>) | (?=</(?:td|th|p|li|strong|button|h\d)>)", _kept, one_line)


def _kept(match: re.Match[str]) -> str:
    return match.group().strip()


class Page:
    """One browser at the application."""

    def __init__(self, app: FastAPI) -> None:
        self.app = app
        self.client = TestClient(app, base_url="http://127.0.0.1", follow_redirects=False)
        self.client.get("/health")

    def get(self, url: str, **headers: str) -> Answer:
        return Answer(self.client.get(url, headers=headers))

    def post(self, url: str, data: dict[str, Any] | None = None, files: Any = None) -> Answer:
        headers = {"x-csrftoken": self.client.cookies.get("csrftoken") or "", "hx-request": "true"}
        return Answer(self.client.post(url, data=data, files=files, headers=headers))

    def new(self, name: str) -> int:
        with Session(self.app.state.engine) as db, db.begin():
            return create_job(db, example(name), "demo")

    def head(self, job: int) -> Any:
        with Session(self.app.state.engine) as db:
            return head_of(db, job)

    def set(self, job: int, station: str, base: int, **values: str) -> Answer:
        fields = {
            f"set:{address.replace('__', '.').replace('~', '-')}": value
            for address, value in values.items()
        }
        return self.post(f"/jobs/{job}/{station}/set", {"base": str(base), **fields})

    def command(self, job: int, station: str, base: int, command: dict[str, Any]) -> Answer:
        return self.post(
            f"/jobs/{job}/{station}/command", {"base": str(base), "command": json.dumps(command)}
        )


@pytest.fixture(scope="session")
def app(database_url: str) -> FastAPI:
    return create_app(database_url)


@pytest.fixture
def page(app: FastAPI) -> Page:
    return Page(app)
