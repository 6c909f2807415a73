"""The clear-spot map against the exact checker, and what is looked up on it."""

from __future__ import annotations

import io
import math
from itertools import combinations

import numpy as np
import pytest
from PIL import Image

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check, checked
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.findings.judging import findings_of, nothing_over, over_findings
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.costs import Weights
from gale_nook.core.spot.field import CAP_MM
from gale_nook.core.spot.floor_map import YAWS, FloorMap, map_key
from gale_nook.core.spot.search import APART_MM, best_spots, nearest_clear
from gale_nook.core.spot.why import why
from gale_nook.demo.load import demo_plan
from gale_nook.drawing.floor_picture import CELL_PX, CLEAR, floor_picture
from tests.core.spot.reference import floor_margins
from tests.core.spot.test_face_mounts import in_the_bay

PLACES = 400


@pytest.mark.slow
@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
def test_rules_and_map_agree_with_whole_shapes_at_many_places(
    name: str, catalogue: Catalogue
) -> None:
    """Random cells and turns against shapes of the collision and planar libraries: the same
    verdict, and the margin within half a millimetre (all beyond the cap are one).
    """
    _assert_margins(demo_plan(name), catalogue, PLACES)


@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
def test_what_is_over_is_what_the_whole_check_finds_over(name: str, catalogue: Catalogue) -> None:
    """Looking only for what is over leaves nothing out, and adds nothing."""
    plan = demo_plan(name).model_copy(update={"acceptances": ()})
    base, chance, over_somewhere = plan.spot, np.random.default_rng(12), 0
    assert base is not None
    for _ in range(25):
        x_mm, y_mm = base.x_mm + chance.normal(0, 300), base.y_mm + chance.normal(0, 300)
        place = {"x_mm": x_mm, "y_mm": y_mm, "yaw_deg": float(chance.choice(YAWS))}
        there = Job(plan.model_copy(update={"spot": base.model_copy(update=place)}), catalogue)
        over = {f for f in findings_of(there, SPOT_CHECKS) if f.verdict is Verdict.OVER}
        assert set(over_findings(there, SPOT_CHECKS)) == over, place
        over_somewhere += len(over)
    assert over_somewhere > 10


@pytest.mark.slow
@pytest.mark.parametrize(
    ("name", "sheet", "mount"),
    [
        ("wren", "byre-50", "boxed"),
        ("heron", "bothy-40", "overlapping"),
        ("heron", "bothy-22", "sideways"),
        ("heron", "bothy-40", "plate"),
        ("heron", "bothy-22", "upright"),
    ],
)
def test_every_mount_agrees_with_whole_shapes(
    name: str, sheet: str, mount: str, catalogue: Catalogue
) -> None:
    """Square cuts, several holes and a body on its side or below the floor."""
    plan = apply(demo_plan(name), ChooseHeater(sheet=sheet), catalogue)
    plan = apply(plan, set_value("spot.mount", mount), catalogue)
    _assert_margins(plan, catalogue, 200)


def _assert_margins(plan: Plan, catalogue: Catalogue, places: int) -> None:
    plan = plan.model_copy(update={"acceptances": ()})
    job = Job(plan, catalogue)
    floor, chance = FloorMap(job), np.random.default_rng(20261125)
    base = floor.job.plan.spot
    assert base is not None
    for _ in range(places):
        yaw = int(chance.choice(YAWS))
        row, column = (int(chance.integers(n)) for n in floor.grid.shape)
        place = {
            "x_mm": float(floor.grid.x_mm[column]),
            "y_mm": float(floor.grid.y_mm[row]),
            "yaw_deg": yaw,
        }
        there = job.with_plan(plan.model_copy(update={"spot": base.model_copy(update=place)}))
        expected = min(margin for _, margin in floor_margins(there))
        found = findings_of(there, SPOT_CHECKS)
        over = {f for f in found if f.verdict is Verdict.OVER}
        assert set(over_findings(there, SPOT_CHECKS)) == over, place
        worst = min(f.margin for f in found if f.margin is not None)
        margin = float(floor.fields[yaw].margin_mm[row, column])
        assert margin == pytest.approx(min(worst, CAP_MM), abs=1e-6), place
        if math.isinf(expected):
            assert worst < 0, place
        else:
            assert min(worst, CAP_MM) == pytest.approx(min(expected, CAP_MM), abs=0.5), place
            assert (worst < -1e-9) == (expected < -1e-9), place


