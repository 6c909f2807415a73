"""The start command: database, tables, demo, web processes; stops all of it on Ctrl-C."""

from __future__ import annotations

import argparse
import fcntl
import os
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import IO
from urllib.parse import urlsplit

from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from gale_nook.serve import certificate, postgres, rights
from gale_nook.serve.folder import data_folder, make_usable, secret
from gale_nook.serve.supervisor import Supervisor, lan_addresses
from gale_nook.serve.trouble import StartTrouble
from gale_nook.store import people
from gale_nook.store.database import open_engine
from gale_nook.store.demo import load_demo_once
from gale_nook.store.migrate import NewerData, migrate
from gale_nook.store.roles import let_in

TREE = Path(__file__).resolve().parents[2]
LOOPBACK = {"127.0.0.1", "localhost"}
DEFAULT_PORT = 8620
OWN_DATABASE, WEB_DATABASE = "GALE_NOOK_DATABASE_URL", "GALE_NOOK_WEB_DATABASE_URL"
BACKUPS = "backups"


def main() -> int:
    """Run until Ctrl-C; returns the exit code."""
    options = _options()
    try:
        _serve(options)
    except StartTrouble as trouble:
        print(trouble, file=sys.stderr)
        return 1
    except OSError as error:
        print(
            (
                f"It could not be started: {error.strerror or 'no answer'} "
                f"({error.filename or 'this machine'})."
            ),
            file=sys.stderr,
        )
        return 1
    return 0


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="./start", description="Start Gale Nook on this machine.")
    parser.add_argument(
        "--port", type=int, default=DEFAULT_PORT, help=f"port to serve on (default {DEFAULT_PORT})"
    )
    parser.add_argument(
        "--data-dir", type=Path, help="folder of the database (default: var in this folder)"
    )
    parser.add_argument(
        "--host",
        default="127.0.0.1",
        help="this machine only; any other address is refused (see --lan)",
    )
    parser.add_argument(
        "--lan", action="store_true", help="let paired phones on the local network in"
    )
    parser.add_argument("--workshop", action="store_true", help="people sign in, each with a role")
    parser.add_argument(
        "--public",
        default="",
        metavar="URL",
        help="https address under which a proxy on this machine shows it; with --workshop only",
    )
    parser.add_argument(
        "--processes", type=int, default=2, help="number of web processes (default 2)"
    )
    parser.add_argument(
        "--workers", type=int, default=1, help="number of processes for long work (default 1)"
    )
    parser.add_argument(
        "--fresh", action="store_true", help="delete all jobs and load the demo anew, after asking"
    )
    parser.add_argument("--yes", action="store_true", help="with --fresh: do not ask")
    return parser.parse_args()


@dataclass(frozen=True)
class Place:
    """Where the data is.

    Attributes:
        folder: for secrets, the certificate and backups.
        url, web_url: of whoever changes the tables, and of whoever works with the rows.
        cluster: the database that this starts itself; None for one of the user's own.
    """

    folder: Path
    url: str
    web_url: str
    cluster: postgres.Cluster | None


def _serve(options: argparse.Namespace) -> None:
    _check(options)
    folder: Path = options.data_dir or data_folder(TREE)
    own = os.environ.get(OWN_DATABASE, "")
    cluster = None if own else postgres.cluster_at(folder)
    make_usable(folder)
    with (folder / "start.lock").open("w") as lock:
        _only_one(lock, folder)
        if cluster is None:
            _run(options, Place(folder, own, os.environ.get(WEB_DATABASE, own), None))
            print("Stopped.")
            return
        if options.fresh and not options.yes and not _agreed(folder):
            print("Nothing was changed.")
            return
        postgres.start(cluster)
        try:
            if options.fresh:
                postgres.drop_database(cluster)
            _run(options, Place(cluster.folder, cluster.url(), cluster.web_url(), cluster))
        finally:
            postgres.stop(cluster)
            print("Stopped.")


