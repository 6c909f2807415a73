"""A backup each night, of which the last two weeks are kept."""

from __future__ import annotations

import re
import shutil
import sys
import threading
from datetime import date, datetime, timedelta
from pathlib import Path

from gale_nook.serve.keep.backup import back_up
from gale_nook.serve.keep.database import Database
from gale_nook.serve.postgres import Cluster
from gale_nook.serve.trouble import StartTrouble

KEPT_DAYS = 14
AT_HOUR = 3
LOOK_SECONDS = 60.0
TRY_AGAIN = timedelta(minutes=30)
NAME = re.compile(r"nightly-(\d{4}-\d{2}-\d{2})")


def is_due(folder: Path, now: datetime) -> bool:
    """Return whether this night's backup is still to be made: from AT_HOUR on, and whenever there
    is none of the day before either, as on a machine that is off at night.
    """
    days = backed_up(folder)
    today = now.date()
    if today in days:
        return False
    return now.hour >= AT_HOUR or today - timedelta(days=1) not in days


def backed_up(folder: Path) -> list[date]:
    """Return the days of which there are nightly backups, the oldest first."""
    names = (each.name for each in folder.iterdir()) if folder.is_dir() else ()
    matches = (NAME.fullmatch(name) for name in names)
    return sorted(date.fromisoformat(match.group(1)) for match in matches if match)


def tidy(folder: Path, today: date) -> list[date]:
    """Throw away nightly backups that are older than KEPT_DAYS, but never the last one; returns
    their days.
    """
    days = backed_up(folder)
    old = [day for day in days[:-1] if (today - day).days >= KEPT_DAYS]
    for day in old:
        shutil.rmtree(folder / f"nightly-{day}")
    return old


def tonight(cluster: Cluster, folder: Path, now: datetime) -> Path | None:
    """Make this night's backup if it is due, then tidy; returns it."""
    if not is_due(folder, now):
        return None
    letters = cluster.folder / "tls"
    made = back_up(Database.of_cluster(cluster), folder, f"nightly-{now.date()}", letters)
    tidy(folder, now.date())
    return made


class Nightly(threading.Thread):
    """Makes them as long as the application runs."""

    def __init__(self, cluster: Cluster, folder: Path) -> None:
        super().__init__(daemon=True)
        self.cluster, self.folder = cluster, folder
        self._ended = threading.Event()
        self._not_before: datetime | None = None

    def run(self) -> None:
        while not self._ended.wait(LOOK_SECONDS):
            now = datetime.now().astimezone().replace(tzinfo=None)
            if self._not_before is not None and now < self._not_before:
                continue
            try:
                tonight(self.cluster, self.folder, now)
            except (StartTrouble, OSError) as trouble:
                print(f"This night's backup failed: {trouble}", file=sys.stderr)
                self._not_before = now + TRY_AGAIN

    def end(self) -> None:
        """Make no more."""
        self._ended.set()
