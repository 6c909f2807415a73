"""The connection to PostgreSQL."""

from __future__ import annotations

from sqlalchemy import Engine, create_engine


def open_engine(url: str) -> Engine:
    """Return an engine whose broken connections are replaced unseen, so that work goes on when the database is back."""
    return create_engine(url, pool_pre_ping=True, pool_size=5, max_overflow=10, connect_args={"connect_timeout": 3})
