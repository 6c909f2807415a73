"""Hoses and usual loops go round what stands there."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.coolant.commands import AddHoseBend, LayHose, StartLoop
from gale_nook.core.coolant.laying import loop_meets
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.loop.consumers import OUTSIDE, hose_losses, tube_w_mk
from gale_nook.core.loop.hoses import hose_run, hose_runs
from gale_nook.core.loop.pockets import air_pockets
from gale_nook.core.loop.state import loop_state
from gale_nook.core.plan.coolant import Coolant
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.vehicle.inside import route_stretches
from gale_nook.demo.load import demo_plan
from tests.core.coolant.loops import loop_plan


def _with_arch(plan: Plan, x_mm: float, y_mm: float, size: tuple[float, float, float]) -> Plan:
    """The plan with a wheel arch in the middle of somewhere; nothing of a loop leads through it."""
    arch = BoxSolid(
        id="stands-there",
        name="arch that stands there",
        kind="wheel-arch",
        material="steel",
        x_mm=x_mm - size[0] / 2,
        y_mm=y_mm - size[1] / 2,
        z_mm=60,
        length_mm=size[0],
        width_mm=size[1],
        height_mm=size[2],
    )
    solids = (*plan.vehicle.solids, arch)
    return plan.model_copy(update={"vehicle": plan.vehicle.model_copy(update={"solids": solids})})


def test_a_hose_is_led_round_without_a_hump(catalogue: Catalogue) -> None:
    """Laid anew, what led straight through an arch goes beside it, rising as evenly."""
    plan = loop_plan(catalogue, "convector-water")
    job = Job(plan, catalogue)
    hose = next(run for run in hose_runs(job) if run.name == "hose flow tee 1 to flow tee 2")
    a, b = hose.geometry.points[0], hose.geometry.points[-1]
    there = _with_arch(plan, (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (60.0, 60.0, 400.0))
    pockets = len(air_pockets(Job(there, catalogue)))
    assert loop_meets(Job(there, catalogue)) > 0
    laid = there
    for each in plan.coolant.hoses:
        laid = apply(laid, LayHose(hose=each.id), catalogue)
    done = Job(laid, catalogue)
    assert loop_meets(done) == 0
    run = hose_run(done, hose.hose.id)
    assert run is not None
    assert run.length_mm > hose.length_mm
    assert len(air_pockets(done)) <= pockets
    rises = [q[2] - p[2] for p, q in pairwise(run.geometry.points)]
    assert all(rise >= -1 for rise in rises) or all(rise <= 1 for rise in rises)


@pytest.mark.parametrize("usual", ["preheat", "convector"])
def test_a_usual_loop_finds_room_beside_arches(catalogue: Catalogue, usual: str) -> None:
    """Heron's arches stand where it would go first."""
    quarto, plan = demo_plan("quarto"), demo_plan("heron")
    assert quarto.heater.sheet is not None
    mount = catalogue.heater(quarto.heater.sheet).mounts[0].id
    assert plan.spot is not None
    changes = {
        "heater": quarto.heater,
        "spot": plan.spot.model_copy(update={"mount": mount}),
        "air": plan.air.model_copy(update={"ducts": (), "warm_end": "free", "return_duct": None}),
        "coolant": Coolant(),
    }
    done = apply(plan.model_copy(update=changes), StartLoop(usual=usual), catalogue)
    assert loop_meets(Job(done, catalogue)) == 0
    told = check(done, catalogue, ("coolant",)).findings
    shared = [f for f in told if f.rule in {"coolant.together", "coolant.outline"}]
    assert shared
    assert not [f for f in shared if f.verdict is Verdict.OVER]


def test_a_hose_gives_its_heat_where_each_part_of_it_lies(catalogue: Catalogue) -> None:
    """Through the floor: what is outside to the outside, as it is there; the rest to the room."""
    plan = loop_plan(catalogue, "engine-heat")
    under = next(run for run in hose_runs(Job(plan, catalogue)) if run.name.endswith("to engine"))
    x, y, _ = under.geometry.point_at(under.length_mm / 2)
    node = RouteNode(id="under", x_mm=x, y_mm=y, z_mm=-150, radius_mm=110)
    bend = AddHoseBend(collection=f"coolant.hoses.{under.hose.id}.nodes", item=node)
    job = Job(apply(plan, bend, catalogue), catalogue)
    works, state = catalogue.coolant_equipment, loop_state(job)
    assert state is not None
    through = 0
    for hose_id, (whole, shares) in hose_losses(job).items():
        run, found = hose_run(job, hose_id), state.branches[hose_id]
        assert run is not None
        expected = {True: 0.0, False: 0.0}
        for stretch in route_stretches(job, run.geometry):
            per_metre = tube_w_mk(works, run.kind, run.hose.lagging_mm, inside=stretch.inside)
            expected[stretch.inside] += per_metre * (stretch.to_mm - stretch.from_mm) / 1000
        outside = dict(shares).get(OUTSIDE, 0.0)
        assert whole == pytest.approx(sum(expected.values()), rel=1e-9)
        assert outside * whole == pytest.approx(expected[False], abs=1e-9)
        assert math.fsum(share for _, share in shares) == pytest.approx(1.0)
        assert math.fsum(w for _, w in found.given_to) == pytest.approx(found.given_w, rel=1e-9)
        through += 0 < outside < 1
    assert through == 1
