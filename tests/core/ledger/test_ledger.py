"""The ledger: whatever two things are moved into one another is told, and nothing else is."""

from __future__ import annotations

import itertools
from typing import get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.fuel.items import AddLinePart
from gale_nook.core.geometry.shapes import separation, solid_shape
from gale_nook.core.heater.commands import AddUnit
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.ledger.pairs import TOUCHING_MM, least_gap_mm, too_near
from gale_nook.core.pipes.commands import AddFitting
from gale_nook.core.plan.air import DuctPartKind
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import LinePart, LinePartKind
from gale_nook.core.plan.heater import OtherUnit
from gale_nook.core.plan.moves import SlideOut, Space, SpaceKind
from gale_nook.core.plan.old import OldOpening
from gale_nook.core.plan.pipes import Fitting, FittingKind
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, TubeSolid
from gale_nook.core.plan.vehicle import Feature, Vehicle
from gale_nook.core.spot.commands import UseOpening
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.stations import STATIONS
from gale_nook.core.vehicle.commands import AddFeature, AddOldOpening, AddSolid, AddSpace, SetSlide
from gale_nook.core.vehicle.kept_free import kept_free
from gale_nook.demo.load import demo_plan

LAID_OUT = ("heron", "quarto", "wren")


def all_bodies(job: Job) -> tuple[Body, ...]:
    return tuple(body for station in STATIONS for body in station.bodies(job))


@pytest.mark.parametrize("name", LAID_OUT)
def test_every_pair_that_is_too_near_is_found(name: str, catalogue: Catalogue) -> None:
    """Against every pair tried one by one, without bounds to leave any out."""
    bodies, room = all_bodies(Job(demo_plan(name), catalogue)), catalogue.room
    expected = {
        (one.kind, one.id, other.kind, other.id)
        for one, other in itertools.combinations(bodies, 2)
        if _distance_mm(one, other) < least_gap_mm(room, one, other) - TOUCHING_MM
    }
    found = {
        (pair.one.kind, pair.one.id, pair.other.kind, pair.other.id)
        for pair in too_near(room, bodies, bodies, within=True)
    }
    assert found == expected


def _distance_mm(one: Body, other: Body) -> float:
    """The distance of the whole shapes; faces that only touch are told as an overlap of up to a
    tenth of a millimetre by the collision library, so bounds that do not overlap count.
    """
    a, b = one.shape.bounds, other.shape.bounds
    apart = max(max(a[i] - b[i + 3], b[i] - a[i + 3]) for i in range(3))
    return max(separation(one.shape, other.shape).distance_mm, apart)


def test_each_station_looks_at_its_own_and_all_before_it(catalogue: Catalogue) -> None:
    """A station that takes room announces its rule, with the bodies of every station before."""
    before: list[object] = []
    jobs = [Job(demo_plan(name), catalogue) for name in ("heron", "quarto")]
    for station in STATIONS:
        rules = [rule for rule in station.rules if rule.id == f"{station.word}.together"]
        if not any(station.bodies(job) for job in jobs):
            assert not rules, station.word
            continue
        (rule,) = rules
        handed = rule.check.keywords  # type: ignore[attr-defined]
        assert handed["own"] is station.bodies
        assert list(handed["before"]) == before
        before.append(station.bodies)
        if station.word == "vehicle":
            before += [kept_free, unit_bodies]  # held against what is planned only
    assert len(before) == 9


