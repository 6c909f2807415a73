"""Jobs, revisions and marks."""

from __future__ import annotations

from datetime import datetime

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def _now() -> sa.Column[datetime]:
    return sa.Column(
        "made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
    )


def upgrade() -> None:
    op.create_table(
        "jobs",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("head", sa.Integer, nullable=False),
        sa.Column("tip", sa.Integer, nullable=False),
        sa.Column(
            "created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
        sa.Column(
            "changed_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )
    op.create_index("ix_jobs_changed_at", "jobs", ["changed_at", "id"])
    op.create_table(
        "revisions",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column(
            "job_id", sa.Integer, sa.ForeignKey("jobs.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("parent", sa.Integer, nullable=True),
        sa.Column("summary", sa.Text, nullable=False),
        sa.Column("plan", sa.Text, nullable=False),
        _now(),
        sa.UniqueConstraint("job_id", "number"),
    )
    op.create_table("marks", sa.Column("key", sa.Text, primary_key=True), _now())


def downgrade() -> None:
    op.drop_table("marks")
    op.drop_table("revisions")
    op.drop_table("jobs")
