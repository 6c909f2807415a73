"""The simulated heater: its phases, its physics, its faults, and that its step does not matter."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.base.phases import PHASES
from gale_nook.core.errors import BadInput
from gale_nook.core.firing.heater import BURNING, SimulatedHeater, Told
from gale_nook.core.firing.model import heater_model
from gale_nook.core.job import Job
from gale_nook.demo.load import demo_plan
from tests.core.firing.fired import FAULTS, WHOLE, fired


def _heater(name: str = "heron", fault: str = "") -> SimulatedHeater:
    return SimulatedHeater(heater_model(Job(demo_plan(name), load_catalogue()), fault))


def _began(told: list[Told], phase: str) -> float:
    return next(each.at_s for each in told if each.phase == phase)


@pytest.mark.parametrize("name", WHOLE)
def test_a_healthy_heater_goes_through_every_phase_in_order(name: str) -> None:
    heater, told = fired(name)
    seen = list(dict.fromkeys(each.phase for each in told if each.phase != "off"))
    assert seen == list(PHASES)
    assert heater.code == ""
    assert told[-1].phase == "off"
    assert told[-1].room_c > told[0].room_c


@pytest.mark.parametrize("name", ["heron", "quarto"])
@pytest.mark.parametrize("fault", ["", "snow", "closed-outlets"])
def test_halving_the_step_changes_nothing_that_is_shown(name: str, fault: str) -> None:
    _, whole = fired(name, fault)
    _, half = fired(name, fault, 0.5)
    for phase in {each.phase for each in whole} - {"off"}:
        assert _began(half, phase) == pytest.approx(_began(whole, phase), abs=8, rel=0.02)
    by_second = {round(each.at_s): each for each in half}
    for each in whole[::60]:
        other = by_second.get(round(each.at_s))
        if other is not None and other.phase == each.phase == "full":
            assert other.outlet_c == pytest.approx(each.outlet_c, abs=1.0)
            assert other.room_c == pytest.approx(each.room_c, abs=0.2)


def test_what_is_given_to_the_room_is_what_the_fuel_holds() -> None:
    """Litres times the sheet's own output for them: an hour at a held level."""
    heater = _heater()
    heater.set_level(2000)
    heater.switch_on()
    while heater.phase not in {"full", "regulation"}:
        heater.step()
    while heater.phase_s < 600:
        heater.step()
    assert heater.heat_w == pytest.approx(2000, rel=1e-3)
    assert heater.pump_hz == pytest.approx(
        (0.1146 + (0.5094 - 0.1146) * (2000 - 900) / 3100) * 1000 / 3600 / 0.035, rel=1e-6
    )


@given(st.sampled_from(("", *FAULTS)), st.sampled_from(("heron", "quarto", "coot")))
def test_no_reading_is_ever_absurd(fault: str, name: str) -> None:
    _, told = fired(name, fault)
    rest_v = _heater(name).model.rest_v
    for each in told:
        assert 0 <= each.voltage_v <= rest_v + 1e-9
        assert 0 <= each.current_a < 40
        assert 0 <= each.pump_hz < 12
        assert -40 < each.room_c < 60
        assert -40 < each.outlet_c < 250
        assert each.pump_hz == 0 or each.phase in {*BURNING, "glow"}


def test_each_fault_shows_as_what_it_is() -> None:
    """What the field expects of each; the healthy heater shows none of it."""
    _, healthy = fired("heron")
    glow_v = min(each.voltage_v for each in healthy if each.phase == "glow")
    for fault in ("thin-cable", "worn-battery"):
        _, told = fired("heron", fault)
        assert min(each.voltage_v for each in told if each.phase == "glow") < glow_v - 0.4
    assert fired("heron", "pump-reversed")[0].code == "no flame"
    assert fired("heron", "air-in-line")[0].code == "no flame"
    full_c = max(each.outlet_c for each in healthy if each.phase == "full")
    _, waxed = fired("heron", "waxed-filter")
    assert max(each.outlet_c for each in waxed if each.phase == "full") < full_c - 15
    assert {each.smoke for each in fired("heron", "blocked-intake")[1] if each.phase == "full"} == {
        "thick"
    }
    assert {each.smoke for each in healthy if each.phase == "full"} == {"none"}
    _, closed = fired("heron", "closed-outlets")
    assert max(each.pump_hz for each in closed) < 0.7 * max(each.pump_hz for each in healthy)
    assert fired("heron", "exhaust-hole")[0].co_ppm > 9 > fired("heron")[0].co_ppm
    _, early = fired("heron", "sensor-at-outlet")
    assert max(e.room_c for e in early if e.phase == "regulation") < 18
    assert fired("heron", "power-cut")[1][-1].voltage_v == 0


def test_it_obeys() -> None:
    heater = _heater()
    heater.prime(pumping=True)
    heater.step()
    assert heater.pump_hz > 0
    heater.prime(pumping=False)
    heater.step()
    assert heater.pump_hz == 0
    heater.switch_on()
    while heater.phase != "ramp":
        heater.step()
    heater.prime(pumping=True)  # nothing that a burning heater takes
    heater.set_temperature(heater.room_c - 5)
    heater.step()
    assert heater.phase == "stop"
    while heater.phase != "off":
        heater.step()
    heater.set_temperature(20)
    heater.step()
    assert heater.phase == "check"  # it was not switched off: it starts again when it is cold
    heater.switch_off()
    assert heater.phase == "off"


def test_a_plan_without_battery_or_fault_by_that_name_is_refused() -> None:
    with pytest.raises(BadInput, match="battery and cable"):
        _heater("blank")
    with pytest.raises(BadInput, match="waxed-filter"):
        _heater("heron", "gremlins")
