"""How Alembic reaches the database; called by `gale_nook.store.migrate.migrate`."""

from __future__ import annotations

from alembic import context
from sqlalchemy import create_engine

from gale_nook.store.tables import Base

url = context.config.get_main_option("sqlalchemy.url")
if url is None:
    raise RuntimeError(
        "migrations run through gale_nook.store.migrate.migrate, which names the database"
    )
engine = create_engine(url)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
