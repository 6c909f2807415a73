"""The bundle in the mount's hole, and what is put on before the heater goes in."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.pipes.bench import bundle, edge_mm, in_holes, on_bench
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.work import pipe_steps
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.placement import PlacedHole
from gale_nook.demo.load import demo_plan


def test_gaps_on_paper() -> None:
    turret = PlacedHole("turret", 100.0, 0.0, 98.0)
    assert edge_mm(turret, 100.0, 20.0, 14.0) == pytest.approx(49 - 20 - 14)
    assert edge_mm(turret, 130.0, 40.0, 0.0) == pytest.approx(-1.0)
    cut = PlacedHole("cut", 0.0, 0.0, 0.0, 60.0, 40.0)
    assert edge_mm(cut, 10.0, -5.0, 12.0) == pytest.approx(min(60 - 10, 40 - 5) - 12)


def test_every_pair_in_one_hole_is_looked_at(heron: Plan, catalogue: Catalogue) -> None:
    job = Job(heron, catalogue)
    names = [each.name for each in in_holes(job)]
    assert names == ["exhaust", "intake", "fuel"]
    pairs = {frozenset({each.one, each.other}) for each in bundle(job)}
    assert len(pairs) == 3 + 3
    one, other = in_holes(job)[:2]
    told = next(each for each in bundle(job) if {each.one, each.other} == {"exhaust", "intake"})
    apart = math.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)
    assert told.gap_mm == pytest.approx(apart - one.radius_mm - other.radius_mm)


def test_thick_clamps_do_not_pass_and_are_told(heron: Plan, catalogue: Catalogue) -> None:
    works = catalogue.pipe_physics.model_copy(update={"clamp_mm": 13.0})
    done = check(heron, replace(catalogue, pipe_physics=works), ("pipes",))
    finding = done.find("pipes.bundle", "-")
    assert finding is not None
    assert finding.verdict is Verdict.OVER
    usual = check(heron, catalogue, ("pipes",)).find("pipes.bundle", "-")
    assert usual is not None
    assert usual.verdict is Verdict.CLEAR


@pytest.mark.parametrize("name", ["heron", "wren"])
def test_what_passes_lies_within_the_hole(catalogue: Catalogue, name: str) -> None:
    """All of it up to there does, and the first step beyond does not."""
    job = Job(demo_plan(name), catalogue)
    holes = {each.name: each for each in in_holes(job)}
    assert on_bench(job)
    for each in on_bench(job):
        run, at = pipe_run(job, each.tube), holes[each.tube]
        assert run is not None
        radius = at.radius_mm - catalogue.pipe_physics.clamp_mm
        for n in range(0, int(each.passes_mm) + 1, 10):
            x, y, _ = run.point_at(n)
            assert edge_mm(at.hole, x, y, radius) >= 0
        assert each.all_of_it == (each.passes_mm >= run.length_mm)
    step = next(s for s in pipe_steps(job) if s.title == "Put together on the bench")
    assert "passes the hole up to" in say(step.text)


def test_a_mount_through_no_floor_has_no_bundle(catalogue: Catalogue) -> None:
    assert bundle(Job(demo_plan("quarto"), catalogue)) == ()
