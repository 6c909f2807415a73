"""Jobs and revisions on a real PostgreSQL."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import Engine, func, inspect, select
from sqlalchemy.orm import Session

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import DEMO_NAMES, demo_plan
from gale_nook.store import job_store, jobs
from gale_nook.store.database import open_engine
from gale_nook.store.demo import load_demo_once
from gale_nook.store.editing import Collision
from gale_nook.store.job_store import JobStore
from gale_nook.store.jobs import MovedOn, NoSuchJob, append, locked_job
from gale_nook.store.migrate import migrate
from gale_nook.store.tables import Base, JobRow, RevisionRow

pytestmark = pytest.mark.store
LENGTH = "vehicle.solids.tank.length_mm"


@pytest.fixture(scope="module")
def engine(database_url: str) -> Iterator[Engine]:
    made = open_engine(database_url)
    yield made
    made.dispose()


@pytest.fixture
def db(engine: Engine) -> JobStore:
    return JobStore(engine)


@pytest.fixture
def job(db: JobStore) -> int:
    return db.create(demo_plan("heron"), "demo")


def _length(db: JobStore, job: int) -> float:
    tank = next(s for s in db.head(job).plan.vehicle.solids if s.id == "tank")
    assert isinstance(tank, BoxSolid)
    return tank.length_mm


def test_the_migrations_make_the_tables_that_the_code_knows(engine: Engine) -> None:
    found = inspect(engine)
    for table in Base.metadata.sorted_tables:
        assert {c["name"] for c in found.get_columns(table.name)} == {c.name for c in table.columns}


def test_migrating_twice_changes_nothing(database_url: str) -> None:
    migrate(database_url)


def test_an_edit_is_a_new_revision(db: JobStore, job: int, catalogue: Catalogue) -> None:
    assert db.save(job, 1, set_value(LENGTH, 950), catalogue) == 2
    head = db.head(job)
    assert (head.number, head.undo_summary, head.redo_summary) == (2, "fuel tank: length", None)
    assert _length(db, job) == 950


def test_an_edit_that_changes_nothing_is_none(db: JobStore, job: int, catalogue: Catalogue) -> None:
    assert db.save(job, 1, set_value(LENGTH, 900), catalogue) == 1


def test_undo_and_redo_are_moves_along_revisions(
    db: JobStore, job: int, catalogue: Catalogue
) -> None:
    db.save(job, 1, set_value(LENGTH, 950), catalogue)
    db.save(job, 2, set_value(LENGTH, 960), catalogue)
    assert db.undo(job, 3) == "fuel tank: length"
    assert db.undo(job, 2) == "fuel tank: length"
    assert _length(db, job) == 900
    assert db.undo(job, 1) is None
    db.redo(job, 1)
    db.redo(job, 2)
    assert _length(db, job) == 960
    assert db.redo(job, 3) is None


def test_an_edit_after_undo_begins_a_new_way(db: JobStore, job: int, catalogue: Catalogue) -> None:
    db.save(job, 1, set_value(LENGTH, 950), catalogue)
    db.undo(job, 2)
    assert db.save(job, 1, set_value(LENGTH, 970), catalogue) == 3
    assert db.redo(job, 3) is None
    db.undo(job, 3)
    assert _length(db, job) == 900
    assert db.redo(job, 1) is not None
    assert _length(db, job) == 970


@settings(max_examples=20)
@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=14))
def test_undo_and_redo_agree_with_a_list(
    engine: Engine, catalogue: Catalogue, moves: list[str]
) -> None:
    """Against the plain model of an editor: a list of states and a place in it."""
    db = JobStore(engine)
    job = db.create(demo_plan("heron"), "demo")
    states, at, next_value = [900.0], 0, 901
    for move in moves:
        base = db.head(job).number
        if move == "edit":
            db.save(job, base, set_value(LENGTH, next_value), catalogue)
            states = [*states[: at + 1], float(next_value)]
            at, next_value = at + 1, next_value + 1
        elif move == "undo":
            at -= db.undo(job, base) is not None
        else:
            at += db.redo(job, base) is not None
        assert _length(db, job) == states[at]
        assert (db.head(job).redo_summary is not None) == (at < len(states) - 1)


def test_an_edit_made_on_an_older_revision_is_laid_over(
    db: JobStore, job: int, catalogue: Catalogue
) -> None:
    """Two tabs, two values: neither is lost."""
    db.save(job, 1, set_value(LENGTH, 950), catalogue)
    db.save(job, 1, set_value("heat.outside_c", -20), catalogue)
    head = db.head(job)
    assert (head.number, head.plan.heat.outside_c, _length(db, job)) == (3, -20, 950)


def test_a_true_collision_shows_both(db: JobStore, job: int, catalogue: Catalogue) -> None:
    db.save(job, 1, set_value(LENGTH, 950), catalogue)
    with pytest.raises(Collision) as caught:
        db.save(job, 1, set_value(LENGTH, 990), catalogue)
    clash = caught.value.clashes[0]
    assert (clash.address, clash.was, clash.theirs, clash.yours) == (LENGTH, 900, 950, 990)
    assert caught.value.head == 2
    assert _length(db, job) == 950
    db.save(job, caught.value.head, caught.value.command, catalogue)
    assert _length(db, job) == 990


def test_the_same_value_from_both_is_no_collision(
    db: JobStore, job: int, catalogue: Catalogue
) -> None:
    db.save(job, 1, set_value(LENGTH, 950), catalogue)
    assert db.save(job, 1, set_value(LENGTH, 950), catalogue) == 2


def test_moving_what_the_other_took_out_is_a_collision(
    db: JobStore, job: int, catalogue: Catalogue
) -> None:
    db.save(job, 1, RemoveItem(collection="vehicle.solids", item_id="tank"), catalogue)
    with pytest.raises(Collision):
        db.save(job, 1, set_value(LENGTH, 990), catalogue)


def test_moving_the_heater_collides_only_with_moving_the_heater(
    db: JobStore, job: int, catalogue: Catalogue
) -> None:
    db.save(job, 1, PlaceHeater(x_mm=2700, y_mm=-286), catalogue)
    db.save(job, 1, set_value("spot.mount", "plate"), catalogue)
    with pytest.raises(Collision):
        db.save(job, 1, PlaceHeater(x_mm=2600, y_mm=-286), catalogue)


def test_two_additions_from_one_revision_both_stay(
    db: JobStore, job: int, catalogue: Catalogue
) -> None:
    for number in (1, 2):
        solid = BoxSolid(
            id=f"new-{number}",
            name="new",
            kind="furniture",
            x_mm=0,
            y_mm=0,
            z_mm=0,
            length_mm=9,
            width_mm=9,
            height_mm=9,
        )
        db.save(job, 1, AddSolid(item=solid), catalogue)
    assert {"new-1", "new-2"} <= {s.id for s in db.head(job).plan.vehicle.solids}


def test_an_edit_that_another_overtakes_while_it_is_worked_out(
    engine: Engine, catalogue: Catalogue, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A command is worked out with no transaction open; another edit is kept meanwhile; neither is
    lost.
    """
    db = JobStore(engine)
    job = db.create(demo_plan("heron"), "demo")
    worked_out = job_store.Edit.of
    overtaken: list[int] = []

    def slowly(*arguments: Any) -> Any:
        made = worked_out(*arguments)
        if not overtaken:
            overtaken.append(1)
            db.save(job, 1, set_value("heat.outside_c", -20), catalogue)
        return made

    monkeypatch.setattr(job_store.Edit, "of", slowly)
    assert db.save(job, 1, set_value(LENGTH, 950), catalogue) == 3
    assert db.head(job).plan.heat.outside_c == -20
    assert _length(db, job) == 950


