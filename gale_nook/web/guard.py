"""What every answer passes: security headers, the upload limit, and the log line without personal
data.
"""

from __future__ import annotations

import re
import time
from typing import Any, Protocol

import structlog
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from gale_nook.core.errors import places

MAX_BODY_BYTES = 2_500_000
# photos, and jobs that come in with theirs
LARGE_BODIES = {
    re.compile(r"/jobs/\d+/(vehicle/photos|build/photo|log/entry|log/photo)"): 17_000_000,
    re.compile("/jobs/import"): 40_000_000,
}
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src "
    "'self'; connect-src 'self'; "
    "form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
METHODS = {"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"}
UNFORESEEN = (
    "This could not be worked out with what was sent, and nothing was changed. It is noted as a "
    "fault of the application. "
    "What you typed is still in its field."
)
HEADERS = (
    (b"content-security-policy", POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"x-frame-options", b"DENY"),
    (b"referrer-policy", b"same-origin"),
    (b"cross-origin-opener-policy", b"same-origin"),
    (b"cross-origin-resource-policy", b"same-origin"),
    (b"permissions-policy", b"camera=(), microphone=(), geolocation=()"),
)
log = structlog.get_logger("gale_nook.web")


class Headers:
    """Adds the security headers; what says nothing of being kept, and is no static file, is not
    kept by the browser.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers: list[Any] = message["headers"]
                headers.extend(HEADERS)
                told = any(name == b"cache-control" for name, _ in headers)
                if not told and not scope["path"].startswith("/static/"):
                    headers.append((b"cache-control", b"no-store"))
            await send(message)

        await self.app(scope, receive, with_headers)


def most_bytes(path: str) -> int:
    """Return how large a body an address takes."""
    large = (most for pattern, most in LARGE_BODIES.items() if pattern.fullmatch(path))
    return next(large, MAX_BODY_BYTES)


class UploadLimit:
    """Refuses a body that is too large, by its announced length or as it comes in."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        most = most_bytes(scope["path"])
        announced = dict(scope["headers"]).get(b"content-length", b"0")
        if announced.isdigit() and (len(announced) > 12 or int(announced) > most):
            await _refuse(send, most)
            return
        seen = 0
        refused = False

        async def counted() -> Message:
            nonlocal seen, refused
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > most:
                refused = True
                return {"type": "http.disconnect"}
            return message

        started = False

        async def watched(message: Message) -> None:
            nonlocal started
            if refused and not started:
                return
            started = True
            await send(message)

        try:
            await self.app(scope, counted, watched)
        except ClientDisconnect:
            if not refused:
                return  # the client is gone: there is nobody to answer
        if refused and not started:
            await _refuse(send, most)


async def _refuse(send: Send, most: int) -> None:
    text = f"That is too large: up to {most / 1e6:.1f} MB are taken.".encode()
    start = {
        "type": "http.response.start",
        "status": 413,
        "headers": [(b"content-type", b"text/plain; charset=utf-8")],
    }
    await send(start)
    await send({"type": "http.response.body", "body": text})


class LastResort:
    """Answers what nothing else has answered for: with a sentence, and with a line in the log that
    holds no typed value.

    Such a line is a fault to be mended. Its answer says `UNFORESEEN`, which no test lets pass.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        begun = False

        async def noted(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self.app(scope, receive, noted)
        except ClientDisconnect:
            raise
        except Exception as error:
            log.error("unforeseen", kind=type(error).__name__, at=places(error))
            if begun or scope["type"] != "http":
                return
            headers = [(b"content-type", b"text/plain; charset=utf-8")]
            await send({"type": "http.response.start", "status": 422, "headers": headers})
            await send({"type": "http.response.body", "body": UNFORESEEN.encode()})


class Counts(Protocol):
    """Whoever counts answers."""

    def note(self, method: str, route: str, status: int, seconds: float) -> None:
        """Count an answer."""


class RequestLog:
    """One line a request: method, the route's pattern (never its values), status, milliseconds."""

    def __init__(self, app: ASGIApp, metrics: Counts) -> None:
        self.app, self.metrics = app, metrics

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["path"].startswith("/static/"):
            await self.app(scope, receive, send)
            return
        begun = time.perf_counter()
        status = 0

        async def noted(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        await self.app(scope, receive, noted)
        route = getattr(scope.get("route"), "path", "-")
        seconds = time.perf_counter() - begun
        spent = round(seconds * 1000, 1)
        method = scope["method"] if scope["method"] in METHODS else "other"
        self.metrics.note(method, route, status, seconds)
        log.info("request", method=method, route=route, status=status, ms=spent)
