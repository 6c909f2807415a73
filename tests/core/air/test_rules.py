"""Each rule of the warm air from both sides: what it must not pass, and what it must."""

from __future__ import annotations

from typing import Any

import pytest

from gale_nook.core.air.hot import beside_c, hottest, jets
from gale_nook.core.air.run_rules import bend_counts_mm, bends_deg, counted_mm, ways
from gale_nook.core.apply import applied
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check, checked
from gale_nook.core.ducts.outlet_sound import outlet_sound_db
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fitted.usable import usable
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Duct, DuctPart, ReturnOpening
from gale_nook.core.plan.moves import SlideOut
from gale_nook.core.plan.solids import BoxSolid, Hollow, PanelOpening
from gale_nook.demo.load import demo_plan
from tests.core.ducts.ducted import BED, bath, duct, ducted, two_outlets

SIMPLE = (duct("one", (1900, -286, 117), outlet="fixed-75"),)


def found(job: Job, rule: str, subject: str | None = None) -> Finding:
    """The worst finding of a rule."""
    of_rule = [
        f
        for f in checked(job, frozenset({"air"})).findings
        if f.rule == rule and (subject is None or f.subject == subject)
    ]
    assert of_rule, f"{rule} says nothing"
    return of_rule[0]


def with_solids(job: Job, *solids: BoxSolid, drop: tuple[str, ...] = ()) -> Job:
    vehicle = job.plan.vehicle
    kept = tuple(solid for solid in vehicle.solids if solid.id not in drop)
    changed = vehicle.model_copy(update={"solids": (*kept, *solids)})
    return job.with_parts(vehicle=changed)


def box(
    name: str, low: tuple[float, float, float], size: tuple[float, ...], **how: Any
) -> BoxSolid:
    return BoxSolid(
        id=name,
        name=name,
        x_mm=low[0],
        y_mm=low[1],
        z_mm=low[2],
        length_mm=size[0],
        width_mm=size[1],
        height_mm=size[2],
        **{"kind": "furniture", "material": "steel", **how},
    )


def opening(**how: Any) -> ReturnOpening:
    given = {"id": "slot", "name": "slot", "x_mm": 3050, "y_mm": -286, "z_mm": 117, **how}
    return ReturnOpening(**given)


def part(kind: Any, at_mm: float, **how: Any) -> DuctPart:
    return DuctPart(id=f"{kind}-{round(at_mm)}", kind=kind, at_mm=at_mm, **how)


def test_ducts_that_lead_nowhere_are_told() -> None:
    assert (
        found(
            ducted().with_plan(
                ducted().plan.model_copy(
                    update={"air": ducted().plan.air.model_copy(update={"ducts": ()})}
                )
            ),
            "air.ducts",
        ).verdict
        is Verdict.UNKNOWN
    )
    lonely = (duct("trunk", (1900, -286, 117), splitter="y-even"),)
    assert "both legs" in found(ducted(*lonely), "air.ducts").sentence
    half = (*lonely, duct("a", (1500, -286, 117), after="trunk", outlet="fixed-75"))
    assert "branch leg" in found(ducted(*half), "air.ducts").sentence
    assert "open" in found(ducted(duct("end", (1900, -286, 117))), "air.ducts").sentence
    assert found(ducted(), "air.ducts").verdict is Verdict.CLEAR


def test_usable_output_is_held_against_the_loss() -> None:
    straw = duct("straw", (600, -286, 117), kind="duct-50", outlet="closable-60")
    over = found(ducted(straw), "air.usable")
    assert over.verdict is Verdict.OVER
    assert "shuts down" in over.sentence
    assert found(ducted(), "air.usable").verdict is Verdict.CLEAR
    unsaid = found(ducted(cold_end="opening"), "air.usable")
    assert unsaid.verdict is Verdict.UNKNOWN


def test_a_zone_that_gets_too_little_is_over() -> None:
    over = found(ducted(zones=(BED,)), "air.zone", "bed")
    assert over.verdict is Verdict.OVER
    assert over.measured is not None
    assert over.band.minimum is not None
    assert over.measured < over.band.minimum
    assert found(ducted(*two_outlets(zone="bed"), zones=(BED,)), "air.zone", "bed").verdict in {
        Verdict.CLEAR,
        Verdict.TIGHT,
    }


