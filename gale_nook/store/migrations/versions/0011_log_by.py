"""Who wrote what into a log."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.add_column("log_entries", sa.Column("made_by", sa.Text, nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("log_entries", "made_by")
