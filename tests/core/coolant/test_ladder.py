"""The loop as a ladder: every branch once, from hot to cold; parts put in, taken out, turned."""

from __future__ import annotations

from itertools import pairwise

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.coolant.commands import BranchOff, SplitHose, TakeOutPart, TurnLoopPart
from gale_nook.core.coolant.start import USUAL
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.loop.graph import loop_graph
from gale_nook.core.loop.ladder import rungs
from gale_nook.core.loop.state import loop_state
from gale_nook.core.plan.coolant import HEATER
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan
from tests.core.coolant.loops import loop_job, loop_plan


def _hose(plan: Plan, ends: set[str]) -> str:
    """The id of the hose between two parts."""
    return next(h.id for h in plan.coolant.hoses if {h.from_part, h.to_part} == ends)


def _through(job: Job, part: str) -> float:
    state = loop_state(job)
    assert state is not None
    return state.branches[part].flow_l_min


@pytest.mark.parametrize("usual", list(USUAL))
def test_every_branch_once_from_the_heater_on(catalogue: Catalogue, usual: str) -> None:
    job = loop_job(catalogue, usual)
    found = rungs(job)
    assert found[0].branch.id == HEATER
    assert sorted(r.branch.id for r in found) == sorted(b.id for b in loop_graph(job).branches)
    graph, main = loop_graph(job), [r for r in found if r.depth == 0 and not r.stands]
    own = graph.heater_circuit()
    way = [r for r in main if graph.circuit_of[r.branch.start] == own]
    for before, after in pairwise(way):
        ends = {before.branch.start, before.branch.end}
        if after.branch.kind in {"pump", "engine"}:
            break  # a way of its own begins there
        assert ends & {after.branch.start, after.branch.end}


@pytest.mark.parametrize("demo", ["quarto", "teal"])
def test_a_way_aside_never_gets_warmer_by_itself(catalogue: Catalogue, demo: str) -> None:
    """But where it takes heat over, at a plate; hoses and consumers cool."""
    for rung in rungs(Job(demo_plan(demo), catalogue)):
        if rung.found is not None and not rung.stands and rung.branch.kind in {"hose", "matrix"}:
            assert rung.found.out_c <= rung.found.in_c + 1e-6


def test_what_is_put_in_can_be_taken_out(catalogue: Catalogue) -> None:
    """The loop is joined as before; flows are those of before."""
    plan = loop_plan(catalogue, "convector-water")
    hose = _hose(plan, {"convector-1", "tee-flow-1"})
    more = apply(plan, SplitHose(hose=hose, at_mm=120, kind="valve"), catalogue)
    (part,) = {p.id for p in more.coolant.parts} - {p.id for p in plan.coolant.parts}
    less = apply(more, TakeOutPart(part=part), catalogue)
    assert less.coolant.parts == plan.coolant.parts

    def joined(one: Plan) -> set[frozenset[tuple[str, str]]]:
        return {
            frozenset({(h.from_part, h.from_end), (h.to_part, h.to_end)}) for h in one.coolant.hoses
        }

    assert joined(less) == joined(plan)
    flows = [_through(Job(each, catalogue), "convector-1") for each in (plan, less)]
    assert flows[0] == pytest.approx(flows[1], rel=0.02)


def test_a_part_beside_the_way_shares_its_flow(catalogue: Catalogue) -> None:
    """Between two tees; closed, at a place of its own, and what flowed before divides."""
    plan = loop_plan(catalogue, "convector")
    hose = _hose(plan, {"tee-header", "tee-flow-1"})
    back = _hose(plan, {"tee-back-1", HEATER})
    done = apply(plan, BranchOff(hose=hose, back=back, kind="rail"), catalogue)
    job = Job(done, catalogue)
    assert _through(job, "coil-1") > 0.2
    assert _through(job, "convector-1") < _through(Job(plan, catalogue), "convector-1")
    told = check(done, catalogue, ("coolant",)).findings
    for rule in ("coolant.closed", "coolant.solved", "coolant.together", "coolant.fit"):
        assert not [f for f in told if f.rule == rule and f.verdict is Verdict.OVER], rule


def test_a_pump_turned_round_is_told_and_turned_back(catalogue: Catalogue) -> None:
    plan = loop_plan(catalogue, "engine-heat")
    turned = apply(plan, TurnLoopPart(part="engine-pump"), catalogue)
    finding = check(turned, catalogue, ("coolant",)).find("coolant.direction", "engine-pump")
    state = loop_state(Job(turned, catalogue))
    assert state is not None
    assert finding is not None
    flows = [_through(Job(p, catalogue), "plate:engine-in-engine-out") for p in (plan, turned)]
    assert flows[0] * flows[1] < 0
    back = apply(turned, TurnLoopPart(part="engine-pump"), catalogue)
    assert {h.id: (h.from_end, h.to_end) for h in back.coolant.hoses} == {
        h.id: (h.from_end, h.to_end) for h in plan.coolant.hoses
    }


@pytest.mark.parametrize(
    ("command", "words"),
    [
        (TakeOutPart(part="tee-flow-1"), "3 lead to this part"),
        (TakeOutPart(part="moon"), "no such part"),
        (TakeOutPart(part="header"), "1 lead to this part"),
        (TurnLoopPart(part="tee-flow-1"), "two ends"),
        (BranchOff(hose="hose-1", back="hose-1", kind="rail"), "another hose"),
        (BranchOff(hose="hose-1", back="moon", kind="rail"), "no such hose"),
        (BranchOff(hose="hose-1", back="hose-2", kind="tee-20"), "two ends"),
    ],
)
def test_what_cannot_be_is_said(catalogue: Catalogue, command: TakeOutPart, words: str) -> None:
    with pytest.raises(BadInput) as refused:
        apply(loop_plan(catalogue, "convector"), command, catalogue)
    assert words in str(refused.value)
