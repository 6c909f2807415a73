"""A data folder that the database's user can reach, emptied afterwards whatever
still runs in it.
"""

from __future__ import annotations

import contextlib
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from gale_nook.serve import postgres
from gale_nook.serve.trouble import StartTrouble


@contextlib.contextmanager
def data_folder() -> Iterator[Path]:
    """A place for a data folder, with nothing there yet."""
    made = Path(tempfile.mkdtemp(prefix="gale-nook-start-", dir="/var/tmp"))
    made.chmod(0o755)
    yield made / "data"
    with contextlib.suppress(StartTrouble):
        postgres.stop(postgres.cluster_at(made / "data"))
    shutil.rmtree(made, ignore_errors=True)


@pytest.fixture
def folder() -> Iterator[Path]:
    with data_folder() as made:
        yield made
