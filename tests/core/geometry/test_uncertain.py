"""A part whose place is not known exactly: wherever it is, it lies within what the checks take."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.geometry.cloud import Grid3, block
from gale_nook.core.geometry.shapes import box_shape, separation, solid_shape
from gale_nook.core.geometry.uncertain import widened
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, Hollow, OutlineSolid, Solid
from gale_nook.core.spot.convex_pieces import pieces_of_solid
from gale_nook.core.vehicle.copies import moved
from gale_nook.demo.load import DEMO_NAMES, demo_plan

OFF_MM = 25.0


def uncertain(solid: Solid, by_mm: float = OFF_MM) -> Solid:
    return solid.model_copy(update={"uncertainty_mm": by_mm})


@pytest.mark.parametrize("name", DEMO_NAMES)
@settings(max_examples=12, deadline=None)
@given(way=st.floats(0, 2 * math.pi))
def test_it_is_never_farther_from_anything_than_it_may_be(name: str, way: float) -> None:
    """Moved by its uncertainty any way, no part is nearer to a probe than its widened shape."""
    for solid in demo_plan(name).vehicle.solids:
        by = (OFF_MM * math.cos(way), OFF_MM * math.sin(way), 0.0)
        there, may_be = solid_shape(moved(solid, by)), solid_shape(uncertain(solid))
        b = there.bounds
        probe = box_shape((b[3] + 40.0, b[4] + 30.0, b[2] - 10.0), (60.0, 60.0, 60.0))
        told = separation(may_be, probe).distance_mm
        assert told <= separation(there, probe).distance_mm + 1e-3


def test_what_is_known_exactly_stays_as_it_is(heron: Plan) -> None:
    assert all(widened(solid) == solid for solid in heron.vehicle.solids)


def test_panels_may_stand_farther_in_or_out() -> None:
    box = BoxSolid(
        **{"id": "bench", "name": "bench", "kind": "bench", "hollow": Hollow(panel_mm=15)},
        **{"x_mm": 0, "y_mm": 0, "z_mm": 0},
        **{"length_mm": 900, "width_mm": 400, "height_mm": 450},
    )
    wide = widened(uncertain(box, 10.0))
    assert isinstance(wide, BoxSolid)
    assert wide.hollow is not None
    inner = wide.x_mm + wide.hollow.panel_mm
    assert (wide.x_mm, inner) == (-10.0, 25.0)


def test_an_outline_that_crosses_itself_is_widened_as_its_hull() -> None:
    cross = ((0.0, 0.0), (100.0, 100.0), (100.0, 0.0), (0.0, 100.0))
    common = {"id": "a", "name": "a", "kind": "member", "outline": cross}
    wide = widened(uncertain(OutlineSolid(**common, z_mm=0, height_mm=10), 10.0))
    assert len(pieces_of_solid(wide)) == 2


def test_a_check_allows_for_it_and_says_so(heron: Plan, catalogue: Catalogue) -> None:
    """The hole's edge to a member: as much less is left as the member may be off."""
    key = next(
        f
        for f in checked(Job(heron, catalogue)).of("spot")
        if f.rule == "spot.hole" and f.measured is not None and f.subject.endswith("member-4")
    )
    part = key.subject.removeprefix(key.subject.split("member-")[0])
    solids = tuple(uncertain(s) if s.id == part else s for s in heron.vehicle.solids)
    vehicle = heron.vehicle.model_copy(update={"solids": solids})
    other = Job(heron.model_copy(update={"vehicle": vehicle}), catalogue)
    after = checked(other).find(key.rule, key.subject, key.run)
    assert after is not None
    assert after.measured == pytest.approx(key.measured - OFF_MM, abs=0.5)
    assert "the check allows for that" in after.sentence


def test_surveyed_parts_that_may_be_off_do_not_hit_one_another(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Two that stand 5 mm apart, each known to 25 mm, are not called in one place."""
    solids = tuple(uncertain(s) for s in heron.vehicle.solids)
    vehicle = heron.vehicle.model_copy(update={"solids": solids})
    job = Job(heron.model_copy(update={"vehicle": vehicle}), catalogue)
    over = [f.sentence for f in checked(job).of("vehicle") if f.verdict.value == "over"]
    assert over == []


def test_searches_keep_out_of_it_too() -> None:
    """A lying drum known to 25 mm blocks what one that is larger by that blocks."""
    size = {"diameter_mm": 80.0, "length_mm": 200.0}
    drum = CylinderSolid(
        **{"id": "drum", "name": "drum", "kind": "water-tank", "axis": "x"},
        **{"x_mm": 0.0, "y_mm": 0.0, "z_mm": 0.0},
        **size,
    )
    larger = drum.model_copy(update={name: value + 2 * OFF_MM for name, value in size.items()})
    grid = Grid3((-200.0, -200.0, -200.0), 10.0, (41, 41, 41))
    blocked = [np.zeros(grid.shape, dtype=bool) for _ in range(2)]
    for each, solid in zip(blocked, (uncertain(drum), larger), strict=True):
        block(each, grid, solid, solid_shape(solid), 20.0)
    assert blocked[0].any()
    assert (blocked[0] == blocked[1]).all()
