"""Facts that are kept from plan to plan: what they rest on, and that nothing stale is ever told."""

from __future__ import annotations

import gc
import random
import re
from collections.abc import Callable, Iterator
from types import BuiltinFunctionType, FunctionType, GeneratorType, ModuleType
from typing import Any

import numpy as np
import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.air.duct_space import in_the_way
from gale_nook.core.apply import applied, plan_of
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.findings.judging import found_over
from gale_nook.core.firing.places import surveyed_places
from gale_nook.core.firing.pre_checks import pre_checks
from gale_nook.core.fitted.balance import balanced_as_asked
from gale_nook.core.fitted.closing import closed_sets
from gale_nook.core.fitted.drying import drying
from gale_nook.core.fitted.heating import warm_minutes
from gale_nook.core.fuel.sources import night_fuel_l
from gale_nook.core.fuel.start import starting_line
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.what_would_help import what_would_help
from gale_nook.core.incremental import (
    MOST_STANDING,
    MOST_TRIED,
    PLANS_OF_ONE_AGE,
    Inputs,
    Trace,
    TraceStore,
    fact,
    if_known,
    noted,
    read_part,
    same,
    seen,
    unshared_fact,
)
from gale_nook.core.job import Job, new_store
from gale_nook.core.log.measured import dip_table, log_vessel
from gale_nook.core.log.night_model import night_table
from gale_nook.core.loop.ladder import rungs
from gale_nook.core.loop.night import warm_up, warm_up_orders
from gale_nook.core.pipes.bench import on_bench
from gale_nook.core.planner.measures import measures_of
from gale_nook.core.power.alarm_places import alarm_area
from gale_nook.core.power.choice import cable_offers, smallest_cable
from gale_nook.core.power.what_helps import what_helps
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.stations import RULES
from gale_nook.demo.load import demo_plan
from tests.core.edits.samples import SAMPLES, sample_plan

A, B, C = 0, 1, 2
worked: list[str] = []


@fact
def half_of_a(inputs: Inputs) -> int:
    worked.append("half")
    return int(read_part(inputs, A)) // 2


@fact
def sum_of_half_and_b(inputs: Inputs, more: int) -> int:
    worked.append("sum")
    return half_of_a(inputs) + int(read_part(inputs, B)) + more


@fact
def b_where_a_is_even(inputs: Inputs) -> int:
    worked.append("where")
    return int(read_part(inputs, B)) if read_part(inputs, A) % 2 == 0 else -1


@fact
def refused_where_a_is_odd(inputs: Inputs) -> int:
    if read_part(inputs, A) % 2:
        raise BadInput("a", None, "it is odd")
    return 0


@fact
def whether_refused(inputs: Inputs) -> bool:
    worked.append("whether")
    try:
        refused_where_a_is_odd(inputs)
    except BadInput:
        return True
    return False


@fact
def sum_with_c_tried(inputs: Inputs) -> int:
    """Tries ten for C: that rests on A and B of its own inputs, and not on C."""
    worked.append("tried")
    parts = (*inputs.parts[:C], 10)
    there = Inputs(parts, inputs.store, inputs, 1 << C, tried=True)
    return sum_of_half_and_b(there, 0) + int(read_part(there, C))


@unshared_fact
def own_inputs(inputs: Inputs) -> tuple[Inputs, int]:
    worked.append("own")
    return inputs, int(read_part(inputs, A))


@fact
def by_own_inputs(inputs: Inputs) -> int:
    worked.append("by own")
    return own_inputs(inputs)[1] + int(read_part(own_inputs(inputs)[0], B))


def _inputs(store: TraceStore, *parts: int, tried: bool = False) -> Inputs:
    worked.clear()
    kept = tuple(store.same_part(number, part) for number, part in enumerate(parts))
    return Inputs(kept, store, tried=tried)


@pytest.fixture
def store() -> TraceStore:
    return TraceStore(3)


def test_a_fact_is_worked_out_again_only_where_what_it_read_changed(store: TraceStore) -> None:
    assert sum_of_half_and_b(_inputs(store, 8, 1, 0), 5) == 10
    assert worked == ["sum", "half"]
    assert sum_of_half_and_b(_inputs(store, 8, 1, 99), 5) == 10
    assert worked == []
    assert sum_of_half_and_b(_inputs(store, 8, 2, 99), 5) == 11
    assert worked == ["sum"]
    assert sum_of_half_and_b(_inputs(store, 8, 2, 99), 6) == 12
    assert worked == ["sum"]


