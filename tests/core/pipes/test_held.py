"""What holds a pipe together and carries it through panels; what the wheels throw up; a run turned
round.
"""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import holes_to_cut, parts_list
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import SetValues, set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.commands import ReverseLine
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import connections, proposed_clamps
from gale_nook.core.pipes.commands import AddFitting, PutFittings, ReverseRun, StartRun
from gale_nook.core.pipes.panels import crossing
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.spray import Wedge, wedges
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Fitting
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.demo.load import demo_plan

RULES = {"pipes.clamps", "pipes.bulkhead", "pipes.spray"}


def _find(
    plan: Plan, catalogue: Catalogue, rule: str, subject: str, run: str | None = None
) -> Finding:
    found = check(plan, catalogue, ("pipes",)).find(rule, subject, run)
    assert found is not None
    return found


def _cured(
    plan: Plan, catalogue: Catalogue, rule: str, subject: str, run: str | None = None
) -> list[tuple[str, Plan]]:
    """The plans after each remedy; every one of them clears the finding."""
    done = check(plan, catalogue, ("pipes",))
    finding = done.find(rule, subject, run)
    assert finding is not None
    assert finding.verdict is Verdict.OVER
    cures = [
        (r.sentence, apply(plan, r.command, catalogue)) for r in remedies_for(done.job, finding)
    ]
    for _, after in cures:
        there = check(after, catalogue, ("pipes",)).find(rule, subject, run)
        assert there is None or there.verdict is not Verdict.OVER
    return cures


# --- clamps ---


def test_every_end_has_its_clamp_and_a_clamp_holds_one_end(
    heron: Plan, catalogue: Catalogue
) -> None:
    """A joint has two ends, so one clamp between them is not enough."""
    route = Job(heron, catalogue).plan.pipes.exhaust
    assert route is not None
    names = [c.name for c in connections(route, 2000.0)]
    assert names.count("the port") == 1
    assert len(names) == 1 + 2 * len(route.of_kind("joint", "silencer", "filter"))
    one_off = apply(
        heron, RemoveItem(collection="pipes.exhaust.fittings", item_id="clamp-1"), catalogue
    )
    finding = _find(one_off, catalogue, "pipes.clamps", "exhaust")
    assert (finding.measured, finding.hazard) == (1.0, "fumes")
    [(sentence, after)] = _cured(one_off, catalogue, "pipes.clamps", "exhaust")
    assert sentence == f"Clamp it at {len(names)} ends."
    assert len(after.pipes.exhaust.of_kind("clamp")) == len(names)  # type: ignore[union-attr]


def test_clamps_go_along_with_what_they_hold(heron: Plan, catalogue: Catalogue) -> None:
    silencer = heron.pipes.exhaust.of_kind("silencer")[0]  # type: ignore[union-attr]
    moved = apply(
        heron,
        set_value(f"pipes.exhaust.fittings.{silencer.id}.at_mm", silencer.at_mm + 60),
        catalogue,
    )
    assert _find(moved, catalogue, "pipes.clamps", "exhaust").measured == 0
    off = apply(
        heron, RemoveItem(collection="pipes.exhaust.fittings", item_id=silencer.id), catalogue
    )
    before, after = (len(plan.pipes.exhaust.of_kind("clamp")) for plan in (heron, off))  # type: ignore[union-attr]
    assert after == before - 2
    assert _find(off, catalogue, "pipes.clamps", "exhaust").measured == 0


