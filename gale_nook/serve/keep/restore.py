"""Putting a backup back: beside what is there first, and in its place only once it is whole."""

from __future__ import annotations

import shutil
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import create_engine, text

from gale_nook.serve.keep.backup import (
    LETTERS,
    Manifest,
    back_up,
    drop,
    fill,
    make_empty,
    read_manifest,
)
from gale_nook.serve.keep.database import Database
from gale_nook.serve.trouble import StartTrouble
from gale_nook.store.migrate import NewerData, migrate

COMING, BEFORE = "gale_nook_coming", "before-restore"


def jobs_in(database: Database) -> int:
    """Return how many jobs a database has; none where it has no tables yet."""
    engine = create_engine(database.address)
    try:
        with engine.connect() as connection:
            if connection.scalar(text("SELECT to_regclass('jobs')")) is None:
                return 0
            return int(connection.scalar(text("SELECT count(*) FROM jobs")) or 0)
    finally:
        engine.dispose()


def restore(
    database: Database, folder: Path, kept: Path, letters: Path | None = None
) -> tuple[Manifest, Path | None]:
    """Put a backup in place of a database that nothing else uses; returns what it holds, and where
    what was there before was backed up to.

    The tables are brought to this version. Until all is there the old database is not touched.

    Args:
        kept: folder for the backup of what is there, unless that is no job.
        letters: folder of the certificate for the local network.

    Raises:
        StartTrouble: the backup is damaged, or was made by a newer version.
    """
    manifest = read_manifest(folder)
    coming = database.named(COMING)
    make_empty(coming)
    try:
        fill(coming, folder)
        try:
            migrate(coming.address)
        except NewerData:
            raise StartTrouble(
                "This backup was made by a newer Gale Nook than this one: restore it with that "
                "one. Nothing was changed."
            ) from None
        before = _set_aside(database, kept)
        drop(database)
        database.named("postgres").run(
            "psql",
            "--quiet",
            "--set=ON_ERROR_STOP=1",
            f'--command=ALTER DATABASE "{COMING}" RENAME TO "{database.name}"',
        )
    finally:
        drop(coming)
    if letters is not None and (folder / LETTERS).is_dir():
        shutil.rmtree(letters, ignore_errors=True)
        shutil.copytree(folder / LETTERS, letters)
    return manifest, before


def _set_aside(database: Database, kept: Path) -> Path | None:
    if jobs_in(database) == 0:
        return None
    return back_up(database, kept, f"{BEFORE}-{datetime.now(UTC):%Y-%m-%d-%H%M%S}")
