"""People of the workshop: inviting, joining, signing in and out, roles, and the second factor."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, Literal, get_args

import pyotp
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy import Select, delete, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session
from zxcvbn import zxcvbn

from gale_nook.core.errors import BadInput
from gale_nook.store.tables import Invitation, PersonRow, SessionRow, Tries

Role = Literal["owner", "fitter", "helper", "viewer"]
ROLES: tuple[Role, ...] = get_args(Role)
LEAST_PASSPHRASE, MOST_PASSPHRASE, LEAST_DIFFERENT = 12, 200, 5
MOST_NAME = 60
MOST_GUESSED, LEAST_SCORE = 72, 3  # of zxcvbn, out of 4: more than 10^8 guesses
INVITATION_LIVES = timedelta(days=7)
SESSION_LIVES, IDLE_LIVES = timedelta(days=14), timedelta(hours=12)
SEEN_EVERY = timedelta(minutes=1)
MOST_SESSIONS = 20  # of one person; the longest unseen goes
WINDOW = timedelta(minutes=15)
MOST_TRIES, MOST_FROM_ONE_PLACE = 6, 40  # in vain within the window: for one name, from one address
STEP_SECONDS = 30  # of the second factor's digits, RFC 6238
WRONG = "This name, passphrase or digits are not right."
TOO_OFTEN = "Tried too often. Wait a quarter of an hour, or ask the owner for a new invitation."
_hasher = PasswordHasher()  # Argon2id, by RFC 9106's second choice
_NOBODY = _hasher.hash(secrets.token_urlsafe(16))  # what unknown names are held against


@dataclass(frozen=True, slots=True)
class Person:
    """Who is signed in, in which session."""

    id: int
    name: str
    role: Role
    session_id: int

    def may(self, least: Role) -> bool:
        """Return whether this role may all that another one may."""
        return ROLES.index(self.role) <= ROLES.index(least)


@dataclass(frozen=True, slots=True)
class PersonLine:
    """Somebody in the owner's list."""

    id: int
    name: str
    role: Role
    made_at: datetime
    sessions: int
    second_factor: bool


@dataclass(frozen=True, slots=True)
class InvitationLine:
    """An invitation that nobody has used yet."""

    id: int
    name: str
    role: Role
    made_by: str
    ends_at: datetime


@dataclass(frozen=True, slots=True)
class SessionLine:
    """A browser in which a person is signed in."""

    id: int
    browser: str
    made_at: datetime
    seen_at: datetime


def anybody(session: Session) -> bool:
    """Return whether there is an owner who can let others in."""
    owner = select(PersonRow.id).where(PersonRow.role == "owner", PersonRow.left_at.is_(None))
    return session.scalar(owner.limit(1)) is not None


def invite(session: Session, name: str, role: Role, by: str) -> str:
    """Return the token of a link with which one person can join within INVITATION_LIVES."""
    token = secrets.token_urlsafe(32)
    named = _name(name)
    session.add(Invitation(token_hash=_hash(token), name=named, role=role, made_by=by))
    session.flush()
    return token


def invited(session: Session, token: str) -> tuple[str, Role] | None:
    """Return for whom a live invitation is, and as what; None for any other token."""
    row = session.scalar(_alive().where(Invitation.token_hash == _hash(token)))
    return (row.name, _role(row.role)) if row is not None else None


def withdraw(session: Session, invitation_id: int) -> None:
    """Let an invitation in nobody any more."""
    session.execute(delete(Invitation).where(Invitation.id == invitation_id))


