"""The night of the heater as it is fitted: in the same words whatever carries its heat."""

from __future__ import annotations

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.fitted.installed import night_with
from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.job import Job
from gale_nook.core.loop.night import loop_night
from gale_nook.demo.load import demo_plan


def test_a_coolant_heaters_night_is_that_of_its_loop(catalogue: Catalogue) -> None:
    job = Job(demo_plan("quarto"), catalogue)
    sheet, run = job.plan.heater.sheet, loop_night(job)
    assert sheet is not None
    assert run is not None
    night = fitted_night(job, sheet)
    assert (night.fuel_l, night.electricity_wh) == (run.fuel_l, run.electricity_wh)
    assert night.samples[-1].fuel_l == pytest.approx(night.fuel_l, rel=0.03)
    fuels = [sample.fuel_l for sample in night.samples]
    assert fuels == sorted(fuels)
    assert night.samples[0].hour_h == pytest.approx(job.plan.heat.night.start_h, abs=0.1)
    assert night.lowest_c >= min(sample.air_c for sample in night.samples)
    assert 0 <= night.idle_share <= 1
    assert night.heat_j == pytest.approx(night.lost_j + night.stored_j, rel=1e-9)


def test_another_heater_and_an_air_heater_keep_their_own(catalogue: Catalogue) -> None:
    quarto, heron = Job(demo_plan("quarto"), catalogue), Job(demo_plan("heron"), catalogue)
    other = next(s.id for s in catalogue.heaters.values() if s.id != quarto.plan.heater.sheet)
    assert fitted_night(quarto, other) == night_with(quarto, other)
    assert heron.plan.heater.sheet is not None
    sheet = heron.plan.heater.sheet
    assert fitted_night(heron, sheet) == night_with(heron, sheet)
