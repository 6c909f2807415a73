"""The warm air at one output: heat and mass close, temperatures are those of a fine march, and the
beginning decides nothing.
"""

from __future__ import annotations

import math
import random
from typing import Any

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.ducts import tree
from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.fan import Fan, curve_pa, fan_values
from gale_nook.core.ducts.places import OUTSIDE
from gale_nook.core.ducts.state import air_state, state_at_limit
from gale_nook.core.ducts.throttles import Throttles
from gale_nook.core.ducts.warmth import inside_w_mk, outside_w_mk
from gale_nook.core.job import Job
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK
from gale_nook.core.plan.air import Air, DuctPart, ReturnOpening, Zone
from gale_nook.demo.load import demo_plan
from tests.core.ducts.ducted import bath, duct, ducted, layout_of, two_outlets

LAGGED = DuctPart(id="lagging-1", kind="lagging", at_mm=300, length_mm=900)


def _state(job: Job, output_w: float = 4000.0, **how: object) -> AirState:
    found = air_state(layout_of(job), output_w, **how)  # type: ignore[arg-type]
    assert found is not None
    return found


@pytest.mark.parametrize("output_w", [900.0, 2000.0, 4000.0])
def test_all_heat_is_somewhere(output_w: float) -> None:
    """What outlets, ducts and casing give is the output, to a millionth; and so is the mass."""
    state = _state(ducted(), output_w)
    assert sum(state.delivered_w.values()) == pytest.approx(output_w, rel=1e-6)
    assert sum(o.flow_kg_s for o in state.outlets) == pytest.approx(state.total_kg_s, rel=1e-6)
    assert sum(d.flow_kg_s for d in state.ducts if d.id != "trunk") == pytest.approx(
        state.ducts[0].flow_kg_s, rel=1e-6
    )


def test_the_warm_end_is_what_heat_and_flow_make() -> None:
    state = _state(ducted())
    share = state.layout.fan.share_at_maximum
    rise = share * 4000.0 / (state.total_kg_s * HEAT_CAPACITY_J_KGK)
    assert state.heater_c == pytest.approx(state.inlet_c + rise, abs=1e-6)
    assert state.casing_w == pytest.approx((1 - share) * 4000.0)


@pytest.mark.parametrize("lagged", [False, True])
def test_an_outlets_temperature_is_that_of_a_fine_march(lagged: bool) -> None:
    """Against a differential equation in which the wall's films follow the air at every place:
    within 0.2 K over 4 m.
    """
    parts = (LAGGED,) if lagged else ()
    long = duct("long", (600, -286, 117), (600, 600, 117), outlet="fixed-75", parts=parts)
    state = _state(ducted(long))
    (outlet,), plan_layout = state.outlets, layout_of(ducted(long))
    pieces = plan_layout.pieces
    edges = np.cumsum([piece.length_m for piece in pieces])

    def fall(x: float, air_c: Any) -> float:
        piece = min(int(np.searchsorted(edges, x, side="right")), len(edges) - 1)
        wall, celsius = pieces[piece].wall, float(air_c[0])
        skin = (celsius + wall.ambient_c) / 2
        for _ in range(40):
            outer = outside_w_mk(wall, skin)
            inner = inside_w_mk(wall, outlet.flow_kg_s, celsius)
            whole = 1 / (1 / inner + wall.lagging_mk_w + 1 / outer)
            skin = wall.ambient_c + whole / outer * (celsius - wall.ambient_c)
        return -whole * (celsius - wall.ambient_c) / (outlet.flow_kg_s * HEAT_CAPACITY_J_KGK)

    done = solve_ivp(fall, (0.0, float(edges[-1])), [state.heater_c], rtol=1e-8, max_step=0.02)
    assert outlet.temperature_c == pytest.approx(float(done.y[0, -1]), abs=0.2)
    assert state.heater_c - outlet.temperature_c > 4


def test_shorter_pieces_change_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    """Half as long: flows within a thousandth, temperatures within 0.05 K."""
    before = _state(ducted())
    monkeypatch.setattr(tree, "PIECE_MM", tree.PIECE_MM / 2)
    after = _state(ducted())
    for one, other in zip(before.outlets, after.outlets, strict=True):
        assert other.flow_kg_s == pytest.approx(one.flow_kg_s, rel=1e-3)
        assert other.temperature_c == pytest.approx(one.temperature_c, abs=0.05)