def join(session: Session, token: str, name: str, passphrase: str, browser: str) -> str:
    """Use an invitation; returns the token of the new person's session.

    Raises:
        BadInput: the link was used or has ended, or name or passphrase cannot be taken.
    """
    wanted = _alive().where(Invitation.token_hash == _hash(token)).with_for_update()
    row = session.scalar(wanted)
    if row is None:
        raise BadInput("link", None, "This invitation was used, or has ended: ask for a new one.")
    named = _name(name)
    taken = select(PersonRow).where(PersonRow.folded == named.casefold())
    known = session.scalar(taken)
    if known is not None and known.left_at is None and known.name != row.name:
        raise BadInput("name", name, "somebody of this name is there already: add a letter")
    hashed = _hasher.hash(_passphrase(passphrase, named))
    if known is not None and known.left_at is None and (known.role, row.role) != ("owner",) * 2:
        _keep_an_owner(session, known.id)
    if known is None:
        known = PersonRow(name=named, folded=named.casefold(), role=row.role, passphrase_hash="")
        session.add(known)
    known.role, known.left_at, known.passphrase_hash = row.role, None, hashed
    known.totp_secret, known.totp_used = None, 0
    session.delete(row)
    session.flush()
    session.execute(delete(SessionRow).where(SessionRow.person_id == known.id))
    session.execute(delete(Tries).where(Tries.key == _name_key(named)))
    return _begin(session, known.id, browser)


def sign_in(
    session: Session, name: str, passphrase: str, digits: str, *, address: str, browser: str
) -> str | None:
    """Return the token of a new session; None for a wrong name, passphrase or digits.

    A try in vain counts, for the name and for the address that it came from, and the transaction
    has to be committed for that.

    Raises:
        BadInput: it was tried too often.
    """
    keys = ((_name_key(name), MOST_TRIES), (f"from:{_hash(address)}", MOST_FROM_ONE_PLACE))
    if any(_tried(session, key) >= most for key, most in keys):
        raise BadInput("sign-in", None, TOO_OFTEN)
    folded = name.strip().casefold()
    row = session.scalar(
        select(PersonRow)
        .where(PersonRow.folded == folded, PersonRow.left_at.is_(None))
        .with_for_update()
    )
    fits = _fits(row.passphrase_hash if row is not None else _NOBODY, passphrase)
    if row is None or not fits or not _second_fits(row, digits):
        for key, _ in keys:
            _count(session, key)
        return None
    session.execute(delete(Tries).where(Tries.key == keys[0][0]))
    if _hasher.check_needs_rehash(row.passphrase_hash):
        row.passphrase_hash = _hasher.hash(passphrase)
    return _begin(session, row.id, browser)


def signed_in(session: Session, token: str) -> Person | None:
    """Return who a session's token belongs to, and note that it was seen; None where it has
    ended.
    """
    found = session.execute(
        select(SessionRow, PersonRow)
        .join(PersonRow, PersonRow.id == SessionRow.person_id)
        .where(
            SessionRow.token_hash == _hash(token),
            SessionRow.made_at > func.now() - SESSION_LIVES,
            SessionRow.seen_at > func.now() - IDLE_LIVES,
            PersonRow.left_at.is_(None),
        )
    ).first()
    if found is None:
        return None
    own, person = found
    session.execute(
        update(SessionRow)
        .where(SessionRow.id == own.id, SessionRow.seen_at < func.now() - SEEN_EVERY)
        .values(seen_at=func.now())
    )
    return Person(person.id, person.name, _role(person.role), own.id)


def end_session(session: Session, person_id: int, session_id: int) -> None:
    """End one of a person's sessions."""
    session.execute(
        delete(SessionRow).where(SessionRow.id == session_id, SessionRow.person_id == person_id)
    )


def sessions_of(session: Session, person_id: int) -> list[SessionLine]:
    """Return where a person is signed in, last seen first."""
    rows = session.scalars(
        select(SessionRow)
        .where(
            SessionRow.person_id == person_id,
            SessionRow.made_at > func.now() - SESSION_LIVES,
            SessionRow.seen_at > func.now() - IDLE_LIVES,
        )
        .order_by(SessionRow.seen_at.desc(), SessionRow.id.desc())
    )
    return [SessionLine(row.id, row.browser, row.made_at, row.seen_at) for row in rows]


