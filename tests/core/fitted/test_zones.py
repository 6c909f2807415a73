"""Zones: the loss divides without a remainder, the network is that of one room where there is one,
and heat closes.
"""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from gale_nook.core.fitted.drying import drying, humidity_kg_kg
from gale_nook.core.fitted.heating import shares_of_zones, warm_minutes, zone_heat
from gale_nook.core.fitted.installed import installed, night_with, room_with
from gale_nook.core.heat.load_space import STEP_S, LoadSpace
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heat.zoned_space import ZonedSpace, zoned_network
from gale_nook.core.heater.choice import judgements
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Air, Zone
from gale_nook.demo.load import demo_plan
from tests.core.ducts.ducted import BED, duct, ducted, two_outlets

LOCKER = Zone(
    id="locker",
    name="locker",
    kind="locker",
    from_x_mm=1830,
    to_x_mm=2530,
    left_y_mm=-890,
    right_y_mm=-370,
    high_z_mm=1690,
    divider="panel",
    opening_cm2=120,
    wet_l=2.0,
)


def test_every_element_divides_without_a_remainder() -> None:
    shares = shares_of_zones(ducted(zones=(BED, LOCKER)))
    for element, parts in shares.share.items():
        assert sum(parts.values()) == pytest.approx(1.0), element
        assert all(0 <= part <= 1 for part in parts.values()), element
    assert shares.of("bed", "rear") > 0.6
    assert shares.of("bed", "floor") == 0.0  # it begins above the floor
    assert shares.of("locker", "left") > shares.of("locker", "right") == 0.0


def test_the_zones_together_need_the_design_loss() -> None:
    job = ducted(zones=(BED, LOCKER))
    assert sum(zone.need_w for zone in zone_heat(job)) == pytest.approx(
        design_loss(job).design_loss_w, rel=1e-6
    )


def test_without_zones_it_is_the_room_that_it_was() -> None:
    """Through an hour of changing heat, to a millionth of a kelvin."""
    job = ducted()
    one = LoadSpace(job.plan, job.catalogue)
    other = ZonedSpace(job.plan, job.catalogue, {"living": 1.0}, {})
    for step in range(180):
        for room in (one, other):
            room.advance(3000.0 if step % 40 < 25 else 0.0)
    assert other.air_c == pytest.approx(one.air_c, abs=1e-6)
    assert other.lost_j == pytest.approx(one.lost_j, rel=1e-9)


def test_the_zones_warm_up_as_the_differential_equations_say() -> None:
    """Against a general solver at 1e-9, with the fan's flow between zone and room: 0.1 %."""
    job = ducted(*two_outlets(zone="bed"), zones=(BED, LOCKER))
    network, loss, shares = zoned_network(job.plan, job.catalogue)
    heat, flow = {"living": 0.55, "bed": 0.4, "locker": 0.05}, {"bed": 22.0, "locker": 6.0}
    space = ZonedSpace(job.plan, job.catalogue, heat, flow).fresh(-14.0)
    space.blow(True)
    links = np.array(network.links_w_k)
    given = np.zeros(len(links))
    for number, zone in enumerate(shares.ids):
        given[3 * number] = heat[zone] * 3500.0
        if zone in flow:
            links[3 * number, 0] += flow[zone]
            links[0, 3 * number] += flow[zone]
    fixed = network.heat_from_fixed_w((loss.outside_c, loss.cab_c))
    out = network.fixed_w_k.sum(axis=1)

    def rise(_t: float, celsius: np.ndarray) -> np.ndarray:
        between = links @ celsius - links.sum(axis=1) * celsius
        return (between - out * celsius + fixed + given) / network.capacities_j_k

    steps = 180
    done = solve_ivp(
        rise, (0, steps * STEP_S), np.full(len(links), -14.0), rtol=1e-9, atol=1e-9, method="LSODA"
    )
    for _ in range(steps):
        space.advance(3500.0)
    for number, zone in enumerate(shares.ids):
        expected = float(done.y[3 * number, -1])
        assert space.zone_c[zone] + 14 == pytest.approx(expected + 14, rel=1e-3)


def test_the_night_in_zones_keeps_its_heat() -> None:
    """In is stored and lost, to 0.1 %."""
    night = night_with(ducted(*two_outlets(zone="bed"), zones=(BED, LOCKER)), "bothy-40")
    assert night.heat_j == pytest.approx(night.lost_j + night.stored_j, rel=1e-3)
    assert night.heat_j > 1e7


