"""One web process: serves on a socket that its parent opened, and goes when its parent is gone."""

from __future__ import annotations

import os
import socket
import sys
import threading

import uvicorn

from gale_nook.web.app import create_app


def main() -> None:
    """Serve until told to stop. Arguments: the listening socket's and the parent pipe's file numbers."""
    listening, parent = int(sys.argv[1]), int(sys.argv[2])
    app = create_app(os.environ["GALE_NOOK_DATABASE_URL"])
    server = uvicorn.Server(
        uvicorn.Config(app, log_config=None, access_log=False, server_header=False, timeout_graceful_shutdown=5)
    )

    def watch() -> None:
        os.read(parent, 1)  # returns when the parent's end is closed, however it ended
        server.should_exit = True

    threading.Thread(target=watch, daemon=True).start()
    server.run(sockets=[socket.socket(fileno=listening)])


if __name__ == "__main__":
    main()
