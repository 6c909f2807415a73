"""The start command as a process, for tests that drive it from outside."""

from __future__ import annotations

import contextlib
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path

import httpx2

from gale_nook.serve import postgres
from gale_nook.serve.trouble import StartTrouble

READY = "Gale Nook is open at"


@dataclass
class Started:
    """A running start command."""

    folder: Path
    port: int
    process: subprocess.Popen[str]
    client: httpx2.Client = field(init=False)

    def __post_init__(self) -> None:
        self.client = httpx2.Client(base_url=self.url, timeout=60)
        self.client.get("/health")
        self.client.get("/")

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def cluster(self) -> postgres.Cluster:
        return postgres.cluster_at(self.folder)

    def post(self, url: str, data: dict[str, str]) -> httpx2.Response:
        token = self.client.cookies.get("csrftoken") or ""
        return self.client.post(
            url, data=data, headers={"x-csrftoken": token, "hx-request": "true"}
        )

    def jobs(self) -> dict[str, int]:
        found = re.findall(r'href="/jobs/(\d+)/vehicle">([^<]+)<', self.client.get("/").text)
        return {name: int(job) for job, name in found}

    def children(self, kind: str) -> list[int]:
        """Process numbers of its web or worker processes; kind: "web_process" or
        "worker_process".
        """
        listed = subprocess.run(
            ["pgrep", "-P", str(self.process.pid), "-f", kind],
            capture_output=True,
            text=True,
            check=False,
        )
        return [int(line) for line in listed.stdout.split()]

    def postmaster(self) -> int:
        return int((self.cluster.data / "postmaster.pid").read_text().splitlines()[0])

    def end(self, how: signal.Signals = signal.SIGINT) -> int:
        self.process.send_signal(how)
        return self.process.wait(60)


def command(folder: Path, port: int, *more: str) -> list[str]:
    return [
        sys.executable,
        "-m",
        "gale_nook.serve",
        "--data-dir",
        str(folder),
        "--port",
        str(port),
        *more,
    ]


def start(
    folder: Path,
    *more: str,
    port: int | None = None,
    environment: Mapping[str, str] | None = None,
) -> Started:
    """Start it, with one web process unless said otherwise, and wait until it says where it is
    open.
    """
    chosen = port or postgres.free_port()
    more = more if "--processes" in more else (*more, "--processes", "1")
    process = subprocess.Popen(
        command(folder, chosen, *more),
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        start_new_session=True,
        env={**os.environ, **(environment or {})},
    )
    assert process.stdout is not None
    said = ""
    for line in process.stdout:
        said += line
        if READY in line:
            # what is said from now on is taken off the pipe, which would fill up
            threading.Thread(target=process.stdout.read, daemon=True).start()
            return Started(folder, chosen, process)
    raise AssertionError(f"it did not start: {said}")


def is_gone(pid: int) -> bool:
    """Whether a process has ended; one that nobody has collected yet counts."""
    try:
        return " Z " in Path(f"/proc/{pid}/stat").read_text()
    except OSError:
        return True


def wait_gone(pid: int) -> None:
    while not is_gone(pid):
        os.sched_yield()


@contextlib.contextmanager
def data_folder() -> Iterator[Path]:
    """A place for a data folder that the database's user can reach, with nothing there yet; emptied
    afterwards whatever still runs in it.
    """
    made = Path(tempfile.mkdtemp(prefix="gale-nook-start-", dir="/var/tmp"))
    made.chmod(0o755)
    yield made / "data"
    with contextlib.suppress(StartTrouble):
        postgres.stop(postgres.cluster_at(made / "data"))
    shutil.rmtree(made, ignore_errors=True)
