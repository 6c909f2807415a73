"""Ribs under the mount, and holes that are there already."""

from __future__ import annotations

import math

import numpy as np
import pytest

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import Feature
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.costs import Weights
from gale_nook.core.spot.floor_map import FloorMap
from gale_nook.core.spot.ribs import rib_packing
from gale_nook.core.spot.search import best_spots


@pytest.mark.parametrize(
    ("pitch", "phase", "ribs"),
    [
        # a flange from −286 − 84 to −286 + 84: ribs at 20 − 120 n: −340, −220
        (120, 20, 2),
        (120, 60, 1),  # −300
        (400, 0, 0),  # −400 and 0 lie outside
        (50, 0, 3),  # −350, −300, −250
    ],
)
def test_ribs_under_the_flange_by_hand(
    heron: Plan, catalogue: Catalogue, pitch: float, phase: float, ribs: int
) -> None:
    plan = apply(heron, set_value("vehicle.floor.pitch_mm", pitch), catalogue)
    plan = apply(plan, set_value("vehicle.floor.phase_mm", phase), catalogue)
    assert plan.spot is not None
    packing = rib_packing(Job(plan, catalogue), plan.spot)
    assert packing is not None
    assert (packing.ribs, packing.depth_mm) == (ribs, 8)
    told = " ".join(say(step.text) for step in steps(Job(plan, catalogue)))
    assert ("fill the valleys of 8 mm" in told) == (ribs > 0)


def test_a_flat_floor_needs_no_packing(wren: Plan, catalogue: Catalogue) -> None:
    assert wren.spot is not None
    assert rib_packing(Job(wren, catalogue), wren.spot) is None


def test_an_existing_hole_that_fits_comes_first(heron: Plan, catalogue: Catalogue) -> None:
    """An old flue of 90 mm near spot A: the turret's 124 mm take it away; one of 150 mm would be
    too large.
    """
    free = best_spots(Job(heron, catalogue), Weights())[2].spot
    flue = Feature(
        id="flue", name="old flue", kind="hole", inside=(free.x_mm + 10, free.y_mm), diameter_mm=90
    )
    for diameter, used in ((90, True), (150, False)):
        hole = flue.model_copy(update={"diameter_mm": diameter})
        plan = heron.model_copy(
            update={
                "vehicle": heron.vehicle.model_copy(
                    update={"features": (*heron.vehicle.features, hole)}
                )
            }
        )
        best = best_spots(Job(plan, catalogue), Weights())[0]
        assert (best.uses == "old flue") == used
        if used:
            assert math.dist((best.spot.x_mm, best.spot.y_mm), hole.inside or (0, 0)) < 1e-9
            bare = plan.model_copy(update={"spot": best.spot, "acceptances": ()})
            assert check(bare, catalogue, ("spot",)).tally()["over"] == 0


@pytest.mark.parametrize(
    ("pitch", "phase", "verdict", "measured_mm"),
    [(120, 20, "tight", 49.2), (400, 0, "over", 41.2), (None, 0, "over", 41.2)],
)
def test_a_rib_beside_the_flange_is_nothing_to_clamp(
    heron: Plan,
    catalogue: Catalogue,
    pitch: float | None,
    phase: float,
    verdict: str,
    measured_mm: float,
) -> None:
    """The long turret needs 45 mm: the floor has 41.2, and 49.2 only where a rib lies under it.
    Where the ribs' pitch was not measured nobody knows, and they do not count.
    """
    plan = apply(heron, set_value("spot.mount", "turret-long"), catalogue)
    plan = apply(plan, set_value("vehicle.floor.pitch_mm", pitch), catalogue)
    plan = apply(plan, set_value("vehicle.floor.phase_mm", phase), catalogue)
    finding = check(plan, catalogue).find("spot.stack", "turret-long")
    assert finding is not None
    assert finding.verdict == verdict
    assert finding.measured == pytest.approx(measured_mm)
    # the map says the same at every place across
    floor = FloorMap(Job(plan, catalogue), 50.0)
    field = floor.field(180)
    assert plan.spot is not None
    for row, y in enumerate(floor.grid.y_mm):
        there = apply(plan, set_value("spot.y_mm", float(y)), catalogue)
        exact = check(there, catalogue, ("spot",)).find("spot.stack", "turret-long")
        assert exact is not None
        if exact.margin is not None and exact.margin < 0:
            assert np.all(field.margin_mm[row] <= exact.margin + 1e-9)
