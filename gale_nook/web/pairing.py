"""Opening the application to the local network: only to devices that were paired at the main
screen.
"""

from __future__ import annotations

from html import escape
from typing import Protocol
from urllib.parse import parse_qs

import segno
from fastapi import APIRouter, HTTPException, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool
from starlette.requests import cookie_parser
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from gale_nook.core.errors import BadInput
from gale_nook.store import devices as store
from gale_nook.web.context import Db, render

COOKIE = "device"
LOOPBACK = {"127.0.0.1", "::1", "testclient"}
MAX_FORM = 2_000
AUTHORITY = "/gale-nook.crt"
router = APIRouter(default_response_class=HTMLResponse)


class Letters(Protocol):
    """What a server shows of itself: the authority that phones are to trust, and fingerprints."""

    @property
    def authority_pem(self) -> bytes: ...

    @property
    def fingerprint(self) -> str: ...

    @property
    def authority_fingerprint(self) -> str: ...


class Pairing:
    """Lets in this machine and paired devices; everybody else gets one plain page, whatever they
    ask for, and the certificate.
    """

    def __init__(self, app: ASGIApp, engine: Engine, letters: Letters | None = None) -> None:
        self.app = app
        self.engine = engine
        self.letters = letters

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or is_here(scope):
            await self.app(scope, receive, send)
            return
        if scope["path"] == AUTHORITY and self.letters is not None:
            await _file(send, self.letters.authority_pem)
            return
        token = _cookie(scope)
        try:
            known = bool(token) and await run_in_threadpool(self._known, token)
        except SQLAlchemyError:
            known = False
        if known:
            await self.app(scope, receive, send)
        elif scope["method"] == "POST" and scope["path"] == "/pair":
            await self._pair(scope, receive, send)
        else:
            code = (
                parse_qs(scope["query_string"].decode("latin-1")).get("code", [""])[0]
                if scope["path"] == "/pair"
                else ""
            )
            await _plain(send, 401, code)

    def _known(self, token: str) -> bool:
        with Session(self.engine) as session, session.begin():
            return store.is_paired(session, token)

    async def _pair(self, scope: Scope, receive: Receive, send: Send) -> None:
        form = parse_qs((await _body(receive)).decode("utf-8", "replace"))
        code, name = (form.get(field, [""])[0] for field in ("code", "name"))

        def attempt() -> str | None:
            with Session(self.engine) as session, session.begin():
                return store.pair(session, code[:20], name)

        try:
            token = await run_in_threadpool(attempt)
        except SQLAlchemyError:
            token = None
        if token is None:
            await _plain(
                send,
                403,
                "",
                "These digits are not right, or no longer. Ask for new ones at the main screen.",
            )
            return
        cookie = (
            f"{COOKIE}={token}; Max-Age={int(store.TOKEN_LIVES.total_seconds())}; Path=/; "
            f"HttpOnly; SameSite=Strict{'; Secure' if scope.get('scheme') == 'https' else ''}"
        )
        headers = [
            (b"location", b"/"),
            (b"set-cookie", cookie.encode()),
            (b"cache-control", b"no-store"),
        ]
        await send({"type": "http.response.start", "status": 303, "headers": headers})
        await send({"type": "http.response.body", "body": b""})


def is_here(scope: Scope) -> bool:
    """Return whether a request comes from this machine itself."""
    client = scope.get("client")
    return client is None or client[0] in LOOPBACK


def _cookie(scope: Scope) -> str:
    for name, value in scope["headers"]:
        if name == b"cookie":
            result = cookie_parser(value.decode("latin-1")).get(COOKIE, "")
            if result:
                return result
    return ""


async def _body(receive: Receive) -> bytes:
    body = b""
    while len(body) <= MAX_FORM:
        message: Message = await receive()
        body += message.get("body", b"")
        if not message.get("more_body"):
            break
    return body[:MAX_FORM]


async def _file(send: Send, data: bytes) -> None:
    """The certificate, which is no secret."""
    headers = [
        (b"content-type", b"application/x-x509-ca-cert"),
        (b"content-disposition", b'attachment; filename="gale-nook.crt"'),
    ]
    await send({"type": "http.response.start", "status": 200, "headers": headers})
    await send({"type": "http.response.body", "body": data})


async def _plain(send: Send, status: int, code: str, said: str = "") -> None:
    """The one page for whoever is not paired: no style, no script, nothing of any job."""
    digits = escape("".join(c for c in code if c.isdigit())[:6], quote=True)
    page = (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" '
        'content="width=device-width">'
        "<title>Pair this device</title></head><body><h1>Pair this "
        f"device</h1><p>{escape(said)}</p>"
        '<form method="post" action="/pair"><p><label>Six digits from the main screen<br>'
        f'<input name="code" inputmode="numeric" maxlength="6" value="{digits}"></label></p>'
        '<p><label>What this device is called<br><input name="name" maxlength="60" '
        'value="phone"></label></p>'
        "<p><button>Pair it</button></p></form></body></html>"
    ).encode()
    headers = [(b"content-type", b"text/html; charset=utf-8"), (b"cache-control", b"no-store")]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": page})


# --- the main screen ---


@router.get(AUTHORITY, response_class=Response)
def authority(request: Request) -> Response:
    """The certificate that phones are to trust, where the local network is let in."""
    letters: Letters | None = request.app.state.letters
    if letters is None:
        raise HTTPException(404)
    headers = {"content-disposition": 'attachment; filename="gale-nook.crt"'}
    media = "application/x-x509-ca-cert"
    return Response(letters.authority_pem, media_type=media, headers=headers)


@router.get("/devices")
def list_devices(request: Request, db: Db) -> Response:
    """The paired devices, at the main screen only."""
    _only_here(request)
    return _shown(request, db)


@router.post("/devices/code")
def show_code(request: Request, db: Db) -> Response:
    """Fresh digits and their QR picture; earlier digits are dead."""
    _only_here(request)
    addresses = _addresses(request)
    if not addresses:
        raise BadInput(
            "network",
            None,
            "This was started for this machine only. Start it with ./start --lan to pair a phone.",
        )
    with db.transaction() as session:
        code = store.new_code(session)
    scheme = "https" if request.app.state.letters is not None else "http"
    url = f"{scheme}://{addresses[0]}:{request.url.port or 80}/pair?code={code}"
    picture = Markup(segno.make(url, error="m").svg_inline(scale=5, border=2))
    return _shown(request, db, code, picture, url)


@router.post("/devices/{device_id}/revoke")
def revoke(request: Request, db: Db, device_id: int) -> Response:
    """Let a device in no more."""
    _only_here(request)
    with db.transaction() as session:
        store.revoke(session, min(max(device_id, 0), 2**31 - 1))
    return _shown(request, db)


def _shown(
    request: Request, db: Db, code: str = "", picture: Markup | str = "", url: str = ""
) -> Response:
    with db.transaction() as session:
        known = store.devices(session)
    return render(
        "jobs/devices.html",
        devices=known,
        code=code,
        picture=picture,
        url=url,
        open=_addresses(request),
        letters=request.app.state.letters,
        authority=AUTHORITY,
    )


def _addresses(request: Request) -> list[str]:
    results: list[str] = request.app.state.lan
    return results


def _only_here(request: Request) -> None:
    if not is_here(request.scope):
        raise BadInput("device", None, "Devices are paired and revoked at the main screen only.")
