"""A place for a data folder."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.serve.started import data_folder


@pytest.fixture
def folder() -> Iterator[Path]:
    """A place for a data folder, with nothing there yet."""
    with data_folder() as made:
        yield made
