"""Looked-at areas: what nobody has looked at is to measure, on the map as in the check."""

from __future__ import annotations

import itertools
import random

import numpy as np
import pytest
import shapely

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.looked import LookedArea
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.costs import Weights
from gale_nook.core.spot.field import grid_over
from gale_nook.core.spot.floor_map import FloorMap
from gale_nook.core.spot.looked_rules import ASSUMED, LOOKED, TO_MEASURE, looked_states
from gale_nook.core.spot.placement import floor_holes
from gale_nook.core.spot.search import best_spots
from gale_nook.core.spot.why import LOOKED_AT
from gale_nook.core.vehicle.commands import AddLookedArea, HasNone
from gale_nook.core.vehicle.looked import (
    looked_domain,
    looked_share,
    missing_along,
    missing_in,
    unlooked,
    unseen,
)
from gale_nook.core.vehicle.rules import still_asked_for
from gale_nook.demo.load import new_plan


def area(number: int, rect: tuple[float, float, float, float], **also: object) -> LookedArea:
    low_x, low_y, high_x, high_y = rect
    return LookedArea.model_validate(
        {
            "id": f"area-{number}",
            "from_x_mm": low_x,
            "to_x_mm": high_x,
            "left_y_mm": low_y,
            "right_y_mm": high_y,
            **also,
        }
    )


def looked(plan: Plan, *areas: LookedArea) -> Plan:
    """The plan with these areas alone."""
    return plan.model_copy(update={"vehicle": plan.vehicle.model_copy(update={"looked_at": areas})})


def finding(plan: Plan, catalogue: Catalogue, rule: str, subject: str) -> Finding:
    result = checked(Job(plan, catalogue)).find(rule, subject)
    assert result is not None
    return result


def random_areas(seed: int) -> list[LookedArea]:
    chance = random.Random(seed)
    results = []
    for number in range(chance.randrange(1, 7)):
        xs = sorted(chance.uniform(-1600, 4400) for _ in range(2))
        ys = sorted(chance.uniform(-1100, 1100) for _ in range(2))
        results.append(
            area(number, (xs[0], ys[0], xs[1], ys[1]), how=chance.choice(["seen", "assumed"]))
        )
    return results


@pytest.mark.parametrize("seed", range(12))
def test_what_was_not_looked_at_is_the_rest_of_the_floor(
    seed: int, heron: Plan, catalogue: Catalogue
) -> None:
    """Against a general library's difference of polygons."""
    areas = random_areas(seed)
    job = Job(looked(heron, *areas), catalogue)
    domain = shapely.box(*looked_domain(job, "below"))
    for rects, counted in (
        (unlooked(job, "below"), areas),
        (unseen(job, "below"), [a for a in areas if a.how == "seen"]),
    ):
        boxes = [shapely.box(a.from_x_mm, a.left_y_mm, a.to_x_mm, a.right_y_mm) for a in counted]
        rest = domain.difference(shapely.union_all(boxes))
        ours = [shapely.box(*rect) for rect in rects]
        assert shapely.union_all(ours).symmetric_difference(rest).area < 1.0
        assert sum(box.area for box in ours) == pytest.approx(rest.area, abs=1.0)


@pytest.mark.parametrize("seed", range(6))
def test_the_map_knows_what_the_check_knows(seed: int, heron: Plan, catalogue: Catalogue) -> None:
    """At places all over the floor: to measure, assumed or looked at, as the exact check says."""
    plan = looked(
        heron, *random_areas(seed), area(90, (-1480, -890, 4310, 890), where="inside", how="seen")
    )
    grid = grid_over((150.0, -850.0), (4250.0, 850.0), 130.0)
    for yaw in (0, 90, 180, 270):
        turned = apply(plan, PlaceHeater(x_mm=1000, y_mm=0, yaw_deg=yaw), catalogue)
        states = looked_states(Job(turned, catalogue), grid)
        assert set(np.unique(states)) <= {LOOKED, ASSUMED, TO_MEASURE}
        places = list(itertools.product(range(len(grid.y_mm)), range(len(grid.x_mm))))
        for row, column in random.Random(seed).sample(places, 14):
            x, y = float(grid.x_mm[column]), float(grid.y_mm[row])
            there = apply(turned, PlaceHeater(x_mm=x, y_mm=y), catalogue)
            found = findings_of(Job(there, catalogue), (LOOKED_AT,))
            result = next(f for f in found if f.subject == "below")
            state = states[row, column]
            assert (result.verdict is Verdict.UNKNOWN) == (state == TO_MEASURE)
            if state != TO_MEASURE:
                assert bool(result.assumed) == (state == ASSUMED)