def test_an_equal_value_stops_the_change(store: TraceStore) -> None:
    sum_of_half_and_b(_inputs(store, 8, 1, 0), 0)
    assert sum_of_half_and_b(_inputs(store, 9, 1, 0), 0) == 5
    assert worked == ["half"]


def test_a_part_that_was_read_by_a_fact_it_asked_and_by_itself_counts_twice(
    store: TraceStore,
) -> None:
    """The fact that it asked gives the same again; what it read itself does not."""

    @fact
    def both(inputs: Inputs) -> int:
        return half_of_a(inputs) * 100 + int(read_part(inputs, A))

    assert both(_inputs(store, 8, 0, 0)) == 408
    assert both(_inputs(store, 9, 0, 0)) == 409


def test_what_was_not_read_before_is_read_where_the_way_goes_there_now(store: TraceStore) -> None:
    assert b_where_a_is_even(_inputs(store, 1, 7, 0)) == -1
    assert b_where_a_is_even(_inputs(store, 1, 8, 0)) == -1
    assert b_where_a_is_even(_inputs(store, 2, 8, 0)) == 8
    assert b_where_a_is_even(_inputs(store, 2, 9, 0)) == 9


def test_that_something_was_refused_rests_on_what_that_read(store: TraceStore) -> None:
    assert whether_refused(_inputs(store, 1, 0, 0))
    assert not whether_refused(_inputs(store, 2, 0, 0))
    assert whether_refused(_inputs(store, 1, 5, 0))
    assert worked == []
    with pytest.raises(BadInput):
        refused_where_a_is_odd(_inputs(store, 3, 0, 0))


def test_what_is_tried_rests_on_what_it_was_not_given(store: TraceStore) -> None:
    assert sum_with_c_tried(_inputs(store, 4, 1, 0)) == 13
    assert sum_with_c_tried(_inputs(store, 4, 1, 5)) == 13
    assert worked == []
    assert sum_with_c_tried(_inputs(store, 4, 2, 5)) == 14
    assert sum_with_c_tried(_inputs(store, 8, 2, 5)) == 16


def test_what_read_other_inputs_is_not_taken_over(store: TraceStore) -> None:
    others = [_inputs(store, 1, 1, 1), _inputs(store, 2, 2, 2)]

    @fact
    def of_another(inputs: Inputs) -> int:
        return int(read_part(inputs, A)) + int(read_part(others[0], B))

    first = _inputs(store, 5, 0, 0)
    assert of_another(first) == of_another(first) == 6
    others[0] = others[1]
    assert of_another(_inputs(store, 5, 0, 0)) == 7


def test_what_holds_its_inputs_is_of_these_alone(store: TraceStore) -> None:
    for b in (1, 2, 3):
        assert by_own_inputs(_inputs(store, 5, b, 0)) == 5 + b
    assert worked == ["by own", "own"]
    assert by_own_inputs(_inputs(store, 5, 3, 9)) == 8
    assert worked == []


def test_whoever_shares_some_work_rests_on_it_too(store: TraceStore) -> None:
    """The second that asks reads nothing itself."""
    kept: dict[int, Trace] = {}

    def shared(inputs: Inputs) -> int:
        if id(inputs) not in kept:
            kept[id(inputs)] = noted(inputs, lambda: int(read_part(inputs, A)))
        return int(seen(inputs, kept[id(inputs)]))

    first, second = fact(shared), fact(lambda inputs: -shared(inputs))
    here = _inputs(store, 5, 0, 0)
    assert (first(here), second(here)) == (5, -5)
    there = _inputs(store, 6, 0, 0)
    assert (first(there), second(there)) == (6, -6)


