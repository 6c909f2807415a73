"""Whole layouts: each put before every check, no two alike, the same again for the same plan."""

from __future__ import annotations

from functools import lru_cache

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.wishes import PartWish, WishArea, Wishes
from gale_nook.core.planner.fitting import Fitter, Stopped, bare_job
from gale_nook.core.planner.layouts import Layout, best_of
from gale_nook.core.planner.measures import dominated, measures_of, score
from gale_nook.core.planner.places import shelves
from gale_nook.core.planner.search import LayoutSearch, choices_of, find_layouts, with_heater
from gale_nook.core.planner.wished import broken_wishes
from gale_nook.demo.load import demo_plan
from tests.vans import small_van

pytestmark = pytest.mark.slow
CORNER = WishArea(
    id="corner", name="corner", from_x_mm=1100, to_x_mm=2300, left_y_mm=-900, right_y_mm=-200
)


@lru_cache
def _found(plan: Plan) -> LayoutSearch:
    return find_layouts(Job(plan, load_catalogue()), "quick")


def _over(found: Check) -> list[Finding]:
    return [f for f in found.findings if f.verdict is Verdict.OVER]


@pytest.mark.parametrize("seed", range(3))
def test_every_layout_is_clear_by_the_checker(seed: int, catalogue: Catalogue) -> None:
    """Of vehicles with other things in them each time."""
    plan = small_van(seed)
    found = _found(plan)
    assert found.layouts
    before = {f.key for f in _over(check(bare_job(Job(plan, catalogue)).plan, catalogue))}
    for layout in found.layouts:
        after = check(apply(plan, layout.command, catalogue), catalogue)
        assert [f.title for f in _over(after) if f.key not in before] == []
        assert after.tally() == layout.tally
        assert measures_of(after.job) == pytest.approx(layout.measures)


def test_layouts_differ_in_kind_and_none_is_worse_in_everything(catalogue: Catalogue) -> None:
    layouts = _found(small_van(1)).layouts
    assert len(layouts) > 1
    apart = catalogue.planner.search.apart_mm
    for one in layouts:
        for other in layouts:
            if one is not other:
                assert not one.kind.like(other.kind, apart)
                assert not dominated(one.measures, other.measures)
    assert [each.letter for each in layouts] == list("ABCDE")[: len(layouts)]
    assert [each.score for each in layouts] == sorted(each.score for each in layouts)


def test_the_same_plan_gives_the_same_layouts(catalogue: Catalogue) -> None:
    plan = small_van(3)
    assert find_layouts(Job(plan, catalogue), "quick") == _found(plan)


def test_what_is_laid_now_changes_nothing(catalogue: Catalogue) -> None:
    """So what was found stays when a layout is taken, and the next can be taken in its place."""
    plan = small_van(3)
    first, *_ = _found(plan).layouts
    taken = apply(plan, first.command, catalogue)
    again = find_layouts(Job(taken, catalogue), "quick")
    assert [each.kind for each in again.layouts] == [each.kind for each in _found(plan).layouts]
    assert apply(taken, again.layouts[-1].command, catalogue).spot != taken.spot


def test_wishes_are_kept(catalogue: Catalogue) -> None:
    wishes = Wishes(
        side="left", areas=(CORNER,), parts=(PartWish(id="b", part="bed", wish="not-in"),)
    )
    plan = small_van(0, wishes=wishes)
    found = _found(plan)
    assert found.layouts
    for layout in found.layouts:
        after = Job(apply(plan, layout.command, catalogue), catalogue)
        assert broken_wishes(after) == ()
        assert after.plan.spot is not None
        assert after.plan.spot.y_mm < 0


def test_what_is_pinned_stays(catalogue: Catalogue) -> None:
    plan = small_van(3)
    first, *_ = _found(plan).layouts
    taken = apply(plan, first.command, catalogue)
    pinned = taken.model_copy(update={"wishes": Wishes(pinned=("spot", "pipes"))})
    found = find_layouts(Job(pinned, catalogue), "quick")
    for layout in found.layouts:
        after = apply(pinned, layout.command, catalogue)
        assert (after.spot, after.pipes) == (taken.spot, taken.pipes)


@pytest.mark.parametrize("seed", [1, 2, 4])
def test_never_far_from_the_best_of_all_choices(seed: int, catalogue: Catalogue) -> None:
    """Every choice of a corner of the floor laid out, against what the search finds there."""
    nook = CORNER.model_copy(update={"from_x_mm": 1700})
    plan = small_van(seed, wishes=Wishes(areas=(nook,)))
    job = Job(plan, catalogue)
    bare = bare_job(job)
    _, nodes = choices_of(bare)
    fitter, best, weights = Fitter(bare), float("inf"), plan.wishes.weights
    for node in nodes:
        laid = fitter.layout(node)
        if not isinstance(laid, Stopped):
            value = score(catalogue.planner, weights, measures_of(laid))
            assert value >= node.bound - 1e-6
            best = min(best, value)
    found = find_layouts(job, "quick")
    assert found.tried < len(nodes) / 2
    assert found.layouts[0].score <= 1.05 * best


