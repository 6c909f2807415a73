"""Finding a fault: each of the simulated heater's is named within a few checks."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Finding
from gale_nook.core.job import Job
from gale_nook.core.log.faults import rank, signs_of
from gale_nook.core.log.season import season
from gale_nook.core.practice.looks import USUAL_CO_PPM, Case
from gale_nook.demo.load import demo_log, demo_plan

BOOK = load_catalogue()
LOG = BOOK.log
LOOKS = {look.id for look in BOOK.practice.looks}
MOST_CHECKS = 8
JOBS = ("heron", "coot", "dunlin", "plover")
FAULTS = tuple(fault.id for fault in BOOK.firing.simulation.faults)


def _symptoms(case: Case) -> dict[str, bool]:
    """What somebody who only uses the vehicle would tell."""
    phases = {told.phase for told in case.told}
    full = case.at("full")
    stopped = [told for told in case.told if told.phase == "after-run"]
    if case.heater.co_ppm > USUAL_CO_PPM:
        return {"unwell": True}
    if "flame" not in phases or not (full or "regulation" in phases):
        return {"no-start": True}
    if any(told.smoke == "thick" for told in full):
        return {"smoke": True}
    if full and case.code:
        return {"stops-at-night": True}
    return {"silent-stop": True} if len(stopped) < 60 else {"heats-poorly": True}


def _found(case: Case, findings: tuple[Finding, ...]) -> tuple[str, int]:
    """What is named, and after how many checks, each answered by the simulated heater."""
    symptoms, answers = _symptoms(case), dict[str, bool]()
    for number in range(MOST_CHECKS + 1):
        ranking = rank(LOG, findings, symptoms, answers)
        if ranking.named is not None:
            return ranking.named.id, number
        following = ranking.next_checks[0].id
        answers[following] = following in LOOKS and case.shown(following).off
    return "", MOST_CHECKS


def test_nine_of_ten_seeded_faults_are_named_within_eight_checks() -> None:
    named, count = 0, 0
    for name in JOBS:
        job = Job(demo_plan(name), BOOK)
        findings = check(demo_plan(name), BOOK).findings
        for fault in FAULTS:
            named += _found(Case(job, fault), findings)[0] == fault
            count += 1
    assert named / count >= 0.9


def test_thin_margins_of_the_plan_make_their_causes_likelier() -> None:
    findings = check(demo_plan("wren"), BOOK).findings
    plain = rank(LOG, (), {"no-start": True}, {})
    told = rank(LOG, findings, {"no-start": True}, {})
    raised = [each for each in told.causes if each.evidence]
    assert raised
    before = {each.cause.id: each.chance for each in plain.causes}
    assert any(each.chance > before[each.cause.id] for each in raised)


@given(
    st.dictionaries(st.sampled_from([s.id for s in LOG.symptoms]), st.just(value=True)),
    st.dictionaries(st.sampled_from([c.id for c in LOG.checks]), st.booleans()),
)
def test_chances_are_whole_and_no_check_is_offered_twice(
    symptoms: dict[str, bool], answers: dict[str, bool]
) -> None:
    ranking = rank(LOG, (), symptoms, answers)
    assert sum(each.chance for each in ranking.causes) == pytest.approx(1)
    assert not {check.id for check in ranking.next_checks} & set(answers)
    chances = [each.chance for each in ranking.causes]
    assert chances == sorted(chances, reverse=True)


def test_an_answer_that_speaks_for_a_cause_raises_it() -> None:
    before = rank(LOG, (), {"no-start": True}, {})
    after = rank(LOG, (), {"no-start": True}, {"arrow": True})
    first = next(each for each in before.causes if each.cause.id == "pump-reversed")
    assert after.causes[0].cause.id == "pump-reversed"
    assert after.causes[0].chance > first.chance


def test_every_check_and_symptom_speaks_of_some_cause() -> None:
    for telling in (*LOG.symptoms, *LOG.checks):
        assert max(telling.of.values()) > 10 * LOG.unlikely or telling.id == "noisy"
    told = {cause for check in LOG.checks for cause, p in check.of.items() if p > 0.9 - 1e-9}
    assert told == {cause.id for cause in LOG.causes}


def test_what_the_log_says_makes_its_causes_likelier() -> None:
    job = Job(demo_plan("heron"), BOOK)
    winter = season(job, demo_log("heron"))
    signs = signs_of(winter, 40.0, "2026-03-18")
    assert signs["drift"] > 2
    assert signs["smoke"] >= 2
    assert signs["cold"] > 7
    plain = {each.cause.id: each.chance for each in rank(LOG, (), {"smoke": True}, {}).causes}
    told = rank(LOG, (), {"smoke": True}, {}, signs)
    sooted = next(each for each in told.causes if each.cause.id == "sooted")
    assert sooted.chance > plain["sooted"]
    assert "many idle hours since the last burn-off" in sooted.evidence
    summer = signs_of(winter, 0.0, "2026-07-01")
    assert summer["cold"] == 0
    assert not any(signs_of(season(job, ()), 0.0, "2026-07-01").values())
