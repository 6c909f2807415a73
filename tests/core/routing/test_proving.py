"""Candidates put before checks: the first clear one, the best of none clear, and several."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.routing.families import dog_leg, fan, lanes_mm, length_mm
from gale_nook.core.routing.proving import (
    RunKind,
    best_that_differ,
    first_clear,
    first_clear_or_best,
    proved,
)
from gale_nook.demo.load import demo_plan

BOOK = load_catalogue()
looked_at: list[float] = []


def _over_above(limit: float, rule_id: str) -> Rule:
    """A check of the plan's coldest night: over where it is more than a limit."""

    def check(job: Job, this: Rule) -> Iterator[Finding]:
        value = job.plan.heat.outside_c
        looked_at.append(value)
        band = Band(None, limit, Whose.WORKSHOP)
        yield this.finding(job, measured=value, band=band, sentence="", tolerance=0.0)

    return Rule(rule_id, "t", "C", None, check)


CHECKS = (_over_above(-5.0, "test.first"), _over_above(-10.0, "test.second"))


def _kind() -> RunKind[float]:
    """Candidates are nights; -20 has no room."""
    job = Job(apply(demo_plan("heron"), set_value("heat.cab_c", None), BOOK), BOOK)

    def fit_out(night: float) -> Job | None:
        if night == -20.0:
            return None
        return job.with_plan(apply(job.plan, set_value("heat.outside_c", night), BOOK))

    return RunKind(fit_out, CHECKS, abs, lambda one, other: abs(one - other) >= 3.0)


def test_each_is_told_with_what_is_over() -> None:
    found = list(proved(_kind(), [-3.0, -7.0, -20.0, -12.0]))
    assert [(each.candidate, len(each.over)) for each in found] == [(-3, 2), (-7, 1), (-12, 0)]
    assert [each.cost for each in found] == [(2, 3.0), (1, 7.0), (0, 12.0)]


def test_the_first_clear_one_is_taken_and_no_later_one_looked_at() -> None:
    looked_at.clear()
    found = first_clear(_kind(), [-3.0, -20.0, -12.0, -15.0])
    assert found is not None
    assert found.candidate == -12.0
    assert looked_at == [-3.0, -12.0, -12.0]  # it stops at the first that is over
    assert found.job.plan.heat.outside_c == -12.0
    assert first_clear(_kind(), [-3.0, -7.0]) is None


def test_one_beside_what_there_is_has_to_differ() -> None:
    found = first_clear(_kind(), [-12.0, -13.0, -15.0], beside=[-11.0])
    assert found is not None
    assert found.candidate == -15.0


def test_of_none_clear_the_one_with_the_fewest_over() -> None:
    best = first_clear_or_best(proved(_kind(), [-3.0, -9.0, -7.0]))
    assert best is not None
    assert best.candidate == -7.0
    assert first_clear_or_best([]) is None


def test_the_best_few_differ_and_come_best_first() -> None:
    kind = _kind()
    found = proved(kind, [-3.0, -7.0, -9.0, -12.0, -13.0, -18.0])
    assert [each.candidate for each in best_that_differ(kind, found, 3)] == [-12.0, -18.0, -7.0]


def test_what_was_accepted_is_not_over() -> None:
    kind = _kind()
    job = kind.fit_out(-7.0)
    assert job is not None
    accepted = Acceptance(
        id="a-1", rule="test.second", subject="-", reason="looked at", by="me", on="2026-11-28"
    )
    plan = job.plan.model_copy(update={"acceptances": (accepted,)})
    there = replace(kind, fit_out=lambda _night: job.with_plan(plan))
    assert first_clear(there, [-7.0]) is not None


number = st.integers(-900, 900).map(float)
points = st.tuples(number, number, st.integers(-300, 0).map(float))


@given(points, points, number, st.one_of(st.none(), st.integers(-400, -10).map(float)))
def test_legs_of_a_dog_leg_have_room_for_their_bends(
    start: Vec3, end: Vec3, lane: float, low_z: float | None
) -> None:
    corners = dog_leg(start, lane, end, 60.0, low_z, 10.0)
    for a, b in zip([start, *corners], corners, strict=False):
        assert length_mm([a, b]) > 60.0
    for corner in corners:
        assert length_mm([corner, end]) > 60.0
        assert corner[1] in {lane, start[1], end[1]}
    if low_z is None:
        levels = [start[2], *(corner[2] for corner in corners), end[2]]
        assert levels in (sorted(levels), sorted(levels, reverse=True))


def test_lanes_go_from_the_shortest_run_out() -> None:
    lanes = lanes_mm((0, -130, 0), (900, 250, 0), 120.0, 480.0)
    assert lanes[:2] == [-130, 250]
    assert set(lanes) == {-130, 250, -480, -360, -240, -120, 0, 120, 240, 360, 480}
    detour = [abs(lane + 130) + abs(lane - 250) for lane in lanes]
    assert detour == sorted(detour)


def test_a_fan_reaches_out_from_its_corner() -> None:
    runs = list(fan((10.0, 0.0, -50.0), [(0.0, 1.0, 0.0)], (100.0, 200.0)))
    assert [run[0][1] for run in runs] == [(10.0, 100.0, -50.0), (10.0, 200.0, -50.0)]
    assert [run[2] for run in runs] == pytest.approx([100.0, 200.0])