def test_every_kind_of_thing_has_a_body_or_a_reason(catalogue: Catalogue) -> None:
    """A kind that is added to the plan's models without one fails here."""
    things = set(catalogue.room.things)
    bodies = {"silencer": "silencer", "filter": "air-filter", "pump": "pump", "valve": "line-valve"}
    bodies |= {"check": "line-valve", "box": "pipe-box"}
    for kind in {*get_args(FittingKind), *get_args(LinePartKind), *get_args(DuctPartKind)}:
        assert bodies.get(kind) in things or catalogue.room.without.get(kind), kind
    valve = AddLinePart(item=LinePart(id="valve-1", kind="valve", at_mm=80))
    slide = SetSlide(slide=SlideOut(from_mm=900, to_mm=2000, inner_mm=300, travel_mm=500))
    heron = demo_plan("heron")
    hatch = Feature(id="hatch", name="hatch", inside=(2760.0, -286.0), diameter_mm=190)
    opened = apply(heron, AddFeature(item=hatch), catalogue)
    plans = [*map(demo_plan, LAID_OUT), *(apply(heron, c, catalogue) for c in (valve, slide))]
    plans.append(apply(opened, UseOpening(opening="hatch"), catalogue))
    convector = "coolant.parts.convector-1.kind"
    ducted = apply(demo_plan("quarto"), set_value(convector, "matrix-5-duct"), catalogue)
    plans.append(apply(ducted, set_value("air.convector", "convector-1"), catalogue))
    box = Fitting(id="box", kind="box", at_mm=100, length_mm=100)
    boxed = AddFitting(collection="pipes.exhaust.fittings", item=box)
    plans.append(apply(heron, boxed, catalogue))
    drawn = {body.kind for plan in plans for body in all_bodies(Job(plan, catalogue))}
    own_tank = {"own-tank", "filling"}
    drawn |= _kept_free_kinds(catalogue)
    assert things - own_tank <= drawn, "a thing of the catalogue that nothing announces"


def _kept_free_kinds(catalogue: Catalogue) -> set[str]:
    """The kinds of what is held against what is planned: spaces, plates, the carrier's way, other
    heaters.
    """
    plan, place = demo_plan("plover"), {"from_x_mm": 0, "to_x_mm": 9, "left_y_mm": 0}
    place |= {"right_y_mm": 9, "low_z_mm": 0, "high_z_mm": 9}
    for kind in get_args(SpaceKind):
        space = Space.model_validate({"id": kind, "name": kind, "kind": kind, **place})
        plan = apply(plan, AddSpace(item=space), catalogue)
    closed = OldOpening(id="old", name="old vent", along_mm=0, up_mm=0, use="closed")
    plan = apply(plan, AddOldOpening(item=closed), catalogue)
    pipe = ((0.0, 0.0, 0.0), (0.0, 0.0, -200.0))
    plan = apply(plan, AddUnit(item=OtherUnit(id="u", exhaust=pipe, intake=pipe)), catalogue)
    job = Job(plan, catalogue)
    return {body.kind for body in (*kept_free(job), *unit_bodies(job))}


def test_no_surveyed_part_is_left_out(any_demo: Plan, catalogue: Catalogue) -> None:
    bodies = {body.id: body for body in all_bodies(Job(any_demo, catalogue))}
    for solid in any_demo.vehicle.solids:
        low, high = bodies[solid.id].shape.bounds, solid_shape(solid).bounds
        lid = bodies.get(f"lid.{solid.id}")
        if lid is not None:
            assert lid.shape.bounds[5] == high[5]
            high = (*high[:5], low[5])
        assert all(a <= b + 1e-6 for a, b in zip(low[:3], high[:3], strict=True))
        assert all(a >= b - 1e-6 for a, b in zip(low[3:], high[3:], strict=True))


def test_a_pair_that_may_share_room_has_its_reason_as_data(catalogue: Catalogue) -> None:
    room = catalogue.room
    assert room.pairs[("member", "rail")] == room.pairs[("rail", "member")]
    assert room.pairs[("line-at-tank", "fuel-tank")].deep_mm == 12
    for pair in (
        ("fuel-tank", "line"),
        ("fuel-tank", "pump"),
        ("own-tank", "wheel"),
        ("own-tank", "floor"),
        ("fuel-tank", "floor"),
        ("member", "floor"),
        ("rail", "floor"),
        ("exhaust", "heater"),
        ("intake", "heater"),
        ("silencer", "rail"),
        ("bed", "heater"),
    ):
        assert pair not in room.pairs, pair


KINDS = (
    "member",
    "brake-pipe",
    "fuel-tank",
    "traction-battery",
    "furniture",
    "wheel",
    "water-tank",
)
place = st.floats(-200.0, 200.0)


