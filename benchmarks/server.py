"""Page time, one drag step, first load and memory of the web process, on a
PostgreSQL of its own.
"""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import urljoin

from fastapi.testclient import TestClient
from sqlalchemy.orm import Session

from benchmarks.spot import crowded
from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import check
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.sheet_pdf import build_pdf
from gale_nook.serve import postgres
from gale_nook.store.jobs import create_job
from gale_nook.store.migrate import migrate
from gale_nook.web.app import STATIC, create_app
from gale_nook.web.kept import kept_jobs

WORDS = ("vehicle", "heat", "heater", "spot", "pipes", "fuel", "build")


@contextmanager
def running() -> Iterator[tuple[TestClient, int, str]]:
    """A client at the application, the id of a Heron job, and the database's address."""
    folder = Path(tempfile.mkdtemp(prefix="gale-nook-bench-", dir="/var/tmp"))
    folder.chmod(0o755)
    cluster = postgres.cluster_at(folder / "pg")
    postgres.start(cluster)
    try:
        migrate(cluster.url())
        app = create_app(cluster.url())
        with Session(app.state.engine) as db, db.begin():
            job = create_job(db, demo_plan("heron"), "demo")
        client = TestClient(app, base_url="http://127.0.0.1")
        client.get("/health")
        yield client, job, cluster.url()
    finally:
        postgres.stop(cluster)
        shutil.rmtree(folder)


def figures(client: TestClient, job: int) -> Iterator[tuple[Figure, str]]:
    book, plan = load_catalogue(), demo_plan("heron")
    headers = {"x-csrftoken": client.cookies["csrftoken"], "hx-request": "true"}

    def step() -> None:
        command = json.dumps({"op": "place", "x_mm": 2700, "y_mm": -286})
        answer = client.post(
            f"/jobs/{job}/spot/preview", data={"base": "1", "command": command}, headers=headers
        )
        answer.raise_for_status()

    def bare_check() -> None:
        check(plan, book)

    def printed() -> None:
        build_pdf(plan, book)

    yield (
        compare("build sheet of Heron as a PDF", printed, "check of Heron", bare_check, 8),
        "under 1000 ms",
    )
    yield (
        compare("preview of one drag step, server side", step, "check of Heron", bare_check),
        "under 50 ms",
    )
    with Session(client.app.state.engine) as db, db.begin():  # type: ignore[attr-defined]
        full = create_job(db, crowded(100), "crowded")

    def crowded_step() -> None:
        command = json.dumps({"op": "place", "x_mm": 2700, "y_mm": -286})
        answer = client.post(
            f"/jobs/{full}/spot/preview", data={"base": "1", "command": command}, headers=headers
        )
        answer.raise_for_status()

    yield (
        compare("the same with 100 solids", crowded_step, "check of Heron", bare_check),
        "under 50 ms",
    )
    for word, address, value in (
        ("heater", "heat.altitude_m", 2000),
        ("heat", "heat.surfaces.roof.layers.l2.thickness_mm", 60),
    ):

        def slide(word: str = word, address: str = address, value: float = value) -> None:
            command = json.dumps({"op": "set", "changes": [{"address": address, "value": value}]})
            answer = client.post(
                f"/jobs/{job}/{word}/preview",
                data={"base": "1", "command": command},
                headers=headers,
            )
            answer.raise_for_status()

        yield (
            compare(
                f"slider of {address.rsplit('.', 1)[-1]}, server side",
                slide,
                "check of Heron",
                bare_check,
            ),
            "under 100 ms",
        )
    for word in WORDS:

        def again(word: str = word) -> None:
            client.get(f"/jobs/{job}/{word}").raise_for_status()

        def first(word: str = word) -> None:
            kept_jobs.clear()
            again(word)

        yield (
            compare(
                f"page of the {word} station, first look", first, "check of Heron", bare_check, 20
            ),
            "under 60 ms",
        )
        yield (
            compare(f"page of the {word} station, again", again, "check of Heron", bare_check, 20),
            "under 60 ms",
        )


def first_load_kb(client: TestClient, job: int) -> float:
    """Return the bytes of the heaviest station page with all that it asks for, in
    kB, uncompressed.
    """
    heaviest = 0
    for word in WORDS:
        text = client.get(f"/jobs/{job}/{word}").text
        assets = sum(len(content) for content in _assets(client, text).values())
        heaviest = max(heaviest, len(text.encode()) + assets)
    return (
        heaviest + sum(p.stat().st_size for p in (STATIC / "vendor/fonts").glob("*.woff2"))
    ) / 1000


def _assets(client: TestClient, page: str) -> dict[str, bytes]:
    """What a page asks for, with the modules that its scripts import."""
    results: dict[str, bytes] = {}
    wanted = re.findall(r'(?:href|src)="(/static/[^"]+)"', page)
    while wanted:
        url = wanted.pop()
        if url in results:
            continue
        results[url] = client.get(url).content
        if url.endswith(".js"):
            imported = re.findall(r'(?:from|import) "(\.{1,2}/[^"]+)"', results[url].decode())
            wanted += [urljoin(url, name) for name in imported]
    return results


def memory_mb(database_url: str, job: int) -> float:
    """Return the peak resident memory of a fresh process that served every station and printed one
    PDF.
    """
    script = (
        "import pathlib, sys\n"
        "from fastapi.testclient import TestClient\n"
        "from gale_nook.web.app import create_app\n"
        "client = TestClient(create_app(sys.argv[1]), base_url='http://127.0.0.1')\n"
        f"for word in {(*WORDS, 'build.pdf')!r}:\n"
        "    client.get(f'/jobs/{sys.argv[2]}/{word}').raise_for_status()\n"
        # its own highest mark: getrusage would begin at that of the process that started it
        "told = dict(line.split(':') for line in "
        "pathlib.Path('/proc/self/status').read_text().splitlines())\n"
        "print(int(told['VmHWM'].split()[0]) / 1024)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", script, database_url, str(job)],
        capture_output=True,
        text=True,
        check=True,
    )
    return float(done.stdout.splitlines()[-1])
