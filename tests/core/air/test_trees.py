"""Trees of ducts to outlets that were pointed at: what is found is proved against the whole check,
and what is not found is told with what stops it.
"""

from __future__ import annotations

import math
import random

import pytest

from gale_nook.core.air.commands import StartReturn
from gale_nook.core.air.duct_space import in_the_way
from gale_nook.core.air.outlet_places import SNAP_MM, ways_it_may_blow
from gale_nook.core.air.pointing import outlet_in_the_middle, pointed_outlet
from gale_nook.core.air.tree_fitting import duct_id_of, with_ducts
from gale_nook.core.air.tree_proposals import MOVED_MM, TreeSearch, find_trees
from gale_nook.core.air.tree_search import NoWay, TreeOptions, find_tree
from gale_nook.core.apply import applied
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.ducts.places import place_of
from gale_nook.core.ducts.tree import duct_runs
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.air import MOST_WANTED, WantedOutlet
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.power import Power
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.stations import RULES
from gale_nook.core.vehicle.commands import SetHollow
from gale_nook.demo.load import demo_plan

pytestmark = pytest.mark.slow
POINTED = ((1150.0, -395.0), (2180.0, -640.0), (2620.0, -600.0))


def _pointing(plan: Plan, catalogue: Catalogue, *places: tuple[float, ...]) -> Job:
    job = Job(plan, catalogue)
    for place in places:
        job = _with(job, (*job.plan.air.wanted, pointed_outlet(job, *place)))
    return job


def _with(job: Job, wanted: tuple[WantedOutlet, ...]) -> Job:
    air = job.plan.air.model_copy(update={"wanted": wanted})
    return job.with_parts(air=air)


def _over(plan: Plan, catalogue: Catalogue) -> set[tuple[str, str, str]]:
    return {f.key for f in check(plan, catalogue).findings if f.verdict is Verdict.OVER}


def _proved_again(job: Job, found: TreeSearch, catalogue: Catalogue) -> None:
    """Every tree that is called clear puts nothing over that is not without ducts, by the whole
    check of the plan with it.
    """
    before = _over(with_ducts(job, ()).plan, catalogue)
    for tree in found.trees:
        after = _over(applied(job, tree.command), catalogue)
        told = {finding.key for finding in tree.over}
        assert after - before <= told | before
        if not tree.over:
            assert not after - before


@pytest.fixture(scope="module")
def herons(catalogue: Catalogue) -> tuple[Job, TreeSearch]:
    """Before the leads are laid: ducts come first, and leads are led round them."""
    before_leads = demo_plan("heron").model_copy(update={"power": Power()})
    job = _pointing(before_leads, catalogue, *POINTED)
    return job, find_trees(job, RULES)


def test_three_clear_trees_are_found_for_heron(
    herons: tuple[Job, TreeSearch], catalogue: Catalogue
) -> None:
    job, found = herons
    assert len(found.trees) == 3
    assert not any(tree.over for tree in found.trees)
    _proved_again(job, found, catalogue)


def test_every_outlet_is_reached_in_its_place_and_zone(herons: tuple[Job, TreeSearch]) -> None:
    job, found = herons
    for tree in found.trees:
        there = with_ducts(job, tree.ducts)
        mouths = {
            run.duct.outlet.name: (run.geometry.mouth, run.duct.outlet.zone)
            for run in duct_runs(there)
            if run.duct.outlet is not None
        }
        for outlet in job.plan.air.wanted:
            mouth, zone = mouths[outlet.name]
            assert math.dist(mouth, outlet.at) <= SNAP_MM
            assert place_of(job, mouth) == place_of(job, outlet.at)
            assert zone == outlet.zone


def test_the_trees_lie_elsewhere_and_one_outlet_stays_open(
    herons: tuple[Job, TreeSearch], catalogue: Catalogue
) -> None:
    _, found = herons
    assert len({tree.where for tree in found.trees}) == 3
    works = catalogue.air_equipment
    for tree in found.trees:
        kinds = [works.outlet(d.outlet.kind) for d in tree.ducts if d.outlet is not None]
        assert any(not kind.closable for kind in kinds)
        assert tree.usable_w > 0
        assert tree.holes == sum(len(duct.of_kind("panel")) for duct in tree.ducts)


def test_taking_a_tree_is_one_edit_that_ends_the_pointing(herons: tuple[Job, TreeSearch]) -> None:
    job, found = herons
    after = applied(job, found.trees[0].command).air
    assert after.wanted == ()
    assert after.ducts == found.trees[0].ducts
    assert after.warm_end == "duct"


