"""The tables: jobs, their revisions, pictures, prints and logs, readings as they come, long work,
the workshop's own book, people, customers, paired devices, and marks of what was set up once.
"""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import (
    BigInteger,
    DateTime,
    ForeignKey,
    Identity,
    Index,
    LargeBinary,
    Text,
    UniqueConstraint,
    func,
)
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Root of the tables."""


class JobRow(Base):
    """A job; `head` is the revision shown, `tip` the newest, both by number."""

    __tablename__ = "jobs"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    head: Mapped[int]
    tip: Mapped[int]
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    changed_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (Index("ix_jobs_changed_at", "changed_at", "id"),)


class RevisionRow(Base):
    """A whole plan as it stood after one edit; `parent` is the revision that was edited.

    Attributes:
        made_by: name of who made it; empty where nobody signs in.
        label: such as "approved by customer"; with one it is kept for good.
    """

    __tablename__ = "revisions"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"))
    number: Mapped[int]
    parent: Mapped[int | None]
    summary: Mapped[str] = mapped_column(Text)
    plan: Mapped[str] = mapped_column(Text)
    made_by: Mapped[str] = mapped_column(Text, default="")
    label: Mapped[str | None] = mapped_column(Text)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (UniqueConstraint("job_id", "number"),)


class Picture(Base):
    """A picture of a job, as it is kept; `file` is the SHA-256 of its bytes."""

    __tablename__ = "pictures"

    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), primary_key=True)
    file: Mapped[str] = mapped_column(Text, primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)
    kept_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class Print(Base):
    """A revision whose build sheet was printed."""

    __tablename__ = "prints"

    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    printed_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class LogRow(Base):
    """A version of an entry of a job's log; `entry` is None where it was taken out.

    Attributes:
        made_by: who wrote it; empty where nobody signs in.
    """

    __tablename__ = "log_entries"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"))
    entry_id: Mapped[str] = mapped_column(Text)
    entry: Mapped[str | None] = mapped_column(Text)
    made_by: Mapped[str] = mapped_column(Text, default="", server_default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (Index("ix_log_entries_job", "job_id", "entry_id", "id"),)


class LiveRun(Base):
    """A run of a heater that is being read: one a job, until it is kept or dropped."""

    __tablename__ = "live_runs"

    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), primary_key=True)
    source: Mapped[str] = mapped_column(Text)
    begun_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class LiveLines(Base):
    """Some lines of such a run, in the order they came; shown from `shown_at` on."""

    __tablename__ = "live_lines"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("live_runs.job_id", ondelete="CASCADE"))
    shown_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    count: Mapped[int]
    lines: Mapped[str] = mapped_column(Text)

    __table_args__ = (Index("ix_live_lines_job", "job_id", "id"),)


class Mark(Base):
    """Something that is done once for a database, such as loading the demo."""

    __tablename__ = "marks"

    key: Mapped[str] = mapped_column(Text, primary_key=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class Device(Base):
    """A device that was paired; only a hash of its token is kept."""

    __tablename__ = "devices"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    token_hash: Mapped[str] = mapped_column(Text, unique=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    seen_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PairingCode(Base):
    """Digits that pair one device, for a while and for a few tries."""

    __tablename__ = "pairing_codes"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    code_hash: Mapped[str] = mapped_column(Text)
    tries_left: Mapped[int]
    expires_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))


class PersonRow(Base):
    """Somebody of the workshop; only a hash of the passphrase is kept.

    Attributes:
        folded: the name, as it is compared.
        totp_secret: of the second factor; None without one.
        totp_used: the last of its time steps that let somebody in.
    """

    __tablename__ = "people"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    folded: Mapped[str] = mapped_column(Text, unique=True)
    role: Mapped[str] = mapped_column(Text)
    passphrase_hash: Mapped[str] = mapped_column(Text)
    totp_secret: Mapped[str | None] = mapped_column(Text)
    totp_used: Mapped[int] = mapped_column(BigInteger, default=0)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    left_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class SessionRow(Base):
    """A browser in which somebody has signed in; only a hash of its token is kept."""

    __tablename__ = "sessions"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"))
    token_hash: Mapped[str] = mapped_column(Text, unique=True)
    browser: Mapped[str] = mapped_column(Text, default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    seen_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (Index("ix_sessions_person", "person_id"),)


class Invitation(Base):
    """A link that lets one person join, once."""

    __tablename__ = "invitations"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    token_hash: Mapped[str] = mapped_column(Text, unique=True)
    name: Mapped[str] = mapped_column(Text)
    role: Mapped[str] = mapped_column(Text)
    made_by: Mapped[str] = mapped_column(Text)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class Tries(Base):
    """How often something was tried in vain since a moment, by a hash of what."""

    __tablename__ = "tries"

    key: Mapped[str] = mapped_column(Text, primary_key=True)
    count: Mapped[int]
    first_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class CustomerLink(Base):
    """A link that shows a customer a job; only a hash of its token is kept.

    Attributes:
        shows: what of the job, as a JSON list of words.
        offers: layouts to choose from, as JSON.
        chosen: letter of the one that was chosen; empty for none.
    """

    __tablename__ = "customer_links"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"))
    token_hash: Mapped[str] = mapped_column(Text, unique=True)
    customer: Mapped[str] = mapped_column(Text)
    made_by: Mapped[str] = mapped_column(Text)
    ends_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    revoked_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    shows: Mapped[str] = mapped_column(Text)
    offers: Mapped[str] = mapped_column(Text)
    chosen: Mapped[str] = mapped_column(Text, default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (Index("ix_customer_links_job", "job_id", "id"),)


class Remark(Base):
    """What somebody remarked about a part of a job, as it stood after an edit."""

    __tablename__ = "remarks"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"))
    part: Mapped[str] = mapped_column(Text)
    text: Mapped[str] = mapped_column(Text)
    made_by: Mapped[str] = mapped_column(Text)
    number: Mapped[int]
    answer: Mapped[str] = mapped_column(Text, default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (Index("ix_remarks_job", "job_id", "id"),)


class Confirmation(Base):
    """That a customer agreed to a job as it stood after an edit.

    Attributes:
        parts: a hash of each part that was agreed to, as JSON.
    """

    __tablename__ = "confirmations"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"))
    number: Mapped[int]
    made_by: Mapped[str] = mapped_column(Text)
    parts: Mapped[str] = mapped_column(Text)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (Index("ix_confirmations_job", "job_id", "id"),)


class BookEdit(Base):
    """The workshop's own book as it stood after one edit; the last one holds."""

    __tablename__ = "book_edits"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    book: Mapped[str] = mapped_column(Text)
    summary: Mapped[str] = mapped_column(Text)
    made_by: Mapped[str] = mapped_column(Text, default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class BookDraft(Base):
    """The book with what was changed and not kept yet; one, or none."""

    __tablename__ = "book_drafts"

    id: Mapped[int] = mapped_column(primary_key=True)
    book: Mapped[str] = mapped_column(Text)
    made_by: Mapped[str] = mapped_column(Text, default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class Work(Base):
    """Something long that was asked for, by the content that it depends on.

    Attributes:
        state: "waiting", "working", "done", "stopped" or "failed".
        plan: what to work on; dropped when it has ended.
        partial, result: as its kind writes them.
    """

    __tablename__ = "works"

    key: Mapped[str] = mapped_column(Text, primary_key=True)
    kind: Mapped[str] = mapped_column(Text)
    person: Mapped[str] = mapped_column(Text)
    state: Mapped[str] = mapped_column(Text)
    plan: Mapped[str | None] = mapped_column(Text)
    arguments: Mapped[str] = mapped_column(Text)
    done: Mapped[int] = mapped_column(default=0)
    of: Mapped[int] = mapped_column(default=0)
    words: Mapped[str] = mapped_column(Text, default="")
    partial: Mapped[bytes | None] = mapped_column(LargeBinary)
    result: Mapped[bytes | None] = mapped_column(LargeBinary)
    problem: Mapped[str] = mapped_column(Text, default="")
    attempts: Mapped[int] = mapped_column(default=0)
    stop_wanted: Mapped[bool] = mapped_column(default=False)
    asked_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    used_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())

    __table_args__ = (
        Index("ix_works_waiting", "state", "asked_at"),
        Index("ix_works_used_at", "used_at"),
    )
