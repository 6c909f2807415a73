"""Layouts on their own queue: written down and read back, told as they come, never before what
takes seconds.
"""

from __future__ import annotations

from typing import Any

import pytest
from sqlalchemy import Engine, text
from sqlalchemy.orm import Session

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.plan.wishes import WishArea, Wishes
from gale_nook.core.planner.search import LayoutSearch
from gale_nook.demo.load import demo_plan
from gale_nook.store import works as store
from gale_nook.store.database import open_engine
from gale_nook.worker.kinds import KINDS, LONG, SHORT, key_of
from gale_nook.worker.works import QueuedWorks, WorksHere
from tests.vans import small_van

CORNER = WishArea(
    id="corner", name="corner", from_x_mm=1100, to_x_mm=2300, left_y_mm=-900, right_y_mm=-200
)


@pytest.mark.slow
def test_layouts_are_told_as_they_come_and_read_back(catalogue: Catalogue) -> None:
    plan = small_van(2, wishes=Wishes(areas=(CORNER,)))
    told: list[tuple[int, int, Any]] = []
    kind = KINDS["layouts"]
    result = kind.run(
        plan,
        catalogue,
        {"effort": "quick"},
        lambda done, of, _, found: told.append((done, of, found)),
    )
    assert kind.read(kind.write(result)) == result
    done = [each[0] for each in told]
    assert done == sorted(done)
    assert all(each[0] <= each[1] for each in told)
    partial = [found for _, _, found in told if isinstance(found, LayoutSearch) and found.layouts]
    assert partial
    assert kind.read(kind.write(partial[0])).layouts == partial[0].layouts


def test_what_clears_is_read_back(catalogue: Catalogue) -> None:
    plan = apply(demo_plan("heron"), set_value("fuel.line.pump.rubber", False), catalogue)
    here = WorksHere()
    assert here.known("clear", plan, catalogue, {}) is None
    found = here.ask("clear", plan, catalogue, {}).found
    known = here.known("clear", plan, catalogue, {})
    assert known is not None
    assert known.found == found == KINDS["clear"].run(plan, catalogue, {}, lambda *_: None)


def test_layouts_do_not_hang_on_what_is_laid_but_on_wishes(catalogue: Catalogue) -> None:
    plan, effort = demo_plan("heron"), {"effort": "quick"}
    bare = plan.model_copy(update={"pipes": plan.pipes.model_copy(update={"exhaust": None})})
    wished = plan.model_copy(update={"wishes": Wishes(side="left")})
    key = key_of("layouts", plan, catalogue, effort)
    assert key == key_of("layouts", bare, catalogue, effort)
    assert key != key_of("layouts", wished, catalogue, effort)
    assert key != key_of("layouts", plan, catalogue, {"effort": "usual"})


@pytest.mark.store
def test_what_takes_minutes_waits_on_a_queue_of_its_own(
    database_url: str, catalogue: Catalogue
) -> None:
    engine: Engine = open_engine(database_url)
    works, plan = QueuedWorks(engine), small_van(0, wishes=Wishes(side="right"))
    asked = works.ask("layouts", plan, catalogue, {"effort": "quick"}, "somebody")
    other = works.ask("clear", plan, catalogue, {}, "somebody")
    floor = works.ask("floor", plan, catalogue, {"turn": "0", "plan": "above"}, "somebody else")
    assert (asked.ahead, other.ahead, floor.ahead) == (0, 1, 0)
    known = works.known("layouts", plan, catalogue, {"effort": "quick"})
    assert known is not None
    assert known.key == asked.key
    with Session(engine) as session:
        query = text("SELECT queue_name FROM procrastinate_jobs WHERE queueing_lock = :key")
        queues = [session.scalar(query, {"key": each.key}) for each in (asked, other, floor)]
        assert queues == [LONG, LONG, SHORT]
        assert set(store.LONG) == {name for name, kind in KINDS.items() if kind.queue == LONG}
    for each in (asked, other, floor):
        works.stop(each.key)
    engine.dispose()