def test_a_command_is_worked_out_with_no_transaction_open(
    engine: Engine, catalogue: Catalogue, monkeypatch: pytest.MonkeyPatch
) -> None:
    db = JobStore(engine)
    job = db.create(demo_plan("heron"), "demo")
    worked_out = job_store.Edit.of
    lent: list[int] = []

    def watched(*arguments: Any) -> Any:
        lent.append(engine.pool.checkedout())  # type: ignore[attr-defined]
        return worked_out(*arguments)

    monkeypatch.setattr(job_store.Edit, "of", watched)
    db.save(job, 1, set_value(LENGTH, 950), catalogue)
    assert lent == [0]


def test_an_undo_meant_for_another_revision_is_refused(
    db: JobStore, job: int, catalogue: Catalogue
) -> None:
    db.save(job, 1, set_value(LENGTH, 950), catalogue)
    for move in (db.undo, db.redo):
        with pytest.raises(MovedOn):
            move(job, 1)


def test_a_refused_edit_leaves_no_trace(db: JobStore, job: int, catalogue: Catalogue) -> None:
    with pytest.raises(BadInput):
        db.save(job, 1, set_value(LENGTH, -1), catalogue)
    assert db.head(job).number == 1


@pytest.mark.parametrize("job_id", [0, -1, 2**31, 2**31 - 1])
def test_a_job_that_is_not_there(db: JobStore, job_id: int) -> None:
    with pytest.raises(NoSuchJob):
        db.head(job_id)
    with pytest.raises(NoSuchJob), db.transaction() as session:
        locked_job(session, job_id)


def test_revisions_are_bounded(db: JobStore, job: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(jobs, "KEEP_REVISIONS", 5)
    plan = demo_plan("heron")
    with db.transaction() as session:
        for number in range(12):
            append(
                session,
                locked_job(session, job),
                plan.model_copy(update={"name": f"Heron {number}"}),
                "named",
            )
        kept = session.scalar(
            select(func.count()).select_from(RevisionRow).where(RevisionRow.job_id == job)
        )
    assert kept is not None
    assert kept <= 6
    base = db.head(job).number
    while db.undo(job, base) is not None:
        base = db.head(job).number
    assert db.head(job).undo_summary is None


def test_the_list_is_paged_last_changed_first(
    db: JobStore, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(jobs, "PAGE_SIZE", 2)
    for name in ("heron", "wren", "quarto"):
        db.create(demo_plan(name), "demo")
    first, more = db.page()
    assert len(first) == 2
    assert more
    assert db.page(2)[0][0].id not in {line.id for line in first}


def test_the_demo_is_loaded_once(engine: Engine) -> None:
    with Session(engine) as db:
        before = set(db.scalars(select(JobRow.id)))
    assert load_demo_once(engine) is True
    assert load_demo_once(engine) is False
    with Session(engine) as db:
        added = db.scalars(select(JobRow.name).where(JobRow.id.not_in(before)))
        assert sorted(added) == sorted(name.capitalize() for name in DEMO_NAMES)
