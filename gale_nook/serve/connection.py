"""A connection that is given up when its client stalls: headers, body and answer each have their
time.
"""

from __future__ import annotations

import asyncio
from typing import Any

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

from gale_nook.web.guard import HEADERS

REQUEST_SECONDS = 20.0  # from the first byte of a request, or from connecting, to its last
ANSWER_SECONDS = (
    30.0  # that a client may leave an answer lying before the next piece of it is taken
)


class PatientProtocol(H11Protocol):
    """Closes a connection whose client has not sent its whole request in time, or
    takes no answer.
    """

    _waiting: asyncio.TimerHandle | None = None
    _stalled: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        if self._waiting is None and self._expects_more():
            self._wait()
        super().data_received(data)
        if not self._expects_more():
            self._rest()

    def connection_lost(self, exc: Exception | None) -> None:
        self._rest()
        if self._stalled is not None:
            self._stalled.cancel()
        super().connection_lost(exc)

    def pause_writing(self) -> None:
        super().pause_writing()
        self._stalled = self.loop.call_later(ANSWER_SECONDS, self.transport.abort)

    def resume_writing(self) -> None:
        if self._stalled is not None:
            self._stalled.cancel()
            self._stalled = None
        super().resume_writing()

    def send_400_response(self, msg: str) -> None:
        """Answer what is no request, with the headers that every answer has."""
        headers = [
            *HEADERS,
            (b"content-type", b"text/plain; charset=utf-8"),
            (b"connection", b"close"),
        ]
        for event in (
            h11.Response(status_code=400, headers=headers, reason=b"Bad Request"),
            h11.Data(data=msg.encode("ascii", "replace")),
            h11.EndOfMessage(),
        ):
            self.transport.write(self.conn.send(event) or b"")
        self.transport.close()

    def _expects_more(self) -> bool:
        """Whether the client has yet to send a request, or the rest of one."""
        return self.conn.their_state in {h11.IDLE, h11.SEND_BODY}

    def _wait(self) -> None:
        self._waiting = self.loop.call_later(REQUEST_SECONDS, self.transport.abort)

    def _rest(self) -> None:
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None