def everybody(session: Session) -> list[PersonLine]:
    """Return who is of the workshop, by name."""
    live = (
        select(func.count(SessionRow.id))
        .where(SessionRow.person_id == PersonRow.id, SessionRow.seen_at > func.now() - IDLE_LIVES)
        .scalar_subquery()
    )
    rows = session.execute(
        select(PersonRow, live).where(PersonRow.left_at.is_(None)).order_by(PersonRow.folded)
    )
    return [
        PersonLine(
            row.id, row.name, _role(row.role), row.made_at, count, row.totp_secret is not None
        )
        for row, count in rows
    ]


def invitations(session: Session) -> list[InvitationLine]:
    """Return the invitations that can still be used."""
    rows = session.scalars(_alive().order_by(Invitation.id))
    return [
        InvitationLine(
            row.id, row.name, _role(row.role), row.made_by, row.made_at + INVITATION_LIVES
        )
        for row in rows
    ]


def set_role(session: Session, person_id: int, role: Role) -> None:
    """Give somebody another role; raises BadInput where no owner would be left."""
    row = _locked(session, person_id)
    if row.role == "owner" and role != "owner":
        _keep_an_owner(session, person_id)
    row.role = role
    session.flush()


def let_go(session: Session, person_id: int) -> None:
    """End somebody's account and all sessions of it; what they made keeps their name."""
    row = _locked(session, person_id)
    if row.role == "owner":
        _keep_an_owner(session, person_id)
    row.left_at = func.now()
    session.execute(delete(SessionRow).where(SessionRow.person_id == person_id))
    session.flush()


def change_passphrase(session: Session, person: Person, old: str, new: str) -> None:
    """Change one's own passphrase and end one's other sessions; raises BadInput."""
    row = _locked(session, person.id)
    if not _fits(row.passphrase_hash, old):
        raise BadInput("old passphrase", None, "That is not the passphrase you have now.")
    row.passphrase_hash = _hasher.hash(_passphrase(new, row.name))
    session.execute(
        delete(SessionRow).where(
            SessionRow.person_id == person.id, SessionRow.id != person.session_id
        )
    )


def new_secret() -> str:
    """Return a fresh secret of a second factor."""
    return pyotp.random_base32()


def secret_url(secret: str, name: str) -> str:
    """Return what an authenticator app reads."""
    return pyotp.TOTP(secret).provisioning_uri(name=name, issuer_name="Gale Nook")


def set_second_factor(session: Session, person: Person, secret: str, digits: str) -> None:
    """Ask for digits from now on; raises BadInput where those shown now do not fit."""
    row = _locked(session, person.id)
    step = _step_of(secret, digits)
    if step is None:
        raise BadInput("digits", digits, "These are not the digits that the app shows now.")
    row.totp_secret, row.totp_used = secret, step


def drop_second_factor(session: Session, person: Person, passphrase: str) -> None:
    """Ask for digits no more; raises BadInput for a wrong passphrase."""
    row = _locked(session, person.id)
    if not _fits(row.passphrase_hash, passphrase):
        raise BadInput("passphrase", None, "That is not your passphrase.")
    row.totp_secret, row.totp_used = None, 0


def has_second_factor(session: Session, person_id: int) -> bool:
    """Return whether somebody is asked for digits."""
    secret = select(PersonRow.totp_secret).where(PersonRow.id == person_id)
    return session.scalar(secret) is not None


def _begin(session: Session, person_id: int, browser: str) -> str:
    token = secrets.token_urlsafe(32)
    named = "".join(c for c in browser if c.isprintable())[:120]
    session.add(SessionRow(person_id=person_id, token_hash=_hash(token), browser=named))
    session.flush()
    unseen = (
        select(SessionRow.id)
        .where(SessionRow.person_id == person_id)
        .order_by(SessionRow.seen_at.desc(), SessionRow.id.desc())
        .offset(MOST_SESSIONS)
    )
    session.execute(delete(SessionRow).where(SessionRow.id.in_(unseen)))
    return token