def test_what_is_tried_does_not_push_out_what_stands(store: TraceStore) -> None:
    half_of_a(_inputs(store, 8, 0, 0))
    for a in range(20, 20 + 2 * MOST_TRIED):
        half_of_a(_inputs(store, 2 * a, 0, 0, tried=True))
    half_of_a(_inputs(store, 8, 0, 0))
    assert worked == []
    for a in range(100, 100 + MOST_STANDING):
        half_of_a(_inputs(store, 2 * a, 0, 0))
    half_of_a(_inputs(store, 8, 0, 0))
    assert worked == ["half"]


def test_what_is_not_asked_for_is_forgotten(store: TraceStore) -> None:
    here = _inputs(store, 8, 0, 0)
    half_of_a(here)
    assert len(list(store.traces())) == 1
    for _ in range(PLANS_OF_ONE_AGE):
        store.begin_plan()
    assert if_known(half_of_a, _inputs(store, 8, 0, 0)) == 4
    for _ in range(2 * PLANS_OF_ONE_AGE):
        store.begin_plan()
    assert list(store.traces()) == []
    assert half_of_a(here) == 4  # these inputs know it themselves


def test_what_is_asked_beside_the_work_is_known_or_not(store: TraceStore) -> None:
    here = _inputs(store, 8, 0, 0)
    assert if_known(half_of_a, here) is None
    half_of_a(here)
    assert if_known(half_of_a, here) == 4
    assert if_known(half_of_a, _inputs(store, 8, 1, 1)) == 4
    assert if_known(half_of_a, _inputs(store, 9, 1, 1)) is None


@pytest.mark.parametrize(
    ("one", "other", "expected"),
    [
        (1.5, 1.5, True),
        (1, 1.0, False),
        ((1, "a"), (1, "b"), False),
        (np.array([1.0, 2.0]), np.array([1.0, 2.0]), True),
        (np.array([1.0, 2.0]), np.array([1.0, 2.5]), False),
        ((np.array([1.0, 2.0]), "a"), (np.array([1.0, 2.0]), "a"), True),
        ({"a": np.arange(3)}, {"a": np.arange(3)}, True),
        ({"a": np.arange(3)}, {"b": np.arange(3)}, False),
        (np.arange(3), np.arange(3.0), False),
        (float("nan"), float("nan"), False),
        (object(), object(), False),
    ],
)
def test_values_are_the_same_or_taken_for_different(one: Any, other: Any, expected: bool) -> None:
    assert same(one, other) is expected
    assert same(one, one)


def test_arguments_have_one_way_of_being_given(store: TraceStore) -> None:
    with pytest.raises(TypeError, match="by position"):
        sum_of_half_and_b(_inputs(store, 1, 1, 1), more=3)


NAMES = ("heron", "quarto", "wren", "teal", "plover", "dunlin", "coot", "blank")


@pytest.fixture(scope="module")
def book() -> Catalogue:
    return load_catalogue()


@pytest.mark.parametrize("name", NAMES)
def test_a_value_that_moves_is_checked_as_from_nothing(name: str, book: Catalogue) -> None:
    """Values anywhere in the plan, one after another and from the start again: every finding is
    what a check from nothing says.
    """
    chance, plan = random.Random(name), demo_plan(name)
    job = Job(plan, book)
    checked(job)
    places = [place for place, _ in _values(plan.model_dump(mode="json"))]
    tried = 0
    while tried < 6:
        data = (job.plan if chance.random() < 0.5 else plan).model_dump(mode="json")
        try:
            _move(data, chance.choice(places))
            after = job.with_plan(plan_of(data, book))
        except (BadInput, KeyError, IndexError, TypeError):
            continue  # no such plan
        tried += 1
        assert checked(after).findings == checked(Job(after.document, book)).findings
        job = after


@pytest.mark.parametrize("command", SAMPLES, ids=lambda c: f"{type(c).__name__}-{c.op}")
def test_a_command_is_checked_as_from_nothing(command: Any, book: Catalogue) -> None:
    job = _sample_job(book)
    after = job.with_plan(applied(job, command))
    assert checked(after).findings == checked(Job(after.document, book)).findings
    back = after.with_plan(job.document)
    assert checked(back).findings == checked(job).findings


def _sample_job(book: Catalogue, kept: list[Job] = []) -> Job:  # noqa: B006 - one for all
    if not kept:
        kept.append(Job(sample_plan(), book))
        checked(kept[0])
    return kept[0]


