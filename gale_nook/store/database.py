"""The connection to PostgreSQL."""

from __future__ import annotations

from sqlalchemy import Engine, create_engine, make_url

# no request waits longer than this for a statement or for somebody else's lock, and none keeps a
# transaction open
TIMEOUTS = {
    "statement_timeout": 8000,
    "lock_timeout": 4000,
    "idle_in_transaction_session_timeout": 15000,
}  # ms


def open_engine(url: str, pool_size: int = 5) -> Engine:
    """Return an engine whose broken connections are replaced unseen, so that work goes on when the
    database is back.
    """
    told = make_url(url).query.get("options", "")  # such as a schema of one's own
    timeouts = (f"-c {name}={milliseconds}" for name, milliseconds in TIMEOUTS.items())
    options = " ".join((str(told), *timeouts)).strip()
    return create_engine(
        url,
        pool_pre_ping=True,
        pool_size=pool_size,
        max_overflow=10,
        pool_timeout=10,
        connect_args={
            "connect_timeout": 3,
            "options": options,
            # a peer that is gone without a word is noticed
            "keepalives": 1,
            "keepalives_idle": 10,
            "keepalives_interval": 5,
            "keepalives_count": 3,
            "tcp_user_timeout": 15000,
        },
    )
