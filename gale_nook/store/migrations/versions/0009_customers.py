"""Customers: links that show them a job, their remarks, choices and confirmations."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def _own(table: str, *columns: sa.Column) -> None:  # type: ignore[type-arg]
    op.create_table(
        table,
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column(
            "job_id", sa.Integer, sa.ForeignKey("jobs.id", ondelete="CASCADE"), nullable=False
        ),
        *columns,
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )
    op.create_index(f"ix_{table}_job", table, ["job_id", "id"])


def upgrade() -> None:
    _own(
        "customer_links",
        sa.Column("token_hash", sa.Text, nullable=False, unique=True),
        sa.Column("customer", sa.Text, nullable=False),
        sa.Column("made_by", sa.Text, nullable=False),
        sa.Column("ends_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("revoked_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("shows", sa.Text, nullable=False),
        sa.Column("offers", sa.Text, nullable=False),
        sa.Column("chosen", sa.Text, nullable=False, server_default=""),
    )
    _own(
        "remarks",
        sa.Column("part", sa.Text, nullable=False),
        sa.Column("text", sa.Text, nullable=False),
        sa.Column("made_by", sa.Text, nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("answer", sa.Text, nullable=False, server_default=""),
    )
    _own(
        "confirmations",
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("made_by", sa.Text, nullable=False),
        sa.Column("parts", sa.Text, nullable=False),
    )


def downgrade() -> None:
    for table in ("confirmations", "remarks", "customer_links"):
        op.drop_table(table)