def _solid(kind: str, shape: str, number: int, at: tuple[float, float, float]) -> object:
    x, y, z = at
    named = {"id": f"thing-{number}", "name": f"thing {number}", "kind": kind}
    if shape == "box":
        return BoxSolid(
            **named,
            x_mm=x - 60,
            y_mm=y - 50,
            z_mm=z - 40,
            length_mm=120,
            width_mm=100,
            height_mm=80,
        )
    if shape == "cylinder":
        return CylinderSolid(
            **named, axis="y", x_mm=x, y_mm=y, z_mm=z, diameter_mm=90, length_mm=160
        )
    return TubeSolid(**named, points=((x - 150, y, z), (x + 150, y + 20, z + 5)), diameter_mm=24)


@settings(max_examples=60)
@given(
    kinds=st.tuples(st.sampled_from(KINDS), st.sampled_from(KINDS)),
    shapes=st.tuples(*[st.sampled_from(("box", "cylinder", "tube"))] * 2),
    at=st.tuples(place, place, st.floats(-30.0, 30.0)),
)
def test_two_things_moved_into_one_another_are_told(
    catalogue: Catalogue,
    kinds: tuple[str, str],
    shapes: tuple[str, str],
    at: tuple[float, float, float],
) -> None:
    """Any two parts, anywhere against one another: over exactly where they are in one place and no
    data says that they may be.
    """
    middle = (1500.0, 0.0, -250.0)
    moved = (middle[0] + at[0], middle[1] + at[1], middle[2] + at[2])
    first, second = _solid(kinds[0], shapes[0], 1, middle), _solid(kinds[1], shapes[1], 2, moved)
    blank = demo_plan("blank")
    vehicle = Vehicle.model_validate({**dict(blank.vehicle), "solids": (first, second)})
    found = check(blank.model_copy(update={"vehicle": vehicle}), catalogue, ("vehicle",))
    distance = separation(solid_shape(first), solid_shape(second)).distance_mm  # type: ignore[arg-type]
    told = found.find("vehicle.together", "thing-1:thing-2")
    if kinds in catalogue.room.pairs:
        assert told is None
    elif distance < -TOUCHING_MM:
        assert told is not None
        assert told.verdict is Verdict.OVER
        assert told.measured == pytest.approx(distance)
    elif distance > 0:
        assert told is None


@pytest.mark.parametrize("name", ["heron", "wren"])
def test_every_planned_thing_moved_onto_every_part_is_told(name: str, catalogue: Catalogue) -> None:
    """A part is put where a planned thing is: some rule is over about the two, or the data says why
    they may meet.
    """
    plan = demo_plan(name).model_copy(update={"acceptances": ()})
    tank = next((s.id for s in plan.vehicle.solids if s.kind == "fuel-tank"), None)
    fuel = plan.fuel.model_copy(update={"tank_id": tank})  # a second tank leaves no doubt which
    plan = plan.model_copy(update={"fuel": fuel})
    bodies = all_bodies(Job(plan, catalogue))
    planned = [
        body for body in bodies if body.kind in catalogue.room.things and body.owner != "shell"
    ]
    assert {"heater", "exhaust", "intake", "line"} <= {body.kind for body in planned}
    for body in planned:
        b = body.shape.bounds
        x, y, z = ((b[i] + b[i + 3]) / 2 for i in range(3))
        if body.shape.axes is not None:  # a bent run does not pass the middle of its bounds
            points = body.shape.axes.points
            x, y, z = ((points[0][i] + points[1][i]) / 2 for i in range(3))
        for kind in ("fuel-tank", "rail", "water-tank", "furniture", "bumper", "bay-part"):
            if (body.kind, kind) in catalogue.room.pairs:
                continue
            there = _with_part(plan, kind, (x, y, z))
            over = [
                f
                for f in check(there, catalogue).findings
                if f.verdict is Verdict.OVER and "in-the-way" in {f.subject, *f.subject.split(":")}
            ]
            by_name = [f for f in check(there, catalogue).findings if f.subject_name == "the block"]
            assert over or any(f.verdict is Verdict.OVER for f in by_name), (body.kind, kind)


def _with_part(plan: Plan, kind: str, at: tuple[float, float, float]) -> Plan:
    x, y, z = at
    block = BoxSolid(
        id="in-the-way",
        name="the block",
        kind=kind,
        x_mm=x - 6,
        y_mm=y - 6,
        z_mm=z - 6,
        length_mm=12,
        width_mm=12,
        height_mm=12,
    )
    vehicle = plan.vehicle.model_copy(update={"solids": (*plan.vehicle.solids, block)})
    return plan.model_copy(update={"vehicle": vehicle})


