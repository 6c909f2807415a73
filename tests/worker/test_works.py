"""Long work in the database: begun once, taken in turn by person, given up, taken up again,
forgotten.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta

import psycopg
import pytest
from sqlalchemy import Engine, select, text, update
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan
from gale_nook.store import works as store
from gale_nook.store.database import open_engine
from gale_nook.store.tables import Work
from gale_nook.worker.kinds import KINDS, SHORT, key_of
from gale_nook.worker.nursery import Ended, Told
from gale_nook.worker.queue import put_on, queue_app
from gale_nook.worker.run import do_work
from gale_nook.worker.works import QueuedWorks, WorksHere

pytestmark = pytest.mark.store
LINES: dict[str, str] = {}


@pytest.fixture
def engine(quiet_url: str) -> Iterator[Engine]:
    made = open_engine(quiet_url)
    with made.begin() as connection:
        connection.execute(text("DELETE FROM works"))
        connection.execute(text("DELETE FROM procrastinate_jobs"))
    yield made
    made.dispose()


@pytest.fixture
def works(engine: Engine) -> QueuedWorks:
    return QueuedWorks(engine)


class Hands:
    """Stands in for the copies of a process: ends work as it is told to."""

    def __init__(self, ended: Ended) -> None:
        self.ended = ended
        self.asked: list[bool] = []

    def work(self, _kind: str, _plan: str, _arguments: str, told: object, stop: object) -> Ended:
        told(Told(1, 4, "half way", None))  # type: ignore[operator]
        self.asked.append(stop())  # type: ignore[operator]
        return replace(self.ended, state="stopped") if self.asked[-1] else self.ended


def _do(engine: Engine, key: str, ended: Ended) -> Hands:
    hands = Hands(ended)
    do_work(engine, hands, key, threading.Event())  # type: ignore[arg-type]
    return hands


def _queue(engine: Engine) -> list[str]:
    """Keys in the order in which a worker takes them."""
    with engine.connect() as connection:
        rows = connection.execute(
            text(
                "SELECT args->>'key' FROM procrastinate_jobs WHERE status = 'todo' ORDER BY "
                "priority DESC, id"
            )
        )
        return [row[0] for row in rows]


def test_what_depends_on_the_same_is_worked_out_once(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    first = works.ask("lines", heron, catalogue, LINES, "ina")
    again = works.ask(
        "lines", heron.model_copy(update={"name": "Other", "note": "x"}), catalogue, LINES, "ola"
    )
    assert (first.state, again.key) == ("waiting", first.key)
    assert _queue(engine) == [first.key]
    _do(engine, first.key, Ended("done", b"[]"))
    assert works.ask("lines", heron, catalogue, LINES).found == ()
    moved = heron.model_copy(
        update={"settings": heron.settings.model_copy(update={"tolerance_mm": 6.0})}
    )
    assert works.ask("lines", moved, catalogue, LINES).key != first.key


def test_each_persons_first_comes_before_anybodys_second(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    def ask(person: str, level: int) -> str:
        plan = heron.model_copy(
            update={"fuel": heron.fuel.model_copy(update={"level_percent": float(level)})}
        )
        return works.ask("lines", plan, catalogue, LINES, person).key

    many = [ask("ina", level) for level in range(4)]
    one = ask("ola", 50)
    assert _queue(engine) == [many[0], one, *many[1:]]
    last = works.ask("lines", heron, catalogue, LINES, "uwe")
    assert last.ahead == 5


def test_progress_and_what_was_found_so_far_are_shown(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    asked = works.ask("remedies", heron, catalogue, {"rule": "a", "subject": "b"})
    with Session(engine) as session, session.begin():
        assert store.take(session, asked.key) is not None
        assert (
            store.tell(
                session,
                asked.key,
                1,
                4,
                "half way",
                b'[{"sentence": "x", "command": {"op": "start-line"}}]',
            )
            is False
        )
    shown = works.ask("remedies", heron, catalogue, {"rule": "a", "subject": "b"})
    assert (shown.state, shown.done, shown.of, shown.words) == ("working", 1, 4, "half way")
    assert shown.found[0].sentence == "x"


def test_stop_stops_what_waits_at_once_and_what_is_under_way_soon(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    waiting = works.ask("lines", heron, catalogue, LINES)
    works.stop(waiting.key)
    assert works.ask("lines", heron, catalogue, LINES).state == "stopped"
    again = works.ask("lines", heron, catalogue, LINES, anew=True)
    assert again.state == "waiting"

    class Stopping(Hands):
        def work(self, *arguments: object) -> Ended:  # type: ignore[override]
            works.stop(again.key)
            return super().work(*arguments)  # type: ignore[arg-type]

    hands = Stopping(Ended("done", b"[]"))
    do_work(engine, hands, again.key, threading.Event())  # type: ignore[arg-type]
    assert hands.asked == [True]
    assert works.ask("lines", heron, catalogue, LINES).state == "stopped"


def test_what_ends_its_workers_is_given_up_after_three(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    key = works.ask("lines", heron, catalogue, LINES).key
    for _ in range(store.MOST_ATTEMPTS):
        with Session(engine) as session, session.begin():
            assert store.take(session, key) is not None  # and the worker is gone
    with Session(engine) as session, session.begin():
        assert store.take(session, key) is None
    failed = works.ask("lines", heron, catalogue, LINES)
    assert (failed.state, failed.problem) == (
        "failed",
        "This ended the process that worked on it 3 times.",
    )
    assert works.ask("lines", heron, catalogue, LINES, anew=True).state == "waiting"


def test_a_worker_that_is_told_to_go_leaves_its_work_to_the_next(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    key = works.ask("lines", heron, catalogue, LINES).key
    gone = threading.Event()
    gone.set()
    do_work(engine, Hands(Ended("done", b"[]")), key, gone)  # type: ignore[arg-type]
    with Session(engine) as session, session.begin():
        assert store.give_back(session, key)
    assert works.ask("lines", heron, catalogue, LINES).state == "waiting"


def test_what_is_on_no_queue_any_more_is_put_back_on_it(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    """Begun by a worker whose job was lost with it, and asked for by a process that ended before it
    was put on the queue.
    """
    key = works.ask("lines", heron, catalogue, LINES).key
    with Session(engine) as session, session.begin():
        assert store.lost_keys(session, timedelta(0)) == []  # it is on the queue
        assert store.take(session, key) is not None
        session.execute(text("DELETE FROM procrastinate_jobs"))
        assert store.lost_keys(session, timedelta(hours=1)) == []
        assert store.lost_keys(session, timedelta(0)) == [key]
        put_on(queue_app(), session, key, 0, "works")
    assert works.ask("lines", heron, catalogue, LINES).state == "waiting"
    assert _queue(engine) == [key]


def test_a_result_that_finds_no_room_is_told(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    key = works.ask("lines", heron, catalogue, LINES).key
    full = store.end

    def ending(
        session: Session, key: str, state: str, result: bytes | None = None, problem: str = ""
    ) -> None:
        if result is not None:
            raise DBAPIError.instance(
                "UPDATE", None, psycopg.errors.DiskFull("full"), psycopg.Error
            )
        full(session, key, state, result, problem)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(store, "end", ending)
        _do(engine, key, Ended("done", b"[]"))
    failed = works.ask("lines", heron, catalogue, LINES)
    assert (failed.state, "no room" in failed.problem) == ("failed", True)


def test_old_results_and_those_that_take_too_much_room_are_forgotten(
    works: QueuedWorks, engine: Engine, heron: Plan, catalogue: Catalogue
) -> None:
    keys = []
    for level in range(4):
        plan = heron.model_copy(
            update={"fuel": heron.fuel.model_copy(update={"level_percent": float(level)})}
        )
        keys.append(works.ask("lines", plan, catalogue, LINES).key)
        _do(engine, keys[-1], Ended("done", b" " * 4000 + b"[]"))
    with Session(engine) as session, session.begin():
        for hours, key in enumerate(keys):
            seen = text(f"now() - interval '{24 * 10 if key == keys[0] else 10 - hours} hours'")
            session.execute(update(Work).where(Work.key == key).values(used_at=seen))
        store.forget(session, 10_000)
    with Session(engine) as session:
        assert set(session.scalars(select(Work.key))) == set(keys[2:])
        assert store.lost_keys(session, timedelta(0)) == []


def test_a_result_names_all_that_it_depends_on(
    heron: Plan, wren: Plan, catalogue: Catalogue
) -> None:
    """Where the heater stands is no part of the map's name; everything that the map shows is."""
    moved = heron.model_copy(
        update={"spot": heron.spot and heron.spot.model_copy(update={"x_mm": 1234.0})}
    )
    wider = heron.vehicle.shell.model_copy(
        update={"floor_width_mm": heron.vehicle.shell.floor_width_mm - 10}
    )
    other = heron.model_copy(update={"vehicle": heron.vehicle.model_copy(update={"shell": wider})})
    turn = {"turn": "best", "plan": "above"}
    assert key_of("floor", heron, catalogue, turn) == key_of("floor", moved, catalogue, turn)
    assert key_of("floor", heron, catalogue, turn) != key_of("floor", other, catalogue, turn)
    assert key_of("floor", heron, catalogue, turn) != key_of(
        "floor", heron, catalogue, {**turn, "plan": "below"}
    )
    assert key_of("floor", heron, catalogue, turn) != key_of("floor", wren, catalogue, turn)
    assert key_of("remedies", heron, catalogue, turn) != key_of("remedies", moved, catalogue, turn)


@pytest.mark.parametrize("name", ["heron", "wren"])
def test_every_kind_is_written_down_and_read_back(name: str, catalogue: Catalogue) -> None:
    plan, here = demo_plan(name), WorksHere()
    arguments = {
        "print": {"system": "imperial"},
        "floor": {"turn": "90", "plan": "below"},
        "ways": {"tube": "intake"},
        "nearest": {},
        "lines": {},
        "trees": {},
        "kept": {},
        "best": {"exhaust": 1.0, "fuel": 2.0, "duct": 3.0, "quiet": 4.0, "margin": 5.0},
        "way-from": demo_plan(name).spot.model_dump(mode="json"),
        "remedies": {"rule": "pipes.radius", "run": "exhaust", "subject": "n-1"},
    }
    # what takes minutes is written down and read back by the planner's own tests
    short = {name for name, kind in KINDS.items() if kind.queue == SHORT}
    assert set(arguments) == short
    for kind in sorted(short):
        direct = KINDS[kind].run(plan, catalogue, arguments[kind], lambda *_: None)
        found = here.ask(kind, plan, catalogue, arguments[kind]).found
        if kind != "print":  # which carries the time of its making
            assert found == direct