def test_one_outlet_stays_open() -> None:
    assert found(ducted(), "air.never_closable").verdict is Verdict.OVER
    assert found(ducted(*two_outlets(up="fixed-75")), "air.never_closable").answer


def test_what_can_be_closed_may_not_take_what_is_needed() -> None:
    over = found(ducted(), "air.closable", "up")
    assert over.verdict is Verdict.OVER
    assert found(ducted(), "air.closable", "all").measured == 0.0  # both shut: it shuts down
    wide = (
        duct("trunk", (2400, -286, 117), kind="duct-90", splitter="t-bent"),
        duct("a", (1900, -286, 117), after="trunk", kind="duct-90", outlet="fixed-90"),
        duct(
            "b",
            (2400, 300, 117),
            after="trunk",
            leg="branch",
            kind="duct-60",
            outlet="closable-60",
        ),
    )
    assert found(ducted(*wide), "air.closable", "b").verdict is Verdict.CLEAR


def test_fast_air_at_the_bed_is_over_and_elsewhere_is_not_asked() -> None:
    fast = (duct("fast", (1900, -286, 117), outlet="fixed-60", kind="duct-60", zone="bed"),)
    assert found(ducted(*fast, zones=(BED,)), "air.velocity").verdict is Verdict.OVER
    elsewhere = ducted(*SIMPLE, zones=(BED,))
    assert not [f for f in checked(elsewhere).findings if f.rule == "air.velocity"]


def test_the_sound_is_that_of_the_guideline() -> None:
    """Ten times the speed is 50 dB more, ten times the area 10 dB: VDI 2081."""
    assert outlet_sound_db(10.0, 75.0) - outlet_sound_db(1.0, 75.0) == pytest.approx(50.0)
    wider = 75.0 * 10**0.5
    assert outlet_sound_db(4.0, wider) - outlet_sound_db(4.0, 75.0) == pytest.approx(10.0)


def test_the_first_straight_is_measured_to_the_bend_it_has() -> None:
    """500 mm to the corner less the tangent of a square bend of 75 mm."""
    bent = duct("bent", (2087, -286, 117), (2087, 300, 117), outlet="fixed-75")
    assert found(ducted(bent), "air.first_straight").measured == pytest.approx(425.0)
    assert found(ducted(bent), "air.first_straight").verdict is Verdict.CLEAR
    near = duct("near", (2500, -286, 117), (2500, 300, 117), outlet="fixed-75")
    assert found(ducted(near), "air.first_straight").verdict is Verdict.OVER
    # up from the warm end at once: no straight at all
    assert (
        found(
            ducted(duct("up", (2587, -286, 600), outlet="fixed-75")), "air.first_straight"
        ).measured
        == 0.0
    )
    computed = ducted(near, first_straight="computed")
    assert found(computed, "air.first_straight").verdict is Verdict.CLEAR
    straw = duct(
        "straw",
        (2500, -286, 117),
        (600, -286, 117),
        (600, 600, 117),
        kind="duct-50",
        outlet="closable-60",
    )
    starved = ducted(straw.model_copy(update={"nodes": near.nodes}), first_straight="computed")
    assert found(starved, "air.usable").verdict is Verdict.OVER
    assert found(starved, "air.first_straight").verdict is Verdict.OVER


