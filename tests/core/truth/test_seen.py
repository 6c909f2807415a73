"""Plans that were once called clear and cannot be built, and figures that were once wrong, each by
name.
"""

from __future__ import annotations

import math

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import parts_list
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.fuel.commands import SetSource
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.geometry.parked import Lean
from gale_nook.core.geometry.route import route_geometry
from gale_nook.core.heater.choice import judgements
from gale_nook.core.job import Job
from gale_nook.core.pipes.spray import wedges
from gale_nook.core.pipes.tilt import worst_falls
from gale_nook.core.pipes.work import pipe_steps
from gale_nook.core.plan.build import Build
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import OwnTank
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.quantities.length import UnitSystem, parse_length_mm
from gale_nook.core.quantities.measures import parse_quantity
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.search import without_runs
from gale_nook.core.vehicle.starts import starting_part
from gale_nook.demo.load import demo_plan
from gale_nook.worker.kinds import KINDS


def over(plan: Plan, catalogue: Catalogue, *stations: str) -> dict[tuple[str, str], Finding]:
    found = check(plan, catalogue, stations or None).findings
    return {(f.rule, f.subject): f for f in found if f.verdict is Verdict.OVER}


# --- two things in one place ---


def test_the_line_and_the_pump_through_the_vehicles_own_tank(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Taken off in the middle of the tank, the line led through it to the rear: clear, once."""
    plan = apply(heron, set_value("fuel.tap_x_mm", 1500.0), catalogue)
    found = over(plan, catalogue, "fuel")
    assert {
        ("fuel.together", "fuel.line:tank"),
        ("fuel.together", "line.pump:tank"),
    } <= found.keys()
    assert found["fuel.together", "fuel.line:tank"].hazard == "fire"


def _own_tank(plan: Plan, catalogue: Catalogue, **changes: float) -> Plan:
    outside = apply(plan, SetSource(source="tank-outside"), catalogue)
    assert outside.fuel.tank is not None
    tank = OwnTank.model_validate({**outside.fuel.tank.model_dump(), **changes})
    return outside.model_copy(update={"fuel": outside.fuel.model_copy(update={"tank": tank})})


def test_an_own_tank_in_the_circle_of_a_wheel_that_nobody_surveyed(catalogue: Catalogue) -> None:
    plan = demo_plan("blank")
    shell = plan.vehicle.shell
    x, y = shell.rear_axle_x_mm, shell.outer_width_mm / 2
    hub = shell.ground_z_mm + shell.wheel_diameter_mm / 2
    there = _own_tank(plan, catalogue, x_mm=x - 200, y_mm=y - 260, z_mm=hub - 50)
    assert ("fuel.together", "fuel.tank:axle.wheel-rear-right") in over(there, catalogue, "fuel")
    away = _own_tank(plan, catalogue, x_mm=x - 1500, y_mm=y - 260, z_mm=hub - 50)
    assert ("fuel.together", "fuel.tank:axle.wheel-rear-right") not in over(away, catalogue, "fuel")


def test_an_outside_tank_up_through_the_load_floor(heron: Plan, catalogue: Catalogue) -> None:
    there = _own_tank(heron, catalogue, x_mm=600, y_mm=0, z_mm=-50, height_mm=180)
    assert ("fuel.together", "fuel.tank:shell.floor") in over(there, catalogue, "fuel")


def test_a_vehicle_tank_above_the_floor(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(heron, set_value("vehicle.solids.tank.z_mm", -170.0), catalogue)
    found = over(plan, catalogue, "vehicle")
    assert found["vehicle.together", "tank:shell.floor"].measured == pytest.approx(-71.2, abs=0.1)


@pytest.mark.parametrize("kind", ["member", "rail"])
def test_members_and_rails_begin_below_the_floor_stack(kind: str, catalogue: Catalogue) -> None:
    for name in ("blank", "heron", "quarto", "wren"):
        plan = demo_plan(name)
        part = starting_part(Job(plan, catalogue), catalogue.solid_kinds[kind])
        vehicle = plan.vehicle.model_copy(update={"solids": (part,)})
        assert not over(plan.model_copy(update={"vehicle": vehicle}), catalogue, "vehicle")
        raised = part.model_copy(update={"z_mm": part.z_mm + 60})  # type: ignore[union-attr]
        vehicle = plan.vehicle.model_copy(update={"solids": (raised,)})
        found = over(plan.model_copy(update={"vehicle": vehicle}), catalogue, "vehicle")
        assert ("vehicle.together", f"{part.id}:shell.floor") in found


def test_every_kind_of_part_begins_where_it_can_be(catalogue: Catalogue) -> None:
    """Of the usual shape and size of its kind, and nowhere in the floor or the ground."""
    plan = demo_plan("blank")
    for kind in catalogue.solid_kinds.values():
        part = starting_part(Job(plan, catalogue), kind)
        vehicle = plan.vehicle.model_copy(update={"solids": (part,)})
        found = over(plan.model_copy(update={"vehicle": vehicle}), catalogue, "vehicle")
        assert not [
            key for key in found if key[1].split(":")[-1] in {"shell.floor", "shell.ground"}
        ], kind.id
    brake = starting_part(Job(plan, catalogue), catalogue.solid_kinds["brake-pipe"])
    assert (brake.shape, brake.diameter_mm) == ("tube", 6)  # type: ignore[union-attr]
    bed = starting_part(Job(plan, catalogue), catalogue.solid_kinds["bed"])
    assert bed.material == "wood"


# --- how the line and the pipes lie ---


def test_a_hump_below_the_take_off(heron: Plan, catalogue: Catalogue) -> None:
    """Heights -90, -340, -150, -310, -290, -64: air sits at -150, 160 mm over what follows."""
    line = heron.fuel.line
    assert line is not None
    heights = (-340.0, -150.0, -310.0, -290.0)
    nodes = tuple(
        RouteNode(id=f"n-{n}", x_mm=2000.0 + 150 * n, y_mm=-650.0, z_mm=z, radius_mm=5.0)
        for n, z in enumerate(heights, 1)
    )
    fuel = heron.fuel.model_copy(update={"line": line.model_copy(update={"nodes": nodes})})
    job = Job(heron.model_copy(update={"fuel": fuel}), catalogue)
    run = fuel_run(job)
    assert run is not None
    assert [(trap.corner, trap.falls_mm) for trap in run.air_traps] == [(2, 160.0)]
    found = over(job.plan, catalogue, "fuel")
    assert found["fuel.hump", "corner-2"].measured == pytest.approx(160.0)


def test_a_diagonal_parked_along_itself_rises() -> None:
    """It falls 2.5° on its way rearward and left; 3° askew along it, it rises 0.5°."""
    level = math.cos(math.radians(2.5)) / math.sqrt(2)
    end = (1000 * level, -1000 * level, -1000 * math.sin(math.radians(2.5)))
    run = route_geometry((0.0, 0.0, 0.0), (0.0, 0.0, -1.0), [(end, 0.0)])
    (worst,) = worst_falls(run, Lean(3.0, 3.0))
    assert worst.fall_deg == pytest.approx(-0.5, abs=1e-6)
    assert worst.parked.name == "nose down, left side down" or "nose" in worst.parked.name
    assert worst_falls(run, Lean(2.0, 2.0))[0].fall_deg == pytest.approx(0.5, abs=1e-6)


def test_no_way_of_standing_is_worse_than_the_one_told() -> None:
    run = route_geometry((0.0, 0.0, 0.0), (0.0, 0.0, -1.0), [((700.0, 310.0, -90.0), 0.0)])
    (worst,) = worst_falls(run, Lean(4.0, 4.0))
    for step in range(720):
        turn = math.radians(step / 2)
        s, c = math.sin(math.radians(4.0)), math.cos(math.radians(4.0))
        down = (s * math.cos(turn), s * math.sin(turn), -c)
        length = math.dist(run.points[0], run.points[1])
        fall = math.degrees(
            math.asin(sum(p * d for p, d in zip((700, 310, -90), down, strict=True)) / length)
        )
        assert fall >= worst.fall_deg - 1e-9


def test_two_corners_in_one_place_keep_their_bend() -> None:
    corner, end = (100.0, 0.0, 0.0), (100.0, 200.0, 0.0)
    once = route_geometry((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), [(corner, 20.0), (end, 0.0)])
    twice = route_geometry(
        (0.0, 0.0, 0.0), (1.0, 0.0, 0.0), [(corner, 20.0), (corner, 20.0), (end, 0.0)]
    )
    assert once.bend_sum_deg == pytest.approx(90.0)
    assert twice.bend_sum_deg == pytest.approx(90.0)
    at_port = route_geometry(
        (0.0, 0.0, 0.0), (1.0, 0.0, 0.0), [((0.0, 0.0, 0.0), 20.0), ((0.0, 90.0, 0.0), 0.0)]
    )
    assert at_port.bend_sum_deg == pytest.approx(90.0)


def test_what_stands_out_beside_the_vehicle_is_its_skin(heron: Plan, catalogue: Catalogue) -> None:
    """A pipe along the flank, its middle on the vehicle's outline, stands out by its radius."""
    half = heron.vehicle.shell.outer_width_mm / 2
    plan = heron
    for node in ("n-2", "n-3"):
        plan = apply(plan, set_value(f"pipes.exhaust.nodes.{node}.y_mm", -half), catalogue)
    found = check(plan, catalogue, ("pipes",)).find("pipes.overhang", "exhaust")
    assert found is not None
    radius = catalogue.heater("bothy-40").exhaust.diameter_mm / 2
    assert found.measured == pytest.approx(radius, abs=0.5)


def test_the_pumps_tilt_holds_as_parked(heron: Plan, catalogue: Catalogue) -> None:
    askew = heron.settings.parked_tilt_deg
    plan = apply(heron, set_value("fuel.line.pump.tilt_deg", 15.0 + askew - 0.5), catalogue)
    assert ("fuel.pump_tilt", "-") in over(plan, catalogue, "fuel")
    plan = apply(heron, set_value("fuel.line.pump.tilt_deg", 15.0 + askew + 0.5), catalogue)
    assert ("fuel.pump_tilt", "-") not in over(plan, catalogue, "fuel")


def test_a_joint_in_the_mounts_open_well_is_not_inside(heron: Plan, catalogue: Catalogue) -> None:
    """The port ends 20 mm over the floor's underside, within the turret's hole: open below."""
    sheet = catalogue.heater("bothy-40")
    high = sheet.exhaust.model_copy(update={"drop_mm": 29.0})
    mine = sheet.model_copy(update={"id": "mine", "exhaust": high})
    plan = heron.model_copy(
        update={"heater": heron.heater.model_copy(update={"own_sheets": (mine,), "sheet": "mine"})}
    )
    found = check(plan, catalogue, ("pipes",)).find("pipes.joint_inside", "port")
    assert found is None or found.verdict is Verdict.CLEAR
    moved = sheet.exhaust.model_copy(update={"drop_mm": 29.0, "x_mm": -90.0})
    beside = mine.model_copy(update={"exhaust": moved})
    plan = heron.model_copy(
        update={
            "heater": heron.heater.model_copy(update={"own_sheets": (beside,), "sheet": "mine"})
        }
    )
    assert ("pipes.joint_inside", "port") in over(plan, catalogue, "pipes")


# --- heat ---


def test_warm_up_is_from_cold_whatever_the_night_begins_with(
    heron: Plan, catalogue: Catalogue
) -> None:
    cold = {j.sheet.id: j.warm_up_s for j in judgements(Job(heron, catalogue))}
    mild = apply(heron, set_value("heat.night.start_c", 15.0), catalogue)
    assert {j.sheet.id: j.warm_up_s for j in judgements(Job(mild, catalogue))} == cold
    assert (cold["bothy-40"] or 0) > 3600


@pytest.mark.parametrize("cab_c", [-40.0, 45.0])
def test_a_cab_colder_than_outside_or_warmer_than_inside_is_refused(
    heron: Plan, catalogue: Catalogue, cab_c: float
) -> None:
    with pytest.raises(BadInput, match="lies between outside and inside"):
        apply(heron, set_value("heat.cab_c", cab_c), catalogue)


# --- words and numbers ---


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ('2-7/8"', 73.025),
        ("6'-2\"", 1879.6),
        ("6-7/8 in", 174.625),
        ("640.", 640.0),
        ("64\u00a0cm", 640.0),
        ("6\u202f7\u20448\u00a0in", 174.625),
        ("1\u20442 in", 12.7),
        ('6 7/8" - 2 3/8"', 114.3),
        ("6' - 2\"", 1778.0),
    ],
)
def test_lengths_as_they_are_written(text: str, mm: float) -> None:
    assert parse_length_mm(text) == pytest.approx(mm)


