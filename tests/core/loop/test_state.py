"""The loop settled: energy, mixing, limits, and what consumers give."""

from __future__ import annotations

import math

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.coolant.loop_rules import worst_flow
from gale_nook.core.coolant.start import USUAL
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.loop.consumers import tube_w_mk
from gale_nook.core.loop.flows import Setting
from gale_nook.core.loop.graph import loop_graph
from gale_nook.core.loop.state import LoopState, loop_state, state_of
from gale_nook.demo.load import demo_plan
from tests.core.coolant.loops import loop_job


def _state(job: Job) -> LoopState:
    found = loop_state(job)
    assert found is not None
    return found


@pytest.mark.parametrize("usual", list(USUAL))
def test_energy_and_mass_close(catalogue: Catalogue, usual: str) -> None:
    """What the heater gives is what all branches give; what flows into a node flows out."""
    job = loop_job(catalogue, usual)
    state, graph = _state(job), loop_graph(job)
    given = sum(found.given_w for found in state.branches.values())
    assert given == pytest.approx(state.output_w, rel=1e-6)
    left = [0.0] * graph.nodes
    for found in state.branches.values():
        left[found.branch.start] -= found.flow_kg_s
        left[found.branch.end] += found.flow_kg_s
    largest = max(abs(found.flow_kg_s) for found in state.branches.values())
    assert max(abs(value) for value in left) < 1e-5 * largest
    assert graph.open_ends == ()


@pytest.mark.parametrize("usual", list(USUAL))
def test_the_outlet_keeps_under_the_pause(catalogue: Catalogue, usual: str) -> None:
    job = loop_job(catalogue, usual)
    state = _state(job)
    assert state.heater is not None
    assert state.heater.out_c <= 80.0 + 1e-3
    assert 0 < state.output_w <= state.most_w
    if state.limited:
        assert state.heater.out_c == pytest.approx(80.0, abs=0.01)


def test_a_mixing_valve_mixes_to_what_it_is_set_to(catalogue: Catalogue) -> None:
    for mix_c in (30.0, 38.0, 46.0):
        job = loop_job(catalogue, "floors", set_value("coolant.parts.mixer.mix_c", mix_c))
        state = _state(job)
        assert state.branches["floor-pump"].in_c == pytest.approx(mix_c, abs=0.3)
        hot = state.branches["mixer:hot-mixed"]
        cold = state.branches["mixer:cold-mixed"]
        share = hot.flow_kg_s / (hot.flow_kg_s + cold.flow_kg_s)
        assert share * hot.out_c + (1 - share) * cold.out_c == pytest.approx(mix_c, abs=0.3)


def test_a_valve_that_cannot_mix_warm_enough_stands_open(catalogue: Catalogue) -> None:
    """A weak heater with much to warm: even all of the hot is colder than the setting."""
    job = loop_job(
        catalogue,
        "floors",
        set_value("coolant.parts.convector-1.fan", 3),
        set_value("coolant.parts.mixer.mix_c", 55.0),
        set_value("coolant.parts.floor-1.length_m", 180.0),
        set_value("coolant.parts.floor-2.length_m", 180.0),
    )
    state = _state(job)
    assert state.branches["floor-pump"].in_c <= 55.3


def test_the_answer_is_the_same_from_any_start(catalogue: Catalogue) -> None:
    job = loop_job(catalogue, "whole")
    one = state_of(job, Setting())
    other = state_of(Job(job.plan, catalogue), Setting(mixed={"mixer": 0.97}))
    assert one is not None
    assert other is not None
    for name, found in one.branches.items():
        assert other.branches[name].flow_kg_s == pytest.approx(found.flow_kg_s, rel=2e-3, abs=1e-5)
        assert other.branches[name].in_c == pytest.approx(found.in_c, abs=0.15)


def test_a_faster_fan_takes_more_and_cools_more(catalogue: Catalogue) -> None:
    taken, back = [], []
    for step in range(4):
        job = loop_job(catalogue, "convector", set_value("coolant.parts.convector-1.fan", step))
        found = _state(job).branches["convector-1"]
        taken.append(found.given_w)
        back.append(found.out_c)
    assert taken == sorted(taken)
    assert back == sorted(back, reverse=True)
    assert taken[0] > 0  # a little rises by itself


def test_a_convector_by_hand(catalogue: Catalogue) -> None:
    """Its heat is effectiveness times the smaller stream times the difference of what comes in."""
    job = loop_job(catalogue, "convector", set_value("coolant.parts.convector-1.fan", 1))
    found = _state(job).branches["convector-1"]
    air = 150.0 / 3600 * 1.2 * 1006.0
    assert 0.3 < found.given_w / (air * (found.in_c - job.plan.heat.inside_c)) < 1.0


def test_a_settled_tank_takes_what_it_loses(catalogue: Catalogue) -> None:
    """0.9 W/K of insulation, in series with a coil that passes far more."""
    found = _state(loop_job(catalogue, "convector-water")).branches["water"]
    assert found.given_w == pytest.approx(0.9 * (found.in_c - 20.0), rel=0.05)


def test_an_engine_that_runs_warms_the_loop(catalogue: Catalogue) -> None:
    still = _state(loop_job(catalogue, "engine-heat"))
    running = _state(
        loop_job(catalogue, "engine-heat", set_value("coolant.parts.engine.driving", True))
    )
    assert still.branches["engine"].given_w > 0
    assert running.branches["engine"].given_w < 0
    assert running.output_w < still.output_w


def test_shut_valves_and_stopped_pumps(catalogue: Catalogue) -> None:
    job = loop_job(catalogue, "convector")
    stopped = state_of(job, Setting(pumps_on=False))
    assert stopped is not None
    assert all(abs(found.flow_kg_s) < 1e-9 for found in stopped.branches.values())
    shut = loop_job(catalogue, "convector", set_value("coolant.parts.bypass.kind", "valve"))
    worst = worst_flow(shut)
    assert worst is not None
    state, valves = worst
    assert [part.id for part in valves] == ["bypass"]
    assert state.heater is not None
    open_flow = _state(shut).heater
    assert open_flow is not None
    assert state.heater.flow_kg_s < open_flow.flow_kg_s


def test_a_hose_loses_through_wall_lagging_and_film(catalogue: Catalogue) -> None:
    """ISO 12241 by hand: ln(27.5/20)/(2π·0.25) + 1/(9·π·0.0275) mK/W, bare in still air."""
    works = catalogue.coolant_equipment
    kind = works.hose("rubber-20")
    wall = math.log(27.5 / 20) / (2 * math.pi * 0.25)
    bare = 1 / (wall + 1 / (9 * math.pi * 0.0275))
    assert tube_w_mk(works, kind, 0.0, inside=True) == pytest.approx(bare)
    lagged = tube_w_mk(works, kind, 13.0, inside=True)
    assert lagged < 0.6 * bare
    assert tube_w_mk(works, kind, 0.0, inside=False) > bare


def test_quarto_is_warm_and_has_flow_everywhere(catalogue: Catalogue) -> None:
    state = _state(Job(demo_plan("quarto"), catalogue))
    assert state.heater is not None
    assert state.heater.flow_l_min > 10
    assert state.branches["plate:in-out"].given_w > 500
    assert state.branches["floor-1"].in_c == pytest.approx(34.0, abs=0.3)
