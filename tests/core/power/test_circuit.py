"""Copper, batteries and the circuit against closed forms."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.power import Battery
from gale_nook.core.power.batteries import battery_state, charge_at
from gale_nook.core.power.circuit import Load, Piece, heater_voltage_v, ladder
from gale_nook.core.power.copper import ampacity_a, awg_at_least, grouped, resistance_ohm
from gale_nook.core.power.nights import lasting
from gale_nook.core.quantities.area import gauge_area_mm2, parse_area_mm2

WORKS = load_catalogue().power_equipment
STANDARD = [cable.area_mm2 for cable in WORKS.cables]


def test_copper_is_that_of_the_standard() -> None:
    """IEC 60028: 1 m of 1 mm² is 1/58 ohm at 20 °C; 0.393 % more for each kelvin."""
    assert resistance_ohm(WORKS.copper, 1000, 1.0, 20) == pytest.approx(1 / 58, rel=1e-6)
    warm = resistance_ohm(WORKS.copper, 4000, 4.0, 60)
    assert warm == pytest.approx(1 / 58 * (1 + 0.00393 * 40), rel=1e-6)


@pytest.mark.parametrize(
    ("gauge", "area_mm2"), [(18, 0.823), (14, 2.08), (10, 5.26), (6, 13.3), (0, 53.5)]
)
def test_gauges_are_those_of_the_standard(gauge: int, area_mm2: float) -> None:
    """ASTM B258, table of nominal areas."""
    assert gauge_area_mm2(gauge) == pytest.approx(area_mm2, rel=2e-3)


def test_the_gauge_that_is_offered_is_not_thinner() -> None:
    for area in STANDARD:
        gauge = awg_at_least(area)
        assert gauge_area_mm2(gauge) >= area - 1e-9
        assert gauge_area_mm2(gauge + 2) < area


@pytest.mark.parametrize(
    ("text", "area_mm2"), [("4", 4), ("4 mm²", 4), ("AWG 12", 3.3088), ("awg 2/0", 67.43)]
)
def test_areas_are_read_in_both_ways(text: str, area_mm2: float) -> None:
    assert parse_area_mm2(text, "conductor", STANDARD) == pytest.approx(area_mm2, rel=1e-3)


@pytest.mark.parametrize("text", ["12", "8", "14", "thick", "", "-4 awg"])
def test_a_gauge_typed_for_square_millimetres_is_refused(text: str) -> None:
    with pytest.raises(BadInput) as refused:
        parse_area_mm2(text, "conductor", STANDARD)
    if text.isdigit():
        assert f"AWG {text}" in refused.value.problem


def test_a_resisting_load_is_a_divider() -> None:
    """12 V over 0.1 ohm into 1.1 ohm: 11 V."""
    assert heater_voltage_v(12, 0.1, Load(conductance_s=1 / 1.1)) == pytest.approx(11.0)


def test_a_held_current_drops_by_ohms_law() -> None:
    assert heater_voltage_v(12, 0.08, Load(current_a=10)) == pytest.approx(11.2)


def test_a_held_power_is_the_root_of_its_quadratic() -> None:
    """V² - 12 V + R P = 0 with R P = 11: V = 6 + 5 = 11. At R P = 36 it is the most that can be
    given; beyond, nothing is.
    """
    assert heater_voltage_v(12, 0.1, Load(power_w=110)) == pytest.approx(11.0)
    assert heater_voltage_v(12, 0.1, Load(power_w=360)) == pytest.approx(6.0)
    assert heater_voltage_v(12, 0.1, Load(power_w=361)) is None


ohms = st.floats(0.0, 0.2)


@given(
    open_v=st.floats(10, 30),
    parts=st.lists(ohms, min_size=1, max_size=8),
    conductance=st.floats(0, 1.5),
    current=st.floats(0, 8),
    power=st.floats(0, 60),
)
def test_the_ladder_keeps_kirchhoffs_laws(
    open_v: float, parts: list[float], conductance: float, current: float, power: float
) -> None:
    """The drops add up to what the heater does not get; the current is what the load draws."""
    load = Load(conductance, current, power)
    found = ladder(open_v, [Piece(str(n), ohm) for n, ohm in enumerate(parts)], load)
    if found.collapses:
        assert heater_voltage_v(open_v, sum(parts), load) is None
        return
    assert found.rungs[-1].left_v == pytest.approx(found.heater_v, abs=1e-6)
    drawn = conductance * found.heater_v + current + power / found.heater_v
    assert found.current_a == pytest.approx(drawn, rel=1e-9)
    assert sum(rung.drop_v for rung in found.rungs) == pytest.approx(open_v - found.heater_v)


def test_a_battery_follows_charge_cold_and_age() -> None:
    agm = WORKS.chemistry("agm")
    new = Battery(x_mm=0, y_mm=0, z_mm=0, capacity_ah=100, age_years=0, temperature_c=25)
    full = battery_state(new.model_copy(update={"charge_percent": 100.0}), agm)
    assert full.open_v == pytest.approx(12.85)
    assert full.resistance_ohm == pytest.approx(0.0036)
    assert full.usable_ah == pytest.approx(50.0)
    cold = battery_state(new.model_copy(update={"temperature_c": -18.0}), agm)
    assert cold.resistance_ohm == pytest.approx(0.0036 * 1.7)
    assert cold.capacity_ah == pytest.approx(66.0)
    old = battery_state(new.model_copy(update={"age_years": 5.0}), agm)
    assert old.resistance_ohm == pytest.approx(0.0036 * 1.35)
    large = battery_state(new.model_copy(update={"capacity_ah": 200.0}), agm)
    assert large.resistance_ohm == pytest.approx(0.0018)


def test_a_battery_of_24_v_is_two_blocks() -> None:
    agm = WORKS.chemistry("agm")
    one = battery_state(Battery(x_mm=0, y_mm=0, z_mm=0), agm)
    two = battery_state(Battery(x_mm=0, y_mm=0, z_mm=0, nominal_v=24), agm)
    assert two.open_v == pytest.approx(2 * one.open_v)
    assert two.resistance_ohm == pytest.approx(2 * one.resistance_ohm)
    assert two.capacity_ah == pytest.approx(one.capacity_ah)


@given(percent=st.floats(0, 100), chemistry=st.sampled_from(WORKS.chemistries))
def test_charge_and_voltage_at_rest_are_one_to_the_other(percent: float, chemistry: object) -> None:
    battery = Battery(x_mm=0, y_mm=0, z_mm=0, temperature_c=25, charge_percent=percent)
    state = battery_state(battery, chemistry)  # type: ignore[arg-type]
    assert charge_at(chemistry, state.open_v) == pytest.approx(percent, abs=1e-6)  # type: ignore[arg-type]


def test_what_was_measured_counts_before_what_is_typical() -> None:
    agm = WORKS.chemistry("agm")
    measured = Battery(
        x_mm=0, y_mm=0, z_mm=0, open_v=12.36, resistance_mohm=9.5, temperature_c=25, age_years=8
    )
    state = battery_state(measured, agm)
    assert (state.open_v, state.resistance_ohm) == (12.36, 0.0095)
    assert state.charge_percent == pytest.approx(50.0)


def test_ampacity_falls_with_warm_surroundings_and_company() -> None:
    """Insulation of 90 °C in air of 60 °C: sqrt((90 - 60)/(90 - 30)) of the table."""
    six = WORKS.cable(6.0)
    assert six is not None
    assert ampacity_a(six, 90, 30, 30) == pytest.approx(50)
    assert ampacity_a(six, 90, 60, 30) == pytest.approx(50 * math.sqrt(0.5))
    assert ampacity_a(six, 90, 95, 30) == 0
    assert [grouped(WORKS.groupings, n) for n in (1, 2, 3, 4, 40)] == [1.0, 0.8, 0.8, 0.7, 0.6]


@pytest.mark.parametrize(
    ("usable", "night", "comes_in", "nights"),
    [
        (50, 20, 0, 2.5),
        (50, 20, 5, 3.0),
        (10, 20, 30, 0.5),
        (50, 20, 20, math.inf),
        (5, 0, 0, math.inf),
    ],
)
def test_nights_until_the_battery_is_low(
    usable: float, night: float, comes_in: float, nights: float
) -> None:
    assert lasting(usable, night, comes_in) == pytest.approx(nights)