@pytest.mark.slow
@pytest.mark.parametrize("mount", ["wall", "upright", "sideways", "plate"])
def test_the_map_of_other_mounts_is_the_exact_checker(mount: str, catalogue: Catalogue) -> None:
    plan = apply(demo_plan("heron"), ChooseHeater(sheet="bothy-22"), catalogue)
    _assert_map_is_checker(apply(plan, set_value("spot.mount", mount), catalogue), catalogue)


@pytest.mark.slow
def test_the_map_of_the_engine_bay_is_the_exact_checker(wren: Plan, catalogue: Catalogue) -> None:
    _assert_map_is_checker(in_the_bay(wren, catalogue), catalogue)


def _assert_map_is_checker(plan: Plan, catalogue: Catalogue) -> None:
    """At random places the map has the margin and the verdict of the findings there."""
    job = Job(plan, catalogue)
    floor, chance = FloorMap(job), np.random.default_rng(20261125)
    base = floor.job.plan.spot
    assert base is not None
    for _ in range(150):
        yaw = int(chance.choice(YAWS))
        row, column = (int(chance.integers(n)) for n in floor.grid.shape)
        place = {
            "x_mm": float(floor.grid.x_mm[column]),
            "y_mm": float(floor.grid.y_mm[row]),
            "yaw_deg": yaw,
        }
        trial = plan.model_copy(update={"spot": base.model_copy(update=place)})
        found = [
            f
            for f in checked(job.with_plan(trial), frozenset({"spot"})).findings
            if f.verdict is not Verdict.ACCEPTED
        ]
        worst = min(f.margin for f in found if f.margin is not None)
        margin = float(floor.fields[yaw].margin_mm[row, column])
        assert margin == pytest.approx(min(worst, CAP_MM), abs=1e-6), place
        over, tight = (
            any(f.verdict is Verdict.OVER for f in found),
            any(f.verdict is Verdict.TIGHT for f in found),
        )
        assert (margin < -1e-9, margin < plan.settings.tolerance_mm) == (over, over or tight), place


def test_the_reason_on_the_map_is_the_checkers_worst(wren: Plan, catalogue: Catalogue) -> None:
    job = Job(wren, catalogue)
    floor = FloorMap(job)
    field, chance = floor.fields[90], np.random.default_rng(7)
    for _ in range(60):
        row, column = (int(chance.integers(n)) for n in floor.grid.shape)
        place = {
            "x_mm": float(floor.grid.x_mm[column]),
            "y_mm": float(floor.grid.y_mm[row]),
            "yaw_deg": 90,
        }
        trial = wren.model_copy(
            update={"spot": wren.spot.model_copy(update=place) if wren.spot else None}
        )
        worst = min(
            checked(job.with_plan(trial), frozenset({"spot"})).findings,
            key=lambda f: f.margin or 0.0,
        )
        if (worst.margin or 0) < CAP_MM:
            told = field.reasons[field.reason[row, column]]
            same = [
                (f.rule, f.subject)
                for f in check(trial, catalogue, ("spot",)).findings
                if f.margin == pytest.approx(worst.margin)
            ]
            assert told in same


