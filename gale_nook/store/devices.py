"""Devices that may open the application over the local network, and the codes that let one in."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from gale_nook.store.tables import Device, PairingCode

CODE_LIVES = timedelta(minutes=5)
TRIES = 5
MOST_DEVICES = 50
TOKEN_LIVES = timedelta(days=180)  # from pairing on; then the device is paired again
UNSEEN_LIVES = timedelta(days=45)  # a device that was not seen for so long is let in no more
SEEN_EVERY = timedelta(minutes=1)


@dataclass(frozen=True, slots=True)
class DeviceLine:
    """A paired device in the list."""

    id: int
    name: str
    made_at: datetime
    seen_at: datetime


def new_code(session: Session) -> str:
    """Return six fresh digits that pair one device within CODE_LIVES; any earlier code is dead from
    then on.
    """
    session.execute(delete(PairingCode))
    code = f"{secrets.randbelow(1_000_000):06d}"
    expires = session.scalar(select(func.now())) + CODE_LIVES  # type: ignore[operator]
    session.add(PairingCode(code_hash=_hash(code), tries_left=TRIES, expires_at=expires))
    return code


def pair(session: Session, code: str, name: str) -> str | None:
    """Return the token of a newly paired device, None for a wrong, used or dead code; each wrong
    try counts.
    """
    live = (
        select(PairingCode)
        .where(PairingCode.expires_at > func.now(), PairingCode.tries_left > 0)
        .with_for_update()
    )
    for row in session.scalars(live):
        if secrets.compare_digest(row.code_hash, _hash(code.strip())):
            session.delete(row)
            return _let_in(session, name)
        row.tries_left -= 1
    return None


def _let_in(session: Session, name: str) -> str:
    token = secrets.token_urlsafe(32)
    named = "".join(c for c in name if c.isprintable()).strip()[:60]
    session.add(Device(name=named or "phone", token_hash=_hash(token)))
    session.flush()
    oldest = (
        select(Device.id).order_by(Device.seen_at.desc(), Device.id.desc()).offset(MOST_DEVICES)
    )
    session.execute(delete(Device).where(Device.id.in_(oldest)))
    return token


def is_paired(session: Session, token: str) -> bool:
    """Return whether a token is a paired device's that has not run out, and note
    that it was seen.
    """
    alive = (Device.made_at > func.now() - TOKEN_LIVES, Device.seen_at > func.now() - UNSEEN_LIVES)
    device = session.scalar(select(Device).where(Device.token_hash == _hash(token), *alive))
    if device is None:
        return False
    session.execute(
        update(Device)
        .where(Device.id == device.id, Device.seen_at < func.now() - SEEN_EVERY)
        .values(seen_at=func.now())
    )
    return True


def devices(session: Session) -> list[DeviceLine]:
    """Return every paired device, last seen first."""
    rows = session.scalars(select(Device).order_by(Device.seen_at.desc(), Device.id.desc()))
    return [DeviceLine(row.id, row.name, row.made_at, row.seen_at) for row in rows]


def revoke(session: Session, device_id: int) -> None:
    """Let a device in no more."""
    session.execute(delete(Device).where(Device.id == device_id))


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