def _values(data: Any, place: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Any]]:
    if isinstance(data, dict | list):
        for key, inner in data.items() if isinstance(data, dict) else enumerate(data):
            yield from _values(inner, (*place, key))
    elif data is None or isinstance(data, float | bool):
        yield place, data


def _move(data: Any, place: tuple[Any, ...]) -> None:
    for key in place[:-1]:
        data = data[key]
    value = data[place[-1]]
    if isinstance(value, bool):
        data[place[-1]] = not value
    else:
        data[place[-1]] = 12.5 if value is None else value * 1.01 + 0.37


@pytest.mark.parametrize("name", NAMES)
def test_what_a_check_finds_over_does_not_depend_on_what_is_known(
    name: str, book: Catalogue
) -> None:
    """The short way of a rule finds what its whole check finds over."""
    known, fresh = Job(demo_plan(name), book), Job(demo_plan(name), book)
    over = [f for f in checked(known).findings if f.verdict in {Verdict.OVER, Verdict.ACCEPTED}]
    assert {f.key for f in over} == {f.key for each in RULES for f in found_over(fresh, each)}
    for each in RULES:
        assert found_over(known, each) == found_over(fresh, each)


@pytest.mark.parametrize("name", NAMES)
def test_no_value_of_a_fact_holds_a_job(name: str, book: Catalogue) -> None:
    """It would be read after what it rests on was noted."""
    store = new_store()
    job = Job(demo_plan(name), book, store)
    findings = [f for f in checked(job).findings if f.verdict is Verdict.OVER]
    judgements(job)
    for finding in findings[:3]:
        remedies_for(job, finding)
    looked_at: dict[int, Any] = {}
    for key, trace in store.traces():
        assert not _holds_inputs(trace.value, looked_at), key[0]


ASKED_BY_PAGES: tuple[Callable[[Job], Any], ...] = (
    in_the_way,
    surveyed_places,
    pre_checks,
    balanced_as_asked,
    closed_sets,
    drying,
    warm_minutes,
    night_fuel_l,
    starting_line,
    what_would_help,
    dip_table,
    log_vessel,
    night_table,
    rungs,
    warm_up,
    warm_up_orders,
    on_bench,
    measures_of,
    alarm_area,
    cable_offers,
    smallest_cable,
    what_helps,
)


@pytest.mark.parametrize("name", ["heron", "quarto"])
def test_what_pages_ask_besides_is_as_from_nothing(name: str, book: Catalogue) -> None:
    """Facts that no check asks: none holds a job, and after edits each is what it is from
    nothing.
    """
    plan, store = demo_plan(name), new_store()
    first, looked_at = Job(plan, book, store), dict[int, Any]()
    assert plan.spot is not None
    for asked in ASKED_BY_PAGES:
        assert not _holds_inputs(asked(first), looked_at), asked
    moved = PlaceHeater(op="place", x_mm=plan.spot.x_mm + 5, y_mm=plan.spot.y_mm)
    for command in (
        moved,
        set_value("heat.altitude_m", 800.5),
        set_value("fuel.level_percent", 41),
    ):
        after = applied(first, command)
        known, fresh = Job(after, book, store), Job(after, book)
        for asked in ASKED_BY_PAGES:
            one, other = asked(known), asked(fresh)
            assert same(one, other) or _told(one) == _told(other), asked


def _told(value: Any) -> str:
    """A value with bodies in it, which equal themselves alone, in words."""
    return re.sub(r" at 0x[0-9a-f]+", "", repr(value))


NEVER = (type, ModuleType, BuiltinFunctionType, Catalogue, str, int, float)


def _holds_inputs(value: Any, looked_at: dict[int, Any]) -> bool:
    """Whether inputs can be reached from a value; what was looked at is kept, so that its id stays
    its own.
    """
    waiting = [value]
    while waiting:
        each = waiting.pop()
        if id(each) in looked_at or isinstance(each, NEVER):
            continue
        looked_at[id(each)] = each
        if isinstance(each, Inputs | GeneratorType) or type(each).__name__ == "_PlanRead":
            return True
        if isinstance(each, FunctionType):
            waiting.extend(cell.cell_contents for cell in each.__closure__ or ())
        else:
            waiting.extend(gc.get_referents(each))
    return False