def test_without_pointing_other_trees_to_the_same_outlets_are_found(catalogue: Catalogue) -> None:
    job = Job(demo_plan("heron"), catalogue)
    found = find_trees(job, RULES)
    assert found.trees
    names = {d.outlet.name for d in job.plan.air.ducts if d.outlet is not None}
    for tree in found.trees:
        assert {name for name, *_ in tree.outlets} == names
    _proved_again(job, found, catalogue)


def test_the_first_straight_is_kept_where_there_is_room(catalogue: Catalogue) -> None:
    plan = demo_plan("heron")
    solids = tuple(s for s in plan.vehicle.solids if s.id != "shoe-box")
    vehicle = plan.vehicle.model_copy(update={"solids": solids})
    plan = plan.model_copy(update={"vehicle": vehicle, "acceptances": ()})
    found = find_trees(_pointing(plan, catalogue, (1150.0, -395.0)), RULES)
    assert found.trees
    rules = {finding.rule for tree in found.trees for finding in tree.over}
    assert "air.first_straight" not in rules


def _closed_locker(catalogue: Catalogue) -> Job:
    """Heron, with nobody having said that its locker is hollow, and an outlet in it."""
    plan = demo_plan("heron")
    solids = tuple(
        s.model_copy(update={"hollow": None}) if isinstance(s, BoxSolid) and s.id == "locker" else s
        for s in plan.vehicle.solids
    )
    vehicle = plan.vehicle.model_copy(update={"solids": solids})
    return _pointing(plan.model_copy(update={"vehicle": vehicle}), catalogue, (2180.0, -640.0))


def test_furniture_that_may_be_hollow_is_named_and_saying_so_opens_it(catalogue: Catalogue) -> None:
    job = _closed_locker(catalogue)
    found = find_trees(job, RULES)
    assert not found.trees
    hint = found.hints[0]
    assert isinstance(hint.command, SetHollow)
    assert hint.command.solid == "locker"
    opened = job.with_plan(applied(job, hint.command))
    assert find_trees(opened, RULES).trees


def test_what_shuts_an_outlet_off_is_named(catalogue: Catalogue) -> None:
    job = _pointing(demo_plan("heron"), catalogue, (3600.0, 0.0, 630.0))
    hints = find_trees(job, RULES).hints
    assert "bed platform" in hints[0].sentence


def test_an_outlet_that_cannot_blow_as_it_should_is_told_so(catalogue: Catalogue) -> None:
    job = _pointing(demo_plan("heron"), catalogue, (1150.0, -395.0))
    wanted = job.plan.air.wanted[0].model_copy(update={"blows": "up"})
    found = find_trees(_with(job, (wanted,)), RULES)
    assert not found.trees
    assert "not so that it blows up" in found.hints[0].sentence


def test_an_outlet_is_not_turned_at_bedding_or_into_furniture(catalogue: Catalogue) -> None:
    job = _pointing(demo_plan("heron"), catalogue, (1150.0, -395.0), (2500.0, 300.0, 650.0))
    at_galley, at_bed = job.plan.air.wanted
    left, rear = 2, 1
    assert left not in ways_it_may_blow(job, at_galley, 75.0)
    assert rear not in ways_it_may_blow(job, at_bed, 75.0)


def _with_lid(plan: Plan, solid_id: str) -> Plan:
    solids = tuple(
        s.model_copy(update={"hollow": s.hollow.model_copy(update={"lids": ("up",)})})
        if isinstance(s, BoxSolid) and s.id == solid_id and s.hollow is not None
        else s
        for s in plan.vehicle.solids
    )
    vehicle = plan.vehicle.model_copy(update={"solids": solids})
    return plan.model_copy(update={"vehicle": vehicle})


def test_a_panel_counts_as_one_and_a_closed_box_does_not(catalogue: Catalogue) -> None:
    things = in_the_way(Job(demo_plan("heron"), catalogue))
    across = {thing.body: set() for thing in things}  # type: dict[str, set[int | None]]
    for thing in things:
        across[thing.body].add(thing.across)
    assert across["locker"] == {0, 1, 2}
    assert across["bench"] == {None}
    lidded = _with_lid(demo_plan("heron"), "locker")
    lids = {t.across for t in in_the_way(Job(lidded, catalogue)) if t.body == "locker"}
    assert None in lids  # it lifts out: no hole is made in it
    wren = {thing.body: thing for thing in in_the_way(Job(demo_plan("wren"), catalogue))}
    assert wren["step-wall"].across == 0


