"""Through the floor: the survey below under the one inside, and what a pilot teaches."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.spot import Pilot
from gale_nook.core.spot.commands import AddPilot
from gale_nook.core.spot.placement import floor_holes
from gale_nook.core.spot.transfer import (
    advice,
    came_out_right,
    nearest_hole,
    next_drilled_mm,
    next_pilot_mm,
    transfer_of,
)
from gale_nook.core.vehicle.commands import SetFeature, ShiftBelow


def _plain(plan: Plan) -> Plan:
    """Heron without its features."""
    return plan.model_copy(update={"vehicle": plan.vehicle.model_copy(update={"features": ()})})


def test_without_anything_on_both_sides_there_is_no_match(heron: Plan) -> None:
    assert transfer_of(_plain(heron)) is None


def test_heron_is_known_to_a_few_millimetres(heron: Plan, catalogue: Catalogue) -> None:
    transfer = transfer_of(heron)
    assert transfer is not None
    assert transfer.here is not None
    assert len(transfer.matched) == 4
    assert transfer.here.long_mm < 8
    words = advice(transfer, nearest_hole(check(heron, catalogue, ("spot",)).findings))
    assert words.startswith("Margin 2 mm, transfer ±3 mm (95 %): pilot first")


def test_a_feature_read_wrong_is_named_and_asks_for_a_pilot(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Five pairs, one of them read 60 mm off below."""
    plan = apply(
        heron, SetFeature(feature_id="feature-5", side="inside", at=(2056, -400)), catalogue
    )
    plan = apply(plan, SetFeature(feature_id="feature-2", side="below", at=(3184, -602)), catalogue)
    transfer = transfer_of(plan)
    assert transfer is not None
    assert [item.name for item in transfer.matched if item.doubted] == ["rear axle bump stop"]
    assert "pilot first" in advice(
        transfer, nearest_hole(check(plan, catalogue, ("spot",)).findings)
    )


def test_features_taken_lying_below_are_mirrored(heron: Plan, catalogue: Catalogue) -> None:
    """The same places with right and left as they are seen from below give the same match."""
    seen = heron
    for feature in heron.vehicle.features:
        if feature.below is not None:
            x, y = feature.below
            seen = apply(
                seen, SetFeature(feature_id=feature.id, side="below", at=(x, -y)), catalogue
            )
    seen = apply(seen, set_value("vehicle.below_mirrored", True), catalogue)
    one, other = transfer_of(heron), transfer_of(seen)
    assert one is not None
    assert other is not None
    assert other.match.residuals_mm == pytest.approx(one.match.residuals_mm)
    assert other.off_mm == pytest.approx(one.off_mm)


def test_one_pilot_tells_where_the_next_one_goes(heron: Plan, catalogue: Catalogue) -> None:
    """It came out 18 mm to the left and 4 mm forward; so the next goes 18 mm to the right and 4 mm
    rearward.
    """
    pilot = Pilot(
        id="pilot-1", hole="turret hole", x_mm=2760, y_mm=-286, rearward_mm=-4, right_mm=-18
    )
    plan = apply(_plain(heron), AddPilot(item=pilot), catalogue)
    assert next_pilot_mm(Job(plan, catalogue), pilot) == pytest.approx((4, 18))
    closed = [step for step in steps(Job(plan, catalogue)) if "astray" in step.title]
    assert closed == []  # within the turret's hole it is cut away


def test_a_pilot_outside_every_hole_is_to_be_closed(heron: Plan, catalogue: Catalogue) -> None:
    pilot = Pilot(id="pilot-1", hole="turret hole", x_mm=2600, y_mm=-286)
    plan = apply(heron, AddPilot(item=pilot), catalogue)
    words = [step.title for step in steps(Job(plan, catalogue))]
    assert "Close the pilots that went astray" in words
    assert words.index("Close the pilots that went astray") < words.index("Cut the holes")


