"""Practice on a plan: each mistake is found by the checker, taking it back clears it, and the same
seed makes the same ones.
"""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import applied
from gale_nook.core.edits.values import set_value
from gale_nook.core.practice.mistakes import (
    MAKERS,
    WrongPlan,
    cure_choices,
    cured,
    findings_by_rule,
    look_minutes,
    mark_plan,
    over_rules,
)
from gale_nook.web.practice_plan import SURVEYED, wrong_plan_of

BOOK = load_catalogue().practice


def test_every_kind_of_mistake_is_made_somewhere() -> None:
    assert {kind.id for kind in BOOK.mistakes} == set(MAKERS)
    made = {m.kind.id for seed in range(24) for m in wrong_plan_of(seed, 3).made}
    assert made == set(MAKERS)


@given(st.integers(0, 400), st.sampled_from((1, 2, 3)))
@settings(max_examples=12)
def test_every_exercise_can_be_solved(seed: int, level: int) -> None:
    """The good plan has nothing over; each mistake is found by a check of its own; with all of them
    taken back in turn nothing is over again.
    """
    wrong = wrong_plan_of(seed, level)
    assert over_rules(wrong.good) == set()
    assert len(wrong.made) == BOOK.mistake_counts[level - 1]
    assert all(made.kind.level <= level for made in wrong.made)
    over, job = over_rules(wrong.wrong), wrong.wrong
    for made in wrong.made:
        assert made.rules & over
    for made in reversed(wrong.made):
        job = job.with_plan(applied(job, set_value(made.change[0], made.was)))
    assert over_rules(job) == set()
    assert job.plan == wrong.good.plan


def test_one_mistake_taken_back_clears_its_own_checks() -> None:
    wrong = wrong_plan_of(0, 1)
    last = wrong.made[-1]
    cured = wrong.wrong.with_plan(applied(wrong.wrong, set_value(last.change[0], last.was)))
    assert not last.rules & over_rules(cured)


def test_the_same_seed_makes_the_same_mistakes() -> None:
    first = [made.change for made in wrong_plan_of(7, 2).made]
    wrong_plan_of.cache_clear()
    assert [made.change for made in wrong_plan_of(7, 2).made] == first
    assert {wrong_plan_of(seed, 1).good.plan.name for seed in range(4)} == {
        name.capitalize() for name in SURVEYED
    }


def _rules(wrong: WrongPlan) -> list[str]:
    return [min(made.rules) for made in wrong.made]


def test_finding_all_of_them_at_once_gets_everything() -> None:
    wrong = wrong_plan_of(1, 1)
    cures = [made.kind.id for made in wrong.made]
    done = mark_plan(BOOK, wrong, _rules(wrong), _rules(wrong), cures)
    assert (done.score, done.missed, done.false, done.walked_past) == (100, (), (), ())
    assert done.minutes == done.best_minutes
    told = mark_plan(BOOK, wrong, _rules(wrong), _rules(wrong))
    assert (told.score, told.put_right) == (60, ())
    other = next(kind.id for kind in BOOK.mistakes if kind.id not in cures)
    vain = mark_plan(BOOK, wrong, _rules(wrong), _rules(wrong), [*cures, other])
    assert [kind.id for kind in vain.vain] == [other]
    assert vain.score < 100


@pytest.mark.parametrize("seed", range(8))
def test_the_right_cure_is_offered_among_others_and_clears_its_checks(seed: int) -> None:
    wrong = wrong_plan_of(seed, 2)
    for made in wrong.made:
        for rule in made.rules:
            offered = [kind.id for kind in cure_choices(BOOK, wrong, rule)]
            assert made.kind.id in offered
            assert len(offered) >= 3
    assert over_rules(cured(wrong, [made.kind.id for made in wrong.made])) == set()
    others = [kind.id for kind in BOOK.mistakes if kind.id not in {m.kind.id for m in wrong.made}]
    assert cured(wrong, others).plan == wrong.wrong.plan


def test_marking_everything_gets_nothing_and_missing_a_hazard_is_told() -> None:
    wrong = wrong_plan_of(1, 1)
    everything = list(findings_by_rule(wrong.wrong))
    done = mark_plan(BOOK, wrong, everything, everything)
    assert done.score == 0
    assert done.missed == ()
    nothing = mark_plan(BOOK, wrong, (), ())
    assert (nothing.score, nothing.found) == (0, ())
    assert nothing.walked_past


@pytest.mark.parametrize("rules", [["fuel.pump"], ["fuel.pump", "fuel.pump", "nothing"]])
def test_a_look_costs_its_time_once(rules: list[str]) -> None:
    wrong = wrong_plan_of(0, 1)
    count = len(findings_by_rule(wrong.wrong)["fuel.pump"])
    expected = BOOK.look_minutes + BOOK.each_minutes * count
    assert look_minutes(BOOK, wrong, rules) == expected
