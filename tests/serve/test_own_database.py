"""A database of one's own: another host's web processes and workers on it, in a schema of its own,
with the least rights.
"""

from __future__ import annotations

import os
import secrets
import signal
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import quote

import pytest
from sqlalchemy import create_engine, text

from gale_nook.serve import postgres
from gale_nook.serve.keep.backup import back_up, make_empty
from gale_nook.serve.keep.database import Database
from gale_nook.store.migrate import migrate
from gale_nook.store.roles import let_in
from tests.serve.started import command, data_folder, start

SCHEMA, FOUND = "vans", 'id="layout-A"'


@pytest.fixture
def own(cluster: postgres.Cluster) -> Iterator[dict[str, str]]:
    """What a host is told of a database that it does not start: as its owner, and with few
    rights.
    """
    database = Database.of_cluster(cluster).named("own_one")
    make_empty(database)
    migrate(database.address)
    engine = create_engine(database.address)
    password = secrets.token_urlsafe(24)
    let_in(engine, "own_web", password)
    engine.dispose()
    web = database.url.set(username="own_web", password=password)
    yield {
        "GALE_NOOK_DATABASE_URL": database.address,
        "GALE_NOOK_WEB_DATABASE_URL": web.render_as_string(hide_password=False),
        "GALE_NOOK_SECRET": secrets.token_urlsafe(32),
    }
    database.named("postgres").run("dropdb", "--force", database.name)


def _only_workers(folder: Path, environment: dict[str, str]) -> subprocess.Popen[str]:
    """A host that serves no page."""
    options = ("--processes", "0", "--workers", "1")
    process = subprocess.Popen(
        command(folder, postgres.free_port(), *options),
        stdout=subprocess.PIPE,
        text=True,
        start_new_session=True,
        env={**os.environ, **environment},
    )
    assert process.stdout is not None
    assert "other hosts" in process.stdout.readline()
    return process


def _wait_for_layouts(client, job: int) -> str:  # type: ignore[no-untyped-def]
    """Ask until the workers have answered."""
    deadline = time.monotonic() + 90
    while time.monotonic() < deadline:
        told: str = client.get(f"/jobs/{job}/planner/found?effort=quick").text
        if FOUND in told:
            return told
    raise AssertionError(f"no worker took it: {told}")


def test_two_hosts_share_one_database_and_its_workers(own: dict[str, str]) -> None:
    """What is saved by one is seen by the other at once; a host of workers alone does its work."""
    with data_folder() as one, data_folder() as other, data_folder() as third:
        first = start(one, "--workers", "0", environment=own)
        second = start(other, "--workers", "0", environment=own)
        workers = _only_workers(third, own)
        try:
            assert not (one / "data").exists()
            assert first.children("worker_process") == []
            job = first.jobs()["Dunlin"]
            saved = first.post(f"/jobs/{job}/heat/set", {"base": "1", "set:heat.altitude_m": "777"})
            assert saved.status_code == 200
            assert "777" in second.client.get(f"/jobs/{job}/heat").text
            again = second.post(f"/jobs/{job}/heat/set", {"base": "2", "set:heat.inside_c": "17"})
            assert again.status_code == 200
            assert "edit 3" in first.client.get(f"/jobs/{job}/heat").text
            first.post(f"/jobs/{job}/planner/find", {"base": "3", "effort": "quick"})
            assert FOUND in _wait_for_layouts(second.client, job)
        finally:
            workers.send_signal(signal.SIGINT)
            assert [each.end(signal.SIGINT) for each in (first, second)] == [0, 0]
            assert workers.wait(60) == 0


def test_web_processes_cannot_change_tables(own: dict[str, str]) -> None:
    engine = create_engine(own["GALE_NOOK_WEB_DATABASE_URL"])
    with engine.connect() as connection, pytest.raises(Exception, match="must be owner"):
        connection.execute(text("ALTER TABLE jobs ADD COLUMN x int"))
    engine.dispose()


def test_it_keeps_to_a_schema_of_its_own(cluster: postgres.Cluster, tmp_path: Path) -> None:
    """Beside what others keep in the same database; a backup takes it along."""
    database = Database.of_cluster(cluster).named("own_two")
    make_empty(database)
    engine = create_engine(database.address)
    with engine.begin() as connection:
        connection.execute(text(f"CREATE SCHEMA {SCHEMA}"))
        connection.execute(text("CREATE TABLE public.jobs (theirs int)"))
    url = f"{database.address}?options={quote(f'-csearch_path={SCHEMA}')}"
    with data_folder() as folder:
        started = start(folder, environment={"GALE_NOOK_DATABASE_URL": url})
        assert "Heron" in started.jobs()
        started.end(signal.SIGINT)
    with engine.connect() as connection:
        ours = text("SELECT count(*) FROM pg_tables WHERE schemaname = :name")
        assert connection.scalar(ours, {"name": SCHEMA}) > 15
        assert connection.scalar(ours, {"name": "public"}) == 1
    engine.dispose()
    assert back_up(Database.at(url), tmp_path).exists()
    database.named("postgres").run("dropdb", "--force", database.name)
