"""Hollow furniture: its panels and openings as boxes, against points tried one by one."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.geometry.frames import turn_xy
from gale_nook.core.geometry.hollow import opening_box, panel_boxes, rectangles_without
from gale_nook.core.geometry.shapes import solid_shape
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, Hollow, PanelOpening

SLOT = PanelOpening(id="slot", face="right", along_mm=100, up_mm=50, width_mm=200, height_mm=80)


def bench(**how: object) -> BoxSolid:
    given_ = {
        "id": "bench-9",
        "name": "bench",
        "kind": "furniture",
        "material": "wood",
        "x_mm": 1000,
        "y_mm": -200,
        "z_mm": 40,
        "length_mm": 800,
        "width_mm": 400,
        "height_mm": 450,
        "hollow": Hollow(openings=(SLOT,)),
        **how,
    }
    return BoxSolid.model_validate(given_)


holes = st.lists(
    st.tuples(st.floats(-5, 12), st.floats(-5, 12), st.floats(0.5, 9), st.floats(0.5, 9)),
    max_size=4,
)


@given(holes, st.floats(0.01, 9.99), st.floats(0.01, 9.99))
def test_a_panel_is_what_no_hole_takes(
    raw: list[tuple[float, float, float, float]], u: float, v: float
) -> None:
    """Every point lies in one rectangle at most, and in one where no hole has it."""
    cut = [(a, b, a + w, b + h) for a, b, w, h in raw]
    edges = {e for hole in cut for e in hole}
    if any(abs(u - e) < 1e-6 or abs(v - e) < 1e-6 for e in edges):
        return
    inside = sum(a < u < c and b < v < d for a, b, c, d in rectangles_without(10.0, 10.0, cut))
    taken = any(a < u < c and b < v < d for a, b, c, d in cut)
    assert inside == (0 if taken else 1)


@given(
    st.floats(1002, 1798),
    st.floats(-198, 198),
    st.floats(42, 488),
    st.sampled_from([0.0, 90.0, 37.0]),
)
def test_only_panels_fill_room(x: float, y: float, z: float, yaw: float) -> None:
    """A point of the box is filled where it lies in a panel and not in its opening."""
    solid = bench(yaw_deg=yaw)
    wall = solid.hollow.panel_mm  # type: ignore[union-attr]
    at_panel = (
        x < 1000 + wall or x > 1800 - wall or y < -200 + wall or y > 200 - wall or z > 490 - wall
    )
    in_slot = y > 200 - wall and 1100 < x < 1300 and 90 < z < 170
    other = x < 1000 + wall or x > 1800 - wall or y < -200 + wall or z > 490 - wall
    expected = at_panel and (other or not in_slot)
    edge = min(abs(v - e) for v, e in ((x, 1100), (x, 1300), (z, 90), (z, 170)))
    near = min(
        abs(x - 1000 - wall),
        abs(1800 - wall - x),
        abs(y + 200 - wall),
        abs(200 - wall - y),
        abs(490 - wall - z),
    )
    if min(edge, near) < 0.01:
        return
    dx, dy = turn_xy(x - 1400, y, yaw)
    point = (1400 + dx, dy, z)
    shape = solid_shape(solid)
    filled = any(math.dist(piece.nearest(point), point) < 1e-6 for piece in shape.pieces)
    assert filled == expected


def test_an_opening_is_where_its_panel_is_cut() -> None:
    low, size = opening_box(bench(), "slot") or ((0, 0, 0), (0, 0, 0))
    assert low == pytest.approx((1100, 185, 90))
    assert size == pytest.approx((200, 15, 80))
    assert opening_box(bench(), "none") is None
    assert opening_box(bench(hollow=None), "slot") is None


def test_without_panels_that_are_off() -> None:
    assert len(panel_boxes(bench(hollow=Hollow()))) == 5
    assert len(panel_boxes(bench(hollow=Hollow()), frozenset({"up", "left"}))) == 3
    assert panel_boxes(bench(hollow=None)) == [((1000, -200, 40), (800, 400, 450))]


def test_a_heater_stands_in_hollow_furniture_and_not_in_solid(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Its gaps are told to the panels, and a lid that lifts out is not in the way out."""
    around = bench(x_mm=2450, y_mm=-500, length_mm=700, width_mm=450)

    def spot(solid: BoxSolid) -> dict[str, object]:
        kept = tuple(s for s in heron.vehicle.solids if s.id not in {"shoe-box", "locker"})
        vehicle = heron.vehicle.model_copy(update={"solids": (*kept, solid)})
        plan = heron.model_copy(update={"vehicle": vehicle})
        found = check(plan, catalogue, ("spot",))
        body = found.find("spot.body", "bench-9")
        lift = found.find("spot.removal", "lift")
        top = found.find("spot.top", "top")
        return {
            "body": body.measured if body is not None else None,
            "lift": lift.measured if lift is not None else None,
            "top": top.measured if top is not None else None,
        }

    solid = spot(around.model_copy(update={"hollow": None}))
    lidded = spot(around)
    shut = spot(around.model_copy(update={"hollow": Hollow(lids=())}))
    assert (solid["body"] or 0) < 0 < (lidded["body"] or 0)
    top = 490 - 15 - 194  # of the box, its panel, the heater
    assert lidded["top"] == pytest.approx(top)
    assert shut["lift"] == pytest.approx(top)
    assert lidded["lift"] > top  # type: ignore[operator]
