"""A client that stalls is let go of; one that takes its time within reason is served."""

from __future__ import annotations

import socket
import threading
from collections.abc import Iterator
from typing import Any

import pytest
import uvicorn

from gale_nook.serve import connection
from gale_nook.serve.connection import PatientProtocol
from gale_nook.serve.postgres import free_port

LARGE = b"x" * 20_000_000


async def _app(scope: Any, receive: Any, send: Any) -> None:
    if scope["type"] != "http":
        return
    if scope["method"] == "POST":
        while (await receive()).get("more_body"):
            pass
    await send({"type": "http.response.start", "status": 200, "headers": []})
    await send(
        {"type": "http.response.body", "body": LARGE if scope["path"] == "/large" else b"served"}
    )


@pytest.fixture
def port(monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    monkeypatch.setattr(connection, "REQUEST_SECONDS", 0.4)
    monkeypatch.setattr(connection, "ANSWER_SECONDS", 0.4)
    chosen = free_port()
    config = uvicorn.Config(
        _app,
        port=chosen,
        http=PatientProtocol,
        log_config=None,
        lifespan="off",
        timeout_keep_alive=1,
    )
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        thread.join(0.01)
    yield chosen
    server.should_exit = True
    thread.join()


def _heard(port: int, *pieces: bytes) -> bytes:
    """Everything that is sent back until the connection is closed."""
    with socket.create_connection(("127.0.0.1", port), timeout=20) as line:
        for piece in pieces:
            line.sendall(piece)
        parts = []
        try:
            while part := line.recv(65536):
                parts.append(part)
        except ConnectionResetError:
            pass
        return b"".join(parts)


@pytest.mark.parametrize(
    "pieces",
    [
        (),
        (b"GET / HT",),
        (b"GET / HTTP/1.1\r\nHost: a\r\n",),
        (b"POST / HTTP/1.1\r\nHost: a\r\nContent-Length: 100\r\n\r\n", b"only this"),
        (b"POST / HTTP/1.1\r\nHost: a\r\nTransfer-Encoding: chunked\r\n\r\n5\r\nabc",),
    ],
)
def test_a_request_that_never_ends_is_let_go_of(port: int, pieces: tuple[bytes, ...]) -> None:
    assert _heard(port, *pieces) == b""


def test_a_second_request_on_the_same_connection_has_its_own_time(port: int) -> None:
    heard = _heard(
        port, b"GET / HTTP/1.1\r\nHost: a\r\n\r\n", b"GET / HTTP/1.1\r\nHost: a\r\n\r\nGET / HT"
    )
    assert heard.count(b"served") == 2


def test_an_answer_that_nobody_takes_is_let_go_of(port: int) -> None:
    with socket.create_connection(("127.0.0.1", port), timeout=20) as line:
        line.sendall(b"GET /large HTTP/1.1\r\nHost: a\r\n\r\n")
        threading.Event().wait(1.5)  # the reader that reads nothing
        received = 0
        try:
            while part := line.recv(65536):
                received += len(part)
        except ConnectionResetError:
            pass
    assert received < len(LARGE)


def test_what_is_no_request_is_answered_with_the_headers_of_every_answer(port: int) -> None:
    heard = _heard(port, b"\x16\x03\x01 nonsense\r\n\r\n")
    assert heard.startswith(b"HTTP/1.1 400")
    assert b"content-security-policy" in heard.lower()
