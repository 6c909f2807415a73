"""Bringing the tables up to date."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.util.exc import CommandError

MIGRATIONS = Path(__file__).with_name("migrations")


class NewerData(Exception):
    """The tables were made by a newer version of the application."""


def migrate(url: str) -> None:
    """Bring the tables to the newest version; raises NewerData where they are ahead of it."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    try:
        command.upgrade(config, "head")
    except CommandError as error:
        if "locate revision" in str(error):
            raise NewerData from None
        raise
