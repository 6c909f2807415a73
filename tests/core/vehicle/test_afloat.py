"""What is afloat, towed or carried: heights over the water, spaces, the way of a carrier."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import steps
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.geometry.parked import Lean, leaning, parked_attitudes
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.moves import Space
from gale_nook.core.plan.old import OldOpening
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import face_holes
from gale_nook.core.vehicle.afloat import least_over_water, pivot_of
from gale_nook.core.vehicle.commands import AddOldOpening, AddSpace
from gale_nook.core.vehicle.lean import lean_of
from gale_nook.demo.load import demo_plan

OVER, CLEAR, UNKNOWN = Verdict.OVER, Verdict.CLEAR, Verdict.UNKNOWN
BORE_MM = 26.0  # outside diameter of Coot's exhaust


def _find(plan: Plan, catalogue: Catalogue, rule: str, subject: str, run: str = "") -> Finding:
    station = rule.partition(".")[0]
    found = check(plan, catalogue, (station,)).findings
    return next(
        f for f in found if f.rule == rule and f.subject == subject and (not run or run in f.runs)
    )


def _over(plan: Plan, catalogue: Catalogue, *stations: str) -> set[tuple[str, str]]:
    found = check(plan, catalogue, stations).findings
    return {(f.rule, f.subject) for f in found if f.verdict is OVER}


@pytest.fixture
def coot() -> Plan:
    return demo_plan("coot")


# --- heel and trim ---


@given(st.floats(-1100, 1100), st.floats(-300, 1500), st.floats(0, 40), st.floats(-2000, 4000))
def test_heel_alone_is_the_closed_form(y: float, z: float, heel_deg: float, x: float) -> None:
    """Heeled by φ about the waterline's middle a point stands (z - w) cos φ - |y| sin φ over the
    water on its low side.
    """
    plan = demo_plan("coot")
    hull = plan.vehicle.hull.model_copy(update={"heel_deg": heel_deg, "trim_deg": 0.0})
    plan = plan.model_copy(update={"vehicle": plan.vehicle.model_copy(update={"hull": hull})})
    job = Job(plan, _catalogue())
    heel = math.radians(heel_deg)
    over = z - hull.waterline_z_mm
    heeled = over * math.cos(heel) - abs(y) * math.sin(heel)
    found, _ = least_over_water(job, (x, y, z))
    assert found == pytest.approx(min(heeled, over), abs=1e-6)


def _catalogue() -> Catalogue:
    from gale_nook.catalogue.load import load_catalogue  # noqa: PLC0415 - a property has no fixture

    return load_catalogue()


def test_a_mouth_at_a_corner_of_heel_and_trim_by_hand(coot: Plan, catalogue: Catalogue) -> None:
    """Coot's mouth at 2218 behind the datum, 1150 to the right, 560 up; water at -120, heel 15°,
    trim 4° about the middle at 700: the surface there stands 1150 tan 15° + 1518 tan 4° over its
    middle, and the height is what is left, along the leaning upright.
    """
    job = Job(coot, catalogue)
    run = pipe_run(job, "exhaust")
    assert run is not None
    assert run.mouth == pytest.approx((2218.0, 1150.0, 560.0))
    assert pivot_of(job) == (700.0, 0.0, -120.0)
    heel, trim = math.tan(math.radians(15)), math.tan(math.radians(4))
    upright = math.sqrt(1 + heel**2 + trim**2)
    by_hand = (560 + 120 - 1150 * heel - 1518 * trim) / upright - BORE_MM / 2
    finding = _find(coot, catalogue, "pipes.water", "mouth", "exhaust")
    assert finding.measured == pytest.approx(by_hand, abs=0.01)
    assert finding.verdict is CLEAR


@given(st.floats(0, 25), st.floats(0, 25))
def test_a_boat_leans_by_both_at_once_and_a_van_by_one(along: float, across: float) -> None:
    boat, van = Lean(along, across, together=True), Lean(3.0, 3.0)
    corner = leaning(boat, (1.0, 1.0))
    assert corner.slopes == pytest.approx(
        (math.tan(math.radians(along)), math.tan(math.radians(across))), abs=1e-9
    )
    for parked in parked_attitudes(van):
        assert math.degrees(math.acos(-parked.down[2])) == pytest.approx(3.0)
    for parked in parked_attitudes(boat):
        assert math.hypot(*parked.down) == pytest.approx(1.0)
        assert math.degrees(math.acos(-parked.down[2])) <= boat.most_deg + 1e-6


def test_the_more_it_heels_the_lower_its_mouths_come(coot: Plan, catalogue: Catalogue) -> None:
    heights = []
    for heel in (0.0, 8.0, 15.0, 30.0):
        plan = apply(coot, set_value("vehicle.hull.heel_deg", heel), catalogue)
        finding = _find(plan, catalogue, "pipes.water", "mouth", "exhaust")
        heights.append(finding.measured)
    assert heights == sorted(heights, reverse=True)
    assert finding.verdict is OVER


@pytest.mark.parametrize(("run", "water_mm"), [("exhaust", 0), ("intake", -80)])
def test_a_mouth_too_low_is_raised(
    coot: Plan, catalogue: Catalogue, run: str, water_mm: float
) -> None:
    plan = apply(coot, set_value("vehicle.hull.waterline_z_mm", water_mm), catalogue)
    finding = _find(plan, catalogue, "pipes.water", "mouth", run)
    assert finding.verdict is OVER
    remedies = remedies_for(Job(plan, catalogue), finding)
    assert remedies
    cured = apply(plan, remedies[0].command, catalogue)
    assert _find(cured, catalogue, "pipes.water", "mouth", run).verdict is not OVER


@pytest.mark.parametrize("run", ["exhaust", "intake"])
def test_a_pipe_without_a_crest_over_the_water_is_over(
    coot: Plan, catalogue: Catalogue, run: str
) -> None:
    """A wave that gets into the mouth gets into the burner."""
    assert _find(coot, catalogue, "pipes.water_crest", "crest", run).verdict is CLEAR
    plan = apply(coot, set_value("vehicle.hull.waterline_z_mm", 160), catalogue)
    assert _find(plan, catalogue, "pipes.water_crest", "crest", run).verdict is OVER


def test_openings_are_held_above_the_water(coot: Plan, catalogue: Catalogue) -> None:
    opening = OldOpening(
        id="drain", name="old sink drain", face="right", along_mm=1500.0, up_mm=260.0
    )
    plan = apply(coot, AddOldOpening(item=opening), catalogue)
    assert ("vehicle.flood", "drain") in _over(plan, catalogue, "vehicle")
    closed = apply(plan, set_value("vehicle.old_openings.drain.use", "closed"), catalogue)
    assert ("vehicle.flood", "drain") not in _over(closed, catalogue, "vehicle")
    cabin = coot.vehicle.openings[0]
    low = apply(coot, set_value(f"vehicle.openings.{cabin.id}.base_mm", 60.0), catalogue)
    assert ("vehicle.flood", cabin.id) in _over(low, catalogue, "vehicle")


def test_a_heater_leans_with_its_boat(coot: Plan, catalogue: Catalogue) -> None:
    assert _find(coot, catalogue, "spot.lean", "-").verdict is CLEAR
    plan = apply(coot, set_value("vehicle.hull.heel_deg", 26), catalogue)
    finding = _find(plan, catalogue, "spot.lean", "-")
    assert finding.verdict is OVER
    assert finding.measured == pytest.approx(lean_of(Job(plan, catalogue)).most_deg)


def test_afloat_there_is_no_ground(coot: Plan, heron: Plan, catalogue: Catalogue) -> None:
    rules = {f.rule for f in check(coot, catalogue).findings}
    assert not rules & {"pipes.ground", "pipes.mouth_ground", "vehicle.ground", "pipes.spray"}
    on_wheels = {f.rule for f in check(heron, catalogue).findings}
    assert {"pipes.ground", "pipes.mouth_ground"} <= on_wheels
    assert not on_wheels & {"pipes.water", "pipes.water_crest", "vehicle.flood", "spot.lean"}


def test_marine_cautions_are_shown_afloat_only(catalogue: Catalogue) -> None:
    for moves, own in (("afloat", "marine"), ("towed", "towed"), ("carried", "carried")):
        ids = {c.id for c in catalogue.cautions_at("build", moves)}
        assert ids & {"marine", "towed", "carried"} == {own}
    assert not {c.id for c in catalogue.cautions_at("build", "itself")} & {"marine", "towed"}


# --- spaces with a name ---


def _space(kind: str, low: tuple[float, float, float], high: tuple[float, float, float]) -> Space:
    return Space.model_validate(
        {
            "id": "room",
            "name": "the dark room",
            "kind": kind,
            "from_x_mm": low[0],
            "left_y_mm": low[1],
            "low_z_mm": low[2],
            "to_x_mm": high[0],
            "right_y_mm": high[1],
            "high_z_mm": high[2],
        }
    )


@pytest.mark.parametrize(
    ("kind", "heater", "exhaust", "lead"),
    [
        ("bilge", True, True, False),
        ("petrol", True, True, False),
        ("gas", True, True, True),
        ("battery", True, True, False),
        ("engine", False, False, False),
    ],
)
def test_what_has_no_place_in_a_space(
    coot: Plan, catalogue: Catalogue, kind: str, heater: bool, exhaust: bool, lead: bool
) -> None:
    """The space is laid over heater, exhaust and leads: each is told where it may not be."""
    whole = _space(kind, (1900, 500, 500), (2600, 1045, 1100))
    plan = apply(coot, AddSpace(item=whole), catalogue)
    told = {
        rule
        for rule, subject in _over(plan, catalogue, "spot", "pipes", "power")
        if "space.room" in subject
    }
    assert ("spot.together" in told) is heater
    assert ("pipes.together" in told) is exhaust
    assert ("power.together" in told) is lead


def test_sparks_stay_out_of_petrol(coot: Plan, catalogue: Catalogue) -> None:
    battery = coot.power.battery
    controller = coot.power.controller
    assert battery is not None
    assert controller is not None
    for thing, at in (
        ("battery", (battery.x_mm, battery.y_mm, battery.z_mm)),
        ("controller", (controller.x_mm, controller.y_mm, controller.z_mm)),
    ):
        x, y, z = at
        around = _space("petrol", (x - 20, y - 20, z - 20), (x + 20, y + 20, z + 20))
        plan = apply(coot, AddSpace(item=around), catalogue)
        assert ("power.sparks", thing) in _over(plan, catalogue, "power")


def test_a_fuse_in_petrol_is_moved_along_its_lead(coot: Plan, catalogue: Catalogue) -> None:
    battery = coot.power.battery
    assert battery is not None
    around = _space(
        "petrol",
        (battery.x_mm - 600, battery.y_mm - 5, battery.z_mm - 400),
        (battery.x_mm + 600, battery.y_mm + 250, battery.z_mm - 20),
    )
    plan = apply(coot, AddSpace(item=around), catalogue)
    over = [s for rule, s in _over(plan, catalogue, "power") if rule == "power.sparks"]
    assert over == ["supply.fuse-1"]
    finding = _find(plan, catalogue, "power.sparks", "supply.fuse-1")
    remedies = remedies_for(Job(plan, catalogue), finding)
    assert remedies
    cured = apply(plan, remedies[0].command, catalogue)
    assert ("power.sparks", "supply.fuse-1") not in _over(cured, catalogue, "power")


@pytest.mark.parametrize("kind", ["bilge", "petrol", "gas", "engine", "battery"])
def test_air_is_drawn_from_none_of_them(coot: Plan, catalogue: Catalogue, kind: str) -> None:
    """Coot's heater breathes where it stands."""
    around = _space(kind, (2360, 760, 800), (2460, 860, 1000))
    plan = apply(coot, AddSpace(item=around), catalogue)
    assert ("air.return_space", "space.room") in _over(plan, catalogue, "air")


