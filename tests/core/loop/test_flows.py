"""Flow through loops: closed forms, another code's flows, and laws of any solution."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from benchmarks.duct_trees import by_library
from benchmarks.loops import loop_case, network_of_loop
from gale_nook.core.ducts.network import GROUND, Bore, Network, opening_loss_pa, solve
from gale_nook.core.loop.pump import OneWay, PumpLift, factor_of, square_loss_pa

CURVE = ((0.0, 22.0), (8.0, 19.0), (14.0, 13.0), (20.0, 3.0))


@pytest.mark.slow
def test_flows_are_those_of_a_general_pipe_network_library() -> None:
    """Loops of 2 to 14 rungs, 4 to 40 branches, of what is turbulent there: within 2 %."""
    cases = [loop_case(n, seed, 15_000.0) for seed, n in enumerate((2, 3, 5, 8, 14))]
    for case, answer in zip(cases, by_library(cases), strict=True):
        network = network_of_loop(case, answer["density_kg_m3"], answer["viscosity_pa_s"])
        ours, theirs = np.array(solve(network).branch_kg_s), np.array(answer["flow_kg_s"])
        bores = np.array([branch["bore_m"] for branch in case["branches"]])
        turbulent = 4 * np.abs(theirs) / np.pi / bores / answer["viscosity_pa_s"] > 4000
        assert turbulent.sum() > 3
        assert np.abs(ours[turbulent] / theirs[turbulent] - 1).max() < 0.02


def test_a_pump_and_a_loss_by_hand() -> None:
    """Head falls straight from 19 kPa at 8 l/min to 13 at 14; the part takes 0.1 kPa·(l/min)²: they
    meet where 27 − q = 0.1·q², at q = (−1 + √(1 + 10.8))/0.2 = 12.175 l/min.
    """
    lift = PumpLift(CURVE, 1.0, 1.0)
    network = Network((0,), (GROUND,), 1, (), (factor_of(10.0, 1.0),), lift.head_pa)
    found = solve(network)
    assert found.total_kg_s * 60 == pytest.approx((-1 + np.sqrt(11.8)) / 0.2, rel=1e-5)


def test_at_half_speed_half_the_flow_and_a_quarter_of_the_head() -> None:
    """Affinity laws: against losses in the square of the flow the flow goes with the speed."""
    factor = factor_of(10.0, 1.03)
    full = solve(
        Network((0,), (GROUND,), 1, (), (factor,), PumpLift(CURVE, 1.0, 1.03).head_pa)
    ).total_kg_s
    half = solve(
        Network((0,), (GROUND,), 1, (), (factor,), PumpLift(CURVE, 0.5, 1.03).head_pa)
    ).total_kg_s
    assert half == pytest.approx(full / 2, rel=1e-6)


def test_two_pumps_in_line_lift_twice() -> None:
    lift = PumpLift(CURVE, 1.0, 1.0)
    factor = factor_of(10.0, 1.0)

    def second(flow: float) -> tuple[float, float]:
        head, slope = lift.head_pa(flow)
        return -head, -slope

    network = Network((0, 1), (1, GROUND), 2, (), (factor,), lift.head_pa, (second,))
    flow = solve(network).total_kg_s * 60
    # 2·head(q) = 0.1·q² kPa
    heads = np.interp(flow, [q for q, _ in CURVE], [h for _, h in CURVE])
    assert 2 * heads == pytest.approx(0.1 * flow**2, rel=1e-4)


def test_two_pumps_against_one_another_push_one_back() -> None:
    strong, weak = PumpLift(CURVE, 1.0, 1.0), PumpLift(CURVE, 0.5, 1.0)

    def against(flow: float) -> tuple[float, float]:
        head, slope = weak.head_pa(-flow)
        return head, -slope

    network = Network(
        (0, 1), (1, GROUND), 2, (), (factor_of(10.0, 1.0),), strong.head_pa, (against,)
    )
    assert 0 < solve(network).total_kg_s * 60 < 12.0


def test_a_check_valve_passes_one_way() -> None:
    valve = OneWay(1.2, 1.0)
    forward, back = valve.loss_pa(0.1)[0], valve.loss_pa(-0.1)[0]
    assert forward == pytest.approx(1.2 * 1000 * (0.1 * 60 / 10) ** 2)
    assert back < -1e6 * forward
    network = Network(
        (0, 0),
        (GROUND, GROUND),
        1,
        (),
        (factor_of(5.0, 1.0),),
        lambda _: (-8000.0, 0.0),
        (valve.loss_pa,),
    )
    through_part, through_valve = solve(network).branch_kg_s
    assert through_part < 0
    assert abs(through_valve) < 1e-3 * abs(through_part)


@given(st.floats(-0.5, 0.5), st.floats(0.1, 50.0))
def test_slopes_are_those_of_differences(flow: float, loss_kpa: float) -> None:
    step = 1e-6
    for loss_of in (
        lambda m: square_loss_pa(loss_kpa, 1.05, m),
        OneWay(loss_kpa, 1.05).loss_pa,
        PumpLift(CURVE, 0.8, 1.05).head_pa,
        lambda m: opening_loss_pa(factor_of(loss_kpa, 1.05), m),
    ):
        (before, _), (after, _) = loss_of(flow - step), loss_of(flow + step)
        kink = min(abs(flow * 60 / 1.05 / 0.8 - q) for q, _ in CURVE) < 1e-3 or abs(flow) < 1e-4
        if not kink:
            assert loss_of(flow)[1] == pytest.approx(
                (after - before) / 2 / step, rel=1e-3, abs=1e-2
            )


@settings(deadline=None, max_examples=40)
@given(st.lists(st.floats(0.3, 6.0), min_size=2, max_size=7), st.integers(0, 99))
def test_a_longer_hose_never_gets_more(lengths_m: list[float], seed: int) -> None:
    """Parallel hoses behind one pump: flows balance, and the one that is made longer gets less."""
    lift = PumpLift(CURVE, 1.0, 1.03)

    def flows(lengths: list[float]) -> tuple[list[float], float]:
        pieces = [
            Bore.of(length, 0.016, 1e-5).resistance(n, 2.0, 1030.0, 1.4e-3)
            for n, length in enumerate(lengths)
        ]
        count = len(lengths)
        network = Network((0,) * count, (GROUND,) * count, 1, pieces, (), lift.head_pa)
        found = solve(network)
        return list(found.branch_kg_s), found.total_kg_s

    before, total = flows(lengths_m)
    assert sum(before) == pytest.approx(total, rel=1e-6)
    longer = list(lengths_m)
    which = seed % len(longer)
    longer[which] *= 1.5
    after, less = flows(longer)
    assert after[which] < before[which]
    assert less <= total * (1 + 1e-9)
