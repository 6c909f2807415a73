"""One web process: serves on a socket that its parent opened, and goes when its parent is gone."""

from __future__ import annotations

import os
import socket
import sys
import threading

from gale_nook.serve import rights
from gale_nook.worker.ties import end_with_parent

# that a connection without a request is kept: longer than people take from one edit to the next
KEEP_SECONDS = 65
SWITCH_SECONDS = 0.001  # whoever waits for a byte gets on with it while something is computed


def main() -> None:
    """Serve until told to stop. Arguments: file numbers of the listening socket and of the parent's
    pipe, and the parent.
    """
    listening, pipe, parent = (int(argument) for argument in sys.argv[1:4])
    end_with_parent(parent)  # before what takes long to load: this holds the port
    import uvicorn  # noqa: PLC0415 - it is tied to its parent first

    from gale_nook.serve.connection import PatientProtocol  # noqa: PLC0415 - as above
    from gale_nook.web.app import create_app  # noqa: PLC0415 - as above

    rights.drop()
    end_with_parent(parent)  # a change of user unties it
    sys.setswitchinterval(SWITCH_SECONDS)
    lan = [address for address in os.environ.get("GALE_NOOK_LAN", "").split(",") if address]
    app = create_app(
        os.environ["GALE_NOOK_DATABASE_URL"], os.environ["GALE_NOOK_SECRET"], lan=lan, queued=True
    )
    # no proxy is believed: who is let in is told by where the connection comes from
    config = uvicorn.Config(
        app,
        http=PatientProtocol,
        log_config=None,
        access_log=False,
        server_header=False,
        proxy_headers=False,
        timeout_graceful_shutdown=5,
        timeout_keep_alive=KEEP_SECONDS,
    )
    server = uvicorn.Server(config)

    def watch() -> None:
        os.read(pipe, 1)  # returns when the parent closes its end, to stop this in order
        server.should_exit = True

    threading.Thread(target=watch, daemon=True).start()
    server.run(sockets=[socket.socket(fileno=listening)])


if __name__ == "__main__":
    main()
