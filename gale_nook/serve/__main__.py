"""The start command: database, tables, demo, web processes; stops all of it on Ctrl-C."""

from __future__ import annotations

import argparse
import fcntl
import os
import sys
from pathlib import Path
from typing import IO

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


def _serve(options: argparse.Namespace) -> None:
    _check(options)
    folder: Path = options.data_dir or data_folder(TREE)
    cluster = postgres.cluster_at(folder)
    make_usable(folder)
    with (folder / "start.lock").open("w") as lock:
        _only_one(lock, folder)
        if options.fresh and not options.yes and not _agreed(folder):
            print("Nothing was changed.")
            return
        postgres.start(cluster)
        try:
            _run(options, cluster)
        finally:
            postgres.stop(cluster)
            print("Stopped.")


def _run(options: argparse.Namespace, cluster: postgres.Cluster) -> None:
    if options.fresh:
        postgres.drop_database(cluster)
    _make_tables(cluster)
    addresses = lan_addresses() if options.lan else ()
    environment = {
        "GALE_NOOK_DATABASE_URL": cluster.web_url(),
        "GALE_NOOK_SECRET": secret(cluster.folder, "form-secret"),
        # a process with many threads otherwise keeps a pool of freed memory for each
        "MALLOC_ARENA_MAX": "2",
        "OMP_NUM_THREADS": "1",
        "OPENBLAS_NUM_THREADS": "1",
    }
    if addresses:
        letters = certificate.made(cluster.folder / certificate.FOLDER, addresses)
        environment["GALE_NOOK_TLS"] = str(letters.folder)
    if options.workshop:
        environment["GALE_NOOK_WORKSHOP"] = "1"
    if rights.may_drop(TREE):
        environment[rights.RUN_AS] = rights.UNPRIVILEGED
    supervisor = Supervisor(
        options.port,
        environment,
        web=max(1, options.processes),
        workers=max(1, options.workers),
        lan=addresses,
    )
    print(f"Gale Nook is open at http://127.0.0.1:{options.port}  (Ctrl-C stops it)", flush=True)
    if options.workshop:
        _tell_first_owner(cluster, options.port)
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
    if os.geteuid() == 0 and rights.RUN_AS not in environment:
        print(
            f"{TREE} or its Python can be read by root only, so all processes keep root's rights.",
            flush=True,
        )
    supervisor.run(cluster, cluster.folder / "backups")


def _tell_first_owner(cluster: postgres.Cluster, port: int) -> None:
    """Print the link by which the first owner joins, as long as there is none."""
    engine = open_engine(cluster.url())
    with Session(engine) as session, session.begin():
        link = "" if people.anybody(session) else people.invite(session, "owner", "owner", "")
    engine.dispose()
    if link:
        print(
            f"Nobody is of the workshop yet. Join as its owner: http://127.0.0.1:{port}/join?link={link}",
            flush=True,
        )


def _make_tables(cluster: postgres.Cluster) -> None:
    url = cluster.url()
    try:
        migrate(url)
    except NewerData:
        raise StartTrouble(
            f"The data in {cluster.folder} was written by a newer Gale Nook than this one. Start "
            "that one, or give another "
            "--data-dir. The data was not touched."
        ) from None
    engine = open_engine(url)
    let_in(engine, postgres.WEB_USER, cluster.web_password)
    load_demo_once(engine)
    engine.dispose()


def _check(options: argparse.Namespace) -> None:
    if options.host not in LOOPBACK:
        raise StartTrouble(
            f"Gale Nook opens on this machine only, so {options.host} is refused: "
            "anybody on the network could change your jobs. With --lan, phones are let in after "
            "pairing."
        )
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
