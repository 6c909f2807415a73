"""How Alembic reaches the database; called by `gale_nook.store.migrate.migrate`."""

from __future__ import annotations

from alembic import context
from sqlalchemy import create_engine, text

from gale_nook.store.tables import Base

MIGRATING = 8620  # of the lock; any number that is ours
url = context.config.get_main_option("sqlalchemy.url")
if url is None:
    raise RuntimeError(
        "migrations run through gale_nook.store.migrate.migrate, which names the database"
    )
engine = create_engine(url)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        # hosts that start at once migrate one after another
        connection.execute(text("SELECT pg_advisory_xact_lock(:key)"), {"key": MIGRATING})
        context.run_migrations()
engine.dispose()
