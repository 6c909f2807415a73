"""One web process: serves on a socket that its parent opened, and goes when its parent is gone."""

from __future__ import annotations

import os
import socket
import sys
import threading

import uvicorn

from gale_nook.serve import rights
from gale_nook.serve.connection import PatientProtocol
from gale_nook.web.app import create_app

SWITCH_SECONDS = 0.001  # whoever waits for a byte gets on with it while something is computed


def main() -> None:
    """Serve until told to stop. Arguments: the listening socket's and the parent pipe's file numbers."""
    listening, parent = int(sys.argv[1]), int(sys.argv[2])
    lan = [address for address in os.environ.get("GALE_NOOK_LAN", "").split(",") if address]
    rights.drop()
    sys.setswitchinterval(SWITCH_SECONDS)
    url, secret = os.environ["GALE_NOOK_DATABASE_URL"], os.environ["GALE_NOOK_SECRET"]
    app = create_app(url, secret, lan=lan, queued=True)
    # no proxy is believed: who is let in is told by where the connection comes from
    config = uvicorn.Config(
        app, http=PatientProtocol, log_config=None, access_log=False, server_header=False, proxy_headers=False,
        timeout_graceful_shutdown=5,
    )  # fmt: skip
    server = uvicorn.Server(config)

    def watch() -> None:
        os.read(parent, 1)  # returns when the parent's end is closed, however it ended
        server.should_exit = True

    threading.Thread(target=watch, daemon=True).start()
    server.run(sockets=[socket.socket(fileno=listening)])


if __name__ == "__main__":
    main()