@pytest.mark.parametrize("text", ["1,250 cm", "1,250'", "1,250", "1,250,000"])
def test_lengths_that_could_be_two_are_refused(text: str) -> None:
    for system in UnitSystem:
        with pytest.raises(BadInput):
            parse_length_mm(text, system)


@pytest.mark.parametrize(("text", "kind"), [("1,500", "m"), ("4,000 W", "w"), ("-1,200 W", "w")])
def test_other_quantities_that_could_be_two_are_refused(text: str, kind: str) -> None:
    with pytest.raises(BadInput, match="two ways"):
        parse_quantity(text, kind, UnitSystem.METRIC, "value")


def test_decimals_of_other_quantities_are_read() -> None:
    assert parse_quantity("4,5 kW", "w", UnitSystem.METRIC, "need") == 4500.0
    assert parse_quantity("650.", "m", UnitSystem.METRIC, "altitude") == 650.0
    assert parse_quantity("1,759", "number", UnitSystem.METRIC, "price") == 1.759


def test_the_combustion_air_is_hung_once_and_has_no_silencer(
    heron: Plan, catalogue: Catalogue
) -> None:
    steps = list(pipe_steps(Job(heron, catalogue)))
    titles = [step.title for step in steps]
    assert titles.count("Hang the exhaust") == 1
    (air,) = [step for step in steps if step.title == "Hang the combustion-air pipe"]
    assert "silencer" not in air.text


