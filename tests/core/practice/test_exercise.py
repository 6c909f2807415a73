"""Practice on a running heater: every exercise can be solved, the same seed gives the same one."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.job import Job
from gale_nook.core.practice.exercise import drawn, marked, minutes_of
from gale_nook.core.practice.looks import LOOK_IDS, Case
from gale_nook.demo.load import demo_plan
from gale_nook.web.practice import VEHICLES, case_of

BOOK = load_catalogue().practice
FAULTS = [case.id for case in BOOK.cases]


def _off(vehicle: str, fault: str) -> dict[str, bool]:
    case = case_of(vehicle, fault)
    return {look_id: case.shown(look_id).off for look_id in LOOK_IDS}


def test_every_fault_of_the_simulated_heater_is_an_exercise_and_every_look_is_offered() -> None:
    simulated = {fault.id for fault in load_catalogue().firing.simulation.faults}
    assert set(FAULTS) == simulated
    assert {look.id for look in BOOK.looks} == set(LOOK_IDS)


@pytest.mark.parametrize("vehicle", VEHICLES)
def test_a_healthy_heater_shows_nothing_off(vehicle: str) -> None:
    case = Case(Job(demo_plan(vehicle), load_catalogue()), "")
    assert [look for look in LOOK_IDS if case.shown(look).off] == []


@pytest.mark.parametrize("vehicle", VEHICLES)
def test_the_shortest_way_tells_each_fault_from_every_other(vehicle: str) -> None:
    """On the looks of a fault's shortest way no other fault shows the same."""
    seen = {fault: _off(vehicle, fault) for fault in FAULTS}
    for fault in FAULTS:
        way = BOOK.case(fault).shortest
        mine = [seen[fault][look] for look in way]
        assert any(mine), fault
        others = [other for other in FAULTS if [seen[other][look] for look in way] == mine]
        assert others == [fault]


@given(st.integers(0, 9999), st.sampled_from((1, 2, 3)))
def test_the_same_seed_draws_the_same_and_no_harder_than_its_level(seed: int, level: int) -> None:
    first, again = drawn(BOOK, seed, level), drawn(BOOK, seed, level)
    assert first == again
    assert first.case.level <= level


def test_every_case_of_a_level_is_drawn_by_some_seed() -> None:
    for level in (1, 2, 3):
        wanted = {case.id for case in BOOK.cases if case.level <= level}
        assert {drawn(BOOK, seed, level).case.id for seed in range(60)} == wanted


def test_the_nasty_level_tells_less() -> None:
    told = drawn(BOOK, 3, 3)
    assert told.told == told.case.vague
    assert drawn(BOOK, 3, 1).told == drawn(BOOK, 3, 1).case.symptom


@pytest.mark.parametrize("fault", FAULTS)
def test_the_shortest_way_gets_all_and_a_wrong_cause_nothing(fault: str) -> None:
    case, way = case_of("heron", fault), BOOK.case(fault).shortest
    done = marked(BOOK, case, fault, way, fault)
    assert (done.right, done.score, done.walked_past) == (True, 100, ())
    assert done.minutes == done.best_minutes == minutes_of(BOOK, way)
    everything = marked(BOOK, case, fault, LOOK_IDS, fault)
    assert everything.right
    assert everything.score == 0
    wrong = marked(BOOK, case, fault, way, "nothing")
    assert (wrong.right, wrong.score) == (False, 0)
    assert done.gives_away


def test_walking_past_carbon_monoxide_costs_half() -> None:
    case = case_of("heron", "exhaust-hole")
    lucky = marked(BOOK, case, "exhaust-hole", (), "exhaust-hole")
    assert lucky.right
    assert lucky.score == 50
    assert "Carbon monoxide" in lucky.walked_past[0]
