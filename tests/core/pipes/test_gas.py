"""The burner's gas: flow by hand, balances, references and laws."""

from __future__ import annotations

import math

import pytest
from fluids.friction import friction_factor
from ht.conv_free_immersed import Nu_horizontal_cylinder_Churchill_Chu
from ht.conv_internal import turbulent_Gnielinski_smooth_1
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.pipes.gas import (
    GAS_CONSTANT_J_KGK,
    GAS_J_KGK,
    PRANDTL_PART,
    BurnerFlow,
    GasRun,
    Inside,
    Lagged,
    Pipe,
    burner_flow,
    conductivity_w_mk,
    exhaust_gas,
    inside_w_m2k,
    march,
    outside_w_m,
    skin_c,
    viscosity_pa_s,
)
from gale_nook.core.pipes.pressure import bore_of, exhaust_loss, intake_loss, pressure_losses
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Tube
from gale_nook.demo.load import demo_plan

TUBES: tuple[Tube, ...] = ("exhaust", "intake")
KIND = load_catalogue().pipes["exhaust"]
PIPE = Pipe(0.026, KIND)
BARE = PIPE.outer_at(0.0)
BORE = Inside(0.024)
FLOW = BurnerFlow(0.00012, 0.0026, 0.00272, 340.0)


def test_the_flow_by_hand(catalogue: Catalogue) -> None:
    """0.5094 l/h × 0.84 / 3600 = 0.11886 g/s; × 14.5 × 1.5 of air; 21 % of 42.6 MJ/kg in 2.7041 g/s
    of 1.1 kJ/kgK: 357.5 K.
    """
    flow = burner_flow(catalogue.heaters["bothy-40"], 840.0, -14.0)
    assert flow.fuel_kg_s * 1000 == pytest.approx(0.11886, rel=1e-4)
    assert flow.air_kg_s == pytest.approx(flow.fuel_kg_s * 21.75)
    assert flow.port_c == pytest.approx(-14 + 357.48, abs=0.1)


@pytest.mark.parametrize(
    ("celsius", "viscosity", "conductivity"),
    [(15, 1.789e-5, 0.02534), (100, 2.17e-5, 0.0317), (300, 2.93e-5, 0.0456)],
)
def test_properties_of_air(celsius: float, viscosity: float, conductivity: float) -> None:
    """ISO 2533 at 15 °C to its own digits; tables of dry air above, to 2 %."""
    within = 1e-3 if celsius == 15 else 0.02
    assert viscosity_pa_s(celsius) == pytest.approx(viscosity, rel=within)
    assert conductivity_w_mk(celsius) == pytest.approx(conductivity, rel=within)


def test_the_skin_balances_what_comes_and_what_goes() -> None:
    skin = skin_c(300, FLOW, BORE, BARE, -14)
    into = inside_w_m2k(300, FLOW.gas_kg_s, 0.024) * math.pi * 0.024 * (300 - skin)
    assert into == pytest.approx(outside_w_m(skin, BARE, -14), abs=0.01)
    assert -14 < skin < 300


@pytest.mark.parametrize("length_mm", [300.0, 1284.3, 4000.0])
def test_skin_temperature_against_a_fine_step_reference(length_mm: float) -> None:
    """Within 1 K of steps of 2 mm, everywhere along the pipe; the heat given off is what the gas
    has lost.
    """
    coarse = march(FLOW, PIPE, length_mm, -14)
    fine = {round(place.distance_mm): place for place in march(FLOW, PIPE, length_mm, -14, 2.0)}
    for place in coarse:
        reference = fine[min(fine, key=lambda mm: abs(mm - place.distance_mm))]
        assert place.skin_c == pytest.approx(reference.skin_c, abs=1.0)
    end = coarse[-1]
    assert end.given_w == pytest.approx(
        FLOW.gas_kg_s * GAS_J_KGK * (FLOW.port_c - end.gas_c), rel=1e-9
    )


@given(st.floats(60, 700), st.floats(-40, 45), st.floats(0.0005, 0.01))
def test_the_skin_lies_between_gas_and_air_and_a_hotter_gas_never_cools_it(
    gas: float, ambient: float, kg_s: float
) -> None:
    flow = BurnerFlow(0.0001, kg_s, kg_s, gas)
    skin = skin_c(gas, flow, BORE, BARE, ambient)
    assert ambient - 1e-6 <= skin <= gas + 1e-6
    assert skin_c(gas + 20, flow, BORE, BARE, ambient) >= skin - 0.01
    # from wherever it begins it is the same
    assert skin_c(gas, flow, BORE, BARE, ambient, gas) == pytest.approx(skin, abs=0.01)
    assert skin_c(gas, flow, BORE, BARE, ambient, ambient) == pytest.approx(skin, abs=0.01)