def test_moving_the_survey_below_takes_the_error_out(heron: Plan, catalogue: Catalogue) -> None:
    before = transfer_of(heron)
    assert before is not None
    rearward, right = before.off_mm
    moved = apply(heron, ShiftBelow(rearward_mm=-rearward, right_mm=-right), catalogue)
    after = transfer_of(moved)
    assert after is not None
    assert after.off_mm == pytest.approx((0, 0), abs=1e-6)
    tank = {s.id: s.model_dump() for s in moved.vehicle.solids}["tank"]
    assert tank["x_mm"] == pytest.approx(
        {s.id: s.model_dump() for s in heron.vehicle.solids}["tank"]["x_mm"] - rearward
    )
    locker = {s.id: s for s in moved.vehicle.solids}["locker"]
    assert locker == {s.id: s for s in heron.vehicle.solids}["locker"]


def test_the_second_pilot_follows_from_the_first_and_ends_the_matter(
    heron: Plan, catalogue: Catalogue
) -> None:
    """The first comes out 18 mm left and 4 mm forward. The second is drilled where that said, is
    logged there, and comes out right: no more advice, and it is told to cut from it. With the
    second logged at the drawing's place the advice used to turn round.
    """
    plan = _plain(heron)
    first = Pilot(
        id="pilot-1",
        hole="turret hole",
        x_mm=2760,
        y_mm=-286,
        rearward_mm=-4,
        right_mm=-18,
        mark_x_mm=2760,
        mark_y_mm=-286,
    )
    plan = apply(plan, AddPilot(item=first), catalogue)
    job = Job(plan, catalogue)
    (hole,) = floor_holes(job)
    drilled = next_drilled_mm(job, hole)
    assert drilled == pytest.approx((2764, -268))
    assert came_out_right(job) is None
    second = first.model_copy(
        update={
            "id": "pilot-2",
            "x_mm": drilled[0],
            "y_mm": drilled[1],
            "rearward_mm": 1.0,
            "right_mm": -1.0,
        }
    )
    done = Job(apply(plan, AddPilot(item=second), catalogue), catalogue)
    assert next_pilot_mm(done, second) == (0.0, 0.0)
    right = came_out_right(done)
    assert right is not None
    assert right.id == "pilot-2"
    assert next_drilled_mm(done, hole) == drilled
    transfer = transfer_of(done.plan)
    assert transfer is not None
    assert "cut from it" in advice(transfer, None, right)
    # two pilots a hand apart say nothing of the turn: the ellipse stays one of millimetres
    assert not transfer.match.has_turn
    assert transfer.here is not None
    assert transfer.here.long_mm < 15


def test_moving_the_survey_takes_marks_and_misses_along(heron: Plan, catalogue: Catalogue) -> None:
    for marked in (True, False):
        mark = {"mark_x_mm": 2760.0, "mark_y_mm": -286.0} if marked else {}
        pilot = Pilot(
            id="p", hole="turret hole", x_mm=2764, y_mm=-268, rearward_mm=0, right_mm=3, **mark
        )
        plan = apply(heron, AddPilot(item=pilot), catalogue)
        moved = apply(plan, ShiftBelow(rearward_mm=5, right_mm=-7), catalogue)
        assert pilot.came_out_mm is not None
        x, y = pilot.came_out_mm
        assert moved.pilots[0].came_out_mm == pytest.approx((x + 5, y - 7))
        assert (moved.pilots[0].x_mm, moved.pilots[0].y_mm) == (2764, -268)


def test_a_pilot_that_nobody_has_looked_at_says_nothing(heron: Plan, catalogue: Catalogue) -> None:
    """Drilled and logged, not yet seen from below: it has not come out right, it teaches nothing,
    and moving the survey does not make a measurement of it.
    """
    (hole,) = floor_holes(Job(heron, catalogue))
    pilot = Pilot(id="p", hole=hole.name, x_mm=hole.x_mm, y_mm=hole.y_mm)
    for half in (pilot, pilot.model_copy(update={"right_mm": 0.0})):
        plan = apply(heron, AddPilot(item=half), catalogue)
        assert came_out_right(Job(plan, catalogue)) is None
        before, after = transfer_of(heron), transfer_of(plan)
        assert before is not None
        assert after is not None
        assert after.here == before.here
        moved = apply(plan, ShiftBelow(rearward_mm=5, right_mm=-7), catalogue)
        assert moved.pilots[0].came_out_mm is None
    seen = pilot.model_copy(update={"rearward_mm": 0.0, "right_mm": 0.0})
    plan = apply(heron, AddPilot(item=seen), catalogue)
    assert came_out_right(Job(plan, catalogue)) == seen
