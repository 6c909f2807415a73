"""Work in a copy of a process: it ends with its result, or is ended, and says why."""

from __future__ import annotations

import json
import os
import signal
from collections.abc import Iterator
from typing import Any

import pytest
from pydantic import TypeAdapter

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.document import compact
from gale_nook.demo.load import demo_plan
from gale_nook.worker import nursery as made_by
from gale_nook.worker.kinds import KINDS, Kind
from gale_nook.worker.nursery import Ended, Nursery, Told

PLAN = compact(demo_plan("blank"))


def _forever(*_: Any) -> None:
    while True:
        os.sched_yield()


def _hungry(*_: Any) -> int:
    return len(bytearray(400_000_000))


def _refusing(*_: Any) -> None:
    raise BadInput("spot", None, "There is no place yet.")


def _faulty(*_: Any) -> None:
    raise ZeroDivisionError("Ina's own words")


def _dying(*_: Any) -> None:
    os.kill(os.getpid(), signal.SIGKILL)


def _telling(_plan: Any, _book: Any, _arguments: Any, report: Any) -> list[int]:
    for number in range(3):
        report(number, 3, f"step {number}", [number])
    return [7]


ODD = {
    "forever": Kind("", _forever, lambda *_: "", seconds=0.5),
    "patient": Kind("", _forever, lambda *_: ""),
    "hungry": Kind("", _hungry, lambda *_: "", TypeAdapter(int), memory_bytes=100_000_000),
    "refusing": Kind("", _refusing, lambda *_: ""),
    "faulty": Kind("", _faulty, lambda *_: ""),
    "dying": Kind("", _dying, lambda *_: ""),
    "telling": Kind("", _telling, lambda *_: "", TypeAdapter(list[int])),
}


@pytest.fixture(scope="module")
def nursery() -> Iterator[Nursery]:
    """One that knows odd kinds of work besides; nothing is loaded beforehand."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(made_by, "_warm_up", lambda: None)
        for name, kind in ODD.items():
            patch.setitem(KINDS, name, kind)
        made = Nursery()
        yield made
        made.close()


def _ended(
    nursery: Nursery, kind: str, told: list[Told] | None = None, stop: bool = False
) -> Ended:
    return nursery.work(kind, PLAN, "{}", (told if told is not None else []).append, lambda: stop)


def test_a_result_and_what_was_said_on_the_way(nursery: Nursery) -> None:
    told: list[Told] = []
    ended = _ended(nursery, "telling", told)
    assert ended == Ended("done", b"[7]")
    assert [(t.done, t.of, t.words, t.partial) for t in told] == [
        (n, 3, f"step {n}", b"[%d]" % n) for n in range(3)
    ]


def test_it_is_given_up_after_its_time(nursery: Nursery) -> None:
    assert _ended(nursery, "forever") == Ended("failed", problem="This was given up after 0 s.")


def test_it_is_stopped_when_that_is_wanted(nursery: Nursery) -> None:
    assert _ended(nursery, "patient", stop=True) == Ended("stopped")


def test_it_is_kept_within_its_memory(nursery: Nursery) -> None:
    ended = _ended(nursery, "hungry")
    assert ended.state == "failed"
    assert "more than the 100 MB of memory" in ended.problem


def test_a_refusal_is_told_as_it_is_and_a_fault_without_what_was_typed(nursery: Nursery) -> None:
    assert _ended(nursery, "refusing").problem == "spot: There is no place yet."
    fault = _ended(nursery, "faulty").problem
    assert "noted as a fault" in fault
    assert "Ina" not in fault


def test_a_copy_that_is_killed_is_told_and_the_next_one_works(nursery: Nursery) -> None:
    assert "ended" in _ended(nursery, "dying").problem
    assert _ended(nursery, "telling").state == "done"


def test_real_work_is_the_same_as_here(nursery: Nursery) -> None:
    arguments = {"turn": "best", "plan": "above"}
    plan = demo_plan("heron")
    ended = nursery.work(
        "floor", compact(plan), json.dumps(arguments), lambda _: None, lambda: False
    )
    assert ended.result == KINDS["floor"].run(plan, load_catalogue(), arguments, lambda *_: None)
