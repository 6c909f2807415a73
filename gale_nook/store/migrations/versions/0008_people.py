"""People of the workshop, their sessions and invitations; who made an edit, and edits with a
name.
"""

from __future__ import annotations

from datetime import datetime

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def _moment(name: str, *, required: bool = True) -> sa.Column[datetime]:
    default = sa.func.now() if required else None
    return sa.Column(
        name, sa.DateTime(timezone=True), server_default=default, nullable=not required
    )


def upgrade() -> None:
    op.create_table(
        "people",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("folded", sa.Text, nullable=False, unique=True),
        sa.Column("role", sa.Text, nullable=False),
        sa.Column("passphrase_hash", sa.Text, nullable=False),
        sa.Column("totp_secret", sa.Text, nullable=True),
        sa.Column("totp_used", sa.BigInteger, nullable=False, server_default="0"),
        _moment("made_at"),
        _moment("left_at", required=False),
    )
    op.create_table(
        "sessions",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column(
            "person_id", sa.Integer, sa.ForeignKey("people.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("token_hash", sa.Text, nullable=False, unique=True),
        sa.Column("browser", sa.Text, nullable=False, server_default=""),
        _moment("made_at"),
        _moment("seen_at"),
    )
    op.create_index("ix_sessions_person", "sessions", ["person_id"])
    op.create_table(
        "invitations",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column("token_hash", sa.Text, nullable=False, unique=True),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("role", sa.Text, nullable=False),
        sa.Column("made_by", sa.Text, nullable=False),
        _moment("made_at"),
    )
    op.create_table(
        "tries",
        sa.Column("key", sa.Text, primary_key=True),
        sa.Column("count", sa.Integer, nullable=False),
        _moment("first_at"),
    )
    op.add_column("revisions", sa.Column("made_by", sa.Text, nullable=False, server_default=""))
    op.add_column("revisions", sa.Column("label", sa.Text, nullable=True))


def downgrade() -> None:
    op.drop_column("revisions", "label")
    op.drop_column("revisions", "made_by")
    for table in ("tries", "invitations", "sessions", "people"):
        op.drop_table(table)
