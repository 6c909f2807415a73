"""Customers' links: made, ended, looked through; remarks, choices and confirmations."""

from __future__ import annotations

import hashlib
import json
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Literal, get_args

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from gale_nook.core.build.agreed import prints_of
from gale_nook.core.errors import BadInput
from gale_nook.store.jobs import locked_job, plan_at
from gale_nook.store.tables import Confirmation, CustomerLink, Remark

Shown = Literal["drawing", "verdicts", "layouts", "price", "handover"]
SHOWN: tuple[Shown, ...] = get_args(Shown)
MOST_DAYS, USUAL_DAYS = 180, 30
MOST_LINKS, MOST_REMARKS, MOST_TEXT, MOST_NAME = 30, 200, 1000, 60


@dataclass(frozen=True, slots=True)
class Link:
    """A customer's link.

    Attributes:
        offers: layouts to choose from: letter, name, where, measures, and the command.
        alive: it has not ended, and was not revoked.
    """

    id: int
    job_id: int
    customer: str
    made_by: str
    made_at: datetime
    ends_at: datetime
    alive: bool
    shows: frozenset[str]
    offers: tuple[dict[str, Any], ...]
    chosen: str


@dataclass(frozen=True, slots=True)
class RemarkLine:
    """A remark, and what was answered."""

    id: int
    part: str
    text: str
    made_by: str
    number: int
    made_at: datetime
    answer: str


@dataclass(frozen=True, slots=True)
class Agreed:
    """That a customer agreed.

    Attributes:
        prints: a hash of each part that was agreed to.
    """

    number: int
    made_by: str
    made_at: datetime
    prints: dict[str, str]


def make_link(  # noqa: PLR0913 - a link has that many sides
    session: Session,
    job_id: int,
    *,
    customer: str,
    by: str,
    days: int,
    shows: frozenset[str],
    offers: tuple[dict[str, Any], ...] = (),
) -> str:
    """Return the token of a new link; raises BadInput, NoSuchJob."""
    if not 1 <= days <= MOST_DAYS:
        raise BadInput("days", days, f"a link lasts 1 to {MOST_DAYS} days")
    locked_job(session, job_id)
    if len(links(session, job_id)) >= MOST_LINKS:
        raise BadInput("link", None, f"up to {MOST_LINKS} links a job: revoke some first")
    token = secrets.token_urlsafe(32)
    now: datetime = session.scalars(select(func.now())).one()
    session.add(
        CustomerLink(
            job_id=job_id,
            token_hash=_hash(token),
            customer=_words(customer, MOST_NAME, "customer"),
            made_by=by,
            ends_at=now + timedelta(days=days),
            shows=json.dumps(sorted(shows & set(SHOWN))),
            offers=json.dumps(offers),
        )
    )
    session.flush()
    return token


def links(session: Session, job_id: int) -> list[Link]:
    """Return the links of a job that are alive, the newest first."""
    rows = session.scalars(
        select(CustomerLink)
        .where(
            CustomerLink.job_id == job_id,
            CustomerLink.revoked_at.is_(None),
            CustomerLink.ends_at > func.now(),
        )
        .order_by(CustomerLink.id.desc())
    )
    return [_link(row) for row in rows]


def revoke_link(session: Session, job_id: int, link_id: int) -> None:
    """End a link of a job at once."""
    session.execute(
        update(CustomerLink)
        .where(CustomerLink.id == link_id, CustomerLink.job_id == job_id)
        .values(revoked_at=func.now())
    )


def link_of(session: Session, token: str) -> Link | None:
    """Return the link of a token; None for one that is unknown, ended or revoked."""
    row = session.scalar(
        select(CustomerLink).where(
            CustomerLink.token_hash == _hash(token),
            CustomerLink.revoked_at.is_(None),
            CustomerLink.ends_at > func.now(),
        )
    )
    return _link(row) if row is not None else None


def choose(session: Session, link: Link, letter: str) -> None:
    """Note which of the layouts offered the customer wants; raises BadInput for another."""
    if letter not in {offer["letter"] for offer in link.offers}:
        raise BadInput("layout", letter, "Choose one of the layouts that are shown.")
    session.execute(update(CustomerLink).where(CustomerLink.id == link.id).values(chosen=letter))


def remark(session: Session, job_id: int, part: str, words: str, by: str) -> None:
    """Keep a remark about a part; raises BadInput, NoSuchJob."""
    number = locked_job(session, job_id).head
    count = select(func.count(Remark.id)).where(Remark.job_id == job_id)
    if (session.scalar(count) or 0) >= MOST_REMARKS:
        raise BadInput("remark", None, f"up to {MOST_REMARKS} remarks are kept: ask the workshop")
    told = _words(words, MOST_TEXT, "remark")
    row = Remark(
        job_id=job_id,
        part=part[:80],
        text=told,
        made_by=_words(by, MOST_NAME, "name"),
        number=number,
    )
    session.add(row)
    session.flush()


def remarks(session: Session, job_id: int) -> list[RemarkLine]:
    """Return the remarks about a job, the newest first."""
    rows = session.scalars(select(Remark).where(Remark.job_id == job_id).order_by(Remark.id.desc()))
    return [
        RemarkLine(r.id, r.part, r.text, r.made_by, r.number, r.made_at, r.answer) for r in rows
    ]


def answer(session: Session, job_id: int, remark_id: int, words: str) -> None:
    """Answer a remark of a job; an empty text takes the answer away."""
    told = " ".join(words.split())
    if len(told) > MOST_TEXT:
        raise BadInput("answer", None, f"up to {MOST_TEXT} letters")
    session.execute(
        update(Remark).where(Remark.id == remark_id, Remark.job_id == job_id).values(answer=told)
    )


def confirm(session: Session, job_id: int, number: int, by: str) -> None:
    """Keep that somebody agreed to a job as it was shown after an edit.

    Raises:
        BadInput: it was changed since, or the name is missing.
    """
    head, plan = locked_job(session, job_id).head, plan_at(session, job_id, number)
    if head != number or plan is None:
        raise BadInput(
            "agreement", None, "The workshop changed it just now: look again, then agree."
        )
    named, parts = _words(by, MOST_NAME, "name"), json.dumps(prints_of(plan))
    session.add(Confirmation(job_id=job_id, number=number, made_by=named, parts=parts))
    session.flush()


def agreed(session: Session, job_id: int) -> Agreed | None:
    """Return the last agreement to a job; None without one."""
    row = session.scalar(
        select(Confirmation)
        .where(Confirmation.job_id == job_id)
        .order_by(Confirmation.id.desc())
        .limit(1)
    )
    if row is None:
        return None
    return Agreed(row.number, row.made_by, row.made_at, json.loads(row.parts))


def _link(row: CustomerLink) -> Link:
    return Link(
        row.id,
        row.job_id,
        row.customer,
        row.made_by,
        row.made_at,
        row.ends_at,
        row.revoked_at is None,
        frozenset(json.loads(row.shows)),
        tuple(json.loads(row.offers)),
        row.chosen,
    )


def _words(words: str, most: int, what: str) -> str:
    """Typed words without what does not print; raises BadInput for none, and too many."""
    told = " ".join("".join(c if c.isprintable() else " " for c in words).split())
    if not 1 <= len(told) <= most:
        raise BadInput(what, told[:40], f"1 to {most} letters")
    return told


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