def test_joints_that_are_put_in_anew_take_their_clamps_along(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Two joints, then one elsewhere: the clamps of what is gone are gone, those of what is there
    are there.
    """
    two = tuple(
        Fitting(id=f"joint-{n}", kind="joint", at_mm=at) for n, at in ((1, 250.0), (2, 1000.0))
    )
    joined = apply(heron, PutFittings(tube="exhaust", kind="joint", fittings=two), catalogue)
    assert _find(joined, catalogue, "pipes.clamps", "exhaust").measured == 0
    one = (Fitting(id="joint-1", kind="joint", at_mm=900.0),)
    again = apply(joined, PutFittings(tube="exhaust", kind="joint", fittings=one), catalogue)
    assert _find(again, catalogue, "pipes.clamps", "exhaust").measured == 0
    counts = [len(plan.pipes.exhaust.of_kind("clamp")) for plan in (heron, joined, again)]  # type: ignore[union-attr]
    assert counts == [counts[0], counts[0] + 4, counts[0] + 2]
    bare = apply(heron, PutFittings(tube="exhaust", kind="clamp", fittings=()), catalogue)
    unclamped = apply(bare, PutFittings(tube="exhaust", kind="joint", fittings=one), catalogue)
    assert not unclamped.pipes.exhaust.of_kind("clamp")  # type: ignore[union-attr]


def test_the_parts_list_counts_clamps_on_the_pipe_and_those_it_lacks(
    heron: Plan, catalogue: Catalogue
) -> None:
    def clamps(plan: Plan) -> float:
        return next(
            line.needed for line in parts_list(Job(plan, catalogue)) if line.part == "exhaust-clamp"
        )

    bare = apply(heron, PutFittings(tube="exhaust", kind="clamp", fittings=()), catalogue)
    assert clamps(bare) == clamps(heron)


def test_a_run_that_is_begun_or_found_comes_clamped(catalogue: Catalogue, wren: Plan) -> None:
    for tube in ("exhaust", "intake"):
        begun = apply(wren, StartRun(tube=tube), catalogue)
        assert _find(begun, catalogue, "pipes.clamps", tube).measured == 0
        assert proposed_clamps(Job(begun, catalogue), tube)


# --- through a panel ---


def _with_skirt(plan: Plan, catalogue: Catalogue) -> Plan:
    """A skirt of 4 mm across the exhaust, 250 mm before its mouth."""
    run = pipe_run(Job(plan, catalogue), "exhaust")
    assert run is not None
    x, y, z = run.point_at(run.length_mm - 250)
    skirt = BoxSolid(
        id="skirt",
        name="side skirt",
        kind="bumper",
        material="plastic",
        x_mm=x - 300,
        y_mm=y - 2,
        z_mm=z - 100,
        length_mm=600,
        width_mm=4,
        height_mm=200,
    )
    return apply(plan, AddSolid(item=skirt), catalogue)


def test_a_pipe_passes_a_panel_in_a_bulkhead_fitting(heron: Plan, catalogue: Catalogue) -> None:
    """Without one it runs into the panel; with one the gap is the fitting's, and the panel's edge
    stays cool enough.
    """
    skirted = _with_skirt(heron, catalogue)
    assert (_find(skirted, catalogue, "pipes.clearance", "skirt").measured or 0.0) < 0
    through = next(
        after
        for words, after in _cured(skirted, catalogue, "pipes.clearance", "skirt")
        if "bulkhead" in words
    )
    assert (
        _find(through, catalogue, "pipes.clearance", "skirt").measured
        == catalogue.pipe_physics.sleeve_mm
    )
    heat = _find(through, catalogue, "pipes.heat", "skirt")
    assert heat.verdict is Verdict.CLEAR
    fitting = through.pipes.exhaust.of_kind("bulkhead")[0]  # type: ignore[union-attr]
    assert _find(through, catalogue, "pipes.bulkhead", fitting.id).measured == 0
    job = Job(through, catalogue)
    hole = next(hole for hole in holes_to_cut(job) if hole.name.startswith("side skirt"))
    wide = heater_port(job, "exhaust").diameter_mm + 2 * catalogue.pipe_physics.sleeve_mm
    assert wide == 96.0
    assert (hole.diameter_mm, say(hole.saw)) == (wide, "hole saw 98 mm")
    assert "bulkhead-fitting" in [line.part for line in parts_list(job)]


def test_a_fitting_that_sits_in_no_panel_is_told_and_moved(
    heron: Plan, catalogue: Catalogue
) -> None:
    stray = Fitting(id="stray", kind="bulkhead", at_mm=150.0, length_mm=20.0)
    skirted = apply(
        _with_skirt(heron, catalogue),
        AddFitting(collection="pipes.exhaust.fittings", item=stray),
        catalogue,
    )
    assert (_find(skirted, catalogue, "pipes.bulkhead", "stray").measured or 0.0) > 100
    cures = _cured(skirted, catalogue, "pipes.bulkhead", "stray")
    assert ["into side skirt" in cures[0][0], cures[-1][0]] == [True, "Remove it."]
    without = apply(heron, AddFitting(collection="pipes.exhaust.fittings", item=stray), catalogue)
    finding = _find(without, catalogue, "pipes.bulkhead", "stray")
    assert finding.verdict is Verdict.OVER


def test_where_the_line_is_inside_a_panel(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(_with_skirt(heron, catalogue), catalogue)
    shape = next(shape for solid, _, shape in surveyed_parts(job) if solid.id == "skirt")
    where = crossing(pipe_run(job, "exhaust"), shape)  # type: ignore[arg-type]
    assert where is not None
    assert where[0] <= pipe_run(job, "exhaust").length_mm - 250 <= where[1] + 2  # type: ignore[union-attr]
    far = next(shape for solid, _, shape in surveyed_parts(job) if solid.id == "wheel-front-left")
    assert crossing(pipe_run(job, "exhaust"), far) is None  # type: ignore[arg-type]


# --- spray ---

WEDGE = Wedge("wheel", (1000.0, 800.0, -600.0), 100.0, 900.0, 45.0, 0.0)


@pytest.mark.parametrize(
    ("point", "outside"),
    [
        ((1400, 800, -600 + 400), 0.0),  # on the upper face: rises 45° from where the tyre stands
        ((1400, 800, -600 + 200), -100.0),  # to the side it is as near as the half tyre
        ((1400, 850, -600 + 390), -10 / math.sqrt(2)),  # the least way out is up
        ((1400, 960, -600), 60.0),  # beside it
        (
            (900, 800, -500),
            200 / math.sqrt(2),
        ),  # ahead of the wheel, where the distance to the upper face counts more
        ((2000, 800, -590), 100.0),  # behind its reach
    ],
)
def test_how_far_a_point_is_out_of_the_spray(
    point: tuple[float, float, float], outside: float
) -> None:
    """By hand, with a rise of 45° and no spread."""
    assert WEDGE.outside_mm(point) == pytest.approx(outside, abs=1e-9)


@given(st.floats(-200, 1200), st.floats(-400, 400), st.floats(0, 900))
def test_moving_by_the_distance_never_enters_or_leaves_more_than_that(
    dx: float, dy: float, dz: float
) -> None:
    """The distance to a face changes by no more than the point moves."""
    wedge = Wedge("wheel", (0.0, 0.0, 0.0), 100.0, 900.0, 24.0, 9.0)
    here = wedge.outside_mm((dx, dy, dz))
    for step in ((30.0, 0.0, 0.0), (0.0, 30.0, 0.0), (0.0, 0.0, 30.0)):
        there = wedge.outside_mm((dx + step[0], dy + step[1], dz + step[2]))
        assert abs(there - here) <= 30.0 + 1e-9


def test_surveyed_wheels_are_taken_and_the_shells_axles_where_there_are_none(
    heron: Plan, catalogue: Catalogue
) -> None:
    surveyed = {(w.foot[0], w.name) for w in wedges(Job(heron, catalogue))}
    assert (heron.vehicle.shell.front_axle_x_mm, "front left wheel") in surveyed
    blank = demo_plan("blank")
    assert len(wedges(Job(blank, catalogue))) == 4
    assert {w.foot[0] for w in wedges(Job(blank, catalogue))} == {
        blank.vehicle.shell.front_axle_x_mm,
        blank.vehicle.shell.rear_axle_x_mm,
    }


def test_a_mouth_in_the_spray_is_led_out_of_it(heron: Plan, catalogue: Catalogue) -> None:
    """The combustion air's mouth put right behind a rear wheel."""
    wheel = next(w for w in wedges(Job(heron, catalogue)) if "rear left" in w.name)
    mouth = heron.pipes.intake.nodes[-1].id  # type: ignore[union-attr]
    at = {"x_mm": wheel.foot[0] + 500, "y_mm": wheel.foot[1] + 20, "z_mm": wheel.foot[2] + 150}
    changes = [
        change
        for leaf, value in at.items()
        for change in set_value(f"pipes.intake.nodes.{mouth}.{leaf}", value).changes
    ]
    behind = apply(heron, SetValues(changes=tuple(changes)), catalogue)
    assert _find(behind, catalogue, "pipes.spray", "mouth", "intake").verdict is Verdict.OVER
    assert _cured(behind, catalogue, "pipes.spray", "mouth", "intake")


# --- turning the order round ---


def test_a_run_turned_round_twice_is_what_it_was(heron: Plan, catalogue: Catalogue) -> None:
    """Its corners exactly; what sits on it comes back to within the millimetre that places are
    rounded to.
    """
    once = apply(heron, ReverseRun(tube="exhaust"), catalogue)
    twice = apply(once, ReverseRun(tube="exhaust"), catalogue)
    before, between, after = (plan.pipes.exhaust for plan in (heron, once, twice))
    assert [n.id for n in between.nodes] == [n.id for n in reversed(before.nodes)]  # type: ignore[union-attr]
    assert after.nodes == before.nodes  # type: ignore[union-attr]


def test_what_sits_on_the_part_that_stays_keeps_its_place(
    heron: Plan, catalogue: Catalogue
) -> None:
    """The fuel line's middle straights are the same after, walked the other way: its clips stay
    where they are.
    """
    before, turned = Job(heron, catalogue), apply(heron, ReverseLine(), catalogue)
    after = Job(turned, catalogue)
    assert heron.fuel.line is not None
    assert [n.id for n in turned.fuel.line.nodes] == [n.id for n in reversed(heron.fuel.line.nodes)]  # type: ignore[union-attr]
    assert fuel_run(before) is not None
    assert fuel_run(after) is not None
    assert fuel_run(after).geometry.points[0] == fuel_run(before).geometry.points[0]
    assert fuel_run(after).geometry.points[-1] == fuel_run(before).geometry.points[-1]


def test_without_a_run_there_is_nothing_to_turn_round(catalogue: Catalogue) -> None:
    for command in (ReverseRun(tube="exhaust"), ReverseRun(tube="intake"), ReverseLine()):
        with pytest.raises(BadInput, match="no"):
            apply(demo_plan("blank"), command, catalogue)


def test_joints_and_clamps_of_the_demo_are_checked(heron: Plan, catalogue: Catalogue) -> None:
    found = {finding.rule for finding in check(heron, catalogue, ("pipes",)).findings}
    assert RULES - found == {"pipes.bulkhead"}