def test_lengths_and_bends_count_as_the_sheet_counts_them() -> None:
    """Two square bends at 300 mm each on top of the centre line."""
    job = ducted(
        duct("bent", (2087, -286, 117), (2087, 300, 117), (1000, 300, 117), outlet="fixed-75")
    )
    (way,) = ways(job)
    assert bend_counts_mm(job) == 300.0
    assert bends_deg(way) == pytest.approx(180.0)
    plain = 500 + 586 + 1087 - 2 * (2 * 75 - 75 * 3.14159265 / 2)
    assert counted_mm(job, way) == pytest.approx(plain + 600, abs=0.01)
    turns = [(1900 - 400 * (i // 2), -286 if i % 4 in {0, 3} else 800, 117) for i in range(8)]
    long = ducted(duct("long", *turns, outlet="fixed-75"))
    assert found(long, "air.length").verdict is Verdict.OVER
    assert found(long, "air.bends").verdict is Verdict.OVER
    assert found(job, "air.length").verdict is Verdict.CLEAR
    assert found(job, "air.bends").verdict is Verdict.CLEAR


def test_the_trunk_and_each_outlet_have_their_bore() -> None:
    """The sheet's for what has all the air, the smaller one after a splitter, the outlet's own."""
    narrow = ducted(duct("one", (1900, -286, 117), kind="duct-60", outlet="fixed-60"))
    assert found(narrow, "air.bore").verdict is Verdict.OVER
    assert found(ducted(*SIMPLE), "air.bore").verdict is Verdict.CLEAR
    after = list(two_outlets())
    after[2] = after[2].model_copy(update={"kind": "duct-60"})
    assert found(ducted(*after), "air.bore", "aside").verdict is Verdict.OVER  # outlet of 75
    after[2] = after[2].model_copy(
        update={"outlet": after[2].outlet.model_copy(update={"kind": "closable-60"})}  # type: ignore[union-attr]
    )
    assert found(ducted(*after), "air.bore", "aside").verdict is Verdict.CLEAR
    # a reducer before any splitter still has all the air
    reduced = (
        duct("first", (2300, -286, 117)),
        duct("second", (1900, -286, 117), after="first", kind="duct-60", outlet="fixed-60"),
    )
    assert found(ducted(*reduced), "air.bore", "second").verdict is Verdict.OVER


def test_kinks_are_told() -> None:
    bent = duct("bent", (2087, -286, 117), (2087, 300, 117), outlet="fixed-75")
    tight = bent.model_copy(
        update={"nodes": (bent.nodes[0].model_copy(update={"radius_mm": 60.0}), bent.nodes[1])}
    )
    assert found(ducted(tight), "air.radius").verdict is Verdict.OVER
    assert found(ducted(bent), "air.radius").verdict is Verdict.CLEAR
    short = duct("short", (2087, -286, 117), (2087, -250, 117), outlet="fixed-75")
    assert found(ducted(short), "air.bend_room").verdict is Verdict.OVER
    assert found(ducted(bent), "air.bend_room").verdict is Verdict.CLEAR


def test_duct_outlet_and_clips_bear_the_limits_heat() -> None:
    soft = ducted(duct("soft", (1900, -286, 117), kind="house-75", outlet="fixed-75"))
    over = found(soft, "air.rating")
    assert over.verdict is Verdict.OVER
    assert over.hazard == "fire"
    assert found(ducted(*SIMPLE), "air.rating").verdict is Verdict.CLEAR
    held = {
        stuff: ducted(SIMPLE[0].model_copy(update={"parts": (part("clip", 300, stuff=stuff),)}))
        for stuff in ("nylon-tie", "steel-clip")
    }
    assert found(held["nylon-tie"], "air.clip_stuff").verdict is Verdict.OVER
    assert found(held["steel-clip"], "air.clip_stuff").verdict is Verdict.CLEAR


def test_a_duct_hangs_no_farther_than_it_may() -> None:
    """Between its ends, clips and holes: the longest stretch counts."""
    long = duct("long", (1000, -286, 117), outlet="fixed-75")
    assert found(ducted(long), "air.clips").measured == pytest.approx(1587.0)
    clipped = long.model_copy(update={"parts": (part("clip", 600), part("clip", 1100))})
    assert found(ducted(clipped), "air.clips").measured == pytest.approx(600.0)


def test_outside_a_duct_is_lagged_and_guarded_all_along() -> None:
    points = ((2400, -286, 117), (2400, -286, -300), (1500, -286, -300))
    under = duct("under", *points, outlet="fixed-75")
    assert found(ducted(under), "air.outside").verdict is Verdict.OVER
    lag = part("lagging", 0, length_mm=3000.0)
    only = ducted(under.model_copy(update={"parts": (lag,)}))
    assert found(only, "air.outside").verdict is Verdict.OVER
    both = ducted(under.model_copy(update={"parts": (lag, part("guard", 0, length_mm=3000.0))}))
    assert found(both, "air.outside").verdict is Verdict.CLEAR
    assert not [f for f in checked(ducted()).findings if f.rule == "air.outside"]


def test_heat_beside_a_duct_falls_with_the_distance_and_the_lagging() -> None:
    near = box("shelf", (2000, -244, 60), (300, 100, 120), material="foam")
    job = with_solids(ducted(*SIMPLE), near)
    over = found(job, "air.heat", "shelf")
    assert over.verdict is Verdict.OVER
    skin = max(warm.skin_c for warm in hottest(job))
    assert over.measured == pytest.approx(skin, abs=2)  # 3 mm away: as hot as the skin
    far = with_solids(ducted(*SIMPLE), near.model_copy(update={"y_mm": -150.0}))
    assert found(far, "air.heat", "shelf").verdict is Verdict.CLEAR
    lagged = ducted(
        SIMPLE[0].model_copy(update={"parts": (part("lagging", 0, length_mm=2000.0, layers=2),)})
    )
    touching = with_solids(lagged, near.model_copy(update={"y_mm": -224.0}))
    assert found(touching, "air.heat", "shelf").verdict is Verdict.CLEAR
    steel = with_solids(ducted(*SIMPLE), near.model_copy(update={"material": "steel"}))
    assert not [f for f in checked(steel).findings if (f.rule, f.subject) == ("air.heat", "shelf")]


def test_a_floor_keeps_the_heat_of_a_duct_from_what_is_below() -> None:
    tank = box("tank-9", (2000, -330, -150), (300, 100, 100), kind="fuel-tank", material="plastic")
    inside = with_solids(ducted(*SIMPLE), tank)
    assert not [
        f for f in checked(inside).findings if f.subject == "tank-9" and f.rule == "air.heat"
    ]
    under = duct(
        "under", (2400, -286, 117), (2400, -286, -300), (1500, -286, -300), outlet="fixed-75"
    )
    beside = box(
        "tank-9", (1700, -240, -350), (300, 100, 100), kind="fuel-tank", material="plastic"
    )
    assert found(with_solids(ducted(under), beside), "air.heat", "tank-9").verdict is Verdict.OVER


def test_beside_a_duct_it_is_never_hotter_than_the_skin_nor_colder_than_the_room() -> None:
    for gap in (-5.0, 0.0, 10.0, 11.0, 50.0, 1000.0):
        assert 19.0 <= beside_c(95.0, 19.0, gap, 78.0, 10.0) <= 95.0
    assert beside_c(95.0, 19.0, 39.0, 78.0, 10.0) == pytest.approx(19 + 76 / 2)


def test_a_starved_heater_does_not_make_its_ducts_look_cool() -> None:
    """Skins are told for the warm end at its limit with the air flowing freely."""
    free, starved = ducted(), ducted(cold_end="opening", returns=(opening(width_mm=20),))
    assert usable(starved).usable_w < usable(free).usable_w  # type: ignore[union-attr]
    for one, other in zip(hottest(free), hottest(starved), strict=True):
        assert other.skin_c == pytest.approx(one.skin_c, abs=0.1)


def test_a_skin_in_the_room_is_touched_but_not_behind_a_guard_or_panels() -> None:
    assert found(ducted(*SIMPLE), "air.touch").verdict is Verdict.OVER
    for kind in ("guard", "lagging"):
        covered = part(kind, 0, length_mm=2000.0, layers=2)
        job = ducted(SIMPLE[0].model_copy(update={"parts": (covered,)}))
        told = [f for f in checked(job).findings if f.rule == "air.touch"]
        assert all(f.verdict is not Verdict.OVER for f in told), kind
    locker = box("long-box", (1800, -500, 40), (800, 400, 300), hollow=Hollow())
    boxed = with_solids(ducted(*SIMPLE), locker, drop=("shoe-box",))
    assert not [f for f in checked(boxed).findings if f.rule == "air.touch"]


def test_bedding_in_a_jet_gets_what_is_left_of_its_warmth() -> None:
    """Within six bores as hot as the air, twice as far half as much over the room."""
    bunk = box("bunk", (1500, -400, 60), (300, 300, 120), kind="bed", material="foam")
    job = with_solids(ducted(*SIMPLE), bunk)
    (jet,) = jets(job)
    over = found(job, "air.jet")
    assert over.verdict is Verdict.OVER
    assert over.hazard == "fire"
    assert over.measured == pytest.approx(jet.air_c, abs=0.1)
    assert jet.celsius_at(900.0) - jet.room_c == pytest.approx((jet.air_c - jet.room_c) / 2)
    moved = bunk.model_copy(update={"y_mm": 300.0})
    aside = with_solids(ducted(*SIMPLE), moved, drop=("galley", "locker"))
    assert found(aside, "air.jet").verdict is Verdict.CLEAR
    # it widens: 2 m off, what lies 300 mm beside its axis is in it
    assert jet.meets(bunk_shape(-200.0, 250.0), 2500.0) is not None
    assert jet.meets(bunk_shape(1600.0, 250.0), 2500.0) is None


def bunk_shape(x_mm: float, off_mm: float) -> Any:
    from gale_nook.core.geometry.shapes import box_shape  # noqa: PLC0415

    return box_shape((x_mm, -286 + off_mm, 60), (200, 200, 120))


def test_an_outlet_has_its_way_free() -> None:
    near = box("board", (1750, -400, 40), (20, 300, 400))
    assert found(with_solids(ducted(*SIMPLE), near), "air.outlet_free").measured == pytest.approx(
        130, abs=20
    )
    assert found(with_solids(ducted(*SIMPLE), near), "air.outlet_free").verdict is Verdict.OVER
    assert found(ducted(*SIMPLE), "air.outlet_free").verdict is Verdict.CLEAR
    wall = duct("wall", (2087, -286, 117), (2087, 800, 117), outlet="fixed-75")
    assert "wall" in found(ducted(wall), "air.outlet_free").sentence


def test_warm_air_is_not_drawn_straight_back() -> None:
    by = opening(x_mm=1700, y_mm=-286)
    blown = found(ducted(*SIMPLE, cold_end="opening", returns=(by,)), "air.short_circuit")
    assert blown.verdict is Verdict.OVER
    assert blown.measured == pytest.approx(200 / 3)
    behind = opening(x_mm=2400, y_mm=-286)
    away = found(ducted(*SIMPLE, cold_end="opening", returns=(behind,)), "air.short_circuit")
    assert away.measured == pytest.approx(500.0)
    assert away.verdict is Verdict.CLEAR


def test_the_way_back_is_not_narrower_than_the_inlet() -> None:
    """π/4·76² = 45.4 cm²; a grille counts with its share, and what stands in front does not."""

    def area(**how: Any) -> Finding:
        return found(ducted(cold_end="opening", returns=(opening(**how),)), "air.return_area")

    assert area(width_mm=100, height_mm=50).measured == pytest.approx(50.0)
    assert area(width_mm=100, height_mm=50).verdict is Verdict.CLEAR
    assert area(width_mm=100, height_mm=50, grille="slotted-grille").verdict is Verdict.OVER
    assert area(width_mm=100, height_mm=50, covered_percent=20).verdict is Verdict.OVER
    assert area(width_mm=100, height_mm=50).band.minimum == pytest.approx(45.36, abs=0.01)
    assert found(ducted(cold_end="opening"), "air.return_area").verdict is Verdict.UNKNOWN
    assert not [f for f in checked(ducted()).findings if f.rule == "air.return_area"]


@pytest.mark.parametrize("space", ["outside", "engine-bay", "battery", "gas", "fuel"])
def test_never_from_where_it_can_hurt(space: Any) -> None:
    bad = ducted(cold_end="opening", returns=(opening(space=space),))
    over = found(bad, "air.return_space")
    assert over.verdict is Verdict.OVER
    assert over.hazard == "fumes"
    good = ducted(cold_end="opening", returns=(opening(),))
    assert found(good, "air.return_space").verdict is Verdict.CLEAR


@pytest.mark.parametrize("kind", ["battery", "gas-bottle"])
def test_what_shares_the_heaters_furniture_shares_its_air(kind: str) -> None:
    """In the same hollow box over; in the open air only when it is close to the inlet."""
    around = box("bench-9", (2500, -500, 40), (700, 450, 400), hollow=Hollow(lids=("up",)))
    other = box("thing", (3060, -480, 40), (100, 100, 150), kind=kind, material="plastic")
    drop = ("shoe-box",)
    inside = with_solids(ducted(*SIMPLE, cold_end="opening"), around, other, drop=drop)
    assert found(inside, "air.return_space", "thing").verdict is Verdict.OVER
    away = other.model_copy(update={"x_mm": 3400.0, "y_mm": 300.0})
    outside = with_solids(ducted(*SIMPLE, cold_end="opening"), around, away, drop=drop)
    assert not [f for f in checked(outside).findings if f.subject == "thing" and "space" in f.rule]


def test_what_is_blown_into_a_closed_zone_has_to_come_out() -> None:
    room = bath(20)
    ducts = two_outlets(zone="bath")
    assert found(ducted(*ducts, zones=(room,)), "air.zone_out").verdict is Verdict.OVER
    wide = room.model_copy(update={"opening_cm2": 300.0})
    assert found(ducted(*ducts, zones=(wide,)), "air.zone_out").verdict is Verdict.CLEAR


def test_a_duct_through_a_panel_needs_its_hole_with_a_ring() -> None:
    locker = box("box-9", (1500, -400, 40), (300, 300, 300), hollow=Hollow(lids=()))
    rack = ("shoe-box",)
    plain = ducted(duct("one", (1650, -286, 117), outlet="fixed-75"))
    bare = with_solids(plain, locker, drop=rack)
    assert found(bare, "air.hole").verdict is Verdict.OVER
    assert found(bare, "air.together").verdict is Verdict.CLEAR  # told once, by the hole
    holed = duct(
        "one", (1650, -286, 117), outlet="fixed-75", parts=(part("panel", 793, hole_mm=86),)
    )
    clear = with_solids(ducted(holed), locker, drop=rack)
    assert all(f.verdict is Verdict.CLEAR for f in _of(clear, "air.hole"))
    small = holed.model_copy(update={"parts": (part("panel", 793, hole_mm=83),)})
    assert found(with_solids(ducted(small), locker, drop=rack), "air.hole").verdict is Verdict.OVER
    unlined = holed.model_copy(update={"parts": (part("panel", 793, hole_mm=92, ring=False),)})
    assert (
        found(with_solids(ducted(unlined), locker, drop=rack), "air.hole").verdict is Verdict.OVER
    )
    solid = with_solids(
        ducted(duct("one", (1650, -286, 117), outlet="fixed-75")),
        locker.model_copy(update={"hollow": None}),
        drop=rack,
    )
    assert found(solid, "air.hole").verdict is Verdict.UNKNOWN


def _of(job: Job, rule: str) -> list[Finding]:
    return [f for f in checked(job).findings if f.rule == rule]


def test_two_ducts_or_a_duct_and_a_part_are_not_in_one_place() -> None:
    crossing = (
        duct("trunk", (2400, -286, 117), splitter="t-bent"),
        duct("a", (1500, -286, 117), after="trunk", outlet="fixed-75"),
        duct(
            "b",
            (2400, 300, 117),
            (1900, 300, 117),
            (1900, -800, 117),
            after="trunk",
            leg="branch",
            outlet="fixed-75",
        ),
    )
    over = [f for f in _of(ducted(*crossing), "air.together") if f.verdict is Verdict.OVER]
    assert any({"air.a", "air.b"} == set(f.subject.split(":")) for f in over)
    bed = box("frame", (1900, -350, 60), (60, 200, 120), kind="appliance")
    blocked = with_solids(ducted(*SIMPLE), bed.model_copy(update={"hollow": None}))
    assert any(
        f.verdict is not Verdict.CLEAR
        for f in checked(blocked).findings
        if "frame" in f.subject and f.rule in {"air.together", "air.hole"}
    )


def test_a_duct_to_a_slide_out_has_slack_for_the_travel() -> None:
    slide = SlideOut(side="right", from_mm=1800, to_mm=2300, inner_mm=600, travel_mm=500)

    def sliding(one: Duct) -> Job:
        job = ducted(one)
        vehicle = job.plan.vehicle.model_copy(update={"slide": slide})
        return job.with_parts(vehicle=vehicle)

    across = duct("one", (2087, -286, 117), (2087, 700, 117), outlet="fixed-75")
    assert found(sliding(across), "air.slide").verdict is Verdict.OVER
    flex = part("flex", 900, length_mm=400.0, slack_mm=650.0)
    assert (
        found(sliding(across.model_copy(update={"parts": (flex,)})), "air.slide").verdict
        is Verdict.CLEAR
    )
    short = flex.model_copy(update={"slack_mm": 400.0})
    assert (
        found(sliding(across.model_copy(update={"parts": (short,)})), "air.slide").verdict
        is Verdict.OVER
    )


def test_below_the_floor_somebody_has_to_have_looked() -> None:
    under = duct(
        "under", (2400, -286, 117), (2400, -286, -300), (1500, -286, -300), outlet="fixed-75"
    )
    job = ducted(under)
    assert found(job, "air.looked_at").verdict is Verdict.CLEAR
    vehicle = job.plan.vehicle.model_copy(update={"looked_at": ()})
    blind = job.with_parts(vehicle=vehicle)
    assert found(blind, "air.looked_at").verdict is Verdict.UNKNOWN


def test_furnitures_own_openings_count_for_the_way_back() -> None:
    slot = PanelOpening(id="slot", face="rear", width_mm=100, height_mm=60)
    around = box("bench-9", (2500, -500, 40), (700, 450, 400), hollow=Hollow(openings=(slot,)))
    job = with_solids(ducted(cold_end="opening"), around)
    assert found(job, "air.return_area").measured == pytest.approx(60.0)
    closed = around.model_copy(
        update={"hollow": Hollow(openings=(slot.model_copy(update={"returns": False}),))}
    )
    none = with_solids(ducted(cold_end="opening"), closed)
    assert found(none, "air.return_area").verdict is Verdict.UNKNOWN


def test_what_a_duct_passes_is_checked_beside_its_hole(catalogue: Catalogue) -> None:
    """A hole excuses the duct in it, not the rest of the duct that lies beside the same panel."""
    heron = demo_plan("heron")
    ducts = tuple(
        each.model_copy(update={"parts": tuple(p for p in each.parts if p.id != "lagging-2")})
        for each in heron.air.ducts
    )
    bare = heron.model_copy(update={"air": heron.air.model_copy(update={"ducts": ducts})})
    found = check(bare, catalogue, ("air",)).find("air.heat", "locker")
    assert found is not None
    assert found.measured == pytest.approx(71, abs=1.5)
    assert found.verdict == "tight"


@pytest.mark.parametrize("ahead_mm", [15.0, 25.0, 40.0])
def test_a_hole_is_made_for_one_thing_only(ahead_mm: float) -> None:
    """What lies close before a panel with its hole is not excused by it."""
    locker = box("box-9", (1500, -400, 40), (300, 300, 300), hollow=Hollow(lids=()))
    holed = duct(
        "one", (1650, -286, 117), outlet="fixed-75", parts=(part("panel", 793, hole_mm=86),)
    )
    clear = with_solids(ducted(holed), locker, drop=("shoe-box",))
    assert all(f.verdict is Verdict.CLEAR for f in _of(clear, "air.hole"))
    board = box("box-8", (1800 + ahead_mm, -400, 40), (10, 300, 300))
    both = with_solids(ducted(holed), locker, board, drop=("shoe-box",))
    over = [f for f in _of(both, "air.hole") if f.verdict is Verdict.OVER]
    assert [f.subject_name for f in over] == ["box-8"]


@pytest.mark.parametrize(
    "change",
    [
        ("air.ducts.bed.outlet.open_percent", 35.0),
        ("air.ducts.bed.outlet.shut", True),
        ("air.ducts.dry.outlet.share_percent", 20.0),
        ("air.ducts.bed.outlet.name", "another name"),
        ("air.ducts.bed.outlet.aim_deg", 30.0),
        ("air.ducts.bed.nodes.n1.z_mm", 1100.0),
        ("heat.altitude_m", 2000.0),
        ("heat.inside_c", 17.0),
    ],
)
def test_what_is_shared_between_edits_is_what_a_fresh_check_finds(
    change: tuple[str, Any], catalogue: Catalogue
) -> None:
    """Of ducts that lie as they did, what has been worked out is used again, and of no others."""
    job = Job(demo_plan("heron"), catalogue)
    checked(job)
    plan = applied(job, set_value(*change))
    after = checked(job.with_plan(plan)).findings
    assert after == check(plan, catalogue).findings
    back = checked(job.with_plan(plan).with_plan(job.plan)).findings
    assert back == checked(job).findings
