"""When no heater meets all demands: what would change that, each claim proved."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.heater.choice import demands_of, judgements
from gale_nook.core.heater.what_would_help import what_would_help
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.sentences import say

HARD = [
    {"heat.outside_c": -35.0},
    {"heat.warm_up_h": 0.3},
    {"heat.outside_c": -45.0, "heat.air_changes_per_h": 4.0},
]


def _harder(plan: Plan, catalogue: Catalogue, changes: dict[str, float]) -> Job:
    for address, value in changes.items():
        plan = apply(plan, set_value(address, value), catalogue)
    return Job(plan, catalogue)


def test_where_a_heater_meets_all_there_is_nothing_to_say(
    heron: Plan, catalogue: Catalogue
) -> None:
    assert what_would_help(Job(heron, catalogue)) == ()


@pytest.mark.parametrize("changes", HARD)
def test_what_is_called_enough_is_enough(
    heron: Plan, catalogue: Catalogue, changes: dict[str, float]
) -> None:
    """Each change that is said to be enough, made: then a heater meets every demand. Each that is
    not, made: then none does.
    """
    job = _harder(heron, catalogue, changes)
    assert not any(each.meets_need for each in judgements(job))
    found = what_would_help(job)
    assert found
    for each in found:
        if each.command is None:
            continue
        after = Job(apply(job.plan, each.command, catalogue), catalogue)
        assert any(j.meets_need for j in judgements(after)) == each.enough, say(each.sentence)


def test_what_is_enough_comes_first_then_what_gains_most(heron: Plan, catalogue: Catalogue) -> None:
    found = what_would_help(_harder(heron, catalogue, HARD[0]))
    order = [(not each.enough, -each.gains_w) for each in found]
    assert order == sorted(order)


def test_two_heaters_cover_the_need_together(heron: Plan, catalogue: Catalogue) -> None:
    job = _harder(heron, catalogue, HARD[0])
    two = next(each for each in what_would_help(job) if "together" in each.sentence)
    assert two.gains_w >= demands_of(job).need_w
    assert max(j.most_w for j in judgements(job) if j.right_medium) < demands_of(job).need_w
