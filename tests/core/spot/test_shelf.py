"""Heaters on a shelf with room under it, and in hollow furniture."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import floor_stack_mm, free_shelf, heater_port, port_point
from gale_nook.core.vehicle.commands import AddSolid, SetHollow
from gale_nook.demo.load import demo_plan

OVER, CLEAR = Verdict.OVER, Verdict.CLEAR


def _find(plan: Plan, catalogue: Catalogue, rule: str, subject: str) -> Finding:
    found = check(plan, catalogue, (rule.partition(".")[0],)).find(rule, subject)
    assert found is not None
    return found


@pytest.fixture
def coot() -> Plan:
    return demo_plan("coot")


def test_a_mount_on_a_free_shelf_passes_the_shelf_alone(coot: Plan, catalogue: Catalogue) -> None:
    """Coot's shelf of 6 mm lies at 820: ports end 58 mm under its top, inside."""
    job = Job(coot, catalogue)
    assert free_shelf(job) is not None
    assert floor_stack_mm(job) == pytest.approx(6.0)
    x, y, z = port_point(job, heater_port(job, "exhaust"))
    assert (x, y, z) == pytest.approx((2218.0, 820.0, 826.0 - 58.0))
    assert say(_find(coot, catalogue, "spot.stack", "plate").sentence).startswith("6 mm of shelf")
    thick = apply(coot, set_value("vehicle.solids.shelf.height_mm", 60), catalogue)
    assert _find(thick, catalogue, "spot.stack", "plate").verdict is OVER


def test_a_box_that_stands_on_the_floor_is_passed_with_it(coot: Plan, catalogue: Catalogue) -> None:
    standing = SetValues(
        changes=(
            Change(address="vehicle.solids.shelf.z_mm", value=40),
            Change(address="vehicle.solids.shelf.height_mm", value=786),
        )
    )
    plan = apply(coot, standing, catalogue)
    assert free_shelf(Job(plan, catalogue)) is None
    assert _find(plan, catalogue, "spot.stack", "plate").verdict is OVER


def test_room_below_the_ports_is_looked_for_under_the_shelf(
    coot: Plan, catalogue: Catalogue
) -> None:
    crate = BoxSolid(
        id="crate",
        name="crate of floats",
        kind="furniture",
        material="plastic",
        x_mm=2100,
        y_mm=700,
        z_mm=400,
        length_mm=220,
        width_mm=200,
        height_mm=300,
    )
    clear = _find(coot, catalogue, "spot.pipe_room", "exhaust-port")
    assert "the floor" in say(clear.sentence)
    plan = apply(coot, AddSolid(item=crate), catalogue)
    finding = _find(plan, catalogue, "spot.pipe_room", "exhaust-port")
    assert finding.measured == pytest.approx(820.0 - 700.0)
    assert finding.verdict is OVER


def test_a_wooden_shelf_chars_at_the_exhausts_hole(coot: Plan, catalogue: Catalogue) -> None:
    rules = {f.rule for f in check(coot, catalogue, ("pipes",)).findings}
    assert "pipes.hole_heat" not in rules  # a metal one bears it
    wood = apply(coot, set_value("vehicle.solids.shelf.material", "wood"), catalogue)
    assert _find(wood, catalogue, "pipes.hole_heat", "shelf").verdict is OVER


def test_it_has_to_be_looked_at_inside_not_below(coot: Plan, catalogue: Catalogue) -> None:
    below = next(a for a in coot.vehicle.looked_at if a.where == "below")
    nothing = coot.model_copy(
        update={
            "vehicle": coot.vehicle.model_copy(
                update={"looked_at": tuple(a for a in coot.vehicle.looked_at if a != below)}
            )
        }
    )
    over = [f for f in check(nothing, catalogue, ("spot",)).findings if f.subject == "below"]
    assert over == []


# --- in a bench ---


def test_a_heater_in_a_hollow_bench_has_the_room_inside_it(catalogue: Catalogue) -> None:
    """Dunlin's bench reaches from 1000 to 3000 with panels of 15 mm: the heater's ends are 1517 mm
    and 129 mm from them, its side 181 mm. Its top, 635 mm over the heater, is in no end's way.
    """
    found = [
        f
        for f in check(demo_plan("dunlin"), catalogue, ("spot",)).findings
        if f.rule in {"spot.outlet", "spot.inlet", "spot.sides"}
    ]
    assert all(f.verdict is CLEAR for f in found)
    gaps = [round(f.measured) for f in found if f.measured is not None]
    assert {1517, 129, 181} <= set(gaps)


def test_a_bench_that_is_solid_leaves_it_none(catalogue: Catalogue) -> None:
    dunlin = demo_plan("dunlin")
    bench = next(s for s in dunlin.vehicle.solids if s.id == "bench")
    solid = bench.model_copy(update={"hollow": None})
    others = tuple(solid if s.id == "bench" else s for s in dunlin.vehicle.solids)
    plan = dunlin.model_copy(
        update={"vehicle": dunlin.vehicle.model_copy(update={"solids": others})}
    )
    over = {f.rule for f in check(plan, catalogue, ("spot",)).findings if f.verdict is OVER}
    assert {"spot.outlet", "spot.inlet", "spot.sides"} <= over


def test_a_panel_at_the_heaters_own_height_counts(catalogue: Catalogue) -> None:
    """The bench's rear end comes 100 mm nearer: the inlet's 129 mm become 29."""
    dunlin = demo_plan("dunlin")
    plan = apply(dunlin, set_value("vehicle.solids.bench.length_mm", 1900), catalogue)
    found = _find(plan, catalogue, "spot.inlet", "inlet")
    assert found.measured == pytest.approx(29.0)
    assert found.verdict is OVER


# --- it breathes there ---


def test_a_shut_bench_starves_the_heater(catalogue: Catalogue) -> None:
    """Dunlin's bench has slots of 500 by 160; without them nothing is open: its other faces stand
    at wall and floor, or are panels.
    """
    dunlin = demo_plan("dunlin")
    open_ = _find(dunlin, catalogue, "air.enclosed", "bench")
    assert open_.measured == pytest.approx(500 * 160 / 100)
    slots = RemoveItem(collection="vehicle.solids.bench.hollow.openings", item_id="o1")
    shut = apply(dunlin, slots, catalogue)
    finding = _find(shut, catalogue, "air.enclosed", "bench")
    assert (finding.measured, finding.verdict) == (0.0, OVER)
    offered = remedies_for(Job(shut, catalogue), finding)
    assert offered
    cured = apply(shut, offered[0].command, catalogue)
    assert _find(cured, catalogue, "air.enclosed", "bench").verdict is CLEAR
    covered = apply(
        dunlin,
        set_value("vehicle.solids.bench.hollow.openings.o1.covered_percent", 98.0),
        catalogue,
    )
    assert _find(covered, catalogue, "air.enclosed", "bench").verdict is OVER


def test_a_bench_open_to_the_aisle_breathes(catalogue: Catalogue) -> None:
    dunlin = demo_plan("dunlin")
    plan = apply(
        dunlin,
        RemoveItem(collection="vehicle.solids.bench.hollow.openings", item_id="o1"),
        catalogue,
    )
    bench = next(s for s in plan.vehicle.solids if s.id == "bench")
    assert isinstance(bench, BoxSolid)
    assert bench.hollow is not None
    bare = bench.hollow.model_copy(update={"panels": ("front", "rear", "up"), "lids": ()})
    plan = apply(plan, SetHollow(solid="bench", hollow=bare), catalogue)
    finding = _find(plan, catalogue, "air.enclosed", "bench")
    assert finding.measured == pytest.approx(2000 * 780 / 100)
