"""PostgreSQL's own client programs against one database, wherever it runs."""

from __future__ import annotations

import subprocess
from dataclasses import dataclass, replace
from pathlib import Path

from sqlalchemy import URL, make_url

from gale_nook.serve.postgres import BINARY_FOLDERS, Cluster
from gale_nook.serve.trouble import StartTrouble

MOST_SECONDS = 3600


@dataclass(frozen=True)
class Database:
    """A database and who may change its tables.

    Attributes:
        binaries: folder of PostgreSQL's programs.
    """

    url: URL
    binaries: Path

    @classmethod
    def of_cluster(cls, cluster: Cluster) -> Database:
        """Return the database of a data folder; its server has to run."""
        return cls(make_url(cluster.url()), cluster.binaries)

    @classmethod
    def at(cls, url: str) -> Database:
        """Return the database at an address, with the newest programs that are installed."""
        folders = sorted(Path("/").glob(BINARY_FOLDERS.lstrip("/")), key=_version)
        if not folders:
            raise StartTrouble("PostgreSQL's client programs are not installed.")
        return cls(make_url(url), folders[-1])

    def named(self, name: str) -> Database:
        """Return another database of the same server."""
        return replace(self, url=self.url.set(database=name))

    @property
    def name(self) -> str:
        return self.url.database or ""

    @property
    def address(self) -> str:
        """The address with its password, for the application's own connections."""
        return self.url.render_as_string(hide_password=False)

    def run(self, program: str, *arguments: str) -> str:
        """Run a client program to its end; returns what it printed.

        Raises:
            StartTrouble: it failed, with what it said.
        """
        where = {
            "PGHOST": self.url.host or "127.0.0.1",
            "PGPORT": str(self.url.port or 5432),
            "PGUSER": self.url.username or "",
            "PGPASSWORD": str(self.url.password or ""),
            "PGDATABASE": self.name,
        }
        told = {
            name: str(self.url.query[key])
            for name, key in (("PGSSLMODE", "sslmode"), ("PGSSLROOTCERT", "sslrootcert"))
            if key in self.url.query
        }
        done = subprocess.run(
            [str(self.binaries / program), *arguments],
            check=False,
            cwd="/",
            env={"PATH": "/usr/bin:/bin", "LC_ALL": "C.UTF-8", **where, **told},
            stdin=subprocess.DEVNULL,
            capture_output=True,
            text=True,
            timeout=MOST_SECONDS,
        )
        if done.returncode != 0:
            said = " ".join(done.stderr.strip().splitlines()[-3:])
            raise StartTrouble(f"{program} failed: {said or 'it said nothing'}")
        return done.stdout


def _version(folder: Path) -> list[int]:
    return [int(part) for part in folder.parent.name.split(".") if part.isdigit()]
