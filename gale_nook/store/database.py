"""The connection to PostgreSQL, and bringing its tables up to date."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine

MIGRATIONS = Path(__file__).with_name("migrations")


def open_engine(url: str) -> Engine:
    """Return an engine whose broken connections are replaced unseen, so that work goes on when the database is back."""
    return create_engine(url, pool_pre_ping=True, pool_size=5, max_overflow=10, connect_args={"connect_timeout": 3})


def migrate(url: str) -> None:
    """Bring the tables to the newest version."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    command.upgrade(config, "head")