def test_pointing_finds_zone_and_usual_height(catalogue: Catalogue) -> None:
    job = _pointing(demo_plan("heron"), catalogue, *POINTED)
    assert [w.zone for w in job.plan.air.wanted] == ["living", "locker", "bed"]
    assert len({w.name for w in job.plan.air.wanted}) == 3
    assert job.plan.air.wanted[2].z_mm > 600
    middle = outlet_in_the_middle(_with(job, ()))
    assert place_of(job, middle.at) == "living"
    assert outlet_in_the_middle(_with(job, (middle,))).zone == "bed"


def test_what_cannot_be_pointed_at_is_refused(catalogue: Catalogue) -> None:
    job = Job(demo_plan("heron"), catalogue)
    with pytest.raises(BadInput, match="outside"):
        pointed_outlet(job, 9000.0, 0.0)
    many = _pointing(demo_plan("heron"), catalogue, *[(1000.0 + 50 * n, 0.0) for n in range(6)])
    with pytest.raises(BadInput, match=str(MOST_WANTED)):
        pointed_outlet(many, 1000.0, 100.0)
    with pytest.raises(BadInput, match="Point first"):
        find_trees(_with(with_ducts(job, ()), ()))
    with pytest.raises(BadInput, match="choose one and a place"):
        find_trees(_pointing(demo_plan("blank"), catalogue, (1000.0, 0.0)))


def test_what_was_found_on_the_way_is_not_spoilt_by_going_on(catalogue: Catalogue) -> None:
    """Trees that begin alike share their beginning."""
    job = _pointing(demo_plan("heron"), catalogue, *POINTED)
    duct = catalogue.air_equipment.duct("duct-75")
    one, two, three = (outlet.id for outlet in job.plan.air.wanted)
    known: dict[TreeOptions, object] = {}
    alone = TreeOptions((one,), duct, duct, 1, 300.0)
    begun = find_tree(job, job.plan.air.wanted, alone, known)  # type: ignore[arg-type]
    assert not isinstance(begun, NoWay)
    points = [list(leg.points) for leg in begun.legs]
    for order in ((one, two), (one, three), (one, two, three)):
        options = TreeOptions(order, duct, duct, 1, 300.0)
        fresh = find_tree(job, job.plan.air.wanted, options)
        shared = find_tree(job, job.plan.air.wanted, options, known)  # type: ignore[arg-type]
        assert not isinstance(fresh, NoWay)
        assert not isinstance(shared, NoWay)
        assert [leg.points for leg in fresh.legs] == [leg.points for leg in shared.legs]
    assert [list(leg.points) for leg in begun.legs] == points


@pytest.mark.parametrize("seed", range(4))
def test_outlets_pointed_at_anywhere_get_proved_trees_or_reasons(
    seed: int, catalogue: Catalogue
) -> None:
    chance = random.Random(seed)
    plan = demo_plan(chance.choice(["heron", "wren"]))
    shell = plan.vehicle.shell
    half = shell.floor_width_mm / 2
    places = [
        (
            chance.uniform(shell.bulkhead_x_mm, shell.rear_x_mm),
            chance.uniform(-half, half),
            chance.uniform(100.0, 1000.0),
        )
        for _ in range(chance.randint(1, 2))
    ]
    job = _pointing(plan, catalogue, *places)
    found = find_trees(job, RULES)
    assert found.trees or found.hints
    assert all(hint.sentence for hint in found.hints)
    _proved_again(job, found, catalogue)


def test_the_return_duct_is_in_the_way_and_the_ducts_that_go_are_not(catalogue: Catalogue) -> None:
    plain = Job(demo_plan("heron"), catalogue)
    back = plain.with_plan(applied(plain, StartReturn()))
    named = {thing.body for thing in in_the_way(back)}
    assert "air.return-duct" in named
    assert not {"air.trunk", "air.bed"} & named


def test_outlets_of_one_name_are_told_apart(catalogue: Catalogue) -> None:
    job = _pointing(demo_plan("heron"), catalogue, (1150.0, -395.0), (2620.0, -600.0))
    alike = tuple(w.model_copy(update={"name": "outlet"}) for w in job.plan.air.wanted)
    found = find_trees(_with(job, alike), RULES)
    assert found.trees
    for tree in found.trees:
        ends = {d.id: (d.nodes[-1].x_mm, d.nodes[-1].y_mm, d.nodes[-1].z_mm) for d in tree.ducts}
        away = [math.dist(ends[duct_id_of(w, alike)], w.at) for w in alike]
        assert max(away) <= SNAP_MM
        assert len(tree.moved) == sum(each > MOVED_MM for each in away)