@pytest.mark.parametrize("name", ["heron", "quarto"])
def test_a_laid_out_van_has_no_two_things_in_one_place(name: str, catalogue: Catalogue) -> None:
    found = check(demo_plan(name), catalogue)
    told = [f for f in found.findings if f.rule.endswith(".together")]
    assert {f.verdict for f in told} == {Verdict.CLEAR}
    assert sum(int(f.sentence.split()[0]) for f in told) > 500


@pytest.mark.parametrize("taken", ["exhaust", "intake", "line", "heater", "tank", "shell"])
def test_a_part_called_like_a_planned_thing_is_still_held_against_it(
    taken: str, catalogue: Catalogue
) -> None:
    """What a part is called decides nothing: a rail in the exhaust's way is told by any id."""
    plan = demo_plan("heron")
    exhaust = next(b for b in all_bodies(Job(plan, catalogue)) if b.kind == "exhaust")
    assert exhaust.shape.axes is not None
    x, y, z = exhaust.shape.axes.points[0]
    named = _with_part(plan, "water-tank", (x, y, z)).vehicle.solids[-1]
    solids = tuple(s for s in plan.vehicle.solids if s.id != taken)
    part = named.model_copy(update={"id": taken})
    vehicle = plan.vehicle.model_copy(update={"solids": (*solids, part)})
    there = plan.model_copy(update={"vehicle": vehicle})
    bodies = all_bodies(Job(there, catalogue))
    ours = [body for body in bodies if body.id == taken]
    met = {pair.other.kind for pair in too_near(catalogue.room, ours, bodies)}
    assert "exhaust" in met


def test_ids_of_what_is_planned_are_no_ids_of_parts(any_demo: Plan, catalogue: Catalogue) -> None:
    bodies = all_bodies(Job(any_demo, catalogue))
    surveyed = {solid.id for solid in any_demo.vehicle.solids}
    assert all(("." in body.id) != (body.id in surveyed) for body in bodies)


def test_at_the_ports_too_no_run_goes_through_another(catalogue: Catalogue) -> None:
    """The ports lie side by side; what leaves them may not cross."""
    room = catalogue.room
    at_ports = ("exhaust-at-port", "intake-at-port", "line-at-heater")
    for one, other in itertools.combinations(at_ports, 2):
        assert (one, other) not in room.pairs
    assert room.pairs["heater", "exhaust-at-port"].deep_mm == 30


@pytest.mark.parametrize(
    ("z_mm", "over"),
    [
        (-140.0, True),  # under the slide-out, in what moves there
        (-400.0, False),  # hung so low that it slides over it
    ],
)
def test_a_slide_out_sweeps_what_stands_in_its_way(
    heron: Plan, catalogue: Catalogue, z_mm: float, over: bool
) -> None:
    """It moves out on the right over half a metre, and all that hangs on it down to -150."""
    clear = heron.model_copy(
        update={"vehicle": heron.vehicle.model_copy(update={"solids": (), "slide": None})}
    )
    half = heron.vehicle.shell.outer_width_mm / 2
    slide = SlideOut(side="right", from_mm=900, to_mm=2000, inner_mm=300, travel_mm=500)
    beside = {"y_mm": half + 100, "length_mm": 200, "width_mm": 200, "height_mm": 100}
    under = {"y_mm": half - 250, "length_mm": 200, "width_mm": 200, "height_mm": 100}
    for place in (beside, under):
        part = BoxSolid(id="box", name="box", kind="water-tank", x_mm=1200, z_mm=z_mm, **place)
        with_slide = apply(clear, SetSlide(slide=slide), catalogue)
        found = check(apply(with_slide, AddSolid(item=part), catalogue), catalogue).findings
        hits = [f for f in found if f.rule == "vehicle.together" and "slide-out" in f.subject]
        assert bool(hits) == over
    left = slide.model_copy(update={"side": "left"})
    part = BoxSolid(id="box", name="box", kind="water-tank", x_mm=1200, z_mm=z_mm, **beside)
    plan = apply(apply(clear, SetSlide(slide=left), catalogue), AddSolid(item=part), catalogue)
    assert not any("slide-out" in f.subject for f in check(plan, catalogue).findings)