@pytest.mark.parametrize("layers", [1, 2])
def test_lagging_against_a_fine_step_reference_and_its_own_balance(
    catalogue: Catalogue, layers: int
) -> None:
    """A lagged stretch: within 1 K of steps of 2 mm; what goes through the lagging is what its skin
    gives off.
    """
    pipe = Pipe(0.026, KIND, (Lagged(300.0, 700.0, layers),), catalogue.pipe_physics)
    coarse, fine = march(FLOW, pipe, 1200.0, 25.0), march(FLOW, pipe, 1200.0, 25.0, 2.0)
    for place in coarse:
        reference = min(fine, key=lambda other: abs(other.distance_mm - place.distance_mm))
        assert place.skin_c == pytest.approx(reference.skin_c, abs=1.0)
        assert place.gas_c == pytest.approx(reference.gas_c, abs=1.0)
    middle = next(place for place in coarse if place.distance_mm == pytest.approx(500.0))
    outer = pipe.outer_at(500.0)
    gain = 2.5 * (1 + (500 / 24) ** (-2 / 3))  # of the corrugation, and of the entry so far on
    film = 1 / (gain * inside_w_m2k(middle.gas_c, FLOW.gas_kg_s, 0.024) * math.pi * 0.024)
    through = (middle.gas_c - middle.skin_c) / (
        film + math.log(outer.diameter_m / 0.026) / (2 * math.pi * 0.09)
    )
    assert through == pytest.approx(outside_w_m(middle.skin_c, outer, 25.0), rel=1e-3)
    bare = march(FLOW, PIPE, 1200.0, 25.0)
    uncovered = min(bare, key=lambda place: abs(place.distance_mm - 500))
    assert middle.skin_c < uncovered.skin_c - 5
    assert coarse[-1].gas_c > bare[-1].gas_c


def test_each_straight_is_darcys_sum(heron: Plan, catalogue: Catalogue) -> None:
    """Friction by the fluid library's own factor, length and head by hand, within 1 %."""
    job = Job(heron, catalogue)
    loss = pressure_losses(job)["exhaust"]
    gas, run = exhaust_gas(job, loss.ambient_c), pipe_run(job, "exhaust")
    assert gas is not None
    assert run is not None
    straight = run.straights[2]
    by_hand, pieces = 0.0, 40
    for number in range(pieces):
        at = run.length_mm - straight.room_mm * (number + 0.5) / pieces
        celsius = gas.gas_c_at(at)
        density = 101325 * (1 - 2.25577e-5 * 650) ** 5.25588 / (288 * (celsius + 273.15))
        speed = gas.flow.gas_kg_s / density / (math.pi * 0.024**2 / 4)
        factor = friction_factor(Re=density * speed * 0.024 / viscosity_pa_s(celsius), eD=0.9 / 24)
        by_hand += factor * straight.room_mm / pieces / 24 * density * speed**2 / 2
    assert {p.name: p.drop_pa for p in loss.pieces}["straight 3"] == pytest.approx(
        by_hand, rel=0.01
    )


def test_higher_up_and_longer_cost_more(heron: Plan, catalogue: Catalogue) -> None:
    def pressure(plan: Plan) -> float:
        return pressure_losses(Job(plan, catalogue))["exhaust"].total_pa

    here = pressure(heron)
    assert pressure(apply(heron, set_value("heat.altitude_m", 3000), catalogue)) > 1.2 * here
    assert (
        pressure(apply(heron, set_value("pipes.exhaust.nodes.n-3.y_mm", -2000), catalogue)) > here
    )


def test_too_much_back_pressure_is_over_and_mended(heron: Plan, catalogue: Catalogue) -> None:
    finding = check(heron, catalogue, ("pipes",)).find("pipes.pressure_loss", "exhaust")
    assert finding is not None
    assert finding.verdict == "clear"
    long = apply(heron, set_value("pipes.exhaust.nodes.n-3.y_mm", -9000), catalogue)
    finding = check(long, catalogue, ("pipes",)).find("pipes.pressure_loss", "exhaust")
    assert finding is not None
    assert finding.verdict == "over"
    assert "straight 3 costs the most" in finding.sentence


def test_stations_lie_along_the_run(heron: Plan, catalogue: Catalogue) -> None:
    run = pipe_run(Job(heron, catalogue), "exhaust")
    assert run is not None
    names = [name for name, _ in run.stations_mm]
    assert names == ["port", "bend 1", "bend 2", "mouth"]
    assert run.stations_mm[-1][1] == pytest.approx(run.length_mm)


