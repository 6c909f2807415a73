"""What layouts are compared by."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import Job
from gale_nook.core.plan.wishes import Weights
from gale_nook.core.planner.measures import MEASURES, compared, dominated, measures_of, score
from gale_nook.demo.load import demo_plan
from tests.vans import small_van

BOOK = load_catalogue().planner
VALUES = st.fixed_dictionaries({name: st.floats(0, 500) for name in MEASURES})


def test_every_measure_has_its_words_and_its_weight() -> None:
    assert {kind.id for kind in BOOK.measures} == set(MEASURES) == set(Weights.model_fields)


def test_a_whole_layout_has_every_measure(catalogue: Catalogue) -> None:
    job = Job(demo_plan("heron"), catalogue)
    values = measures_of(job)
    assert set(values) == set(MEASURES)
    run = job.plan.pipes.exhaust
    assert run is not None
    assert values["exhaust"] == pytest.approx(1.351, abs=0.001)  # as the pipes' page tells it
    assert values["heat"] == 0.0


def test_what_is_not_laid_is_not_measured(catalogue: Catalogue) -> None:
    values = measures_of(Job(small_van(), catalogue))
    assert "exhaust" not in values
    assert "fuel" not in values


@given(VALUES, st.sampled_from(sorted(MEASURES)), st.floats(0, 100))
def test_more_of_a_measure_is_never_scored_better(
    values: dict[str, float], name: str, more: float
) -> None:
    """So a sum of lower bounds is a lower bound of the sum."""
    worse = {**values, name: values[name] + more}
    assert score(BOOK, Weights(), worse) >= score(BOOK, Weights(), values) - 1e-9


def test_a_weight_of_nothing_leaves_a_measure_out() -> None:
    weights = Weights(cost=0)
    assert score(BOOK, weights, {"cost": 9999.0}) == 0
    assert score(BOOK, Weights(), {"cost": 300.0}) == pytest.approx(2 * 300 / 150)


@given(VALUES, VALUES)
def test_no_two_are_each_better_in_everything(
    one: dict[str, float], other: dict[str, float]
) -> None:
    assert not (dominated(one, other) and dominated(other, one))
    assert not dominated(one, one)
    assert compared(one, other).better == compared(other, one).worse
