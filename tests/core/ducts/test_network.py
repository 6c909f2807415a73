"""The duct network: closed forms, another code's flows, and laws that any solution keeps."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from benchmarks.duct_trees import by_library, network_of, tree_case
from gale_nook.core.ducts.network import GROUND, Bore, Network, duct_losses_pa, solve
from gale_nook.core.errors import NotConverged

DENSITY, VISCOSITY = 1.0, 2.1e-5


def _one_duct(length_m: float, bore_m: float, loss_k: float, pressure_pa: float) -> Network:
    duct = Bore.of(length_m, bore_m, 5e-4).resistance(0, loss_k, DENSITY, VISCOSITY)
    return Network((0,), (GROUND,), 1, (duct,), (), lambda _: (pressure_pa, 0.0))


def test_a_laminar_duct_is_hagen_and_poiseuille() -> None:
    """m = ρ·π·d⁴·Δp/(128·μ·l), to 0.2 %."""
    network = _one_duct(4.0, 0.05, 0.0, 0.02)
    expected = DENSITY * np.pi * 0.05**4 * 0.02 / (128 * VISCOSITY * 4.0)
    assert solve(network).total_kg_s == pytest.approx(expected, rel=0.002)


def test_a_duct_without_friction_is_its_loss_alone() -> None:
    """m = ρ·A·√(2Δp/(ρ·K))."""
    network = _one_duct(1e-9, 0.075, 2.5, 80.0)
    area = np.pi * 0.075**2 / 4
    assert solve(network).total_kg_s == pytest.approx(
        DENSITY * area * np.sqrt(2 * 80.0 / DENSITY / 2.5), rel=1e-6
    )


def test_a_turbulent_duct_is_darcy_and_weisbach() -> None:
    """With Colebrook's factor at its own flow, by hand: 3 m of 75 mm, K = 1.5, 60 Pa."""
    flow = solve(_one_duct(3.0, 0.075, 1.5, 60.0)).total_kg_s
    area = np.pi * 0.075**2 / 4
    speed, reynolds = flow / area, flow * 0.075 / area / VISCOSITY
    factor = 0.03
    for _ in range(50):
        factor = (-2 * np.log10(5e-4 / 0.075 / 3.7 + 2.51 / reynolds / np.sqrt(factor))) ** -2
    assert (factor * 3.0 / 0.075 + 1.5) * speed**2 / 2 == pytest.approx(60.0, rel=1e-6)


@pytest.mark.slow
def test_flows_are_those_of_a_general_pipe_network_library() -> None:
    """Trees of 2 to 30 outlets, every branch turbulent, where both have one law: within 2 %."""
    cases = [tree_case(n, seed, 160.0 * n**0.7) for seed, n in enumerate((2, 3, 5, 8, 10, 20, 30))]
    worst = 0.0
    compared = 0
    for case, answer in zip(cases, by_library(cases), strict=True):
        ours = solve(network_of(case, answer["density_kg_m3"], answer["viscosity_pa_s"]))
        theirs = np.array(answer["flow_kg_s"])
        bores = np.array([branch["bore_m"] for branch in case["branches"]])
        reynolds = 4 * np.abs(theirs) / (np.pi * bores * answer["viscosity_pa_s"])
        turbulent = reynolds > 5000
        compared += int(turbulent.sum())
        worst = max(worst, float(np.abs(np.array(ours.branch_kg_s) / theirs - 1)[turbulent].max()))
    assert compared > 60
    assert worst < 0.02


@st.composite
def trees(draw: st.DrawFn) -> dict[str, Any]:
    return tree_case(
        draw(st.integers(1, 12)), draw(st.integers(0, 10_000)), draw(st.floats(5, 600))
    )