def test_where_it_begins_decides_nothing() -> None:
    """From nothing, from a state far away, and from its own."""
    job = ducted()
    plain = _state(job, 3000.0)
    far = _state(job, 3000.0, near=_state(job, 900.0))
    again = _state(job, 3000.0, near=plain)
    for other in (far, again):
        assert other.heater_c == pytest.approx(plain.heater_c, abs=1e-3)
        assert other.total_kg_s == pytest.approx(plain.total_kg_s, rel=1e-6)


def test_lagging_keeps_the_heat_in() -> None:
    bare = duct("long", (600, -286, 117), outlet="fixed-75")
    lagged = bare.model_copy(
        update={"parts": (LAGGED.model_copy(update={"at_mm": 0.0, "length_mm": 2000.0}),)}
    )
    one, other = _state(ducted(bare)), _state(ducted(lagged))
    assert other.lost_w["living"] < 0.45 * one.lost_w["living"]
    assert other.outlets[0].temperature_c > one.outlets[0].temperature_c + 3


def test_a_duct_gives_its_heat_to_the_zone_that_it_crosses() -> None:
    zone = Zone(
        id="store",
        name="store",
        kind="garage",
        from_x_mm=1000,
        to_x_mm=2000,
        left_y_mm=-890,
        right_y_mm=0,
    )
    job = ducted(duct("long", (600, -286, 117), outlet="fixed-75"), zones=(zone,))
    lost = _state(job).lost_w
    assert lost["store"] == pytest.approx(lost["living"], rel=0.15)  # as long in both, about
    below = ducted(duct("under", (2400, -286, 117), (2400, -286, -300), outlet="fixed-75"))
    assert _state(below).lost_w[OUTSIDE] > 20


def test_thin_air_carries_less() -> None:
    low, high = (_state(ducted(heat={"altitude_m": metres}), 3000.0) for metres in (0.0, 3000.0))
    assert high.total_kg_s < 0.85 * low.total_kg_s
    assert high.heater_c > low.heater_c + 5


def test_the_fan_keeps_the_affinity_laws() -> None:
    """Half the speed: a quarter of the pressure at half the flow; pressure goes with density."""
    sheet = layout_of(ducted()).fan.curve
    full, half = Fan(sheet, 1.0, 1.2, 1.2), Fan(sheet, 0.5, 1.2, 1.2)
    thin = Fan(sheet, 1.0, 0.9, 1.2)
    pressure, slope = full.pressure_pa(0.02)
    assert half.pressure_pa(0.01)[0] == pytest.approx(pressure / 4)
    assert thin.pressure_pa(0.015)[0] == pytest.approx(pressure * 0.75)
    step = 1e-6
    rise = full.pressure_pa(0.02 + step)[0] - full.pressure_pa(0.02 - step)[0]
    assert slope == pytest.approx(rise / (2 * step), rel=1e-5)


def test_a_measured_curve_is_followed_between_its_points() -> None:
    curve = layout_of(ducted()).fan.curve.model_copy(
        update={"points": ((0.0, 250.0), (80.0, 190.0), (160.0, 0.0))}
    )
    assert curve_pa(curve, 40.0)[0] == pytest.approx(220.0)
    assert curve_pa(curve, 120.0)[0] == pytest.approx(95.0)
    assert curve_pa(curve, 200.0)[0] < 0


def test_what_a_sheet_does_not_say_is_usual_and_said_so() -> None:
    job = ducted()
    usual = job.catalogue.air_equipment.typical
    values = fan_values(job.catalogue.heaters["byre-50"], usual)
    assert values is not None
    assert values.outlet_limit_c == usual.outlet_limit_c
    assert any("limit" in words for words in values.typical)
    own = fan_values(job.catalogue.heaters["bothy-40"], usual)
    assert own is not None
    assert own.typical == ()
    assert fan_values(job.catalogue.heaters["croft-52"], usual) is None


def test_blowing_free_it_moves_its_free_flow() -> None:
    """Nothing holds it back: the sheet's free flow, at the inlet's density."""
    plan = demo_plan("heron").model_copy(update={"air": Air()})
    state = _state(Job(plan, ducted().given_catalogue))
    assert state.total_m3_h == pytest.approx(162.0, rel=0.01)
    assert len(state.outlets) == 1


def test_a_panel_with_little_open_holds_it_back() -> None:
    """The orifice law by hand: what the fan gives is what the grille takes."""
    plan = demo_plan("heron")
    air = Air(
        warm_end="panel", panel_grille="punched-sheet", panel_width_mm=150, panel_height_mm=120
    )
    state = _state(Job(plan.model_copy(update={"air": air}), ducted().given_catalogue))
    area = 0.150 * 0.120 * 0.4
    density = state.layout.density_kg_m3(state.heater_c)
    assert state.fan_pa == pytest.approx(
        2.4 * state.total_kg_s**2 / (2 * density * area**2), rel=1e-4
    )


