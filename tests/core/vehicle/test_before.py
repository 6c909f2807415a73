"""What was there before: openings closed or used, a part that goes, gas made dead first."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from gale_nook.core.air.bodies import skin_mm
from gale_nook.core.apply import apply
from gale_nook.core.build.lists import parts_list, steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.geometry.route import route_geometry
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import hose_runs
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.old import OldOpening
from gale_nook.core.power.bodies import LEAD_MM
from gale_nook.core.power.leads import settled_runs
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.commands import AddOldOpening
from gale_nook.core.vehicle.old_openings import middle_of, plate_mm, room_mm
from gale_nook.core.vehicle.old_use import Way, passage
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.demo.load import demo_plan

OVER, CLEAR = Verdict.OVER, Verdict.CLEAR


def _with(plan: Plan, catalogue: Catalogue, **values: object) -> Plan:
    given = {"id": "flue", "name": "old flue", "along_mm": 1500.0, "up_mm": 200.0, **values}
    return apply(plan, AddOldOpening(item=OldOpening.model_validate(given)), catalogue)


def _finding(plan: Plan, catalogue: Catalogue, rule: str, subject: str) -> Finding:
    found = check(plan, catalogue, (rule.partition(".")[0],)).find(rule, subject)
    assert found is not None
    return found


def test_an_opening_that_nothing_uses_is_closed(heron: Plan, catalogue: Catalogue) -> None:
    plan = _with(heron, catalogue, face="left", length_mm=70.0, height_mm=120.0, is_round=False)
    finding = _finding(plan, catalogue, "vehicle.old_opening", "flue")
    assert finding.verdict is OVER
    assert "130 mm by 180 mm" in say(finding.sentence)
    closed = apply(plan, remedies_for(Job(plan, catalogue), finding)[0].command, catalogue)
    assert _finding(closed, catalogue, "vehicle.old_opening", "flue").verdict is CLEAR
    job = Job(closed, catalogue)
    assert {line.part: line.needed for line in parts_list(job)}["closing-plate"] == 1
    told = {step.title: say(step.text) for step in steps(job)}
    assert "old flue in the left wall" in told["Close old openings"]


@pytest.mark.parametrize(
    ("face", "axis", "plane"),
    [("left", 1, -1), ("right", 1, 1), ("rear", 0, 1), ("bulkhead", 0, -1), ("roof", 2, 1)],
)
def test_it_lies_in_its_face(
    heron: Plan, catalogue: Catalogue, face: str, axis: int, plane: int
) -> None:
    plan = _with(heron, catalogue, face=face)
    at = middle_of(Job(plan, catalogue), plan.vehicle.old_openings[-1])
    shell = plan.vehicle.shell
    low = (shell.bulkhead_x_mm, -shell.floor_width_mm / 2, 0.0)[axis]
    high = (shell.rear_x_mm, shell.floor_width_mm / 2, shell.inside_height_mm)[axis]
    assert at[axis] == (low if plane < 0 else high)


def test_room_in_an_opening_on_paper() -> None:
    round_one = OldOpening(id="a", name="a", along_mm=100, up_mm=0, length_mm=100, height_mm=100)
    assert room_mm(round_one, (100.0, 0.0, 0.0), 40.0) == 30.0
    assert room_mm(round_one, (103.0, 4.0, 0.0), 40.0) == 25.0
    square = round_one.model_copy(update={"is_round": False, "height_mm": 60.0})
    assert room_mm(square, (110.0, 5.0, 0.0), 40.0) == 5.0
    assert room_mm(square, (100.0, 40.0, 0.0), 40.0) < 0
    assert plate_mm(round_one) == (160.0, 160.0)
    assert plate_mm(square) == (160.0, 120.0)


def test_the_exhaust_goes_through_its_opening(heron: Plan, catalogue: Catalogue) -> None:
    """Its port hangs in one in the floor: clear in its middle, over beside it; a wooden edge near
    it gets hotter than a far one, a steel one bears it.
    """
    run = pipe_run(Job(heron, catalogue), "exhaust")
    assert run is not None
    x, y, _ = run.points[0]
    diameter = heater_port(Job(heron, catalogue), "exhaust").diameter_mm
    usual = {"up_mm": y, "use": "exhaust", "edge": "wood"}
    for aside, verdict in ((0.0, CLEAR), (30.0, OVER), (400.0, OVER)):
        plan = _with(heron, catalogue, along_mm=x + aside, length_mm=diameter + 80, **usual)
        assert _finding(plan, catalogue, "pipes.old_opening", "flue").verdict is verdict
    wide, tight = (
        _with(heron, catalogue, along_mm=x, length_mm=size, **usual)
        for size in (300.0, diameter + 8)
    )
    hot = [_finding(p, catalogue, "pipes.old_edge", "flue").measured or 0 for p in (wide, tight)]
    assert hot[1] > hot[0]
    assert _finding(tight, catalogue, "pipes.old_edge", "flue").verdict is OVER
    steel = apply(tight, set_value("vehicle.old_openings.flue.edge", "steel"), catalogue)
    assert check(steel, catalogue, ("pipes",)).find("pipes.old_edge", "flue") is None


def test_gas_is_made_dead_first(heron: Plan, catalogue: Catalogue) -> None:
    """Each of its three parts; on the build sheet before everything else."""
    there = apply(heron, set_value("vehicle.old_gas.there", True), catalogue)
    assert _finding(there, catalogue, "vehicle.old_gas", "-").verdict is OVER
    done = {"isolated": True, "capped": True, "tested_by": "Jo Marl", "tested_on": "2026-10-03"}
    for left in (*done, ""):
        values = {name: value for name, value in done.items() if name != left}
        changes = tuple(
            Change(address=f"vehicle.old_gas.{name}", value=value) for name, value in values.items()
        )
        plan = apply(there, SetValues(changes=changes), catalogue)
        verdict = _finding(plan, catalogue, "vehicle.old_gas", "-").verdict
        assert verdict is (CLEAR if left == "" else OVER), left
    titles = [step.title for step in steps(Job(there, catalogue))]
    assert "made dead" in titles[0]
    parts = {line.part: line.needed for line in parts_list(Job(there, catalogue))}
    assert parts["gas-cap"] == 1
    with pytest.raises(BadInput):
        apply(there, set_value("vehicle.old_gas.tested_on", "last week"), catalogue)


def test_a_part_that_goes_is_in_nobodys_way(heron: Plan, catalogue: Catalogue) -> None:
    solid = next(s for s in heron.vehicle.solids if s.kind == "furniture")
    gone = apply(heron, set_value(f"vehicle.solids.{solid.id}.goes", True), catalogue)
    ids = [{part[0].id for part in surveyed_parts(Job(p, catalogue))} for p in (heron, gone)]
    assert ids[0] - ids[1] == {solid.id}
    told = {step.title: say(step.text) for step in steps(Job(gone, catalogue))}
    assert solid.name in told["Take out what goes"]


@pytest.mark.parametrize("use", ["fuel", "duct", "cable", "hose"])
def test_what_is_laid_goes_through_the_opening_that_is_kept_for_it(
    catalogue: Catalogue, use: str
) -> None:
    """With a bulkhead put across it: clear in its middle, over beside its edge and far from it;
    what is passed by is closed.
    """
    plan = demo_plan("quarto" if use == "hose" else "heron")
    station = {"fuel": "fuel", "duct": "air", "cable": "power", "hose": "coolant"}[use]
    way = _laid(Job(plan, catalogue), use)
    count = max(int(way.geometry.length_mm / 50), 2)
    places = [way.geometry.point_at(way.geometry.length_mm * n / count) for n in range(count + 1)]
    before, after = max(pairwise(places), key=lambda pair: abs(pair[1][0] - pair[0][0]))
    x, y, z = ((a + b) / 2 for a, b in zip(before, after, strict=True))
    plan = apply(plan, set_value("vehicle.shell.bulkhead_x_mm", x), catalogue)
    thick = way.outside_mm
    for aside, verdict in ((0.0, CLEAR), (thick / 2 + 3, OVER), (500.0, OVER)):
        kept = _with(
            plan,
            catalogue,
            face="bulkhead",
            along_mm=y + aside,
            up_mm=z,
            length_mm=1.5 * thick + 8,
            height_mm=1.5 * thick + 8,
            use=use,
        )
        finding = _finding(kept, catalogue, f"{station}.old_opening", "flue")
        assert finding.verdict is verdict, say(finding.sentence)
    closed = apply(kept, remedies_for(Job(kept, catalogue), finding)[0].command, catalogue)
    assert check(closed, catalogue, (station,)).find(f"{station}.old_opening", "flue") is None


def test_an_opening_kept_for_what_is_not_laid_is_not_called_used(
    catalogue: Catalogue,
) -> None:
    blank = demo_plan("blank")
    for use in ("fuel", "duct", "cable", "hose", "exhaust", "intake"):
        plan = _with(blank, catalogue, use=use)
        found = _finding(plan, catalogue, "vehicle.old_opening", "flue")
        assert found.verdict is Verdict.UNKNOWN


def test_what_goes_through_askew_needs_more_room(heron: Plan, catalogue: Catalogue) -> None:
    """At 60 degrees off square a pipe's cut is twice as long as it is thick."""
    opening = OldOpening(id="old", name="old", along_mm=0.0, up_mm=0.0, length_mm=100.0)
    far = 1000 * math.tan(math.radians(60.0))
    askew = route_geometry((-far, 0.0, 1000.0), (0.0, 0.0, -1.0), [((far, 0.0, -1000.0), 0.0)])
    square = route_geometry((0.0, 0.0, 1000.0), (0.0, 0.0, -1.0), [((0.0, 0.0, -1000.0), 0.0)])
    job = Job(heron, catalogue)
    assert passage(job, opening, Way("it", square, 30.0))[1] == pytest.approx(35.0)
    assert passage(job, opening, Way("it", askew, 30.0))[1] == pytest.approx(20.0)


def _laid(job: Job, use: str) -> Way:
    """The longest of its kind."""
    if use == "fuel":
        run = fuel_run(job)
        assert run is not None
        return Way("it", run.geometry, max(run.suction.outer_mm, run.pressure.outer_mm))
    ways = {
        "duct": lambda: [Way("it", run.geometry, skin_mm(job, run, 0.0)) for run in all_runs(job)],
        "cable": lambda: [Way("it", run.geometry, LEAD_MM) for run in settled_runs(job)],
        "hose": lambda: [Way("it", run.geometry, run.outside_mm) for run in hose_runs(job)],
    }[use]()
    return max(ways, key=lambda way: way.geometry.length_mm)