def test_a_bed_behind_a_curtain_has_its_own_temperature() -> None:
    """Without an outlet of its own it stays colder than the room; with one it is warm."""
    cold = {zone.zone: zone for zone in zone_heat(ducted(zones=(BED,)))}
    warm = {zone.zone: zone for zone in zone_heat(ducted(*two_outlets(zone="bed"), zones=(BED,)))}
    assert cold["bed"].ends_c is not None
    assert warm["bed"].ends_c is not None
    assert cold["bed"].ends_c < 16 < warm["bed"].ends_c
    assert (cold["bed"].gets_w or 0.0) < cold["bed"].need_w < (warm["bed"].gets_w or 0.0)
    minutes = warm_minutes(ducted(*two_outlets(zone="bed"), zones=(BED,)))
    assert minutes["bed"] is not None


def test_night_warm_up_and_choice_use_the_usable_output() -> None:
    """The same heater through a straw and through a wide duct."""
    straw = ducted(duct("straw", (1200, -286, 117), kind="duct-60", outlet="fixed-60"))
    wide = ducted(duct("wide", (2300, -286, 117), kind="duct-90", outlet="fixed-90"))
    sheet = straw.catalogue.heaters["bothy-40"]
    assert installed(straw, sheet).most_w < 0.9 * installed(wide, sheet).most_w
    slow, quick = night_with(straw, "bothy-40"), night_with(wide, "bothy-40")
    assert (slow.to_target_s or 1e9) > 1.1 * (quick.to_target_s or 1e9)
    judged = {j.sheet.id: j for j in judgements(straw)}
    assert judged["bothy-40"].most_w == pytest.approx(installed(straw, sheet).most_w)


def test_heat_lost_outside_does_not_warm_the_room() -> None:
    """A duct under the floor: its loss is missing inside, and the balance still closes."""
    under = ducted(
        duct(
            "under",
            (2400, -286, 117),
            (2400, -286, -300),
            (1500, -286, -300),
            (1500, -286, 200),
            outlet="fixed-75",
        )
    )
    heater = installed(under, under.catalogue.heaters["bothy-40"])
    assert sum(heater.heat_share.values()) < 0.98
    assert isinstance(room_with(under, heater), ZonedSpace)
    night = night_with(under, "bothy-40")
    assert night.heat_j == pytest.approx(night.lost_j + night.stored_j, rel=1e-3)


def test_drying_closes_heat_and_water_by_hand() -> None:
    """What the air brings is what walls lose and what evaporates; the vent costs 5 Pa."""
    ducts = two_outlets(zone="locker")
    job = ducted(*ducts, zones=(LOCKER,))
    (found,) = drying(job)
    assert 0.05 < found.litres_h < 3
    assert found.hours == pytest.approx(2.0 / found.litres_h)
    less = drying(ducted(*two_outlets(zone="locker", up="closable-60"), zones=(LOCKER,)))
    assert less[0].litres_h < found.litres_h
    damp = ducted(*ducts, zones=(LOCKER,), heat={"humidity_percent": 85.0})
    assert drying(damp)[0].litres_h < found.litres_h
    assert not drying(ducted(zones=(BED,)))


def test_humidity_is_that_of_the_tables() -> None:
    """Saturated air at 20 °C holds 14.7 g a kg (any psychrometric chart)."""
    assert humidity_kg_kg(20.0, 1.0, 101_325.0) == pytest.approx(0.0147, rel=0.01)


def test_zones_that_lie_in_one_another_are_refused() -> None:
    with pytest.raises(ValueError, match="lie in one another"):
        Air(zones=(BED, BED.model_copy(update={"id": "second", "low_z_mm": 300.0})))
    with pytest.raises(ValueError, match="zone that is not there"):
        Air(ducts=two_outlets(zone="nowhere"))


def test_a_zone_in_the_cab_is_the_cab() -> None:
    """It has the cab's own loss, and what lies between is its exchange."""
    cab = Zone(
        id="cab",
        name="cab",
        kind="cab",
        from_x_mm=-1480,
        to_x_mm=120,
        left_y_mm=-890,
        right_y_mm=890,
    )
    plan = demo_plan("heron").model_copy(update={"air": Air(zones=(cab,))})
    shares = shares_of_zones(Job(plan, ducted().given_catalogue))
    assert shares.own_w_k["cab"] > 20
    assert shares.exchange_w_k["cab"] > 1
