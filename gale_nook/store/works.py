"""Long work in the database: asked for, taken, told about, ended, and forgotten after a while."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import timedelta

from sqlalchemy import delete, func, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from gale_nook.store.tables import Work

ENDED = ("done", "stopped", "failed")
KEPT_FOR = timedelta(days=7)
KEPT_BYTES = 200_000_000
MOST_ATTEMPTS = 3
LONG = ("layouts", "clear")  # kinds that wait on a queue of their own


@dataclass(frozen=True, slots=True)
class WorkLine:
    """How a piece of work stands.

    Attributes:
        ahead: how many pieces were asked for before it and have not ended.
        found: the result, or what there is of it so far.
    """

    key: str
    state: str
    done: int = 0
    of: int = 0
    words: str = ""
    ahead: int = 0
    found: bytes | None = None
    problem: str = ""


def line_of(session: Session, key: str) -> WorkLine | None:
    """Return how a piece of work stands; None when it was never asked for."""
    work = session.get(Work, key)
    if work is None:
        return None
    ahead = 0
    if work.state == "waiting":
        alike = Work.kind.in_(LONG) if work.kind in LONG else Work.kind.not_in(LONG)
        before = select(func.count()).where(
            Work.state.in_(("waiting", "working")), Work.asked_at < work.asked_at, alike
        )
        ahead = session.scalar(before) or 0
    result = work.result if work.state == "done" else work.partial
    return WorkLine(key, work.state, work.done, work.of, work.words, ahead, result, work.problem)


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is asked for, and by whom."""

    kind: str
    person: str
    plan: str
    arguments: str


def begin(session: Session, key: str, wanted: Wanted, anew: bool) -> int | None:
    """Ask for a piece of work.

    Args:
        anew: begin again where it was stopped or has failed.

    Returns how many pieces this person is waiting for already; None when there is nothing to put on
    the queue.
    """
    values = {**asdict(wanted), "state": "waiting"}
    made = insert(Work).values(key=key, **values).on_conflict_do_nothing().returning(Work.key)
    if session.scalar(made) is None:
        fresh = {
            **values,
            "partial": None,
            "problem": "",
            "attempts": 0,
            "done": 0,
            "of": 0,
            "stop_wanted": False,
        }
        again = update(Work).where(Work.key == key, Work.state.in_(("stopped", "failed")))
        if (
            not anew
            or session.scalar(again.values(**fresh, asked_at=func.now()).returning(Work.key))
            is None
        ):
            return None
    own = select(func.count()).where(
        Work.person == wanted.person, Work.state.in_(("waiting", "working")), Work.key != key
    )
    return session.scalar(own) or 0


def note_use(session: Session, key: str) -> None:
    """Note that a result was asked for again, so that it is kept."""
    session.execute(
        update(Work)
        .where(Work.key == key, Work.used_at < func.now() - timedelta(hours=1))
        .values(used_at=func.now())
    )


def kind_of(session: Session, key: str) -> str:
    """Return of what kind a piece of work is; empty for none."""
    return session.scalar(select(Work.kind).where(Work.key == key)) or ""


def ask_to_stop(session: Session, key: str) -> None:
    """Stop a piece of work: at once where it waits, soon where it is being done."""
    session.execute(
        update(Work)
        .where(Work.key == key, Work.state == "waiting")
        .values(state="stopped", plan=None)
    )
    session.execute(
        update(Work).where(Work.key == key, Work.state == "working").values(stop_wanted=True)
    )


@dataclass(frozen=True, slots=True)
class Taken:
    """A piece of work to be done."""

    kind: str
    plan: str
    arguments: str


def take(session: Session, key: str) -> Taken | None:
    """Take a piece of work; None when it has ended meanwhile, or has ended the workers that took it
    too often.
    """
    work = session.get(Work, key, with_for_update=True)
    if work is None or work.state not in {"waiting", "working"} or work.plan is None:
        return None
    if work.attempts >= MOST_ATTEMPTS:
        _end(
            work,
            "failed",
            problem=f"This ended the process that worked on it {MOST_ATTEMPTS} times.",
        )
        return None
    work.state, work.attempts = "working", work.attempts + 1
    return Taken(work.kind, work.plan, work.arguments)


def tell(session: Session, key: str, done: int, of: int, words: str, partial: bytes | None) -> bool:
    """Note how far a piece of work is; returns whether it should stop."""
    values: dict[str, object] = {"done": done, "of": of, "words": words}
    if partial is not None:
        values["partial"] = partial
    told = (
        update(Work)
        .where(Work.key == key, Work.state == "working")
        .values(**values)
        .returning(Work.stop_wanted)
    )
    wanted = session.scalar(told)
    return wanted is None or wanted


def stop_wanted(session: Session, key: str) -> bool:
    """Return whether somebody has asked for a piece of work to stop."""
    wanted = session.scalar(select(Work.stop_wanted).where(Work.key == key))
    return wanted is None or wanted


def give_back(session: Session, key: str) -> bool:
    """Let a piece of work that was begun wait again; returns whether it does."""
    values = {"state": "waiting", "attempts": Work.attempts - 1}
    back = (
        update(Work)
        .where(Work.key == key, Work.state == "working")
        .values(**values)
        .returning(Work.key)
    )
    return session.scalar(back) is not None


def end(
    session: Session, key: str, state: str, result: bytes | None = None, problem: str = ""
) -> None:
    """Note how a piece of work ended; what was found until then is kept."""
    work = session.get(Work, key, with_for_update=True)
    if work is not None and work.state == "working":
        _end(work, state, result, problem)


def _end(work: Work, state: str, result: bytes | None = None, problem: str = "") -> None:
    work.state, work.plan, work.problem = state, None, problem
    work.result = result


def lost_keys(session: Session, longer_than: timedelta) -> list[str]:
    """Let wait again what was asked for a while ago, has not ended, and is on no queue any more;
    return it, the oldest first.
    """
    result = session.scalars(
        text(
            "SELECT key FROM works WHERE state IN ('waiting', 'working') AND asked_at < now() - "
            ":age AND NOT EXISTS"
            " (SELECT 1 FROM procrastinate_jobs WHERE queueing_lock = works.key AND status IN "
            "('todo', 'doing'))"
            " ORDER BY asked_at LIMIT 100"
        ),
        {"age": longer_than},
    )
    keys = list(result)
    session.execute(update(Work).where(Work.key.in_(keys)).values(state="waiting"))
    return keys


def forget(session: Session, kept_bytes: int = KEPT_BYTES) -> None:
    """Take out results that nobody has asked for in a while, and the oldest of those that take too
    much room.
    """
    session.execute(delete(Work).where(Work.state.in_(ENDED), Work.used_at < func.now() - KEPT_FOR))
    session.execute(
        text(
            "DELETE FROM works USING (SELECT key, sum(coalesce(length(result), 0) + "
            "coalesce(length(partial), 0) + 500)"
            " OVER (ORDER BY used_at DESC, key) AS taken FROM works WHERE state IN ('done', "
            "'stopped', 'failed')) AS old"
            " WHERE works.key = old.key AND old.taken > :most"
        ),
        {"most": kept_bytes},
    )