# --- towed ---


def test_which_flank_is_asked_and_told(catalogue: Catalogue) -> None:
    dunlin = demo_plan("dunlin")
    unasked = apply(dunlin, set_value("vehicle.tow_filler", None), catalogue)
    assert _find(unasked, catalogue, "vehicle.tow_filler", "-").verdict is UNKNOWN
    same = _find(dunlin, catalogue, "fuel.filler_flank", "filler")
    assert (same.verdict, "what tows it" in say(same.sentence)) == (CLEAR, True)
    other = apply(dunlin, set_value("vehicle.tow_filler", "right"), catalogue)
    assert _find(other, catalogue, "fuel.filler_flank", "filler").verdict is Verdict.TIGHT


def test_a_tank_on_the_drawbar_keeps_out_of_the_turning_circle(catalogue: Catalogue) -> None:
    """The tank's front at 290 before the body, the coupling at 1300: 1010 mm by the tape."""
    dunlin = demo_plan("dunlin")
    finding = _find(dunlin, catalogue, "fuel.drawbar", "tank")
    assert finding.measured == pytest.approx(1010.0, abs=1.0)
    assert finding.verdict is CLEAR
    near = apply(dunlin, set_value("fuel.tank.x_mm", -400), catalogue)
    assert ("fuel.drawbar", "tank") in _over(near, catalogue, "fuel")