def test_best_spots_are_clear_and_no_neighbours(any_demo: Plan, catalogue: Catalogue) -> None:
    job = Job(any_demo, catalogue)
    found = best_spots(job, Weights())
    bare = any_demo.model_copy(update={"acceptances": ()})
    for best in found:
        there = Job(bare.model_copy(update={"spot": best.spot}), catalogue)
        assert nothing_over(there, SPOT_CHECKS)
    for one, other in combinations(found, 2):
        assert (
            np.hypot(one.spot.x_mm - other.spot.x_mm, one.spot.y_mm - other.spot.y_mm) >= APART_MM
        )
    assert [b.score for b in found] == sorted(b.score for b in found)
    assert [b.letter for b in found] == list("ABCDE")[: len(found)]


def test_weights_decide_which_spot_is_best(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(heron, catalogue)
    nothing = {"exhaust": 0.0, "fuel": 0.0, "duct": 0.0, "quiet": 0.0, "margin": 0.0}
    near = best_spots(job, Weights(**{**nothing, "duct": 10.0}))[0]
    quiet = best_spots(job, Weights(**{**nothing, "quiet": 10.0}))[0]
    assert (near.costs.duct_mm or 0) < (quiet.costs.duct_mm or 0)
    assert (quiet.costs.sleeper_mm or 0) > (near.costs.sleeper_mm or 0)


@pytest.mark.slow
def test_the_nearest_clear_place_is_clear_and_near(wren: Plan, catalogue: Catalogue) -> None:
    """Bothy 22 in Wren: the map's nearest clear cell, none of the clear ones around it nearer."""
    small = apply(wren, ChooseHeater(sheet="bothy-22"), catalogue)
    found = nearest_clear(Job(small, catalogue))
    assert found is not None
    after = apply(small, found.command, catalogue)
    assert check(after, catalogue, ("spot",)).tally()["over"] == 0
    assert "Shift it" in say(found.sentence)


def test_where_nothing_is_clear_none_is_offered(wren: Plan, catalogue: Catalogue) -> None:
    crowded = apply(wren, set_value("vehicle.floor.corrugation_mm", 400), catalogue)
    assert nearest_clear(Job(crowded, catalogue)) is None
    assert best_spots(Job(crowded, catalogue), Weights()) == ()


def test_a_place_tells_why(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(heron, catalogue)
    member = next(s for s in heron.vehicle.solids if s.id == "member-4").model_dump()
    words = say(why(job, member["x_mm"] + member["length_mm"] / 2, 0.0, (0,)))
    assert words.startswith("Not here: ")
    assert heron.spot is not None
    assert say(why(job, heron.spot.x_mm, heron.spot.y_mm, (180,))).startswith(
        "Tight by 2 mm: 42 mm of floor left"
    )
    assert "(turned " in say(why(job, 1540, -300, YAWS))


def test_moving_the_heater_keeps_the_map_and_what_it_depends_on_does_not(
    heron: Plan, catalogue: Catalogue
) -> None:
    key = map_key(Job(heron, catalogue))
    assert map_key(Job(apply(heron, set_value("spot.x_mm", 1000), catalogue), catalogue)) == key
    for address, value in (
        ("vehicle.solids.tank.x_mm", 900),
        ("spot.rebate_mm", 3),
        ("vehicle.floor.corrugation_mm", 20),
    ):
        assert map_key(Job(apply(heron, set_value(address, value), catalogue), catalogue)) != key


def test_the_picture_shows_each_cell_where_it_is(heron: Plan, catalogue: Catalogue) -> None:
    floor = FloorMap(Job(heron, catalogue))
    shown = floor.shown(180)
    above, below = (
        Image.open(io.BytesIO(floor_picture(*shown, seen))).convert("RGB") for seen in (False, True)
    )
    rows, columns = floor.grid.shape
    assert above.size == (columns * CELL_PX, rows * CELL_PX)
    clear = np.argwhere(shown[0] >= 60)[0]
    at = (int(clear[1]) * CELL_PX + 1, int(clear[0]) * CELL_PX + 1)
    assert below.getpixel(at) == CLEAR[-1]
    assert above.getpixel((at[0], above.size[1] - 1 - at[1])) == CLEAR[-1]