def _second_fits(row: PersonRow, digits: str) -> bool:
    """Whether the second factor's digits fit, where there is one; none lets anybody in twice."""
    if row.totp_secret is None:
        return True
    step = _step_of(row.totp_secret, digits)
    if step is None or step <= row.totp_used:
        return False
    row.totp_used = step
    return True


def _step_of(secret: str, digits: str) -> int | None:
    """The time step of which digits are, now or the one before; None for others."""
    totp, told = pyotp.TOTP(secret), "".join(digits.split())
    now = totp.timecode(datetime.now().astimezone())
    steps = (now, now - 1)
    return next((n for n in steps if secrets.compare_digest(totp.generate_otp(n), told)), None)


def _fits(hashed: str, passphrase: str) -> bool:
    try:
        return _hasher.verify(hashed, passphrase[:MOST_PASSPHRASE])
    except (VerificationError, InvalidHashError):
        return False


def _name(name: str) -> str:
    told = " ".join("".join(c for c in name if c.isprintable()).split())
    if not 1 <= len(told) <= MOST_NAME:
        raise BadInput("name", name[:MOST_NAME], f"a name has 1 to {MOST_NAME} letters")
    return told


def _passphrase(passphrase: str, name: str) -> str:
    if not LEAST_PASSPHRASE <= len(passphrase) <= MOST_PASSPHRASE:
        raise BadInput(
            "passphrase",
            None,
            f"a passphrase has {LEAST_PASSPHRASE} to {MOST_PASSPHRASE} characters: four or five "
            "words that do not belong together are good",
        )
    told = passphrase.casefold()
    # words and names that stand in lists of known passphrases count as guessed
    guessed = zxcvbn(told[:MOST_GUESSED], user_inputs=[*name.casefold().split(), name])
    if len(set(told)) < LEAST_DIFFERENT or guessed["score"] < LEAST_SCORE:
        raise BadInput("passphrase", None, "that is too easy to guess: take four or five words")
    return passphrase


def _locked(session: Session, person_id: int) -> PersonRow:
    row = session.scalar(
        select(PersonRow)
        .where(PersonRow.id == person_id, PersonRow.left_at.is_(None))
        .with_for_update()
        .execution_options(populate_existing=True)
    )
    if row is None:
        raise BadInput("person", None, "Nobody of this number is of the workshop.")
    return row


def _keep_an_owner(session: Session, person_id: int) -> None:
    # all owners are held, so that two of them cannot give it up at once
    others = session.scalars(
        select(PersonRow.id)
        .where(PersonRow.role == "owner", PersonRow.left_at.is_(None))
        .order_by(PersonRow.id)
        .with_for_update()
    ).all()
    if set(others) <= {person_id}:
        raise BadInput("role", None, "The workshop needs an owner: make somebody else one first.")


def _tried(session: Session, key: str) -> int:
    within = Tries.first_at > func.now() - WINDOW
    return session.scalar(select(Tries.count).where(Tries.key == key, within)) or 0


def _count(session: Session, key: str) -> None:
    """One more in vain; what was longer ago than the window is forgotten."""
    session.execute(delete(Tries).where(Tries.first_at <= func.now() - WINDOW))
    one = insert(Tries).values(key=key, count=1)
    more = one.on_conflict_do_update(index_elements=["key"], set_={"count": Tries.count + 1})
    session.execute(more)


def _name_key(name: str) -> str:
    return f"name:{_hash(name.strip().casefold())}"


def _alive() -> Select[Any]:
    return select(Invitation).where(Invitation.made_at > func.now() - INVITATION_LIVES)


def _role(text: str) -> Role:
    return next((role for role in ROLES if role == text), "viewer")


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
