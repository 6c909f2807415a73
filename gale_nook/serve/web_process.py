"""One web process: serves on the sockets that its parent opened, and goes when its parent is
gone.
"""

from __future__ import annotations

import asyncio
import contextlib
import os
import signal
import socket
import ssl
import sys
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from gale_nook.serve import rights
from gale_nook.worker.ties import end_with_parent

if TYPE_CHECKING:
    import uvicorn
    from fastapi import FastAPI

# that a connection without a request is kept: longer than people take from one edit to the next
KEEP_SECONDS = 65
SWITCH_SECONDS = 0.001  # whoever waits for a byte gets on with it while something is computed


def main() -> None:
    """Serve until told to stop. Arguments: file numbers of the parent's pipe and of the listening
    socket, that for the local network or -1, and the parent.
    """
    pipe, listening, lan_socket, parent = (int(argument) for argument in sys.argv[1:5])
    end_with_parent(parent)  # before what takes long to load: this holds the port
    from gale_nook.serve import certificate  # noqa: PLC0415 - it is tied to its parent first
    from gale_nook.web.app import create_app  # noqa: PLC0415 - as above

    folder = os.environ.get("GALE_NOOK_TLS", "")
    letters = certificate.known(Path(folder)) if folder else None
    context = letters.context() if letters is not None else None  # its key is for root's eyes
    rights.drop()
    end_with_parent(parent)  # a change of user unties it
    sys.setswitchinterval(SWITCH_SECONDS)
    lan = [address for address in os.environ.get("GALE_NOOK_LAN", "").split(",") if address]
    app = create_app(
        os.environ["GALE_NOOK_DATABASE_URL"],
        os.environ["GALE_NOOK_SECRET"],
        lan=lan,
        letters=letters,
        queued=True,
        workshop=os.environ.get("GALE_NOOK_WORKSHOP") == "1",
        public=os.environ.get("GALE_NOOK_PUBLIC", ""),
    )
    servers = [(_server(app), listening)]
    if lan_socket >= 0:
        servers.append((_server(app, context), lan_socket))
    _serve(servers, pipe)


def _server(app: FastAPI, context: ssl.SSLContext | None = None) -> uvicorn.Server:
    """A server, encrypted where it has a context; the plain one begins and ends the application."""
    import uvicorn  # noqa: PLC0415 - as above

    from gale_nook.serve.connection import PatientProtocol  # noqa: PLC0415 - as above

    class Server(uvicorn.Server):
        """One of several in a process, which hears signals for all of them."""

        @contextlib.contextmanager
        def capture_signals(self) -> Iterator[None]:
            yield

    # no proxy is believed, but one on this machine that shows it to the world: else who is let in
    # is told by where the connection comes from
    public = bool(app.state.public)
    config = uvicorn.Config(
        app,
        http=PatientProtocol,
        log_config=None,
        access_log=False,
        server_header=False,
        proxy_headers=public,
        forwarded_allow_ips="127.0.0.1",
        timeout_graceful_shutdown=5,
        timeout_keep_alive=KEEP_SECONDS,
        lifespan="off" if context is not None else "on",
        ssl_context_factory=(lambda *_: context) if context is not None else None,
    )
    return Server(config)


def _serve(servers: list[tuple[uvicorn.Server, int]], pipe: int) -> None:
    def end(*_: object) -> None:
        for server, _number in servers:
            server.should_exit = True

    def watch() -> None:
        os.read(pipe, 1)  # returns when the parent closes its end, to stop this in order
        end()

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, end)
    threading.Thread(target=watch, daemon=True).start()

    async def all_of_them() -> None:
        sockets = [(server, socket.socket(fileno=number)) for server, number in servers]
        await asyncio.gather(*(server.serve(sockets=[own]) for server, own in sockets))

    asyncio.run(all_of_them())


if __name__ == "__main__":
    main()
