"""Safekeeping: what is backed up is what was there, and comes back; what is damaged or newer does
not.
"""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import create_engine, text
from sqlalchemy.orm import Session

from gale_nook.core.book.document import OwnBook, read_book
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.plan.document import Plan
from gale_nook.exchange.job_file import read_job_file, read_job_log
from gale_nook.serve import postgres
from gale_nook.serve.keep import nightly
from gale_nook.serve.keep.backup import DUMP, MANIFEST, back_up, make_empty, read_manifest
from gale_nook.serve.keep.database import Database
from gale_nook.serve.keep.job_files import export_all
from gale_nook.serve.keep.restore import jobs_in, restore
from gale_nook.serve.trouble import StartTrouble
from gale_nook.store.job_store import JobStore
from gale_nook.store.jobs import create_job, head_of
from gale_nook.store.migrate import MIGRATIONS, migrate

VERSIONS = [
    script.revision for script in ScriptDirectory(str(MIGRATIONS)).walk_revisions("base", "heads")
]


@pytest.fixture
def database(cluster: postgres.Cluster) -> Iterator[Database]:
    """A database of its own with our tables."""
    made = Database.of_cluster(cluster).named("keep_one")
    make_empty(made)
    migrate(made.address)
    yield made
    _drop(made)


@pytest.fixture
def other(cluster: postgres.Cluster) -> Iterator[Database]:
    """Another one, empty."""
    made = Database.of_cluster(cluster).named("keep_other")
    make_empty(made)
    yield made
    _drop(made)


def _drop(database: Database) -> None:
    database.named("postgres").run("dropdb", "--force", "--if-exists", database.name)


def _with_jobs(database: Database, plan: Plan, count: int = 2) -> list[int]:
    engine = create_engine(database.address)
    with Session(engine) as session, session.begin():
        ids = [create_job(session, plan, f"made {n}") for n in range(count)]
    JobStore(engine).keep_pictures(ids[0], {"a" * 64 + ".jpg": b"picture"})
    engine.dispose()
    return ids


def _content(database: Database) -> dict[str, list[tuple[object, ...]]]:
    """Every row of what people made."""
    engine = create_engine(database.address)
    told = {}
    with engine.connect() as connection:
        for table in ("jobs", "revisions", "pictures", "log_entries", "prints"):
            rows = connection.execute(text(f"SELECT * FROM {table} ORDER BY 1, 2"))
            told[table] = [tuple(row) for row in rows]
    engine.dispose()
    return told


def test_all_comes_back_in_an_empty_place(
    database: Database, other: Database, heron: Plan, tmp_path: Path
) -> None:
    _with_jobs(database, heron)
    made = back_up(database, tmp_path)
    manifest, before = restore(other, made, tmp_path / "kept")
    assert before is None
    assert _content(other) == _content(database)
    assert manifest.rows["jobs"] == 2
    assert manifest.rows["pictures"] == 1


def test_what_was_there_is_backed_up_first(
    database: Database, other: Database, heron: Plan, wren: Plan, tmp_path: Path
) -> None:
    _with_jobs(database, heron, 1)
    migrate(other.address)
    _with_jobs(other, wren, 3)
    were = _content(other)
    _, before = restore(other, back_up(database, tmp_path), tmp_path / "kept")
    assert jobs_in(other) == 1
    assert before is not None
    restore(other, before, tmp_path / "kept")
    assert _content(other) == were


def test_it_is_taken_while_people_edit(
    database: Database, other: Database, heron: Plan, catalogue: Catalogue, tmp_path: Path
) -> None:
    """It holds one moment, whole: each job's head is among its revisions."""
    (job, *_) = _with_jobs(database, heron, 1)
    engine = create_engine(database.address)
    store, done = JobStore(engine), threading.Event()

    def edit() -> None:
        number = 1
        while not done.is_set():
            number = store.save(job, number, set_value("note", f"edit {number}"), catalogue)

    editor = threading.Thread(target=edit)
    editor.start()
    try:
        made = back_up(database, tmp_path)
    finally:
        done.set()
        editor.join()
        engine.dispose()
    manifest, _ = restore(other, made, tmp_path / "kept")
    with Session(create_engine(other.address)) as session:
        head = head_of(session, job)
        session.connection().engine.dispose()
    assert head.number == manifest.rows["revisions"]


