"""From cold and through a night: energy, steps, and what warms first."""

from __future__ import annotations

import math

import numpy as np
import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.heat.night import set_temperature_c
from gale_nook.core.job import Job
from gale_nook.core.loop import night as module
from gale_nook.core.loop.dynamics import Mode, linear, stores
from gale_nook.core.loop.night import LoopRun, loop_night, warm_up, warm_up_orders
from gale_nook.core.loop.state import loop_state
from tests.core.coolant.loops import loop_job


def _warm(job: Job) -> LoopRun:
    found = warm_up(job)
    assert found is not None
    return found


@pytest.mark.parametrize("usual", ["preheat", "convector", "whole"])
def test_energy_in_is_stored_or_lost(catalogue: Catalogue, usual: str) -> None:
    """To 0.1 % is asked; the steps are exact."""
    job = loop_job(catalogue, usual)
    for found in (_warm(job), loop_night(job)):
        assert found is not None
        assert found.heat_j == pytest.approx(found.lost_j + found.stored_j, rel=1e-6)
        assert found.heat_j > 0


@pytest.mark.parametrize("usual", ["preheat", "whole"])
def test_a_halved_step_changes_nothing_that_is_shown(catalogue: Catalogue, usual: str) -> None:
    job = loop_job(catalogue, usual)
    whole = _warm(job)
    steps = (module.STEP_S / 2, module.SAMPLE_S)
    half = module._run(job, module.WARM_UP_S, lambda _: job.plan.heat.inside_c, steps)
    assert half is not None
    assert half.fuel_l == pytest.approx(whole.fuel_l, rel=0.02)
    for one, other in ((whole.block_s, half.block_s), (whole.shower_s, half.shower_s)):
        assert (one is None) == (other is None)
        if one is not None and other is not None:
            assert one == pytest.approx(other, abs=60.0)
    last, other_last = whole.samples[-1], half.samples[-1]
    assert last.air_c == pytest.approx(other_last.air_c, abs=0.3)


def test_a_halved_step_changes_nothing_of_the_night(catalogue: Catalogue) -> None:
    job = loop_job(catalogue, "whole")
    whole, night = loop_night(job), job.plan.heat.night

    def wanted(at_s: float) -> float | None:
        return set_temperature_c(night, job.plan.heat.inside_c, night.start_h + at_s / 3600)

    steps = (module.NIGHT_STEP_S / 2, module.NIGHT_SAMPLE_S)
    half = module._run(job, night.hours_h * 3600, wanted, steps)
    assert whole is not None
    assert half is not None
    assert half.fuel_l == pytest.approx(whole.fuel_l, rel=0.02)
    assert half.electricity_wh == pytest.approx(whole.electricity_wh, rel=0.03)
    assert half.samples[-1].air_c == pytest.approx(whole.samples[-1].air_c, abs=0.3)


def test_a_block_by_itself_is_an_exponential(catalogue: Catalogue) -> None:
    """Coolant held at one temperature: the block follows 1 − e^(−t/τ), τ = C/(g + loss)."""
    job = loop_job(catalogue, "preheat")
    there = stores(job)
    system = linear(job, Mode(60.0, True, True, ()))
    block = there.place["block:engine"]
    rate = -system.a[block, block]
    assert rate > 0
    kind = catalogue.coolant_equipment.part("engine-2")
    assert rate >= kind.block_lost_w_k / kind.block_j_k
    step = system.step(600.0)
    count = len(there.names)
    now = np.zeros(count + 4)
    now[: count + 1] = 0.0
    after = step @ now
    assert np.allclose(after[:count], 0.0)  # nothing warm, nothing given: nothing happens


def test_the_end_of_a_long_run_is_the_settled_loop(catalogue: Catalogue) -> None:
    """A day at constant output: what the linear system tends to."""
    job = loop_job(catalogue, "convector")
    there = stores(job)
    system = linear(job, Mode(60.0, True, True, ()))
    count = len(there.names)
    now = np.full(count + 4, 0.0)
    now[count:] = (0.0, there.outside_c, there.cab_c, 2000.0)
    step = system.step(3600.0)
    for _ in range(24 * 20):
        now = step @ now
    settled = -np.linalg.solve(
        system.a, system.b @ np.array([there.outside_c, there.cab_c, 2000.0])
    )
    assert np.allclose(now[:count], settled, atol=1e-3)


def test_a_colder_night_takes_longer(catalogue: Catalogue) -> None:
    mild = _warm(loop_job(catalogue, "convector-water", set_value("heat.outside_c", -8.0)))
    cold = _warm(loop_job(catalogue, "convector-water", set_value("heat.outside_c", -20.0)))
    assert mild.shower_s is not None
    assert cold.shower_s is None or cold.shower_s > mild.shower_s


def test_water_alone_is_warm_when_its_energy_is_there(catalogue: Catalogue) -> None:
    """20 l from 10 to 45 °C take 2.9 MJ; the heater gives no more than 5.2 kW from its start on."""
    found = _warm(loop_job(catalogue, "convector-water"))
    assert found.shower_s is not None
    least_s = 20 * 4180 * 35 / 5200
    assert found.shower_s > least_s + 120


def test_the_heater_pauses_and_comes_back(catalogue: Catalogue) -> None:
    """With its fan off there is nothing to warm: it pauses at 80 °C and starts at 68 °C again."""
    job = loop_job(catalogue, "convector", set_value("coolant.parts.convector-1.fan", 0))
    found = _warm(job)
    assert found.starts > 2
    hot = [sample.hot_c for sample in found.samples]
    assert max(hot) < 80.0 + 8.0
    burning = [sample.output_w for sample in found.samples if sample.output_w > 0]
    assert burning
    assert math.isclose(max(burning), 5200.0, rel_tol=1e-6)


def test_without_a_loop_there_is_no_night(catalogue: Catalogue, heron: object) -> None:
    del heron
    job = loop_job(catalogue, "convector")
    bare = job.plan.model_copy(
        update={"coolant": job.plan.coolant.model_copy(update={"parts": (), "hoses": ()})}
    )
    assert warm_up(Job(bare, catalogue)) is None
    assert loop_state(Job(bare, catalogue)) is None


def test_what_is_warmed_first_is_warm_sooner(catalogue: Catalogue) -> None:
    found = dict(warm_up_orders(loop_job(catalogue, "whole")))
    assert set(found) == {"", "block", "water", "room"}
    together = found[""]
    assert together.block_s is not None
    assert together.shower_s is not None
    assert found["block"].block_s is not None
    assert found["water"].shower_s is not None
    assert found["block"].block_s < together.block_s
    assert found["water"].shower_s < together.shower_s
    hour = 60  # samples are a minute apart; later both are held by the heater's regulation
    assert found["room"].samples[hour].air_c > together.samples[hour].air_c
    for run in found.values():
        assert run.heat_j == pytest.approx(run.lost_j + run.stored_j, rel=1e-6)
