"""Short ways of the combustion air, and of an exhaust through a wall: clear by every check, apart,
or what stops them.
"""

from __future__ import annotations

import itertools
import math

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.heater.commands import SetOwnLimit
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.short_routes import (
    APART_MM,
    PART,
    is_short,
    parts_of_runs,
    short_obstruction,
    short_route,
    short_routes,
    short_runs,
)
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import demo_plan
from tests.core.spot.test_face_mounts import at_the_wall


@pytest.mark.parametrize("name", ["heron", "wren", "quarto"])
def test_each_way_is_clear_by_every_check_of_the_combustion_air(
    name: str, catalogue: Catalogue
) -> None:
    plan = demo_plan(name)
    ways = list(short_routes(Job(plan, catalogue), "intake"))
    assert len(ways) == 3
    for way in ways:
        found = check(apply(plan, way.command, catalogue), catalogue, ("pipes",)).findings
        ours = [f for f in found if "intake" in f.runs]
        assert len(ours) > 8
        assert [f.rule for f in ours if f.verdict is Verdict.OVER] == []
        assert way.tube == "intake"
        assert way.route.of_kind("filter")
    for one, other in itertools.combinations(ways, 2):
        assert math.dist(one.mouth, other.mouth) >= APART_MM


def test_the_cheapest_come_first_and_none_points_at_the_exhausts_mouth(
    heron: Plan, catalogue: Catalogue
) -> None:
    job = Job(heron, catalogue)
    runs = short_runs(job, "intake")
    assert [run.costs for run in runs] == sorted(run.costs for run in runs)
    assert parts_of_runs(runs) == math.ceil(len(runs) / PART)
    exhaust = pipe_run(job, "exhaust")
    assert exhaust is not None
    far = apply(
        heron,
        SetOwnLimit(limit=OwnLimit(id="mouths_apart_mm", minimum=900, note="test")),
        catalogue,
    )
    kept = short_runs(Job(far, catalogue), "intake")
    assert 0 < len(kept) < len(runs)
    assert all(math.dist(run.points[-1], exhaust.mouth) >= 900 for run in kept)


def _boxed_in(plan: Plan, catalogue: Catalogue) -> Plan:
    """A traction battery round the combustion air's port, below it and on every side."""
    x, y, z = port_point(Job(plan, catalogue), heater_port(Job(plan, catalogue), "intake"))
    box = {
        "x_mm": x - 400,
        "y_mm": y - 400,
        "z_mm": z - 300,
        "length_mm": 800,
        "width_mm": 800,
        "height_mm": 250,
    }
    solid = BoxSolid.model_validate(
        {"id": "wall", "name": "battery box", "kind": "traction-battery", **box}
    )
    return apply(plan, AddSolid(item=solid), catalogue)


@pytest.mark.slow
def test_what_stops_every_run_is_named_with_its_figure(heron: Plan, catalogue: Catalogue) -> None:
    plan = _boxed_in(heron, catalogue)
    job = Job(plan, catalogue)
    runs = short_runs(job, "intake")
    assert all(
        short_route(job, "intake", runs, part) is None for part in range(parts_of_runs(runs))
    )
    assert list(short_routes(job, "intake")) == []
    said = short_obstruction(job, "intake", runs)
    assert "the best one breaks" in said
    assert "battery box" in said


def test_with_no_direction_left_that_is_said(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(
        heron,
        SetOwnLimit(limit=OwnLimit(id="mouths_apart_mm", minimum=2000, note="test")),
        catalogue,
    )
    job = Job(plan, catalogue)
    assert short_runs(job, "intake") == ()
    assert "brings both mouths together" in short_obstruction(job, "intake", ())


@pytest.mark.parametrize(
    ("command", "filters"),
    [(set_value("pipes.filter", "expected"), 1), (set_value("pipes.filter", "optional"), 0)],
)
def test_a_filter_goes_on_it_where_the_job_wants_one(
    heron: Plan, catalogue: Catalogue, command: Command, filters: int
) -> None:
    way = next(short_routes(Job(apply(heron, command, catalogue), catalogue), "intake"))
    assert len(way.route.of_kind("filter")) == filters


def test_an_exhaust_through_a_wall_has_short_ways_that_are_clear(
    heron: Plan, catalogue: Catalogue
) -> None:
    plan = at_the_wall(heron, catalogue)
    assert is_short(Job(plan, catalogue), "exhaust")
    assert not is_short(Job(heron, catalogue), "exhaust")
    ways = list(short_routes(Job(plan, catalogue), "exhaust"))
    assert ways
    for way in ways:
        done = check(apply(plan, way.command, catalogue), catalogue, ("pipes",))
        over = [f.rule for f in done.findings if f.verdict is Verdict.OVER and "exhaust" in f.runs]
        assert over == []
        assert abs(way.mouth[1]) > plan.vehicle.shell.outer_width_mm / 2