@pytest.mark.parametrize("name", ["dunlin", "plover"])
def test_it_is_fed_by_its_own_battery(name: str, catalogue: Catalogue) -> None:
    plan = apply(demo_plan(name), set_value("power.battery.belongs", "vehicle"), catalogue)
    finding = _find(plan, catalogue, "power.own_battery", "-")
    assert finding.verdict is OVER
    cured = apply(plan, remedies_for(Job(plan, catalogue), finding)[0].command, catalogue)
    assert cured.power.battery is not None
    assert cured.power.battery.belongs == "body"


def test_a_controller_on_the_drawbar_hangs_outside(catalogue: Catalogue) -> None:
    plan = apply(demo_plan("dunlin"), set_value("power.controller.x_mm", -80), catalogue)
    assert ("power.controller_dry", "-") in _over(plan, catalogue, "power")


# --- carried ---


def test_nothing_hangs_in_the_carriers_way(catalogue: Catalogue) -> None:
    """Plover's tank hangs behind the carrier's tail. Moved forward between its frame and its tail
    bar it would be torn off as the carrier drives out, though it touches nothing as it stands.
    """
    plover = demo_plan("plover")
    assert not {s for r, s in _over(plover, catalogue, "fuel") if "way." in s}
    tank = {"x_mm": 2346.0, "y_mm": 200.0, "z_mm": -330.0}
    moved = SetValues(
        changes=tuple(Change(address=f"fuel.tank.{k}", value=v) for k, v in tank.items())
    )
    behind = apply(plover, moved, catalogue)
    assert not {s for r, s in _over(behind, catalogue, "fuel") if "tank:way" in s}
    ahead = apply(
        plover,
        SetValues(
            changes=(
                Change(address="fuel.tank.x_mm", value=-1500.0),
                Change(address="fuel.tank.y_mm", value=-100.0),
            )
        ),
        catalogue,
    )
    told = {s for r, s in _over(ahead, catalogue, "fuel") if r == "fuel.together"}
    assert any("way.bed-frame" in subject for subject in told)


