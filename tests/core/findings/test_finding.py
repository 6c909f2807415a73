"""Judging a value against a band."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import (
    SEVERITY,
    Band,
    Finding,
    Verdict,
    Whose,
    by_severity,
    judge,
)
from gale_nook.core.findings.listing import Candidate, nearest_first, worst_and_nearest
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.stations import RULES
from gale_nook.demo.load import demo_plan
from tests.plans import heron_blowing_free

BAND = Band(100, 200, Whose.SHEET)


@pytest.mark.parametrize(
    ("measured", "verdict", "margin"),
    [
        (150, "clear", 50),
        (104, "tight", 4),
        (100, "tight", 0),
        (99.9, "over", -0.1),
        (200, "tight", 0),
        (230, "over", -30),
        (None, "unknown", None),
    ],
)
def test_verdict_and_margin(measured: float | None, verdict: str, margin: float | None) -> None:
    found = judge(measured, BAND, 5)
    assert found[0] == verdict
    assert found[1] == (pytest.approx(margin) if margin is not None else None)


@given(st.floats(allow_nan=True, allow_infinity=True))
def test_nothing_slips_through_as_clear_that_is_outside(measured: float) -> None:
    verdict, _ = judge(measured, BAND, 5)
    assert (verdict is not Verdict.OVER) == (100 - 1e-9 <= measured <= 200 + 1e-9)


@pytest.fixture
def heron() -> Plan:
    """It blows free, at an accepted boot rack."""
    return heron_blowing_free()


def test_rules_are_named_after_their_station_and_documented() -> None:
    ids = [(rule.id, rule.runs) for rule in RULES]
    assert len(ids) == len(set(ids))
    for rule in RULES:
        assert rule.id.split(".")[0] == rule.station
        assert rule.check.__doc__


def test_every_finding_has_its_numbers(any_demo: Plan, catalogue: Catalogue) -> None:
    for finding in check(any_demo, catalogue).findings:
        assert finding.sentence.endswith(".")
        if finding.verdict is Verdict.UNKNOWN:
            continue
        if finding.answer is not None:
            assert finding.band.wanted is not None
            assert (finding.measured, finding.margin) == (None, None)
            right = finding.answer == finding.band.wanted
            assert (finding.verdict is Verdict.CLEAR) == right
            continue
        assert finding.measured is not None
        assert finding.band.minimum is not None or finding.band.maximum is not None
        assert finding.margin == pytest.approx(finding.band.margin(finding.measured))
        assert finding.band.whose in Whose


def test_findings_come_worst_first(wren: Plan, catalogue: Catalogue) -> None:
    found = check(wren, catalogue).findings
    ranks = [SEVERITY[f.verdict] for f in found]
    assert ranks == sorted(ranks)
    assert by_severity(found) == list(found)


def test_keys_are_unique(any_demo: Plan, catalogue: Catalogue) -> None:
    """An acceptance refers to a finding by rule and subject, so no two may share them."""
    keys = [finding.key for finding in check(any_demo, catalogue).findings]
    assert len(keys) == len(set(keys))


def test_a_limit_of_ones_own_wins_over_the_sheet(heron: Plan, catalogue: Catalogue) -> None:
    own = OwnLimit(id="outlet_gap_mm", minimum=105, note="measured with the duct on")
    plan = heron.model_copy(
        update={"heater": heron.heater.model_copy(update={"own_limits": (own,)})}
    )
    finding = check(plan, catalogue).find("spot.outlet", "outlet")
    assert finding is not None
    assert (finding.verdict, finding.band.whose, finding.band.source) == (
        "clear",
        Whose.OWN,
        "measured with the duct on",
    )
    band = limit_band(check(heron, catalogue).job, "outlet_gap_mm")
    assert band is not None
    assert (band.whose, band.minimum) == (Whose.SHEET, 150)


def test_accepting_shows_the_finding_still_over_its_limit(
    heron: Plan, catalogue: Catalogue
) -> None:
    finding = check(heron, catalogue).find("spot.outlet", "outlet")
    assert finding is not None
    assert finding.verdict is Verdict.ACCEPTED
    assert finding.margin is not None
    assert finding.margin < 0
    assert "boot rack" in finding.accepted_reason


def test_a_hazard_is_not_accepted_without_a_reason(heron: Plan, catalogue: Catalogue) -> None:
    mute = heron.acceptances[0].model_copy(update={"reason": "  "})
    found = check(heron.model_copy(update={"acceptances": (mute,)}), catalogue).find(
        "spot.outlet", "outlet"
    )
    assert found is not None
    assert found.verdict is Verdict.OVER


def test_an_acceptance_without_a_finding_is_reported(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(heron, set_value("vehicle.solids.shoe-box.x_mm", 1900), catalogue)
    done = check(plan, catalogue)
    assert [a.id for a in done.idle_acceptances] == ["a-1"]
    assert done.tally()["accepted"] == 0


@pytest.mark.slow
@given(st.lists(st.tuples(st.floats(-50, 300), st.floats(0, 80)), max_size=30), st.integers(0, 4))
def test_looking_nearest_first_reports_the_same_as_looking_at_all(
    looks: list[tuple[float, float]], keep: int
) -> None:
    """Each candidate's margin lies some way above its least; pruning may not change what is
    reported.
    """
    heron = check(demo_plan("heron"), load_catalogue()).findings[0]

    def finding(number: int, margin: float) -> Finding:
        verdict, _ = judge(100 + margin, Band(100, None, Whose.SHEET), 5)
        return replace(
            heron, subject=f"s{number:02}", margin=margin, measured=100 + margin, verdict=verdict
        )

    all_of_them = [finding(i, least + extra) for i, (least, extra) in enumerate(looks)]
    candidates = [
        Candidate(least, partial(finding, i, least + extra))
        for i, (least, extra) in enumerate(looks)
    ]
    wanted = {f.subject for f in worst_and_nearest(all_of_them, keep)}
    found = {f.subject for f in nearest_first(candidates, 5, keep)}
    margins = {f.subject: f.margin for f in all_of_them}
    # candidates with equal margins may stand in for one another
    assert sorted(margins[s] or 0 for s in found) == sorted(margins[s] or 0 for s in wanted)
