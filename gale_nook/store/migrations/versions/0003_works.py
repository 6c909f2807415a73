"""Long work and its results, and the queue's own tables."""

from __future__ import annotations

from typing import Any

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    # many statements in one text, with signs of its own: past the parameters of SQLAlchemy
    driver: Any = op.get_bind().connection.driver_connection
    driver.execute(SchemaManager.get_schema())
    op.create_table(
        "works",
        sa.Column("key", sa.Text, primary_key=True),
        sa.Column("kind", sa.Text, nullable=False),
        sa.Column("person", sa.Text, nullable=False),
        sa.Column("state", sa.Text, nullable=False),
        sa.Column("plan", sa.Text, nullable=True),
        sa.Column("arguments", sa.Text, nullable=False),
        sa.Column("done", sa.Integer, nullable=False, server_default="0"),
        sa.Column("of", sa.Integer, nullable=False, server_default="0"),
        sa.Column("words", sa.Text, nullable=False, server_default=""),
        sa.Column("partial", sa.LargeBinary, nullable=True),
        sa.Column("result", sa.LargeBinary, nullable=True),
        sa.Column("problem", sa.Text, nullable=False, server_default=""),
        sa.Column("attempts", sa.Integer, nullable=False, server_default="0"),
        sa.Column("stop_wanted", sa.Boolean, nullable=False, server_default=sa.false()),
        sa.Column(
            "asked_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
        sa.Column(
            "used_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )
    op.create_index("ix_works_waiting", "works", ["state", "asked_at"])
    op.create_index("ix_works_used_at", "works", ["used_at"])


def downgrade() -> None:
    op.drop_table("works")