def _run(options: argparse.Namespace, place: Place) -> None:
    _make_tables(place)
    addresses = lan_addresses() if options.lan else ()
    supervisor = Supervisor(
        options.port,
        _environment(options, place, addresses),
        web=max(0 if place.cluster is None else 1, options.processes),
        workers=max(0 if place.cluster is None else 1, options.workers),
        lan=addresses,
    )
    if place.cluster is None and options.processes < 1:
        print("Working for the pages of other hosts  (Ctrl-C stops it)", flush=True)
        supervisor.run(None, place.folder / BACKUPS)
        return
    print(f"Gale Nook is open at http://127.0.0.1:{options.port}  (Ctrl-C stops it)", flush=True)
    if options.workshop:
        _tell_first_owner(place, options)
    for address in addresses:
        print(
            (
                f"Paired phones reach it at https://{address}:{options.port}; pair them on the "
                "list of jobs."
            ),
            flush=True,
        )
    if options.lan and not addresses:
        print(
            "This machine has no address on a local network just now; it is open here only.",
            flush=True,
        )
    if os.geteuid() == 0 and not rights.may_drop(TREE):
        print(
            f"{TREE} or its Python can be read by root only, so all processes keep root's rights.",
            flush=True,
        )
    supervisor.run(place.cluster, place.folder / BACKUPS)


def _environment(
    options: argparse.Namespace, place: Place, addresses: Sequence[str]
) -> dict[str, str]:
    """What web and worker processes are told."""
    environment = {
        "GALE_NOOK_DATABASE_URL": place.web_url,
        # hosts behind one database share it
        "GALE_NOOK_SECRET": os.environ.get("GALE_NOOK_SECRET")
        or secret(place.folder, "form-secret"),
        # a process with many threads otherwise keeps a pool of freed memory for each
        "MALLOC_ARENA_MAX": "2",
        "OMP_NUM_THREADS": "1",
        "OPENBLAS_NUM_THREADS": "1",
    }
    if addresses:
        letters = certificate.made(place.folder / certificate.FOLDER, addresses)
        environment["GALE_NOOK_TLS"] = str(letters.folder)
    if options.workshop:
        environment["GALE_NOOK_WORKSHOP"] = "1"
        environment["GALE_NOOK_PUBLIC"] = options.public.rstrip("/")
    if rights.may_drop(TREE):
        environment[rights.RUN_AS] = rights.UNPRIVILEGED
    return environment


def _tell_first_owner(place: Place, options: argparse.Namespace) -> None:
    """Print the link by which the first owner joins, as long as there is none."""
    engine = open_engine(place.url)
    with Session(engine) as session, session.begin():
        link = "" if people.anybody(session) else people.invite(session, "owner", "owner", "")
    engine.dispose()
    if link:
        base = options.public.rstrip("/") or f"http://127.0.0.1:{options.port}"
        print(
            f"Nobody is of the workshop yet. Join as its owner: {base}/join?link={link}",
            flush=True,
        )


def _make_tables(place: Place) -> None:
    try:
        migrate(place.url)
    except NewerData:
        raise StartTrouble(
            f"The data in {place.folder} was written by a newer Gale Nook than this one. Start "
            "that one, or give another "
            "--data-dir. The data was not touched."
        ) from None
    except SQLAlchemyError as error:
        if place.cluster is not None:
            raise
        raise StartTrouble(
            f"The database of {OWN_DATABASE} cannot be used: {type(error).__name__}. See "
            "docs/running.md."
        ) from None
    engine = open_engine(place.url)
    if place.cluster is not None:
        let_in(engine, postgres.WEB_USER, place.cluster.web_password)
    load_demo_once(engine)
    engine.dispose()


def _check(options: argparse.Namespace) -> None:
    if options.host not in LOOPBACK:
        raise StartTrouble(
            f"Gale Nook opens on this machine only, so {options.host} is refused: "
            "anybody on the network could change your jobs. With --lan, phones are let in after "
            "pairing."
        )
    if options.public and not options.workshop:
        raise StartTrouble("--public is for a workshop, in which people sign in: add --workshop.")
    if options.public and (
        not options.public.startswith("https://") or not urlsplit(options.public).hostname
    ):
        raise StartTrouble(f"{options.public} is no https address, such as https://vans.example.")
    if not 1 <= options.port <= 65535:
        raise StartTrouble(f"There is no port {options.port}; ports go from 1 to 65535.")


def _only_one(lock: IO[str], folder: Path) -> None:
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        raise StartTrouble(f"Gale Nook is running already with the data in {folder}.") from None


def _agreed(folder: Path) -> bool:
    print(f"This deletes every job in {folder}, your own too, and loads the demo workshop anew.")
    try:
        return input("Type yes to go on: ").strip().lower() == "yes"
    except EOFError:
        return False


if __name__ == "__main__":
    sys.exit(main())
