"""What every answer is guarded by."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
import structlog
from structlog.testing import capture_logs

from gale_nook.web import guard
from gale_nook.web.app import STATIC
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_security_headers_on_every_kind_of_answer(page: Page) -> None:
    for url in (
        "/",
        "/nothing",
        "/static/js/main.js",
        "/static/drawing.css",
        "/jobs/1/vehicle",
        "/plan.schema.json",
    ):
        headers = page.get(url).headers
        assert "script-src 'self'; style-src 'self'" in headers["content-security-policy"]
        assert "unsafe" not in headers["content-security-policy"]
        assert headers["x-content-type-options"] == "nosniff"
        assert headers["x-frame-options"] == "DENY"


def test_pages_need_no_exception_from_the_policy(page: Page) -> None:
    """No inline script, no style block, no handler, and nothing from another host."""
    job = page.new("wren")
    for word in ("vehicle", "heat", "heater", "spot", "pipes", "fuel", "build"):
        text = page.get(f"/jobs/{job}/{word}").text
        assert not re.search(r"<style|<script(?![^>]*src=)|\son\w+=|\sstyle=|javascript:", text)
        assert all(host in {"www.w3.org"} for host in re.findall(r"https?://([^/\"' ]+)", text))


def test_no_static_file_asks_another_host(page: Page) -> None:
    for path in STATIC.rglob("*"):
        if path.suffix in {".css", ".js"} and "vendor" not in path.parts:
            assert not re.search(r"https?://(?!www\.w3\.org)", path.read_text())
    for folder in (STATIC / "vendor").iterdir():
        assert any(file.name.startswith("LICENSE") for file in folder.iterdir())


@pytest.mark.parametrize(
    "url",
    [
        "/jobs",
        "/units",
        "/jobs/1/heat/set",
        "/jobs/1/spot/preview",
        "/jobs/import",
        "/jobs/1/heat/undo",
    ],
)
def test_a_change_without_the_token_is_refused(page: Page, url: str) -> None:
    assert page.client.post(url, data={"name": "x"}).status_code == 403
    assert (
        page.client.post(url, data={"name": "x"}, headers={"x-csrftoken": "made up"}).status_code
        == 403
    )


@pytest.mark.parametrize("host", ["evil.test", "127.0.0.1.evil.test", "10.0.0.1", ""])
def test_another_host_name_is_refused(page: Page, host: str) -> None:
    assert page.get("/", host=host).status_code == 400


def test_a_large_body_is_refused_by_its_announcement_and_as_it_comes(page: Page) -> None:
    for path, most in (
        ("/jobs", guard.MAX_BODY_BYTES),
        ("/jobs/1/vehicle/photos", 17_000_000),
        ("/jobs/import", 40_000_000),
    ):
        assert guard.most_bytes(path) == most
        headers = {"content-length": str(most + 1)}
        assert page.client.post(path, headers=headers, content=b"x").status_code == 413

    def flood() -> object:
        for _ in range(40):
            yield b"x" * 100_000

    token = page.client.cookies.get("csrftoken") or ""
    headers = {"x-csrftoken": token, "content-type": "multipart/form-data; boundary=b"}
    assert page.client.post("/jobs", content=flood(), headers=headers).status_code == 413  # type: ignore[arg-type]


def test_log_lines_carry_no_personal_data(page: Page) -> None:
    job = page.new("heron")
    with capture_logs() as lines:
        structlog.get_logger("gale_nook.web")
        page.set(job, "vehicle", 1, vehicle__name="Ina's own van")
    told = json.dumps(lines)
    assert "Ina" not in told
    assert "/jobs/{job_id}/{word}/set" in told
    assert {"method", "route", "status", "ms"} <= set(lines[-1])


def test_first_load_is_light(page: Page) -> None:
    """A station page with everything it asks for, uncompressed, is under 350 kB."""
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/spot").text
    total = len(text.encode())
    for url in re.findall(r'(?:href|src)="(/static/[^"]+)"', text):
        total += len(page.get(url).content)
    total += sum(path.stat().st_size for path in (STATIC / "vendor/fonts").glob("*.woff2"))
    assert total < 350_000


USED_FROM = ("templates", "stations")


def test_every_static_file_is_used() -> None:
    wanted = " ".join(
        path.read_text(errors="ignore")
        for folder in (STATIC, *(Path(guard.__file__).parent / name for name in USED_FROM))
        for path in folder.rglob("*")
        if path.is_file() and path.suffix != ".pyc"
    )
    for path in STATIC.rglob("*"):
        if path.is_file() and not path.name.startswith("LICENSE"):
            assert path.name in wanted, path