def test_one_part_below_does_not_make_the_floor_clear(heron: Plan, catalogue: Catalogue) -> None:
    """Heron with all that was entered, and nobody having looked: nothing of it is clear."""
    plan = looked(heron)
    check = checked(Job(plan, catalogue))
    assert check.worst("vehicle") is Verdict.UNKNOWN
    assert check.worst("spot") is Verdict.UNKNOWN
    assert {f.key for f in check.findings if f.verdict is Verdict.UNKNOWN} >= {
        ("vehicle.survey_below", "", "-"),
        ("spot.looked_at", "", "below"),
        ("spot.looked_at", "", "inside"),
        ("pipes.looked_at", "exhaust", "exhaust"),
        ("pipes.looked_at", "intake", "intake"),
        ("fuel.looked_at", "fuel", "line"),
    }
    assert np.all(FloorMap(Job(plan, catalogue), 100.0).field(0).looked == TO_MEASURE)


def test_what_was_looked_at_ends_where_the_tape_ended(heron: Plan, catalogue: Catalogue) -> None:
    """The hole needs its surroundings, not only itself: 1 mm short is to measure."""
    spot, around = heron.spot, 100.0  # of a high-voltage cable, the most that any kind wants left
    assert spot is not None
    result = finding(looked(heron), catalogue, "spot.looked_at", "below")
    low, high = result.marks[0].start, result.marks[0].end
    assert (low[0] + high[0]) / 2 == pytest.approx(spot.x_mm)
    (hole,) = floor_holes(Job(heron, catalogue))
    assert high[0] - low[0] == pytest.approx(2 * around + hole.diameter_mm)
    for short, verdict in ((0.0, Verdict.CLEAR), (1.0, Verdict.UNKNOWN)):
        seen = area(1, (low[0] - 5, low[1] - 5, high[0] - short, high[1] + 5))
        plan = looked(heron, seen)
        assert finding(plan, catalogue, "spot.looked_at", "below").verdict is verdict
    words = finding(plan, catalogue, "spot.looked_at", "below").sentence
    assert "behind the datum" in words


def test_a_run_that_leaves_the_area_says_where(heron: Plan, catalogue: Catalogue) -> None:
    shell = heron.vehicle.shell
    half = shell.outer_width_mm / 2
    spot = heron.spot
    assert spot is not None
    only_left = area(1, (shell.front_x_mm, -half, shell.rear_x_mm, spot.y_mm))
    only_right = area(1, (shell.front_x_mm, spot.y_mm, shell.rear_x_mm, half))
    verdicts = {
        finding(looked(heron, each), catalogue, "pipes.looked_at", "exhaust").verdict
        for each in (only_left, only_right)
    }
    assert verdicts == {Verdict.UNKNOWN}  # the hot pipe's surroundings reach over the line
    whole = area(1, (shell.front_x_mm, -half, shell.rear_x_mm, half))
    result = finding(looked(heron, whole), catalogue, "pipes.looked_at", "exhaust")
    assert result.verdict is Verdict.CLEAR


def test_what_is_only_assumed_says_so(heron: Plan, catalogue: Catalogue) -> None:
    shell = heron.vehicle.shell
    half = shell.outer_width_mm / 2
    whole = (shell.front_x_mm, -half, shell.rear_x_mm, half)
    plan = looked(heron, area(1, whole, how="assumed"), area(2, whole, where="inside"))
    for rule, subject in (
        ("vehicle.survey_below", "-"),
        ("spot.looked_at", "below"),
        ("pipes.looked_at", "exhaust"),
        ("fuel.looked_at", "line"),
    ):
        result = finding(plan, catalogue, rule, subject)
        assert result.verdict is Verdict.CLEAR
        assert result.assumed
    assert not finding(plan, catalogue, "spot.looked_at", "inside").assumed


def test_best_spots_are_first_where_somebody_has_looked(heron: Plan, catalogue: Catalogue) -> None:
    shell, half = heron.vehicle.shell, heron.vehicle.shell.outer_width_mm / 2
    inside = area(9, (shell.front_x_mm, -half, shell.rear_x_mm, half), where="inside")
    everywhere = area(1, (shell.front_x_mm, -half, shell.rear_x_mm, half))
    known = best_spots(Job(looked(heron, inside, everywhere), catalogue), Weights())
    assert known
    assert not any(spot.to_measure for spot in known)
    last = known[-1].spot
    there = area(1, (last.x_mm - 400, last.y_mm - 400, last.x_mm + 400, last.y_mm + 400))
    part = best_spots(Job(looked(heron, inside, there), catalogue), Weights())
    assert not part[0].to_measure
    assert np.hypot(part[0].spot.x_mm - last.x_mm, part[0].spot.y_mm - last.y_mm) < 400
    flags = [spot.to_measure for spot in part]
    assert flags == sorted(flags)


