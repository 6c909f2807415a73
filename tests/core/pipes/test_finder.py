"""Finding a way: what is found passes every check, where there is none the limit is named, and a
shift that would do.
"""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.judging import nothing_over
from gale_nook.core.heater.commands import ChooseHeater, SetOwnLimit
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import SetEdges
from gale_nook.core.pipes.finder import constraints_of, find_route
from gale_nook.core.pipes.obstructions import PARTS, nearest_shift, obstruction_of, reasons_against
from gale_nook.core.pipes.proposals import RouteProposal, edges_nearest_first, proposals, propose
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import demo_plan


def _bare() -> Plan:
    """A shell with nothing under it, and a Bothy 40 in it."""
    book, plan = load_catalogue(), demo_plan("blank")
    for command in (ChooseHeater(sheet="bothy-40"), PlaceHeater(x_mm=1500, y_mm=-200)):
        plan = apply(plan, command, book)
    return plan


def _assert_clear(plan: Plan, way: RouteProposal, catalogue: Catalogue) -> None:
    after = check(apply(plan, way.command, catalogue), catalogue, ("pipes",))
    assert [
        f.rule
        for f in after.findings
        if f.verdict == "over" and not f.rule.startswith("pipes.air_")
    ] == []
    assert pipe_run(after.job, "exhaust") is not None
    assert pipe_run(after.job, "exhaust").length_mm == pytest.approx(way.length_mm)


def test_with_nothing_in_the_way_it_goes_straight_out(catalogue: Catalogue) -> None:
    """Down, one bend, straight to the nearer side: as short as the drop, the level way and its fall
    allow.
    """
    job = Job(_bare(), catalogue)
    found = find_route(job, "left", constraints_of(job))
    assert found is not None
    x, y, z = port_point(job, heater_port(job, "exhaust"))
    assert len(found.corners) == 2
    assert found.corners[0][:2] == (x, y)
    half = job.plan.vehicle.shell.outer_width_mm / 2
    level = half + 15 + y
    fall = math.radians(3.5)
    drop, bend = z - found.corners[0][2], math.radians(90) - fall
    by_hand = drop + level / math.cos(fall) - 2 * 55 * math.tan(bend / 2) + 55 * bend
    assert found.corners[-1][1] == pytest.approx(-half - 15)
    assert found.length_mm == pytest.approx(by_hand, abs=0.5)


@pytest.mark.slow
@pytest.mark.parametrize("name", ["heron", "quarto"])
def test_three_different_ways_that_every_check_lets_pass(name: str, catalogue: Catalogue) -> None:
    plan = demo_plan(name)
    ways = list(proposals(Job(plan, catalogue)))
    assert len(ways) == 3
    for way in ways:
        _assert_clear(plan, way, catalogue)
    for one, other in ((0, 1), (0, 2), (1, 2)):
        assert math.dist(ways[one].mouth, ways[other].mouth) >= 500
    assert {fitting.kind for fitting in ways[0].route.fittings} >= {"silencer", "support"}


@pytest.mark.slow
@settings(max_examples=12)
@given(
    st.lists(
        st.tuples(
            st.integers(600, 2600),
            st.integers(-800, 600),
            st.integers(-320, -120),
            st.integers(60, 500),
            st.integers(60, 400),
        ),
        max_size=6,
    ),
    st.sampled_from(["fuel-tank", "member", "brake-pipe", "liner"]),
)
def test_whatever_is_below_what_is_found_is_clear(
    boxes: list[tuple[int, int, int, int, int]], kind: str
) -> None:
    book, plan = load_catalogue(), _bare()
    for number, (x, y, z, length, width) in enumerate(boxes):
        solid = BoxSolid(
            id=f"s-{number}",
            name=f"part {number}",
            kind=kind,
            x_mm=x,
            y_mm=y,
            z_mm=z,
            length_mm=length,
            width_mm=width,
            height_mm=60,
        )
        plan = apply(plan, AddSolid(item=solid), book)
    for edge in ("left", "right"):
        way = propose(Job(plan, book), edge)
        if way is not None:
            _assert_clear(plan, way, book)


