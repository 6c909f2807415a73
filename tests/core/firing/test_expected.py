"""What a first firing should show follows from the plan: ladder, litres, ducts, loop."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.firing.expected import day_supply, expected_phases, phase_expected
from gale_nook.core.firing.pre_checks import pre_checks
from gale_nook.core.fitted.usable import usable
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.power.supply import ladders
from gale_nook.demo.load import demo_plan


def _job(catalogue: Catalogue, name: str = "heron", **values: float) -> Job:
    plan = demo_plan(name)
    for address, value in values.items():
        plan = apply(plan, set_value(address.replace("__", "."), value), catalogue)
    return Job(plan, catalogue)


def _band(job: Job, phase: str, name: str) -> tuple[float, float]:
    found = phase_expected(job, phase)
    assert found is not None
    return found.values[name].low, found.values[name].high


@pytest.mark.parametrize("name", ["heron", "quarto", "coot", "plover", "dunlin"])
def test_the_ladder_of_the_power_station_lies_in_the_band_of_its_phase(
    name: str, catalogue: Catalogue
) -> None:
    job = _job(catalogue, name)
    for state, phase in (("glow", "glow"), ("run", "full")):
        low, high = _band(job, phase, "voltage_v")
        assert low < ladders(job)[state].heater_v < high  # type: ignore[index]
        low, high = _band(job, phase, "current_a")
        assert low < ladders(job)[state].current_a < high  # type: ignore[index]


def test_a_longer_cable_lowers_the_band_and_a_measured_battery_narrows_it(
    catalogue: Catalogue,
) -> None:
    low, high = _band(_job(catalogue), "glow", "voltage_v")
    long_low, long_high = _band(
        _job(catalogue, power__leads__supply__one_way_mm=9000), "glow", "voltage_v"
    )
    assert long_low < low
    assert long_high < high
    job = _job(catalogue)
    day = day_supply(job)
    assert day is not None
    rest_v = day.rest_v + 3.0 * 0.0034768  # its own sag under the other loads is taken off again
    measured = _band(_job(catalogue, firing__rest_v=rest_v), "glow", "voltage_v")
    assert measured[0] > low
    assert measured[1] < high


def test_ticks_are_the_sheets_litres_over_its_dose(catalogue: Catalogue) -> None:
    """Bothy 40: 0.5094 l/h at most, 0.035 ml a stroke: 4.043 strokes a second."""
    low, high = _band(_job(catalogue), "full", "pump_hz")
    assert (low + high) / 2 == pytest.approx(0.5094 * 1000 / 3600 / 0.035, rel=1e-6)
    assert _band(_job(catalogue), "after-run", "pump_hz") == (0.0, 0.0)


def test_where_the_ducts_hold_it_back_it_ticks_slower(catalogue: Catalogue) -> None:
    """Full output is what comes through the ducting, not what the sheet says."""
    plan, before = demo_plan("heron"), _band(_job(catalogue), "full", "pump_hz")
    ducts = tuple(
        duct.model_copy(update={"outlet": duct.outlet.model_copy(update={"shut": True})})
        if duct.id == "bed" and duct.outlet is not None
        else duct
        for duct in plan.air.ducts
    )
    job = Job(
        plan.model_copy(update={"air": plan.air.model_copy(update={"ducts": ducts})}), catalogue
    )
    found = usable(job)
    assert found is not None
    assert found.throttles
    assert _band(job, "full", "pump_hz")[1] < before[1]


def test_the_warm_end_is_what_the_heater_adds_and_never_over_its_own_limit(
    catalogue: Catalogue,
) -> None:
    job = _job(catalogue)
    found, sheet = usable(job), heater_sheet(job)
    assert found is not None
    assert found.at is not None
    assert sheet is not None
    assert sheet.fan is not None
    low, high = _band(job, "full", "outlet_c")
    rise = found.at.heater_c - found.at.inlet_c
    assert low == pytest.approx(10 + 0.85 * rise)
    assert high <= (sheet.fan.outlet_limit_c or 0)
    colder = _job(catalogue, firing__inside_c=-10)
    assert _band(colder, "full", "outlet_c")[0] == pytest.approx(low - 20)


def test_a_coolant_heater_is_told_by_its_switching_temperatures(catalogue: Catalogue) -> None:
    job = _job(catalogue, "quarto")
    sheet = heater_sheet(job)
    assert sheet is not None
    assert sheet.loop is not None
    low, high = _band(job, "regulation", "outlet_c")
    assert low < min(sheet.loop.restart_c, sheet.loop.to_full_c)
    assert high > sheet.loop.to_pause_c


def test_phases_follow_one_another(any_demo: Plan, catalogue: Catalogue) -> None:
    begins = [p.begins_s for p in expected_phases(Job(any_demo, catalogue)) if p.begins_s]
    assert begins == sorted(begins)
    for phase in expected_phases(Job(any_demo, catalogue)):
        assert all(band.low <= band.high for band in phase.values.values())


def test_only_what_this_job_has_is_looked_at_before(catalogue: Catalogue) -> None:
    lists = {
        name: {each.id for each in pre_checks(_job(catalogue, name))}
        for name in ("heron", "quarto", "blank", "dunlin")
    }
    assert {"outlets", "vehicle-filled"} <= lists["heron"]
    assert "loop" in lists["quarto"]
    assert "loop" not in lists["heron"]
    assert "filled" in lists["dunlin"]
    assert lists["blank"] == set()


def test_without_a_cable_the_current_is_the_sheets(catalogue: Catalogue) -> None:
    plan = demo_plan("heron")
    bare = plan.model_copy(update={"power": plan.power.model_copy(update={"leads": ()})})
    found = phase_expected(Job(bare, catalogue), "glow")
    assert found is not None
    assert "voltage_v" not in found.values
    assert found.values["current_a"].low < 9.6 < found.values["current_a"].high
