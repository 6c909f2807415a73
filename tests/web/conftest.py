"""A client that behaves like the page: same host, htmx headers, CSRF token from its cookie."""

from __future__ import annotations

import json
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response
from sqlalchemy.orm import Session

from gale_nook.demo.load import demo_plan
from gale_nook.store.jobs import create_job, head_of
from gale_nook.web.app import create_app


class Page:
    """One browser at the application."""

    def __init__(self, app: FastAPI) -> None:
        self.app = app
        self.client = TestClient(app, base_url="http://127.0.0.1", follow_redirects=False)
        self.client.get("/health")

    def get(self, url: str, **headers: str) -> Response:
        return self.client.get(url, headers=headers)

    def post(self, url: str, data: dict[str, Any] | None = None, files: Any = None) -> Response:
        headers = {"x-csrftoken": self.client.cookies.get("csrftoken") or "", "hx-request": "true"}
        return self.client.post(url, data=data, files=files, headers=headers)

    def new(self, name: str) -> int:
        with Session(self.app.state.engine) as db, db.begin():
            return create_job(db, demo_plan(name), "demo")

    def head(self, job: int) -> Any:
        with Session(self.app.state.engine) as db:
            return head_of(db, job)

    def set(self, job: int, station: str, base: int, **values: str) -> Response:
        fields = {
            f"set:{address.replace('__', '.').replace('~', '-')}": value
            for address, value in values.items()
        }
        return self.post(f"/jobs/{job}/{station}/set", {"base": str(base), **fields})

    def command(self, job: int, station: str, base: int, command: dict[str, Any]) -> Response:
        return self.post(
            f"/jobs/{job}/{station}/command", {"base": str(base), "command": json.dumps(command)}
        )


@pytest.fixture(scope="session")
def app(database_url: str) -> FastAPI:
    return create_app(database_url)


@pytest.fixture
def page(app: FastAPI) -> Page:
    return Page(app)