def test_the_mouth_keeps_to_the_stretch_and_the_sides_that_are_permitted(
    heron: Plan, catalogue: Catalogue
) -> None:
    plan = apply(heron, SetEdges(edges=("right",)), catalogue)
    plan = apply(
        apply(plan, set_value("pipes.mouth_from_mm", 1800), catalogue),
        set_value("pipes.mouth_to_mm", 2200),
        catalogue,
    )
    ways = list(proposals(Job(plan, catalogue)))
    assert ways
    assert all(way.edge == "right" and 1800 <= way.mouth[0] <= 2200 for way in ways)
    assert edges_nearest_first(Job(heron, catalogue))[0] == "left"


@pytest.mark.slow
def test_a_shorter_limit_is_named_with_what_there_would_be(
    heron: Plan, catalogue: Catalogue
) -> None:
    limit = SetOwnLimit(limit=OwnLimit(id="exhaust_length_mm", maximum=700, note="trial"))
    job = Job(apply(heron, limit, catalogue), catalogue)
    assert propose(job, "left") is None
    stopped = obstruction_of(job, "left", "length")
    assert stopped is not None
    assert "700 mm are allowed" in say(stopped.sentence)
    free = Job(heron, catalogue)
    shortest = find_route(free, "left", constraints_of(free))
    assert shortest is not None
    assert say(stopped.sentence).startswith(
        f"The shortest clear run to the left side is {shortest.length_mm:.0f} mm"
    )


@pytest.mark.slow
def test_bends_mouth_and_gaps_are_named_too(heron: Plan, catalogue: Catalogue) -> None:
    bends = Job(
        apply(
            heron,
            SetOwnLimit(limit=OwnLimit(id="exhaust_bend_sum_deg", maximum=90, note="trial")),
            catalogue,
        ),
        catalogue,
    )
    stopped = obstruction_of(bends, "left", "bends")
    assert stopped is not None
    assert "90° are allowed" in say(stopped.sentence)
    window = SetOwnLimit(limit=OwnLimit(id="mouth_opening_mm", minimum=3000, note="trial"))
    mouth = obstruction_of(Job(apply(heron, window, catalogue), catalogue), "left", "mouth")
    assert mouth is not None
    assert "3000 mm are asked for" in say(mouth.sentence)


def test_a_port_that_is_shut_in_is_said_to_be(catalogue: Catalogue) -> None:
    lid = BoxSolid(
        id="lid",
        name="lid",
        kind="liner",
        x_mm=1300,
        y_mm=-500,
        z_mm=-200,
        length_mm=500,
        width_mm=600,
        height_mm=60,
    )
    plan = apply(
        apply(_bare(), AddSolid(item=lid), catalogue),
        SetEdges(edges=("left",)),
        catalogue,
    )
    job = Job(plan, catalogue)
    assert propose(job, "left") is None
    reasons = [say(reason) for reason in reasons_against(job)]
    assert reasons[0].startswith("Something lies right at the port")
    assert "would do" in reasons[-1]


@pytest.mark.slow
def test_a_shift_of_the_heater_that_would_do(heron: Plan, catalogue: Catalogue) -> None:
    """With 800 mm allowed there is no way from here; from a clear spot near here there is, and it
    really is.
    """
    limit = SetOwnLimit(limit=OwnLimit(id="exhaust_length_mm", maximum=800, note="trial"))
    plan = apply(apply(heron, limit, catalogue), SetEdges(edges=("left",)), catalogue)
    job = Job(plan, catalogue)
    assert propose(job, "left") is None
    shift = next(found for part in range(PARTS) if (found := nearest_shift(job, part)) is not None)
    assert "would do" in shift.sentence
    there = apply(plan, shift.command, catalogue)
    assert propose(Job(there, catalogue), "left") is not None
    assert nothing_over(Job(there, catalogue), SPOT_CHECKS)


def test_a_finer_grid_finds_no_longer_way(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(heron, catalogue)
    coarse, fine = (
        find_route(job, "left", replace(constraints_of(job), step_mm=step)) for step in (40.0, 20.0)
    )
    assert fine is not None
    if coarse is not None:
        assert (
            fine.length_mm + 2 * fine.bends_deg <= (coarse.length_mm + 2 * coarse.bends_deg) * 1.05
        )


def test_a_mouth_that_was_found_is_not_found_again(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(heron, catalogue)
    first = propose(job, "left")
    assert first is not None
    second = propose(job, "left", (first.mouth,))
    assert second is not None
    assert math.dist(first.mouth, second.mouth) >= 500