def _opening(name: str, **how: object) -> ReturnOpening:
    return ReturnOpening(id=name, name=name, x_mm=2800, y_mm=0, z_mm=100, **how)  # type: ignore[arg-type]


def test_openings_side_by_side_count_as_one() -> None:
    """Two halves are a whole; a grille counts with its share, and what is covered not at all."""
    halves = tuple(_opening(name, width_mm=60, height_mm=50) for name in ("a", "b"))
    whole = (_opening("c", width_mm=120, height_mm=50),)
    meshed = (_opening("d", width_mm=160, height_mm=50, covered_percent=25),)
    one, other, third = (
        _state(ducted(cold_end="opening", returns=openings)) for openings in (halves, whole, meshed)
    )
    assert one.total_kg_s == pytest.approx(other.total_kg_s, rel=1e-6)
    assert third.total_kg_s == pytest.approx(other.total_kg_s, rel=1e-6)
    assert other.total_kg_s < _state(ducted()).total_kg_s


def test_a_tight_door_holds_the_zones_air_back() -> None:
    """Only what gets out can come in; without a gap hardly anything does."""
    room = bath(400)
    ducts = two_outlets(zone="bath")
    open_, narrow, none = (
        _state(ducted(*ducts, zones=(room.model_copy(update={"opening_cm2": gap}),)))
        for gap in (400.0, 15.0, 0.0)
    )
    flows = [state.outlets[0].flow_kg_s for state in (open_, narrow, none)]
    assert flows[0] > 1.3 * flows[1] > 1.3 * flows[2]
    assert flows[2] < 0.02 * flows[0]
    curtain = room.model_copy(update={"divider": "curtain", "opening_cm2": 0.0})
    free = _state(ducted(*ducts, zones=(curtain,)))
    assert free.outlets[0].flow_kg_s >= flows[0]


def test_shut_outlets_give_nothing_and_every_one_shut_is_no_state() -> None:
    job = ducted()
    state = _state(job, throttles=Throttles(frozenset({"up"})))
    assert [outlet.id for outlet in state.outlets] == ["aside"]
    assert air_state(layout_of(job), 2000.0, Throttles(frozenset({"up", "aside"}))) is None


def test_velocity_is_flow_through_the_open_bore() -> None:
    outlet = _state(ducted()).outlets[0]
    area = math.pi * 0.0375**2
    assert outlet.velocity_m_s == pytest.approx(outlet.flow_m3_h / 3600 / area)


@pytest.mark.parametrize("seed", range(40))
def test_any_ducting_comes_to_rest_at_one_state(seed: int) -> None:
    """Throttled, starved by a tight zone, at any bore, output and altitude, even where the warm end
    would melt: one state, wherever it begins, with all its heat and air somewhere.
    """
    chance = random.Random(seed)
    kinds = [kind.id for kind in load_catalogue().air_equipment.ducts]
    tight = bath(chance.choice([0.0, 0.1, 3.0, 400.0]))
    ducts = tuple(
        each.model_copy(update={"kind": chance.choice(kinds)})
        for each in two_outlets(zone=chance.choice(["bath", "living"]))
    )
    altitude = {"altitude_m": chance.choice([0.0, 1500.0, 4500.0])}
    plan_layout = layout_of(ducted(*ducts, heat=altitude, zones=(tight,)))
    names = [run.duct.id for run in plan_layout.runs if run.duct.outlet is not None]
    shares = {name: chance.choice([0.05, 0.2, 1.0]) for name in names}
    shut = frozenset(name for name in names[1:] if chance.random() < 0.3)
    how, output_w = Throttles(shut, shares), chance.uniform(900.0, 4000.0)
    state = air_state(plan_layout, output_w, how)
    assert state is not None
    assert sum(state.delivered_w.values()) == pytest.approx(output_w, rel=1e-6)
    assert sum(o.flow_kg_s for o in state.outlets) == pytest.approx(state.total_kg_s, rel=1e-6)
    near = air_state(plan_layout, 4900.0 - output_w, Throttles())
    again = air_state(plan_layout, output_w, how, near)
    assert again is not None
    assert again.total_kg_s == pytest.approx(state.total_kg_s, rel=1e-5)
    assert state_at_limit(plan_layout, 108.0, how) is not None
