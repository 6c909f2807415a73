"""A photo's scale, held against a pinhole camera that is known exactly."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.errors import BadInput
from gale_nook.core.plan.photo import Photo, PhotoPoint
from gale_nook.core.vehicle.photo_scale import UNPROVED_MM, photo_scale

WIDTH, HEIGHT = 2400, 1800
FOCAL_PX = 2000.0
FIVE = ((1450.0, -250.0), (2100.0, -300.0), (2050.0, 320.0), (1500.0, 300.0), (1800.0, 60.0))
Xy = tuple[float, float]


def camera(place: Xy, lean_deg: float, roll_deg: float, below: bool) -> Xy:
    """Where a pinhole camera, 900 mm from the floor under or over (1750, 0), leaning about the
    vehicle's width and rolled about its own axis, sees a place of the floor.

    From below the axes are x rear, y right, depth up; from inside y is turned over.
    """
    x, y = place[0] - 1750.0, place[1] if below else -place[1]
    lean, roll = math.radians(lean_deg), math.radians(roll_deg)
    depth = 900.0
    cx = x * math.cos(lean) - depth * math.sin(lean)
    cz = x * math.sin(lean) + depth * math.cos(lean)
    u, v = FOCAL_PX * cx / cz, FOCAL_PX * y / cz
    return (
        WIDTH / 2 + (u * math.cos(roll) - v * math.sin(roll)) / 2,
        HEIGHT / 2 + (u * math.sin(roll) + v * math.cos(roll)) / 2,
    )


def photo(
    places: tuple[Xy, ...] = FIVE, lean: float = 15.0, roll: float = 30.0, *, below: bool = True
) -> Photo:
    points = tuple(
        PhotoPoint(id=f"p{n}", at_px=camera(place, lean, roll, below), place_mm=place)
        for n, place in enumerate(places)
    )
    return Photo(
        id="floor",
        name="floor",
        seen="below" if below else "inside",
        file="0" * 64,
        width_px=WIDTH,
        height_px=HEIGHT,
        points=points,
    )


@settings(max_examples=40, deadline=None)
@given(
    lean=st.floats(-30, 30),
    roll=st.floats(-180, 180),
    below=st.booleans(),
    x=st.floats(1200, 2300),
    y=st.floats(-500, 500),
)
def test_every_place_is_where_the_camera_saw_it(
    lean: float, roll: float, below: bool, x: float, y: float
) -> None:
    """The camera is a formula of its own; pixels of any place come back to it within 0.2 mm."""
    scale = photo_scale(photo(lean=lean, roll=roll, below=below))
    assert scale is not None
    assert math.dist(scale.place_mm(camera((x, y), lean, roll, below)), (x, y)) < 0.2
    assert max(scale.residuals_mm) < 0.2


def test_less_than_four_points_decide_nothing() -> None:
    taken = photo(FIVE[:3])
    assert photo_scale(taken) is None
    half = taken.model_copy(update={"points": (*taken.points, PhotoPoint(id="x", at_px=(5, 5)))})
    assert photo_scale(half) is None


def test_a_fifth_point_that_is_off_is_told_and_allowed_for() -> None:
    """Measured 40 mm away from where it is: that is its residual, and a traced part near it counts
    as off by more than that.
    """
    taken = photo()
    wrong = taken.points[4].model_copy(update={"place_mm": (1840.0, 60.0)})
    scale = photo_scale(taken.model_copy(update={"points": (*taken.points[:4], wrong)}))
    assert scale is not None
    assert scale.residuals_mm == pytest.approx([40.0], abs=0.3)
    assert scale.error_mm((1800.0, 60.0)) > 40.0
    good = photo_scale(taken)
    assert good is not None
    assert good.error_mm((1800.0, 60.0)) < 12.0


def test_farther_from_the_points_a_part_is_known_to_less() -> None:
    sheet = ((1700.0, -100.0), (1997.0, -100.0), (1997.0, 110.0), (1700.0, 110.0), (1800.0, 0.0))
    scale = photo_scale(photo(sheet))
    assert scale is not None
    errors = [scale.error_mm((1800.0, y)) for y in (0.0, 300.0, 600.0, 900.0)]
    assert errors == sorted(errors)
    assert errors[-1] > 3 * errors[0]


def test_without_a_fifth_point_nothing_is_known_well() -> None:
    scale = photo_scale(photo(FIVE[:4]))
    assert scale is not None
    assert scale.error_mm((1800.0, 0.0)) == UNPROVED_MM


def test_the_spread_is_that_of_many_tries() -> None:
    """Points shown and measured a little wrong, many times: the places scatter as it says."""
    rng = np.random.default_rng(7)
    taken = photo(FIVE[:4])
    true = photo_scale(photo())
    assert true is not None
    at = (2000.0, 700.0)
    pixel = true.pixel(at)
    off = []
    for _ in range(600):
        points = tuple(
            p.model_copy(
                update={
                    "at_px": tuple(np.array(p.at_px) + rng.normal(0, 2.0, 2)),
                    "place_mm": tuple(np.array(p.place_mm) + rng.normal(0, 1.0, 2)),
                }
            )
            for p in taken.points
        )
        scale = photo_scale(taken.model_copy(update={"points": points}))
        assert scale is not None
        off.append(math.dist(scale.place_mm(pixel), at))
    spread = math.sqrt(np.mean(np.square(off)))
    told = math.sqrt((true.error_mm(at) / 2) ** 2 - 1.5**2)
    assert told == pytest.approx(spread, rel=0.12)


@pytest.mark.parametrize(
    ("order", "said"),
    [((0, 1, 3, 2), "another order"), ((3, 2, 1, 0), "taken from inside")],
)
def test_points_in_the_wrong_order_are_refused(order: tuple[int, ...], said: str) -> None:
    """Two changed over make no flat floor; all the other way round is the other side of it."""
    taken = photo(FIVE[:4])
    points = tuple(
        point.model_copy(update={"place_mm": FIVE[other]})
        for point, other in zip(taken.points, order, strict=True)
    )
    with pytest.raises(BadInput, match=said):
        photo_scale(taken.model_copy(update={"points": points}))


def test_three_on_a_line_are_refused() -> None:
    places = ((1200.0, 0.0), (1700.0, 0.0), (2200.0, 0.0), (1700.0, 400.0))
    with pytest.raises(BadInput, match="Points 1, 2 and 3 lie on one line"):
        photo_scale(photo(places))
    again = (FIVE[0], FIVE[0], FIVE[1], FIVE[2])
    with pytest.raises(BadInput, match="on one another"):
        photo_scale(photo(again))