# --- what is offered ---


@pytest.mark.slow
@pytest.mark.parametrize("name", ["heron", "quarto"])
def test_nothing_that_is_offered_puts_anything_new_over(name: str, catalogue: Catalogue) -> None:
    """Ways, lines and best spots, each applied and put before the checks of every station. Nothing
    is cut yet: another way makes cut pipes the wrong length.
    """
    plan = demo_plan(name).model_copy(update={"build": Build()})
    before = over(plan, catalogue).keys()
    job, ran = Job(plan, catalogue), lambda *_: None
    ways = KINDS["ways"].run(plan, catalogue, {"tube": "exhaust"}, ran).ways
    ways += KINDS["ways"].run(plan, catalogue, {"tube": "intake"}, ran).ways
    assert len(ways) >= 4
    for way in ways:
        after = over(apply(plan, way.command, catalogue), catalogue)
        assert after.keys() <= before, way.tube
    for line in KINDS["lines"].run(plan, catalogue, {}, ran):
        after = over(apply(plan, line.command, catalogue), catalogue)
        assert after.keys() - before <= {(f.rule, f.subject) for f in line.over}
    weights = {key: 1.0 for key in ("exhaust", "fuel", "duct", "quiet", "margin")}
    bare = without_runs(job)
    known = over(bare.plan, catalogue).keys()
    for best in KINDS["best"].run(plan, catalogue, weights, ran):
        there = bare.plan.model_copy(update={"spot": best.spot, "acceptances": ()})
        assert {key for key in over(there, catalogue) if key[0].startswith("spot")} <= known