def test_a_damaged_backup_is_refused_and_changes_nothing(
    database: Database, heron: Plan, tmp_path: Path
) -> None:
    _with_jobs(database, heron)
    made = back_up(database, tmp_path)
    were = _content(database)
    data = bytearray((made / DUMP).read_bytes())
    data[len(data) // 2] ^= 1
    (made / DUMP).write_bytes(data)
    with pytest.raises(StartTrouble, match="not as it was written"):
        restore(database, made, tmp_path / "kept")
    (made / DUMP).unlink()
    with pytest.raises(StartTrouble, match="is missing"):
        read_manifest(made)
    with pytest.raises(StartTrouble, match="is no backup"):
        restore(database, tmp_path, tmp_path / "kept")
    (made / MANIFEST).write_text("{}")
    with pytest.raises(StartTrouble, match="cannot be read"):
        restore(database, made, tmp_path / "kept")
    assert _content(database) == were
    assert not (tmp_path / "kept").exists()


def test_a_backup_of_a_newer_version_is_refused(
    database: Database, other: Database, heron: Plan, tmp_path: Path
) -> None:
    _with_jobs(database, heron)
    engine = create_engine(database.address)
    with engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    engine.dispose()
    made = back_up(database, tmp_path)
    with pytest.raises(StartTrouble, match="newer Gale Nook"):
        restore(other, made, tmp_path / "kept")
    assert jobs_in(other) == 0


@pytest.mark.parametrize("version", VERSIONS)
def test_backups_of_every_version_are_brought_up_to_date(
    version: str, other: Database, cluster: postgres.Cluster, heron: Plan, tmp_path: Path
) -> None:
    old = Database.of_cluster(cluster).named("keep_old")
    make_empty(old)
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.set_main_option("sqlalchemy.url", old.address.replace("%", "%%"))
    command.upgrade(config, version)
    engine = create_engine(old.address)
    plan = heron.model_dump_json()
    with engine.begin() as connection:
        connection.execute(text("INSERT INTO jobs (name, head, tip) VALUES ('Heron', 1, 1)"))
        connection.execute(
            text(
                "INSERT INTO revisions (job_id, number, summary, plan) "
                "VALUES (1, 1, 'begun', :plan)"
            ),
            {"plan": plan},
        )
    engine.dispose()
    manifest, _ = restore(other, back_up(old, tmp_path), tmp_path / "kept")
    _drop(old)
    assert manifest.schema_version == version
    with Session(create_engine(other.address)) as session:
        assert head_of(session, 1).plan == heron
        session.connection().engine.dispose()


def test_every_job_is_written_as_a_file_that_can_be_read(
    database: Database, heron: Plan, tmp_path: Path
) -> None:
    odd = heron.model_copy(update={"name": "../=Wren & Co"})
    _with_jobs(database, odd)
    files = export_all(database.address, tmp_path / "out")
    assert [file.name for file in files] == ["1-wren-co.zip", "2-wren-co.zip", "book.json"]
    plan, _ = read_job_file(files[0].read_bytes())
    assert plan == odd
    assert read_job_log(files[0].read_bytes()) == ()
    assert read_book(files[2].read_bytes()) == OwnBook()


def _at(day: int, hour: int) -> datetime:
    return datetime(2031, 5, day, hour, 10)  # noqa: DTZ001 - by the clock on the wall


def test_one_is_due_each_night(tmp_path: Path) -> None:
    assert nightly.is_due(tmp_path, _at(10, 1))  # there is none yet
    (tmp_path / "nightly-2031-05-09").mkdir()
    assert not nightly.is_due(tmp_path, _at(10, 2))
    assert nightly.is_due(tmp_path, _at(10, 3))
    (tmp_path / "nightly-2031-05-10").mkdir()
    assert not nightly.is_due(tmp_path, _at(10, 23))
    assert nightly.is_due(tmp_path, _at(12, 1))  # the machine was off for a night


def test_two_weeks_of_them_are_kept(tmp_path: Path) -> None:
    today = date(2031, 5, 30)
    for back in range(20):
        (tmp_path / f"nightly-{today - timedelta(days=back)}").mkdir()
    (tmp_path / "before-restore-2031-01-01-000000").mkdir()
    nightly.tidy(tmp_path, today)
    assert len(nightly.backed_up(tmp_path)) == nightly.KEPT_DAYS
    assert (tmp_path / "before-restore-2031-01-01-000000").exists()


def test_the_last_one_is_kept_however_old(tmp_path: Path) -> None:
    (tmp_path / "nightly-2030-01-01").mkdir()
    assert nightly.tidy(tmp_path, date(2031, 5, 30)) == []


def test_the_manifest_is_open(database: Database, heron: Plan, tmp_path: Path) -> None:
    _with_jobs(database, heron)
    told = json.loads((back_up(database, tmp_path) / MANIFEST).read_text())
    assert told["format"] == 1
    assert set(told["sha256"]) == {DUMP}
    assert told["rows"]["jobs"] == 2
