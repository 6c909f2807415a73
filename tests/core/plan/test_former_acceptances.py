"""Acceptances that were written when a rule's id said which run it is about."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.settings import FORMER_RULES, Acceptance
from gale_nook.core.stations import STATIONS

FORMER_IDS = (Path(__file__).parent / "former_rule_ids.txt").read_text().split()


def _read(rule: str, subject: str = "-") -> Acceptance:
    return Acceptance.model_validate(
        {
            "id": "a-1",
            "rule": rule,
            "subject": subject,
            "reason": "looked at",
            "by": "Isa",
            "on": "2026-03-01",
        }
    )


def test_each_former_id_is_one_rule_of_now() -> None:
    """All 112 that there were: none is lost, and no two become one."""
    rules = {
        (each.id, each.runs[0] if len(each.runs) == 1 else "")
        for station in STATIONS
        for each in station.rules
    }
    read = [_read(rule) for rule in FORMER_IDS]
    called = {(each.rule, each.run) for each in read}
    assert called <= rules
    assert len(called) == len(FORMER_IDS) == 112
    assert set(FORMER_RULES) <= set(FORMER_IDS)


def test_what_is_written_now_is_read_as_it_stands() -> None:
    now = _read("pipes.air_length").model_dump()
    assert (now["rule"], now["run"]) == ("pipes.length", "intake")
    assert Acceptance.model_validate(now) == _read("pipes.air_length")
    both = {**now, "rule": "pipes.tubes_apart", "run": ""}
    assert Acceptance.model_validate(both).run == ""


def test_a_plan_of_then_keeps_what_was_accepted(wren: Plan, catalogue: Catalogue) -> None:
    """Every finding of Wren that is over, accepted under the id that it had."""
    former = {now: then for then, now in FORMER_RULES.items()}
    over = [f for f in check(wren, catalogue).findings if f.verdict is Verdict.OVER]
    assert {f.run for f in over} >= {"exhaust", "intake", "fuel"}
    written = [
        {
            "id": f"a-{number}",
            "rule": former.get((f.rule, f.run), f.rule),
            **({} if (f.rule, f.run) in former else {"run": f.run}),
            "subject": f.subject,
            "reason": "looked at",
            "by": "Isa",
            "on": "2026-03-01",
        }
        for number, f in enumerate(over)
    ]
    plan = Plan.model_validate({**wren.model_dump(mode="json"), "acceptances": written})
    after = check(plan, catalogue)
    assert after.tally()["over"] == 0
    assert after.tally()["accepted"] >= len(over)