@pytest.mark.parametrize(("high_mm", "verdict"), [(300.0, Verdict.CLEAR), (1300.0, Verdict.OVER)])
def test_a_tank_inside_is_held_against_the_sheets_own_figure(
    heron: Plan, catalogue: Catalogue, high_mm: float, verdict: Verdict
) -> None:
    """The sheet lets the fuel stand 1,000 mm over its pump: the commonest layout is not refused."""
    inside = apply(heron, SetSource(source="tank-inside"), catalogue)
    assert inside.fuel.tank is not None
    tank = inside.fuel.tank.model_copy(update={"z_mm": high_mm})
    plan = inside.model_copy(update={"fuel": inside.fuel.model_copy(update={"tank": tank})})
    found = check(plan, catalogue, ("fuel",)).find("fuel.siphon", "-")
    assert found is not None
    assert (found.verdict, found.band.maximum) == (verdict, 1000.0)
    assert found.band.whose.value == "limit sheet"


def test_wheels_that_were_not_surveyed_throw_up_spray_beside_those_that_were(
    heron: Plan, catalogue: Catalogue
) -> None:
    """With one of four surveyed, the other three stand at the axles all the same."""
    wheels = [s.id for s in heron.vehicle.solids if s.kind == "wheel"]
    assert len(wheels) == 4
    kept = tuple(s for s in heron.vehicle.solids if s.id not in wheels[1:])
    vehicle = heron.vehicle.model_copy(update={"solids": kept})
    assert len(wedges(Job(heron, catalogue))) == 4
    assert len(wedges(Job(heron.model_copy(update={"vehicle": vehicle}), catalogue))) == 4


