"""A fuel line led round what stands under the vehicle."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check, checked
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.line_proposals import line_proposals
from gale_nook.core.fuel.line_search import searched_lines
from gale_nook.core.fuel.start import line_kind, tried_lines
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.planner.fitting import bare_job, with_exhaust, with_intake
from gale_nook.core.routing.proving import first_clear, proved
from gale_nook.core.stations import RULES
from gale_nook.demo.load import demo_plan

pytestmark = pytest.mark.slow
PLACES = [(760.0, -780.0, 0), (1990.0, -260.0, 0), (2760.0, -286.0, 180)]


def _piped(at: tuple[float, float, int], catalogue: Catalogue) -> Job:
    bare = bare_job(Job(demo_plan("heron"), catalogue))
    spot = Spot(x_mm=at[0], y_mm=at[1], yaw_deg=at[2])  # type: ignore[arg-type]
    there = bare.with_parts(spot=spot)
    return with_intake(with_exhaust(there, "left", patient=True))


@pytest.mark.parametrize("at", PLACES)
def test_a_line_is_found_that_every_check_lets_pass(
    at: tuple[float, float, int], catalogue: Catalogue
) -> None:
    job = _piped(at, catalogue)
    found = first_clear(line_kind(job, RULES), searched_lines(job))
    assert found is not None
    run = fuel_run(found.job)
    assert run is not None
    assert run.air_traps == ()
    assert run.pump_mm is not None
    assert run.filter_mm is not None
    assert run.filter_mm < run.pump_mm < run.length_mm


def test_where_simple_lines_meet_something_one_is_led_round_it(catalogue: Catalogue) -> None:
    job = _piped(PLACES[0], catalogue)
    assert all(each.over for each in tried_lines(job, RULES))
    assert any(not each.over for each in proved(line_kind(job, RULES), searched_lines(job)))


def test_it_is_among_the_lines_that_are_proposed(catalogue: Catalogue) -> None:
    """Each differs from the others, and stands the whole check when it is taken."""
    job = _piped(PLACES[0], catalogue)
    ways = line_proposals(job, RULES)
    assert ways[0].over == ()
    assert "round what stands there" in ways[0].where
    after = check(apply(job.plan, ways[0].command, catalogue), catalogue)
    before = {f.key for f in checked(job).findings if f.verdict is Verdict.OVER}
    over = [f for f in after.findings if f.verdict is Verdict.OVER and f.key not in before]
    assert over == []


def test_without_a_source_there_is_none(catalogue: Catalogue) -> None:
    job = _piped(PLACES[2], catalogue)
    fuel = job.plan.fuel.model_copy(update={"source": None})
    assert list(searched_lines(job.with_parts(fuel=fuel))) == []