def test_raised_off_it_the_carriers_parts_go_down_first(catalogue: Catalogue) -> None:
    """What hooks under a part of the carrier is lifted into it."""
    plover = demo_plan("plover")
    hooked = SetValues(
        changes=(
            Change(address="fuel.tank.x_mm", value=2000.0),
            Change(address="fuel.tank.y_mm", value=-100.0),
            Change(address="fuel.tank.z_mm", value=-560.0),
        )
    )
    plan = apply(plover, hooked, catalogue)
    told = {s for r, s in _over(plan, catalogue, "fuel") if "way." in s}
    assert any("bed-frame" in subject or "tail-bar" in subject for subject in told)


def test_a_vehicle_on_its_own_wheels_has_no_such_ways(heron: Plan, catalogue: Catalogue) -> None:
    subjects = {f.subject for f in check(heron, catalogue).findings}
    assert not any("way." in subject or "space." in subject for subject in subjects)


# --- what is closed stays closed ---


def test_nothing_new_goes_through_a_closed_openings_plate(
    heron: Plan, catalogue: Catalogue
) -> None:
    """The pump's lead goes straight down through the floor where the fuel line's pump hangs."""
    lead = heron.power.lead("pump")
    assert lead is not None
    down = lead.nodes[-1]
    opening = OldOpening(
        id="old", name="old drop vent", along_mm=down.x_mm + 50, up_mm=down.y_mm, use="closed"
    )
    plan = apply(heron, AddOldOpening(item=opening), catalogue)
    assert any("plate.old" in s for _, s in _over(plan, catalogue, "power"))
    far = apply(plan, set_value("vehicle.old_openings.old.along_mm", down.x_mm + 90), catalogue)
    assert not any("plate.old" in s for _, s in _over(far, catalogue, "power"))
    gone = apply(plan, RemoveItem(collection="vehicle.old_openings", item_id="old"), catalogue)
    assert not any("plate.old" in s for _, s in _over(gone, catalogue, "power"))