def test_a_tank_inside_that_stands_too_high_has_a_way_out(
    heron: Plan, catalogue: Catalogue
) -> None:
    """The usual cure: a shut-off valve first after the tank, where there is room for it. It takes
    room and pressure, and stands on the list.
    """
    inside = apply(heron, SetSource(source="tank-inside"), catalogue)
    assert inside.fuel.tank is not None
    tank = inside.fuel.tank.model_copy(update={"z_mm": 1300.0})
    plan = inside.model_copy(update={"fuel": inside.fuel.model_copy(update={"tank": tank})})
    before = check(plan, catalogue)
    found = before.find("fuel.siphon", "-")
    assert found is not None
    offered = remedies_for(before.job, found)
    assert any("shut-off valve" in remedy.sentence for remedy in offered)
    valve = next(remedy for remedy in offered if "valve" in remedy.sentence)
    cured = apply(plan, valve.command, catalogue)
    after = check(cured, catalogue)
    held = after.find("fuel.siphon", "-")
    assert held is not None
    assert held.verdict is Verdict.CLEAR
    assert "holds the fuel back" in held.sentence
    job = after.job
    assert any(body.kind == "line-valve" for body in fuel_bodies(job))
    parts = {line.part: line.needed for line in parts_list(job)}
    assert parts["fuel-valve"] == 1
    # behind the pump it holds back nothing
    line = cured.fuel.line
    assert line is not None
    behind = tuple(
        part.model_copy(update={"at_mm": line.of_kind("pump")[0].at_mm + 200})
        if part.kind == "valve"
        else part
        for part in line.parts
    )
    moved = line.model_copy(update={"parts": behind})
    late = cured.model_copy(update={"fuel": cured.fuel.model_copy(update={"line": moved})})
    still = check(late, catalogue).find("fuel.siphon", "-")
    assert still is not None
    assert still.verdict is Verdict.OVER


@pytest.mark.slow
def test_no_remedy_makes_a_hazard_worse_in_silence(wren: Plan, catalogue: Catalogue) -> None:
    """Of all that is offered for Wren, with its many hazards over at once: most make none worse,
    and one that does is only offered where there is no other, and says what.
    """
    before = check(wren, catalogue)
    margins = {
        f.key: f.margin
        for f in before.findings
        if f.hazard is not None and f.verdict is Verdict.OVER and f.margin is not None
    }
    quiet = loud = 0
    for finding in before.findings:
        offered = remedies_for(before.job, finding)
        said = ["But it makes worse" in remedy.sentence for remedy in offered]
        assert all(said) or not any(said)
        for remedy, is_said in zip(offered, said, strict=True):
            after = check(apply(wren, remedy.command, catalogue), catalogue)
            worse = {
                f.title
                for f in after.findings
                if f.verdict is Verdict.OVER
                and f.margin is not None
                and f.margin < margins.get(f.key, f.margin) - 0.01
            }
            assert bool(worse) == is_said, remedy.sentence
            assert not is_said or any(title in remedy.sentence for title in worse)
            quiet, loud = quiet + (not is_said), loud + is_said
    assert quiet >= 25
    assert loud