def _fan(case: dict[str, Any], top_pa: float) -> Network:
    network = network_of(case, DENSITY, VISCOSITY)

    def pressure(flow: float) -> tuple[float, float]:
        ratio = flow / 0.06
        return top_pa * (1 - ratio * abs(ratio)), -2 * top_pa * abs(ratio) / 0.06

    return Network(
        network.starts, network.ends, network.nodes, network.pieces, network.openings, pressure
    )


def _balance(network: Network, flows: Any) -> float:
    """The largest difference of what comes to a node and what leaves it."""
    sums = np.zeros(network.nodes)
    sums[0] += flows.total_kg_s
    for start, end, flow in zip(network.starts, network.ends, flows.branch_kg_s, strict=True):
        sums[start] -= flow
        if end != GROUND:
            sums[end] += flow
    return float(np.abs(sums).max())


@settings(max_examples=60)
@given(trees(), st.floats(1e-4, 1.0))
def test_the_guess_decides_nothing_and_mass_balances(case: dict[str, Any], guess: float) -> None:
    network = _fan(case, 240.0)
    one, other = solve(network, 0.02), solve(network, guess)
    assert other.branch_kg_s == pytest.approx(one.branch_kg_s, rel=1e-6, abs=1e-12)
    assert _balance(network, one) < 1e-6 * one.total_kg_s
    losses, _ = duct_losses_pa(network.pieces, one.branch_kg_s, network.ducts)
    for start, end, loss in zip(network.starts, network.ends, losses, strict=True):
        after = one.node_pa[end] if end != GROUND else 0.0
        assert one.node_pa[start] - after == pytest.approx(loss, rel=1e-5, abs=1e-6)


@pytest.mark.parametrize("seed", range(60))
def test_trees_of_any_size_are_solved_at_any_pressure(seed: int) -> None:
    """A source that gives the same pressure at any flow is the hardest case."""
    chance = random.Random(seed)
    outlets, source_pa = chance.choice([1, 3, 10, 30, 60]), 10 ** chance.uniform(-3, 4)
    network = network_of(tree_case(outlets, seed, source_pa), 1.0, 2e-5)
    one, other = solve(network), solve(network, 10 ** chance.uniform(-9, 2))
    assert other.branch_kg_s == pytest.approx(one.branch_kg_s, rel=1e-6, abs=1e-7 * one.total_kg_s)
    assert max(one.steps, other.steps) < 30


@settings(max_examples=40)
@given(trees(), st.integers(0, 100), st.floats(0.1, 20.0))
def test_more_resistance_never_raises_a_branchs_own_flow(
    case: dict[str, Any], which: int, more: float
) -> None:
    number = which % len(case["branches"])
    before = solve(_fan(case, 240.0))
    case["branches"][number]["loss_k"] += more
    after = solve(_fan(case, 240.0))
    assert after.branch_kg_s[number] <= before.branch_kg_s[number] * (1 + 1e-7)
    assert after.total_kg_s <= before.total_kg_s * (1 + 1e-7)


def test_the_jacobian_is_exact() -> None:
    """The slopes of all losses against differences, laminar and turbulent."""
    network = network_of(tree_case(8, 3), DENSITY, VISCOSITY)
    flow = np.geomspace(1e-4, 0.05, network.ducts)
    step = 1e-6 * flow

    def told(at: Any) -> Any:
        return np.array(duct_losses_pa(network.pieces, at.tolist(), network.ducts))

    (_, slopes), (up, _), (down, _) = told(flow), told(flow + step), told(flow - step)
    assert slopes == pytest.approx((up - down) / (2 * step), rel=1e-5)


def test_what_does_not_come_to_rest_says_so() -> None:
    """A source that rises with the flow faster than ducts lose has no solution to be found."""
    network = _one_duct(1.0, 0.075, 0.0, 10.0)
    runaway = Network(
        network.starts,
        network.ends,
        1,
        network.pieces,
        network.openings,
        lambda flow: (10.0 + 1e9 * flow * flow, 2e9 * flow),
    )
    with pytest.raises(NotConverged):
        solve(runaway)
