"""The log of a job: entries with their versions."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "log_entries",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column(
            "job_id", sa.Integer, sa.ForeignKey("jobs.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("entry_id", sa.Text, nullable=False),
        sa.Column("entry", sa.Text, nullable=True),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )
    op.create_index("ix_log_entries_job", "log_entries", ["job_id", "entry_id", "id"])


def downgrade() -> None:
    op.drop_table("log_entries")