def test_an_impossible_wish_is_told_with_what_giving_it_up_allows(catalogue: Catalogue) -> None:
    wishes = Wishes(side="right", areas=(CORNER,))
    found = _found(small_van(0, wishes=wishes))
    assert found.layouts == ()
    told = {reason.wishes: reason for reason in found.reasons}
    assert set(told) == {("side",), ("wanted",)}
    assert all("m² are clear" in reason.allows for reason in told.values())


def test_a_hole_that_no_mount_keeps_to_is_told(catalogue: Catalogue) -> None:
    found = _found(small_van(0, wishes=Wishes(most_hole_mm=20)))
    assert found.layouts == ()
    assert any("hole over" in reason.sentence for reason in found.reasons)


def test_a_heater_is_chosen_where_none_was(catalogue: Catalogue) -> None:
    plan = small_van(0)
    none = plan.model_copy(update={"heater": plan.heater.model_copy(update={"sheet": None})})
    chosen = with_heater(Job(none, catalogue)).plan.heater.sheet
    assert chosen == "bothy-40"
    layouts = find_layouts(Job(none, catalogue), "quick", most=1).layouts
    assert apply(none, layouts[0].command, catalogue).heater.sheet == chosen
    cold = none.heat.model_copy(update={"outside_c": -58.0})
    with pytest.raises(BadInput, match="heater"):
        with_heater(Job(none.model_copy(update={"heat": cold}), catalogue))


def test_the_best_by_the_weights_comes_first(catalogue: Catalogue) -> None:
    plan = small_van(1)
    found = _found(plan).layouts
    weights = plan.wishes.weights.model_copy(
        update={name: 0.0 for name in type(plan.wishes.weights).model_fields if name != "fuel"}
    )
    ordered: tuple[Layout, ...] = best_of(catalogue.planner, weights, found)
    lines = [each.measures["fuel"] for each in ordered]
    assert lines == sorted(lines)


def test_what_is_wished_empty_is_told_as_what_forbids_it(catalogue: Catalogue) -> None:
    """A thing that only stands in the way while looking is no limit of the vehicle."""
    empty = CORNER.model_copy(update={"id": "empty", "wanted": False, "of": "everything"})
    found = _found(small_van(0, wishes=Wishes(areas=(CORNER, empty))))
    assert found.layouts == ()
    assert {reason.wishes for reason in found.reasons} == {("area:empty",), ("wanted",)}


def test_no_proof_is_claimed_from_what_is_only_believed(catalogue: Catalogue) -> None:
    """A search that passed choices over by what bounds left out so far has not proved anything."""
    assert not any(_found(small_van(seed)).proved for seed in (0, 1))


def test_a_wish_that_only_the_ways_forbid_is_told(catalogue: Catalogue) -> None:
    """Places are clear, but nothing can be led under a floor where nothing may hang."""
    found = _found(small_van(0, wishes=Wishes(under_sill="never", areas=(CORNER,))))
    assert found.layouts == ()
    told = {reason.wishes: reason.allows for reason in found.reasons}
    assert "there is a layout: Heater" in told["sill",]


def test_where_the_heater_stands_is_a_choice(catalogue: Catalogue) -> None:
    """However few places of a square are tried, a layout made by hand is among what is compared."""
    plan = demo_plan("dunlin")
    job = Job(plan, catalogue)
    assert plan.spot is not None
    _, nodes = choices_of(bare_job(job), plan.spot)
    assert plan.spot in [node.spot for node in nodes]


def test_no_worse_than_what_was_laid_by_hand(catalogue: Catalogue) -> None:
    plan = demo_plan("dunlin")
    own = score(catalogue.planner, plan.wishes.weights, measures_of(Job(plan, catalogue)))
    assert _found(plan).layouts[0].score <= own


def test_a_heater_stands_on_a_box_where_the_floor_has_no_room(catalogue: Catalogue) -> None:
    plan = demo_plan("coot")
    shell = plan.vehicle.shell
    full = BoxSolid(
        id="full",
        name="chest",
        kind="furniture",
        x_mm=shell.front_x_mm,
        y_mm=-shell.floor_width_mm / 2,
        z_mm=0,
        length_mm=shell.rear_x_mm - shell.front_x_mm,
        width_mm=shell.floor_width_mm,
        height_mm=150,
    )
    vehicle = plan.vehicle.model_copy(update={"solids": (full,)})
    job = Job(plan.model_copy(update={"vehicle": vehicle, "spot": None}), catalogue)
    assert shelves(job) == ("full",)
    _, nodes = choices_of(bare_job(job))
    assert {node.spot.stands_on for node in nodes} == {"full"}


def test_one_outlet_gets_a_duct_that_turns_where_it_is_level_with_it(catalogue: Catalogue) -> None:
    """Plover's only outlet lies nearer to the heater than the usual first straight."""
    found = find_layouts(Job(demo_plan("plover"), catalogue), "quick", most=1)
    assert found.layouts
    after = apply(demo_plan("plover"), found.layouts[0].command, catalogue)
    assert len(after.air.ducts) == 1