@pytest.mark.parametrize(
    ("away_mm", "left_mm"), [(0.0, -93.5), (60.0, -33.5), (110.0, 16.5), (130.0, 36.5)]
)
def test_the_mounts_hole_keeps_off_a_closed_opening(
    heron: Plan, catalogue: Catalogue, away_mm: float, left_mm: float
) -> None:
    """The turret hole is 127 mm wide, the old opening 60: their edges are the distance less 93.5
    mm apart; a plate's rim is 30 mm wide.
    """
    assert heron.spot is not None
    opening = OldOpening(
        id="old",
        name="old flue",
        along_mm=heron.spot.x_mm + away_mm,
        up_mm=heron.spot.y_mm,
        use="closed",
    )
    plan = apply(heron, AddOldOpening(item=opening), catalogue)
    finding = _find(plan, catalogue, "spot.old_opening", "old")
    assert finding.measured == pytest.approx(left_mm, abs=0.01)
    assert finding.verdict is (CLEAR if left_mm >= 30 else OVER)


@pytest.mark.parametrize(
    ("name", "title", "caution"),
    [
        ("dunlin", "Stand the trailer", "towed"),
        ("plover", "Set the body down, and try the way out", "carried"),
        ("coot", "Mark the water on the hull", "marine"),
    ],
)
def test_the_work_begins_with_how_it_stands(
    name: str, title: str, caution: str, catalogue: Catalogue
) -> None:
    ready, first = steps(Job(demo_plan(name), catalogue))[:2]
    assert ready.kind == "make-ready"
    assert (first.title, caution in first.cautions) == (title, True)


@pytest.mark.parametrize(("away_mm", "is_clear"), [(0.0, False), (90.0, False), (130.0, True)])
def test_a_wall_mounts_hole_keeps_off_a_closed_opening_too(
    heron: Plan, catalogue: Catalogue, away_mm: float, is_clear: bool
) -> None:
    """The hole is 95 mm wide, the old opening 60, the plate's rim 30: 107.5 mm between middles."""
    plan = apply(heron, ChooseHeater(sheet="bothy-22"), catalogue)
    plan = apply(plan, set_value("spot.mount", "wall"), catalogue)
    hole, other = face_holes(Job(plan, catalogue))[:2]
    away_mm = math.copysign(away_mm, hole.along_mm - other.along_mm)
    opening = OldOpening(
        id="old",
        name="old flue",
        face=hole.face,
        along_mm=hole.along_mm + away_mm,
        up_mm=hole.z_mm,
        use="closed",
    )
    plan = apply(plan, AddOldOpening(item=opening), catalogue)
    finding = _find(plan, catalogue, "spot.old_opening", "old")
    assert finding.measured == pytest.approx(abs(away_mm) - 77.5, abs=0.01)
    assert (finding.verdict is CLEAR) is is_clear
