"""The command line's part for safekeeping: backup, restore, and every job as a file."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import typer

from gale_nook.serve import postgres
from gale_nook.serve.folder import data_folder, make_usable
from gale_nook.serve.keep.backup import back_up, manifest_text, read_manifest
from gale_nook.serve.keep.database import Database
from gale_nook.serve.keep.job_files import export_all
from gale_nook.serve.keep.restore import jobs_in, restore
from gale_nook.serve.trouble import StartTrouble

TREE = Path(__file__).resolve().parents[3]
URL, BACKUPS, LETTERS = "GALE_NOOK_DATABASE_URL", "backups", "tls"
FAILED = 2


def backup(folder: Path, data_dir: Path | None) -> None:
    """Back the database up while it is used, and read the backup back."""
    with _told(), _database(data_dir) as (database, place):
        letters = place / LETTERS if place is not None else None
        made = back_up(database, folder.resolve(), letters=letters)
        typer.echo(f"{made}: {manifest_text(read_manifest(made))}. It was read back.")


def put_back(folder: Path, data_dir: Path | None, *, yes: bool) -> None:
    """Put a backup in place of the database; what is there now is backed up first."""
    with _told():
        if os.environ.get(URL):
            raise StartTrouble(
                "A database of your own is restored with PostgreSQL's pg_restore: "
                "see docs/running.md."
            )
        place = data_dir or data_folder(TREE)
        make_usable(place)
        with _nobody_else(place), _database(data_dir) as (database, _):
            held = manifest_text(read_manifest(folder.resolve()))
            there = jobs_in(database)
            if there and not yes and not _agreed(there, held):
                typer.echo("Nothing was changed.")
                return
            _, before = restore(
                database, folder.resolve(), place / BACKUPS, letters=place / LETTERS
            )
            typer.echo(f"Put back: {held}.")
            if before is not None:
                typer.echo(f"What was there before is in {before}.")


def export(folder: Path, data_dir: Path | None) -> None:
    """Write every job as a file that Gale Nook takes in again: plan, photos and log."""
    with _told(), _database(data_dir) as (database, _):
        files = export_all(database.address, folder.resolve())
        typer.echo(f"{len(files) - 1} jobs and the workshop's book written to {folder}.")


def _agreed(there: int, held: str) -> bool:
    typer.echo(f"This replaces the {there} jobs that are there with {held}.")
    try:
        return input("Type yes to go on: ").strip().lower() == "yes"
    except EOFError:
        return False


@contextmanager
def _told() -> Iterator[None]:
    """Trouble is told in words and ends the program."""
    try:
        yield
    except StartTrouble as trouble:
        typer.echo(str(trouble), err=True)
        raise typer.Exit(FAILED) from None
    except OSError as error:
        typer.echo(f"{error.filename or 'It'}: {error.strerror}.", err=True)
        raise typer.Exit(FAILED) from None


@contextmanager
def _database(data_dir: Path | None) -> Iterator[tuple[Database, Path | None]]:
    """The database with its data folder, running; that of one's own has no folder."""
    url = os.environ.get(URL, "")
    if url and data_dir is None:
        yield Database.at(url), None
        return
    folder = data_dir or data_folder(TREE)
    make_usable(folder)
    cluster = postgres.cluster_at(folder)
    started = postgres.start(cluster)
    try:
        yield Database.of_cluster(cluster), folder
    finally:
        if started:
            postgres.stop(cluster)


@contextmanager
def _nobody_else(folder: Path) -> Iterator[None]:
    """Hold the lock that a running Gale Nook holds."""
    with (folder / "start.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise StartTrouble(
                f"Gale Nook is running with the data in {folder}. Stop it first (Ctrl-C), then "
                "restore."
            ) from None
        yield
