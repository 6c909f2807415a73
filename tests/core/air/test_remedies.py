"""Remedies of the warm air: every mistake of Wren's is cured by what is offered."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import applied
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.air import ReturnOpening
from gale_nook.core.plan.document import Plan
from gale_nook.core.remedies import remedies_for
from tests.core.air.test_rules import found, opening
from tests.core.ducts.ducted import BED, bath, duct, ducted, two_outlets

BATH = bath(5)
OPEN = (Verdict.OVER, Verdict.UNKNOWN)


@pytest.mark.slow
def test_wrens_mistakes_are_all_cured(wren: Plan, catalogue: Catalogue) -> None:
    """Taking the first remedy of the first finding that has one leads to an air path with nothing
    over.
    """
    job = Job(wren, catalogue)
    seen: set[str] = set()
    for _ in range(30):
        left = [f for f in checked(job).of("air") if f.verdict in OPEN]
        seen |= {finding.rule for finding in left}
        if not left:
            break
        offered = next((r for f in left if (r := remedies_for(job, f))), ())
        assert offered, [(f.rule, f.subject) for f in left]
        job = job.with_plan(applied(job, offered[0].command))
    assert not left
    assert {
        "air.return_area",
        "air.return_space",
        "air.jet",
        "air.never_closable",
        "air.bore",
        "air.usable",
        "air.clip_stuff",
        "air.hole",
        "air.touch",
        "air.first_straight",
    } <= seen


CURED = {
    "air.clips": ducted(duct("one", (1000, -286, 117), outlet="fixed-75")),
    "air.rating": ducted(duct("one", (1900, -286, 117), kind="house-75", outlet="fixed-75")),
    "air.outside": ducted(
        duct("one", (2400, -286, 117), (2400, -286, -300), (1500, -286, -300), outlet="fixed-75")
    ),
    "air.return_area": ducted(cold_end="opening", returns=(opening(width_mm=40, height_mm=40),)),
    "air.zone": ducted(
        *two_outlets(zone="bath"),
        zones=(BATH, BED.model_copy(update={"left_y_mm": -890.0, "right_y_mm": 50.0})),
    ),
}


@pytest.mark.parametrize("rule", [*CURED])
def test_each_has_a_remedy_that_clears_it(rule: str) -> None:
    job = CURED[rule]
    finding = next(f for f in checked(job).of("air") if f.rule == rule and f.verdict in OPEN)
    offered = remedies_for(job, finding)
    if rule == "air.zone":  # a door without a gap: it is the gap's remedy that helps
        finding = next(f for f in checked(job).of("air") if f.rule == "air.zone_out")
        offered = remedies_for(job, finding)
    assert offered
    for remedy in offered:
        after = job.with_plan(applied(job, remedy.command))
        again = [f for f in checked(after).findings if f.key == finding.key]
        assert all(f.verdict not in OPEN for f in again), remedy.sentence


def test_an_opening_that_nobody_entered_is_proposed_at_the_inlet() -> None:
    job = ducted(cold_end="opening")
    (first, *_) = remedies_for(job, found(job, "air.return_area"))
    after = job.with_plan(applied(job, first.command))
    (added,) = after.plan.air.returns
    assert isinstance(added, ReturnOpening)
    assert found(after, "air.return_area").verdict is Verdict.CLEAR
