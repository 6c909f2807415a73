"""Diesel, line losses, heads, priming: against the fluid library and on paper."""

from __future__ import annotations

import math

import fluids
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.fuel.diesel import density_kg_m3, viscosity_mm2_s
from gale_nook.core.fuel.hydraulics import fuel_heads, heads, line_loss_pa
from gale_nook.core.fuel.line import EMPTY, fuel_run
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan


def test_viscosity_goes_through_both_points_and_thickens_in_the_cold(catalogue: Catalogue) -> None:
    for grade in catalogue.fuel_equipment.grades:
        assert viscosity_mm2_s(grade, 40) == pytest.approx(grade.warm_mm2_s, rel=1e-9)
        assert viscosity_mm2_s(grade, 0) == pytest.approx(grade.cold_mm2_s, rel=1e-9)
        colder = [viscosity_mm2_s(grade, c) for c in range(40, -41, -10)]
        assert colder == sorted(colder)
        assert density_kg_m3(grade, 15) == grade.density_kg_m3


def test_viscosity_by_the_standards_own_numbers(catalogue: Catalogue) -> None:
    """ASTM D341 by hand at −20 °C for winter diesel, with lg lg(ν + 0.7) linear in lg T."""
    grade = catalogue.fuel_equipment.grade("winter")
    a, b = math.log10(math.log10(2.5 + 0.7)), math.log10(math.log10(5.2 + 0.7))
    share = (math.log10(313.15) - math.log10(253.15)) / (math.log10(313.15) - math.log10(273.15))
    assert viscosity_mm2_s(grade, -20) == pytest.approx(
        10 ** (10 ** (a + share * (b - a))) - 0.7, rel=1e-9
    )


@given(st.floats(100, 6000), st.floats(1.2, 6), st.floats(0.05, 2.5), st.floats(-35, 40))
def test_line_loss_against_the_fluid_library(
    length: float, bore: float, flow: float, celsius: float
) -> None:
    grade = load_catalogue().fuel_equipment.grade("winter")
    rho, nu, d = density_kg_m3(grade, celsius), viscosity_mm2_s(grade, celsius) * 1e-6, bore / 1000
    speed = flow * 1e-3 / 3600 / (math.pi / 4 * d**2)
    reynolds = fluids.Reynolds(V=speed, D=d, nu=nu)
    assert reynolds < 2000
    by_library = fluids.friction_factor(Re=reynolds) * (length / 1000) / d * rho * speed**2 / 2
    assert line_loss_pa(length, bore, flow, grade, celsius) == pytest.approx(by_library, rel=0.01)


def test_heads_on_paper(heron: Plan, catalogue: Catalogue) -> None:
    """Heron's tank nearly empty, worked out with pencil: ρgh, Hagen-Poiseuille, and the filter.

    The stand-pipe's tip hangs at -265 mm and the pump, 350 mm of line on, at -113.9; the heater's
    port is at -22. At -14 °C winter diesel weighs about 851 kg/m³ and is 7.9 mm²/s thick.
    """
    job = Job(heron, catalogue)
    run = fuel_run(job)
    assert run is not None
    there = heads(job, run, EMPTY)
    assert there is not None
    assert there.over_pump_mm == pytest.approx(-265.0 + 113.892, abs=0.01)
    assert there.heater_over_pump_mm == pytest.approx(-22.0 + 113.892, abs=0.01)
    assert there.over_heater_mm == pytest.approx(-265.0 + 22.0, abs=0.01)

    density = 832.0 + 0.7 * 29.0  # 29 K colder than 15 °C, by the usual 0.7 kg/m³ a kelvin
    a, b = math.log10(math.log10(2.5 + 0.7)), math.log10(math.log10(5.2 + 0.7))
    share = (math.log10(313.15) - math.log10(259.15)) / (math.log10(313.15) - math.log10(273.15))
    viscosity = (10 ** (10 ** (a + share * (b - a))) - 0.7) * 1e-6 * density
    flow = 0.5094 / 0.4 * 1e-3 / 3600  # while the pump pushes: two fifths of the time

    def lost_pa(length_m: float) -> float:
        return 128 * viscosity * length_m * flow / (math.pi * 0.002**4)

    lift = density * 9.80665 * 0.151108
    assert there.suction_pa == pytest.approx(lift + lost_pa(0.350) + 400.0 / 0.4, rel=2e-3)
    up = density * 9.80665 * 0.091892
    assert there.delivery_pa == pytest.approx(lost_pa(0.89763) + up, rel=2e-3)


def test_full_is_never_less_suction_than_empty_and_tilt_works_both_ways(
    heron: Plan, catalogue: Catalogue
) -> None:
    job = Job(heron, catalogue)
    by_when = dict(fuel_heads(job))
    assert len(by_when) == 18  # full and empty, level and leaning to each eighth of a turn
    for how in ("level", "nose up", "nose down", "left side down", "right side down"):
        assert by_when[f"full, {how}"].over_pump_mm > by_when[f"nearly empty, {how}"].over_pump_mm
        assert by_when[f"full, {how}"].suction_pa < by_when[f"nearly empty, {how}"].suction_pa
    level = by_when["nearly empty, level"].over_pump_mm
    up, down = (by_when[f"nearly empty, nose {way}"].over_pump_mm for way in ("up", "down"))
    assert (up - level) * (down - level) < 0


@given(st.floats(0, 100))
def test_a_lower_level_is_a_lower_head(percent: float) -> None:
    job = Job(demo_plan("wren"), load_catalogue())
    run = fuel_run(job)
    assert run is not None
    here, brim = heads(job, run, percent), heads(job, run, 100.0)
    assert here is not None
    assert brim is not None
    assert here.over_pump_mm <= brim.over_pump_mm + 1e-6


def test_what_several_rules_look_at_is_worked_out_once(heron: Plan, catalogue: Catalogue) -> None:
    done = check(heron, catalogue, ("fuel",))
    run = fuel_run(done.job)
    assert run is not None
    assert run.shape is run.shape
    assert fuel_heads(done.job) is fuel_heads(done.job)
