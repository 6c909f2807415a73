"""Readings of a heater as they come."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "live_runs",
        sa.Column(
            "job_id",
            sa.Integer,
            sa.ForeignKey("jobs.id", ondelete="CASCADE"),
            primary_key=True,
        ),
        sa.Column("source", sa.Text, nullable=False),
        sa.Column(
            "begun_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )
    op.create_table(
        "live_lines",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column(
            "job_id",
            sa.Integer,
            sa.ForeignKey("live_runs.job_id", ondelete="CASCADE"),
            nullable=False,
        ),
        sa.Column("shown_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("count", sa.Integer, nullable=False),
        sa.Column("lines", sa.Text, nullable=False),
    )
    op.create_index("ix_live_lines_job", "live_lines", ["job_id", "id"])


def downgrade() -> None:
    op.drop_table("live_lines")
    op.drop_table("live_runs")
