"""Keeps web processes, worker processes and the database running."""

from __future__ import annotations

import contextlib
import os
import signal
import socket
import subprocess
import sys
import threading
import time
from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from gale_nook.serve import postgres
from gale_nook.serve.keep.nightly import Nightly
from gale_nook.serve.trouble import StartTrouble

STOP_SECONDS = 10
LOOK_SECONDS = 0.3
LETTING_GO_SECONDS = 2.0
WINDOW_SECONDS = 60.0
# of one kind of process within the window: from then on each is started again only after a pause
MANY_DEATHS = 20
PAUSE_SECONDS = 5.0


@dataclass
class Deaths:
    """When the processes of one kind ended by themselves; many at once are met with patience, not
    with giving up.
    """

    times: deque[float] = field(default_factory=deque)

    def count(self, now: float) -> int:
        """Return how many ended within the window before `now`."""
        while self.times and self.times[0] < now - WINDOW_SECONDS:
            self.times.popleft()
        return len(self.times)

    def pause_s(self, now: float) -> float:
        """Return how long to wait before another is started."""
        return PAUSE_SECONDS if self.count(now) > MANY_DEATHS else 0.0


@dataclass
class Child:
    """One process that is kept running.

    Attributes:
        start_at: not before this moment is it started again.
    """

    command: list[str]
    deaths: Deaths
    process: subprocess.Popen[bytes] | None = None
    start_at: float = 0.0


class Supervisor:
    """Starts the web and worker processes and starts again what ends, the database too; stops them
    all in order.
    """

    def __init__(
        self,
        port: int,
        environment: Mapping[str, str],
        *,
        web: int,
        workers: int,
        lan: Sequence[str] = (),
    ) -> None:
        addresses = ("127.0.0.1", *lan[:1]) if web else ()
        self.sockets = [_listen(port, address) for address in addresses]
        self.environment = {**environment, "GALE_NOOK_LAN": ",".join(lan)}
        self.reader, self.writer = os.pipe()
        self.stopping = False
        of_web, of_workers = Deaths(), Deaths()
        parent = str(os.getpid())
        numbers = [str(each.fileno()) for each in self.sockets]
        serve = ["gale_nook.serve.web_process", str(self.reader), *[*numbers, "-1"][:2], parent]
        work = ["gale_nook.serve.worker_process", str(self.reader), parent]
        self.children = [
            *(Child([sys.executable, "-m", *serve], of_web) for _ in range(web)),
            *(Child([sys.executable, "-m", *work], of_workers) for _ in range(workers)),
        ]
        for child in self.children:
            self._spawn(child)

    def _spawn(self, child: Child) -> None:
        child.process = subprocess.Popen(
            child.command,
            pass_fds=(*(each.fileno() for each in self.sockets), self.reader),
            env={**os.environ, **self.environment},
            # Ctrl-C reaches the parent only, which then stops them in order
            start_new_session=True,
        )

    def run(self, cluster: postgres.Cluster | None, backups: Path) -> None:
        """Return when SIGINT or SIGTERM has been received and every process has ended.

        Args:
            cluster: the database to watch and to back up each night; None where others do.
            backups: folder of the nightly ones.
        """
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, self._stop)
        watches: list[DatabaseWatch | Nightly] = []
        if cluster is not None:
            watches = [Nightly(cluster, backups), DatabaseWatch(cluster)]
        for watch in watches:
            watch.start()
        try:
            while not self.stopping:
                self._revive(time.monotonic())
                time.sleep(LOOK_SECONDS)
        finally:
            self._end()
            for watch in watches:
                watch.end()

    def _end(self) -> None:
        os.close(self.writer)
        deadline = time.monotonic() + STOP_SECONDS
        for child in self.children:
            if child.process is None:
                continue
            try:
                child.process.wait(max(deadline - time.monotonic(), 0.1))
            except subprocess.TimeoutExpired:
                child.process.kill()

    def _revive(self, now: float) -> None:
        for child in self.children:
            if child.process is not None and child.process.poll() is not None:
                child.process = None
                child.deaths.times.append(now)
                child.start_at = now + child.deaths.pause_s(now)
                if child.deaths.count(now) == MANY_DEATHS + 1:
                    print(
                        "Processes keep ending; what they said stands above. Still trying.",
                        file=sys.stderr,
                    )
            if child.process is None and now >= child.start_at:
                self._spawn(child)

    def _stop(self, *_: object) -> None:
        self.stopping = True


class DatabaseWatch(threading.Thread):
    """Starts PostgreSQL again, on the same port, when nothing listens there any more; keeps its log
    short.
    """

    def __init__(self, cluster: postgres.Cluster, every_s: float = 0.5) -> None:
        super().__init__(daemon=True)
        self.cluster = cluster
        self.port = cluster.port
        self.every_s = every_s
        self._ended = threading.Event()

    def run(self) -> None:
        while not self._ended.wait(self.every_s):
            with contextlib.suppress(OSError):
                postgres.rotate_log(self.cluster)
            if listens(self.port):
                continue
            print("The database ended; it is started again.", file=sys.stderr)
            try:
                postgres.start(self.cluster, self.port)
            except (StartTrouble, OSError, subprocess.SubprocessError) as trouble:
                print(f"The database could not be started again: {trouble}", file=sys.stderr)

    def end(self) -> None:
        """Watch no more, so that the database can be stopped."""
        self._ended.set()
        self.join(postgres.START_SECONDS)


def listens(port: int) -> bool:
    """Return whether something listens on a loopback port; what is too busy to answer counts."""
    try:
        socket.create_connection(("127.0.0.1", port), timeout=1).close()
    except ConnectionRefusedError:
        return False
    except OSError:
        return True
    return True


def lan_addresses() -> tuple[str, ...]:
    """Return this machine's addresses on the local network; no packet is sent for it."""
    results = []
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, contextlib.suppress(OSError):
        probe.connect(
            ("192.0.2.1", 9)
        )  # reserved for documentation, RFC 5737: names the way out, goes nowhere
        results.append(str(probe.getsockname()[0]))
    return tuple(address for address in results if not address.startswith("127."))


def _listen(port: int, address: str) -> socket.socket:
    """Take the port; what was killed a moment ago may still be letting go of it."""
    deadline = time.monotonic() + LETTING_GO_SECONDS
    while True:
        listening = socket.socket()
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listening.bind((address, port))
            listening.listen(256)
        except OSError:
            listening.close()
            if time.monotonic() > deadline:
                raise StartTrouble(
                    f"Port {port} is taken. Give another one: ./start --port {port + 1}"
                ) from None
            time.sleep(0.1)
            continue
        listening.set_inheritable(True)
        return listening
