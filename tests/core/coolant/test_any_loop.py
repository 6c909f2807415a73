"""Loops as people leave them half done: whatever is taken out, exchanged or joined, the check says
what is wrong, and never fails.
"""

from __future__ import annotations

import random

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.coolant.commands import (
    BranchOff,
    MixFloors,
    MoveLoopPart,
    SplitHose,
    TakeOutPart,
    TurnLoopPart,
)
from gale_nook.core.coolant.report import coolant_report
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.loop.graph import loop_graph
from gale_nook.core.loop.ladder import rungs
from gale_nook.core.loop.state import loop_state
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan

ENDS = ("in", "out", "a", "b", "c", "hot", "cold", "mixed", "feed")


def _edit(plan: Plan, catalogue: Catalogue, chance: random.Random) -> Command:
    parts, hoses = plan.coolant.parts, plan.coolant.hoses
    part, hose = chance.choice(parts).id, chance.choice(hoses).id
    works = catalogue.coolant_equipment
    kind = chance.choice(works.parts).id
    choices: list[Command] = [
        RemoveItem(collection="coolant.parts", item_id=part),
        RemoveItem(collection="coolant.hoses", item_id=hose),
        set_value(f"coolant.parts.{part}.kind", kind),
        set_value(f"coolant.parts.{part}.open_percent", chance.choice((0.0, 1.0, 60.0))),
        set_value(f"coolant.parts.{part}.level_percent", chance.choice((0.0, 30.0))),
        set_value(f"coolant.parts.{part}.driving", True),
        set_value(f"coolant.hoses.{hose}.kind", chance.choice(works.hoses).id),
        set_value(f"coolant.hoses.{hose}.from_part", part),
        set_value(f"coolant.hoses.{hose}.to_end", chance.choice(ENDS)),
        set_value("coolant.glycol_percent", chance.choice((0.0, 10.0, 60.0))),
        MoveLoopPart(part=part, x_mm=chance.choice((0, 4000)), y_mm=570, z_mm=195),
        SplitHose(hose=hose, at_mm=chance.choice((0, 200, 5000)), kind=kind, turned=True),
        MixFloors(),
        TakeOutPart(part=part),
        TurnLoopPart(part=part),
        BranchOff(hose=hose, back=chance.choice(hoses).id, kind=kind),
    ]
    return chance.choice(choices)


@pytest.mark.parametrize("seed", range(10))
def test_half_done_loops_are_told_and_never_fail(catalogue: Catalogue, seed: int) -> None:
    chance = random.Random(seed)
    plan = demo_plan(chance.choice(("quarto", "teal")))
    for _ in range(6):
        try:
            plan = apply(plan, _edit(plan, catalogue, chance), catalogue)
        except BadInput:
            continue
        job = Job(plan, catalogue)
        done = check(plan, catalogue, ("coolant",))
        assert len(rungs(job)) == len(loop_graph(job).branches)
        state = loop_state(job)
        if state is None:
            told = {
                f.verdict for f in done.findings if f.rule in {"coolant.solved", "coolant.closed"}
            }
            assert told & {Verdict.UNKNOWN, Verdict.OVER}
        else:
            given = sum(found.given_w for found in state.branches.values())
            assert given == pytest.approx(state.output_w, rel=1e-4, abs=1.0)
    coolant_report(Job(plan, catalogue))