def test_without_a_run_there_is_no_gas(catalogue: Catalogue) -> None:
    assert exhaust_gas(Job(demo_plan("blank"), catalogue), -10.0) is None


@given(st.floats(2400, 60_000), st.floats(1e2, 1e7))
def test_convection_is_that_of_the_heat_transfer_library(reynolds: float, grashof: float) -> None:
    """Both correlations against the library's, read back from the film coefficients."""
    kg_s = reynolds * math.pi * 0.024 * viscosity_pa_s(200) / 4
    inside = inside_w_m2k(200, kg_s, 0.024) * 0.024 / conductivity_w_mk(200)
    assert inside == pytest.approx(
        max(turbulent_Gnielinski_smooth_1(Re=reynolds, Pr=0.7), 3.66), rel=1e-6
    )
    ours = (0.6 + 0.387 * (grashof * 0.7) ** (1 / 6) / PRANDTL_PART) ** 2
    assert ours == pytest.approx(Nu_horizontal_cylinder_Churchill_Chu(Pr=0.7, Gr=grashof), rel=1e-9)


def test_the_skin_is_not_colder_than_a_corrugated_pipes(catalogue: Catalogue) -> None:
    """At least 2.5 times a smooth pipe's film all along, and more at the entry: beside the long
    smooth pipe's law the skin is tens of degrees hotter, most so at the port.
    """
    along = march(FLOW, PIPE, 1000.0, 25.0)
    smooth = [skin_c(place.gas_c, FLOW, BORE, BARE, 25.0) for place in along]
    more = [place.skin_c - other for place, other in zip(along, smooth, strict=True)]
    assert more[0] > 60
    assert min(more) > 25
    assert more == sorted(more, reverse=True)
    assert PIPE.inside_gain(0.0) == pytest.approx(5.0)
    assert PIPE.inside_gain(24_000.0) == pytest.approx(2.5 * 1.01)
    assert all(place.skin_c < place.gas_c for place in along)


def test_thin_air_cools_less(catalogue: Catalogue) -> None:
    """At 2,500 m natural convection carries less off, so the skin is hotter; by hand at one place:
    Churchill and Chu's Rayleigh number falls with the pressure squared.
    """
    high = Pipe(0.026, KIND, air_pa=74_700.0)
    here, there = march(FLOW, PIPE, 800.0, 25.0), march(FLOW, high, 800.0, 25.0)
    assert all(b.skin_c > a.skin_c for a, b in zip(here, there, strict=True))
    full = outside_w_m(250.0, BARE, 25.0)
    thin = outside_w_m(250.0, high.outer_at(0.0), 25.0)
    radiated = math.pi * 0.026 * 0.8 * 5.670374e-8 * (523.15**4 - 298.15**4)
    ratio = (thin - radiated) / (full - radiated)
    assert (74_700 / 101_325) ** 0.55 < ratio < (74_700 / 101_325) ** 0.3


def test_friction_is_summed_along_the_way(heron: Plan, catalogue: Catalogue) -> None:
    """Halving the pieces of a long cooling straight changes its friction by under 0.1 %; one piece
    at its middle does not do.
    """
    job = Job(heron, catalogue)
    gas = exhaust_gas(job, 25.0)
    assert gas is not None
    long = GasRun(gas.flow, march(gas.flow, PIPE, 4000.0, 25.0), 25.0)
    bore = bore_of(job, "exhaust", gas.flow.gas_kg_s, GAS_CONSTANT_J_KGK, long.gas_c_at)
    fine = bore.friction_pa(0.0, 4000.0, 5.0)
    assert bore.friction_pa(0.0, 4000.0) == pytest.approx(fine, rel=1e-3)
    assert bore.friction_pa(0.0, 4000.0, 25.0) == pytest.approx(fine, rel=2e-4)
    assert bore.friction_pa(0.0, 4000.0, 4000.0) < 0.97 * fine


def test_pressure_is_judged_in_the_air_that_costs_more(heron: Plan, catalogue: Catalogue) -> None:
    """Warm air is thinner and runs faster: Heron's limit is met on a warm day, not only at
    −14 °C.
    """
    job = Job(heron, catalogue)
    for tube in TUBES:
        assert pressure_losses(job)[tube].ambient_c == 25.0
    cold = exhaust_gas(job, heron.heat.outside_c)
    assert cold is not None
    in_cold = exhaust_loss(job, cold)
    assert in_cold is not None
    assert in_cold.total_pa < pressure_losses(job)["exhaust"].total_pa
    warmer, warm = intake_loss(job, 35.0), intake_loss(job, 25.0)
    assert warmer is not None
    assert warm is not None
    assert warmer.total_pa > warm.total_pa == pressure_losses(job)["intake"].total_pa
