"""The data folder: what stands in its way is told in a sentence, and what was half made is made
anew.
"""

from __future__ import annotations

import os
import shutil
import stat
import subprocess
from collections import namedtuple
from pathlib import Path

import psycopg
import pytest
from sqlalchemy import create_engine, text

from gale_nook.serve import folder as folders
from gale_nook.serve import postgres
from gale_nook.serve.trouble import StartTrouble
from gale_nook.store.migrate import NewerData, migrate
from gale_nook.store.roles import let_in
from tests.serve.started import command, start

pytestmark = pytest.mark.store
Usage = namedtuple("Usage", "total used free")


def _refused(folder: Path) -> str:
    done = subprocess.run(
        command(folder, postgres.free_port()), capture_output=True, text=True, check=False
    )
    assert done.returncode == 1
    assert "Traceback" not in done.stderr
    return done.stderr


def test_a_file_in_its_place(folder: Path) -> None:
    folder.write_text("mine")
    assert f"{folder} is a file, not a folder" in _refused(folder)
    assert f"{folder} is a file, not a folder" in _refused(folder / "deeper")
    assert folder.read_text() == "mine"


def test_a_folder_that_cannot_be_written() -> None:
    assert "Nothing can be written in /proc/gale" in _refused(Path("/proc/gale"))


def test_a_parent_that_the_databases_user_may_not_enter(folder: Path) -> None:
    closed = folder.parent / "closed"
    closed.mkdir(mode=0o700)
    if os.geteuid() != 0:
        assert folders.owner() is None
        return
    said = _refused(closed / "data")
    assert f"may not pass through {closed}" in said
    assert f"chmod o+x {closed}" in said


def test_a_full_disk(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(shutil, "disk_usage", lambda _: Usage(10**9, 10**9, 3_000_000))
    with pytest.raises(StartTrouble, match="3 MB are free, 64 MB are needed"):
        folders.make_usable(folder)


def test_data_of_another_version_is_left_alone(folder: Path) -> None:
    data = folder / "data"
    data.mkdir(parents=True)
    (data / "PG_VERSION").write_text("11\n")
    with pytest.raises(StartTrouble, match=r"made by PostgreSQL 11.*apt-get install postgresql-11"):
        postgres.cluster_at(folder)
    assert "made by PostgreSQL 11" in _refused(folder)
    installed = [Path(f"/opt/postgresql/{version}/bin") for version in ("11", "15", "9")]
    assert postgres.cluster_at(folder, installed).binaries == installed[0]
    assert postgres.cluster_at(folder.with_name("new"), installed).binaries == installed[1]


def test_data_of_a_newer_application_is_left_alone(demo_folder: Path) -> None:
    started = start(demo_folder)
    with create_engine(started.cluster.url()).begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    started.end()
    said = _refused(demo_folder)
    assert "was written by a newer Gale Nook" in said
    cluster = postgres.cluster_at(demo_folder)
    postgres.start(cluster)
    with pytest.raises(NewerData):
        migrate(cluster.url())


def test_a_kill_while_it_is_made_leaves_nothing_half_made(folder: Path) -> None:
    """Both kinds of remains: what was being made, and a place without what every made one has."""
    for name in ("data.making", "data"):
        (folder / name / "base").mkdir(parents=True)
        (folder / name / "half").write_text("x")
    started = start(folder)
    assert "Heron" in started.jobs()
    assert not (folder / "data.making").exists()
    assert started.end() == 0


def test_secrets_are_kept_and_only_their_owners(folder: Path) -> None:
    folder.mkdir(parents=True)
    made = folders.secret(folder, "form-secret")
    assert len(made) >= 40
    assert folders.secret(folder, "form-secret") == made
    assert stat.S_IMODE((folder / "form-secret").stat().st_mode) == 0o600
    (folder / "form-secret").write_text("")  # cut off by a full disk
    assert len(folders.secret(folder, "form-secret")) >= 40


def test_the_log_is_put_aside_before_it_grows_large(folder: Path) -> None:
    folder.mkdir(parents=True)
    cluster = postgres.Cluster(folder, Path("/nowhere"))
    assert postgres.rotate_log(cluster, 10) is False
    with cluster.log.open("a") as server:
        server.write("x" * 50)
        server.flush()
        assert postgres.rotate_log(cluster, 10) is True
        server.write("after")
    assert cluster.log.read_text() == "after"
    assert cluster.log.with_suffix(".log.1").read_text() == "x" * 50


def test_pages_of_the_database_are_summed(cluster: postgres.Cluster, database_url: str) -> None:
    with create_engine(database_url).connect() as connection:
        assert connection.scalar(text("SHOW data_checksums")) == "on"


@pytest.mark.parametrize(
    "statement",
    [
        "CREATE TABLE mine (a int)",
        "DROP TABLE jobs",
        "ALTER TABLE jobs ADD COLUMN mine int",
        "CREATE ROLE other",
        "ALTER ROLE gale PASSWORD 'x'",
        "SELECT * FROM pg_authid",
        "COPY jobs TO PROGRAM 'cat'",
        "CREATE DATABASE other",
        "UPDATE alembic_version SET version_num = '1'",
        "CREATE EXTENSION dblink",
        "SELECT pg_read_file('/etc/passwd')",
        "CREATE TEMPORARY TABLE mine (a int)",
        "ALTER SYSTEM SET log_statement = 'all'",
    ],
)
def test_the_web_processes_role_can_change_rows_and_nothing_else(
    cluster: postgres.Cluster, database_url: str, statement: str
) -> None:
    admin = create_engine(database_url)
    let_in(admin, postgres.WEB_USER, cluster.web_password)
    let_in(admin, postgres.WEB_USER, cluster.web_password)  # again, as at every start
    with psycopg.connect(cluster.web_url().replace("+psycopg", ""), autocommit=True) as connection:
        assert connection.execute("SELECT count(*) FROM jobs").fetchone() is not None
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            connection.execute(statement.encode())
