"""The workshop's own book: every edit of it, and what waits to be kept."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "book_edits",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column("book", sa.Text, nullable=False),
        sa.Column("summary", sa.Text, nullable=False),
        sa.Column("made_by", sa.Text, nullable=False, server_default=""),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )
    op.create_table(
        "book_drafts",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("book", sa.Text, nullable=False),
        sa.Column("made_by", sa.Text, nullable=False, server_default=""),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )


def downgrade() -> None:
    op.drop_table("book_drafts")
    op.drop_table("book_edits")
