"""Keeps the web processes running on one socket."""

from __future__ import annotations

import contextlib
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Sequence

from gale_nook.serve.trouble import StartTrouble

STOP_SECONDS = 10
MAX_DEATHS = 20  # web processes that end by themselves, before it is called hopeless


class Supervisor:
    """Starts the web processes, starts one again that ends, and stops them all."""

    def __init__(self, port: int, database_url: str, processes: int, lan: Sequence[str] = ()) -> None:
        self.socket = _listen(port, everywhere=bool(lan))
        self.lan = ",".join(lan)
        self.url = database_url
        self.reader, self.writer = os.pipe()
        self.processes = [self._spawn() for _ in range(processes)]
        self.stopping = False
        self.deaths = 0

    def _spawn(self) -> subprocess.Popen[bytes]:
        listening = self.socket.fileno()
        return subprocess.Popen(
            [sys.executable, "-m", "gale_nook.serve.worker", str(listening), str(self.reader)],
            pass_fds=(listening, self.reader),
            env={**os.environ, "GALE_NOOK_DATABASE_URL": self.url, "GALE_NOOK_LAN": self.lan},
            start_new_session=True,  # Ctrl-C reaches the parent only, which then stops them in order
        )

    def run(self) -> None:
        """Return when SIGINT or SIGTERM has been received and every process has ended."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, self._stop)
        try:
            while not self.stopping:
                self._revive()
                time.sleep(0.3)
        finally:
            self._end()

    def _end(self) -> None:
        os.close(self.writer)
        deadline = time.monotonic() + STOP_SECONDS
        for process in self.processes:
            try:
                process.wait(max(deadline - time.monotonic(), 0.1))
            except subprocess.TimeoutExpired:
                process.kill()

    def _revive(self) -> None:
        for index, process in enumerate(self.processes):
            if process.poll() is not None:
                self.deaths += 1
                if self.deaths > MAX_DEATHS:
                    raise StartTrouble("The web processes keep ending; what they said stands above.")
                self.processes[index] = self._spawn()

    def _stop(self, *_: object) -> None:
        self.stopping = True


def lan_addresses() -> tuple[str, ...]:
    """Return this machine's addresses on the local network; no packet is sent for it."""
    found = []
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, contextlib.suppress(OSError):
        probe.connect(("192.0.2.1", 9))  # reserved for documentation, RFC 5737: names the way out, goes nowhere
        found.append(str(probe.getsockname()[0]))
    return tuple(address for address in found if not address.startswith("127."))


def _listen(port: int, everywhere: bool = False) -> socket.socket:
    listening = socket.socket()
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind(("0.0.0.0" if everywhere else "127.0.0.1", port))
    except OSError:
        raise StartTrouble(f"Port {port} is taken. Give another one: ./start --port {port + 1}") from None
    listening.listen(128)
    listening.set_inheritable(True)
    return listening
