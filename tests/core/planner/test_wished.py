"""Wishes: where they let the heater stand, what keeps out of what, what a plan breaks of them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import Job
from gale_nook.core.plan.wishes import PartWish, WishArea, Wishes
from gale_nook.core.planner.wished import (
    IN_THE_WAY,
    allowed,
    as_it_is,
    broken_wishes,
    every_wish,
    fills_from,
    job_to_search,
    with_wishes,
    without,
)
from gale_nook.core.spot.field import Grid
from gale_nook.core.spot.placement import body_corners
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.demo.load import demo_plan

GRID = Grid(np.arange(400.0, 4200.0, 100.0), np.arange(-800.0, 801.0, 100.0))


def _job(catalogue: Catalogue, **wishes: Any) -> Job:
    plan = demo_plan("heron").model_copy(update={"wishes": Wishes(**wishes)})
    return Job(plan, catalogue)


def _area(**more: Any) -> WishArea:
    box = {"from_x_mm": 1000, "to_x_mm": 2000, "left_y_mm": -500, "right_y_mm": 500}
    return WishArea.model_validate({"id": "a", **box, **more})


def test_without_wishes_every_place_will_do(catalogue: Catalogue) -> None:
    assert allowed(_job(catalogue), GRID, 0).all()


def test_each_place_that_is_allowed_keeps_the_wish(catalogue: Catalogue) -> None:
    """Held against the heater's own box at each place."""
    job = _job(
        catalogue,
        side="left",
        parts=(PartWish(id="w", part="bed", wish="near", within_mm=700),),
        areas=(_area(wanted=False),),
    )
    bed = next(shape for solid, _, shape in surveyed_parts(job) if solid.id == "bed").bounds
    may, base = allowed(job, GRID, 90), job.plan.spot
    assert base is not None
    assert may.any()
    assert not may.all()
    for iy, ix in np.argwhere(np.ones(GRID.shape, dtype=bool))[::7]:
        at = {"x_mm": float(GRID.x_mm[ix]), "y_mm": float(GRID.y_mm[iy]), "yaw_deg": 90}
        there = job.with_parts(spot=base.model_copy(update=at))
        corners = body_corners(there)
        assert corners is not None
        low, high = corners
        x, y = ((low[i] + high[i]) / 2 for i in range(2))
        away = np.hypot(max(bed[0] - x, x - bed[3], 0), max(bed[1] - y, y - bed[4], 0))
        clear = high[0] <= 1000 or low[0] >= 2000 or high[1] <= -500 or low[1] >= 500
        assert may[iy, ix] == (y < 0 and away <= 700 and clear), at


def test_a_wanted_area_takes_the_heaters_middle(catalogue: Catalogue) -> None:
    may = allowed(
        _job(catalogue, areas=(_area(), _area(id="b", from_x_mm=3000, to_x_mm=3500))), GRID, 0
    )
    columns = GRID.x_mm[np.nonzero(may.any(axis=0))[0]]
    assert columns.min() < 2000
    assert columns.max() > 2700
    assert may.sum() < may.size / 2


def test_what_nothing_may_be_laid_into_stands_in_the_way_while_looking(
    catalogue: Catalogue,
) -> None:
    job = _job(
        catalogue,
        parts=(PartWish(id="w", part="galley", wish="keep"),),
        areas=(_area(wanted=False, of="everything"),),
        under_sill="never",
    )
    searched = job_to_search(job)
    there = {solid.id: solid for solid in searched.plan.vehicle.solids}
    assert there["galley"].hollow is None
    assert sum(1 for name in there if name.startswith(IN_THE_WAY)) == 3
    back = as_it_is(job, searched)
    assert back.plan.vehicle.solids == job.plan.vehicle.solids


def test_a_plan_is_told_what_it_breaks_with_figures(catalogue: Catalogue) -> None:
    job = _job(
        catalogue,
        side="right",
        parts=(PartWish(id="w", part="galley", wish="keep"),),
        under_sill="never",
        most_hole_mm=60,
    )
    told = {broken.wish: broken.sentence for broken in broken_wishes(job)}
    assert set(told) == {"side", "part:w", "sill", "hole"}
    assert "127" in told["hole"]
    assert "galley" in told["part:w"]
    assert broken_wishes(_job(catalogue, side="left", most_hole_mm=127)) == ()


def test_a_dropped_wish_forbids_nothing(catalogue: Catalogue) -> None:
    job = _job(
        catalogue,
        side="right",
        most_hole_mm=60,
        under_sill="never",
        fill_from="left",
        areas=(_area(), _area(id="b", wanted=False)),
        parts=(PartWish(id="w", part="bed", wish="near"),),
    )
    wishes = every_wish(job)
    assert len(wishes) == 7
    freed = with_wishes(job, without(job.plan.wishes, frozenset(w.id for w in wishes)))
    assert every_wish(freed) == ()
    one = with_wishes(job, without(job.plan.wishes, frozenset({"side"})))
    assert {w.id for w in every_wish(one)} == {w.id for w in wishes} - {"side"}


@pytest.mark.parametrize(
    ("filler", "side", "fits"), [("left", "left", True), ("left", "right", False)]
)
def test_a_tank_is_filled_from_a_side(
    filler: str, side: str, fits: bool, catalogue: Catalogue
) -> None:
    plan = demo_plan("dunlin")
    assert plan.fuel.tank is not None
    tank = plan.fuel.tank.model_copy(update={"filler": "left"})
    fuel = plan.fuel.model_copy(update={"tank": tank})
    job = Job(plan.model_copy(update={"fuel": fuel}), catalogue)
    assert fills_from(job, side) is fits
    assert fills_from(job, "any")
