"""Backups: the whole database in one folder, taken while it is used, and read back before it counts
as one.
"""

from __future__ import annotations

import hashlib
import json
import shutil
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy import Connection, create_engine, text

from gale_nook import __version__
from gale_nook.serve.keep.database import Database
from gale_nook.serve.trouble import StartTrouble

FORMAT = 1
DUMP, MANIFEST, LETTERS = "database.dump", "backup.json", "tls"
CHECKED = "gale_nook_reads_back"
BLOCK = 1 << 20
TABLES = text(
    "SELECT tablename FROM pg_tables WHERE schemaname = current_schema() ORDER BY tablename"
)


class Manifest(BaseModel):
    """What a backup holds, in its file `backup.json`.

    Attributes:
        schema_version: of the tables, as the migrations name it.
        rows: of each table.
        sha256: of each file, by its path in the folder.
    """

    model_config = ConfigDict(frozen=True, extra="ignore")

    format: Annotated[int, Field(ge=1, le=FORMAT)]
    made_at: datetime
    application: str
    schema_version: str
    rows: dict[str, int]
    sha256: dict[str, str]


def back_up(database: Database, folder: Path, name: str = "", letters: Path | None = None) -> Path:
    """Write a backup into a folder of its own in `folder`; returns it once it was read back.

    Args:
        name: of that folder; the moment, when left out.
        letters: a folder with the certificate for the local network, to be kept along.

    Raises:
        StartTrouble: it could not be written, or does not hold what the database holds.
    """
    now = datetime.now(UTC)
    target = folder / (name or f"backup-{now:%Y-%m-%d-%H%M%S}")
    if target.exists():
        raise StartTrouble(f"{target} is there already. Nothing was changed.")
    making = target.with_name(f".{target.name}.making")
    shutil.rmtree(making, ignore_errors=True)
    try:
        making.mkdir(parents=True)
        making.chmod(0o700)
        rows, version = _dump(database, making / DUMP)
        if letters is not None and letters.is_dir():
            shutil.copytree(letters, making / LETTERS)
        manifest = Manifest(
            format=FORMAT,
            made_at=now,
            application=__version__,
            schema_version=version,
            rows=rows,
            sha256=_sums(making),
        )
        (making / MANIFEST).write_text(manifest.model_dump_json(indent=2) + "\n")
        _read_back(database, making, manifest)
        making.rename(target)
    except OSError as error:
        raise StartTrouble(f"{target} could not be written: {error.strerror}.") from None
    finally:
        shutil.rmtree(making, ignore_errors=True)
    return target


def read_manifest(folder: Path) -> Manifest:
    """Return what a backup says that it holds, its files held against their sums.

    Raises:
        StartTrouble: it is no backup, or a file of it was changed or is missing.
    """
    try:
        manifest = Manifest.model_validate_json((folder / MANIFEST).read_text())
    except OSError:
        raise StartTrouble(f"{folder} is no backup: it has no {MANIFEST}.") from None
    except (ValidationError, ValueError):
        raise StartTrouble(
            f"{folder / MANIFEST} cannot be read, or was written by a newer Gale Nook."
        ) from None
    sums = _sums(folder)
    for file, told in manifest.sha256.items():
        if sums.get(file) != told:
            lacks = "is missing" if file not in sums else "is not as it was written"
            raise StartTrouble(f"{folder / file} {lacks}: this backup cannot be used.")
    if DUMP not in manifest.sha256:
        raise StartTrouble(f"{folder} holds no database.")
    return manifest


def fill(database: Database, folder: Path) -> None:
    """Fill an empty database from a backup."""
    database.run(
        "pg_restore",
        "--no-owner",
        "--no-privileges",
        "--exit-on-error",
        "--single-transaction",
        f"--dbname={database.name}",
        str(folder / DUMP),
    )


def row_counts(connection: Connection) -> dict[str, int]:
    """Return how many rows each table has."""
    names = connection.scalars(TABLES).all()
    return {
        name: int(connection.scalar(text(f'SELECT count(*) FROM "{name}"')) or 0) for name in names
    }


def _dump(database: Database, file: Path) -> tuple[dict[str, int], str]:
    """Write the database to a file; returns its rows and version at that very moment."""
    engine = create_engine(database.address, isolation_level="REPEATABLE READ")
    try:
        with engine.connect() as connection:
            snapshot = connection.scalar(text("SELECT pg_export_snapshot()"))
            rows = row_counts(connection)
            version = connection.scalar(text("SELECT version_num FROM alembic_version"))
            database.run(
                "pg_dump",
                "--format=custom",
                "--no-owner",
                "--no-privileges",
                f"--snapshot={snapshot}",
                f"--file={file}",
            )
    finally:
        engine.dispose()
    return rows, str(version)


def _read_back(database: Database, folder: Path, manifest: Manifest) -> None:
    """Fill a database of its own from what was written, and count what is there."""
    copy = database.named(CHECKED)
    make_empty(copy)
    try:
        fill(copy, folder)
        engine = create_engine(copy.address)
        with engine.connect() as connection:
            there = row_counts(connection)
        engine.dispose()
        if there != manifest.rows:
            lacking = [name for name, count in manifest.rows.items() if there.get(name) != count]
            raise StartTrouble(f"The backup does not hold all of: {', '.join(lacking)}.")
    finally:
        drop(copy)


def make_empty(database: Database) -> None:
    """Make a database anew, with nothing in it."""
    drop(database)
    database.named("postgres").run("createdb", database.name)


def drop(database: Database) -> None:
    """Throw a database away, if it is there."""
    database.named("postgres").run("dropdb", "--force", "--if-exists", database.name)


def _sums(folder: Path) -> dict[str, str]:
    """SHA-256 of every file of a backup but the manifest."""
    files = (each for each in sorted(folder.rglob("*")) if each.is_file())
    return {str(each.relative_to(folder)): _sum(each) for each in files if each.name != MANIFEST}


def _sum(file: Path) -> str:
    digest = hashlib.sha256()
    with file.open("rb") as opened:
        while block := opened.read(BLOCK):
            digest.update(block)
    return digest.hexdigest()


def manifest_text(manifest: Manifest) -> str:
    """Return in one line what a backup holds."""
    jobs, edits = manifest.rows.get("jobs", 0), manifest.rows.get("revisions", 0)
    made = manifest.made_at.astimezone().strftime("%Y-%m-%d %H:%M")
    return f"{jobs} jobs with {edits} edits, made {made} by Gale Nook {manifest.application}"


def as_json(manifest: Manifest) -> str:
    """Return what a backup holds as JSON."""
    return json.dumps(manifest.model_dump(mode="json"), indent=2)