def test_shares_and_stretches() -> None:
    rects = ((0.0, 0.0, 100.0, 100.0), (100.0, 0.0, 200.0, 50.0))
    assert missing_in(rects, (50.0, 50.0, 150.0, 80.0)) == (50.0, 50.0, 100.0, 80.0)
    assert missing_in(rects, (200.0, 0.0, 300.0, 50.0)) is None  # it only touches
    run = [(-50.0, 25.0, -100.0), (250.0, 25.0, -100.0)]
    assert missing_along(rects, run, 10.0) == pytest.approx((0.0, 15.0, 200.0, 35.0))
    assert missing_along(rects, [(-50.0, -30.0, 0.0), (250.0, -30.0, 0.0)], 29.9) is None


def test_half_of_the_floor_is_half(heron: Plan, catalogue: Catalogue) -> None:
    shell = heron.vehicle.shell
    middle = (shell.bulkhead_x_mm + shell.rear_x_mm) / 2
    plan = looked(heron, area(1, (shell.front_x_mm, -2000, middle, 2000)))
    assert looked_share(Job(plan, catalogue), "below") == pytest.approx(0.5)
    assert "50 %" in finding(plan, catalogue, "vehicle.survey_below", "-").sentence


def test_what_such_a_vehicle_has_is_asked_for(catalogue: Catalogue) -> None:
    """Of a diesel van tank, exhaust, springs and wheels; of a trailer no tank."""
    diesel = new_plan("d", catalogue.bodies["mid-van"])
    asked = still_asked_for(Job(diesel, catalogue))
    assert {"fuel-tank", "vehicle-exhaust", "suspension", "wheel", "brake-pipe"} <= asked
    trailer = still_asked_for(Job(new_plan("t", catalogue.bodies["trailer"]), catalogue))
    assert {"suspension", "wheel"} <= trailer
    assert not {"fuel-tank", "vehicle-exhaust"} & trailer
    carried = still_asked_for(Job(new_plan("c", catalogue.bodies["demountable"]), catalogue))
    assert carried == frozenset()
    none = apply(diesel, HasNone(kind="vehicle-exhaust"), catalogue)
    assert "vehicle-exhaust" not in still_asked_for(Job(none, catalogue))
    back = apply(none, HasNone(kind="vehicle-exhaust", none=False), catalogue)
    assert "vehicle-exhaust" in still_asked_for(Job(back, catalogue))


def test_an_area_with_its_ends_the_wrong_way_round_is_refused() -> None:
    with pytest.raises(ValueError, match="front end lies ahead"):
        area(1, (100.0, 0.0, 50.0, 10.0))
    with pytest.raises(ValueError, match="left side lies left"):
        area(1, (0.0, 10.0, 50.0, 0.0))


def test_an_area_is_added_and_taken_for_looked_at(heron: Plan, catalogue: Catalogue) -> None:
    item = area(7, (0, -500, 900, 500), on="2026-10-03", note="on a ramp")
    plan = apply(looked(heron), AddLookedArea(item=item), catalogue)
    assert plan.vehicle.looked_at == (item,)
    assert "2026-10-03" in finding(plan, catalogue, "vehicle.survey_below", "-").sentence


def test_all_that_is_asked_for_has_an_answer(catalogue: Catalogue) -> None:
    """Of a new van each question is settled by its first remedy, one after another."""
    plan = new_plan("d", catalogue.bodies["mid-van"])
    for _ in range(20):
        job = Job(plan, catalogue)
        asked = [f for f in checked(job).findings if f.rule == "vehicle.asked_for"]
        if not asked:
            break
        offered = remedies_for(job, asked[0])
        assert offered, asked[0].subject
        plan = apply(plan, offered[0].command, catalogue)
    assert still_asked_for(Job(plan, catalogue)) == frozenset()
    assert "vehicle.shell.ground_z_mm" not in plan.vehicle.pencilled
    assert any(".solids.fuel-tank" in address for address in plan.vehicle.pencilled)
