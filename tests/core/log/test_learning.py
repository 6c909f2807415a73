"""What nights teach, on seasons whose truth is known: bands, how fast, and what an absurd entry
does.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.log.commands import TakeLearned
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.log.learning import BAND_90, Data, fit, predicted, prior_sd
from gale_nook.core.log.night_model import (
    DIFFERENCES_K,
    FACTORS,
    Conditions,
    charge_ah,
    conditions,
    litres,
    log_factors,
    night_table,
    unlearned,
)
from gale_nook.core.log.season import season
from gale_nook.core.plan.heat import Learned
from gale_nook.demo.load import demo_log, demo_plan

BOOK = load_catalogue()
HERON = Job(demo_plan("heron"), BOOK)
TABLE = night_table(HERON)
assert TABLE is not None
NONE = np.zeros(len(FACTORS))


def _season(rng: Any, nights: int) -> tuple[Any, Data]:
    """A truth out of the prior, and nights that follow it."""
    truth = rng.normal(0.0, prior_sd(BOOK.log))
    at = Conditions(
        rng.uniform(6, 36, nights), rng.uniform(6, 13, nights), rng.integers(0, 3, nights) * 70.0
    )
    sd = np.full(nights, 0.15)
    real_l, real_ah = litres(TABLE, at, truth), charge_ah(TABLE, at, truth)
    book = BOOK.log
    noise = np.hypot(np.maximum(book.litres_share * real_l, book.litres_least), sd)
    noise_ah = np.maximum(book.charge_share * real_ah, book.charge_least_ah)
    read_l = real_l + rng.normal(0, 1, nights) * noise
    read_ah = real_ah + rng.normal(0, 1, nights) * noise_ah
    return truth, Data(at, read_l, sd, read_ah)


def test_nine_bands_of_ten_hold_the_truth_on_500_seasons() -> None:
    rng, held = np.random.default_rng(1), np.zeros(len(FACTORS))
    for _ in range(500):
        truth, data = _season(rng, 40)
        found = fit(TABLE, data)
        held += np.abs(truth - found.mode) <= BAND_90 * np.sqrt(np.diag(found.cov))
    assert 0.87 <= held.mean() / 500 <= 0.93
    assert (held / 500 >= 0.85).all()
    assert (held / 500 <= 0.95).all()


def test_bands_of_nights_hold_nights_that_were_not_seen() -> None:
    rng, held, count = np.random.default_rng(2), 0, 0
    for _ in range(150):
        truth, data = _season(rng, 20)
        found = fit(TABLE, data)
        at = Conditions(rng.uniform(6, 36, 20), rng.uniform(6, 13, 20), np.zeros(20))
        real, sd = litres(TABLE, at, truth), np.full(20, 0.15)
        noise = np.hypot(np.maximum(BOOK.log.litres_share * real, BOOK.log.litres_least), sd)
        read = real + rng.normal(0, 1, 20) * noise
        band = predicted(TABLE, found, at, sd)
        held += int(((read >= band.low) & (read <= band.high)).sum())
        count += 20
    assert 0.86 <= held / count <= 0.94


def test_five_nights_halve_the_error_in_the_median() -> None:
    rng, ratios = np.random.default_rng(3), []
    at = Conditions(np.linspace(8, 34, 12), np.full(12, 10.0), np.full(12, 140.0))
    for _ in range(200):
        truth, data = _season(rng, 5)
        real = litres(TABLE, at, truth)
        before = np.abs(litres(TABLE, at, NONE) - real).mean()
        after = np.abs(litres(TABLE, at, fit(TABLE, data).mode) - real).mean()
        ratios.append(after / before)
    assert np.median(ratios) < 0.5


@pytest.mark.parametrize("times", [0.0, 10.0, 100.0])
def test_one_absurd_entry_moves_next_to_nothing(times: float) -> None:
    """Less than a whole standard deviation of any factor; half of one nine times of ten."""
    rng, moved = np.random.default_rng(4), []
    for _ in range(60):
        _, data = _season(rng, 20)
        found = fit(TABLE, data)
        absurd = data.litres_l.copy()
        absurd[3] *= times
        other = fit(TABLE, Data(data.at, absurd, data.sd_l, data.charge_ah))
        step = np.abs(other.mode - found.mode) / np.sqrt(np.diag(found.cov))
        moved.append(step.max())
    assert max(moved) < 1.0
    assert np.quantile(moved, 0.9) < 0.5


def test_without_nights_nothing_is_known_but_the_prior() -> None:
    empty = Data(Conditions(*(np.zeros(0) for _ in range(3))), *(np.zeros(0) for _ in range(3)))
    found = fit(TABLE, empty)
    assert np.allclose(found.mode, 0)
    assert np.allclose(np.sqrt(np.diag(found.cov)), prior_sd(BOOK.log))


def test_a_steady_night_is_that_of_the_plans_own_simulation() -> None:
    heat = HERON.plan.heat
    for difference in DIFFERENCES_K[1:4]:
        outside = heat.inside_c - difference
        night = heat.night.model_copy(
            update={"hours_h": 9.0, "start_c": outside, "night_c": heat.inside_c, "timers": ()}
        )
        colder = heat.model_copy(
            update={
                "outside_c": outside,
                "mild_outside_c": max(outside, heat.mild_outside_c),
                "night": night,
            }
        )
        plan = HERON.plan.model_copy(update={"heat": colder})
        sheet = heater_sheet(HERON)
        assert sheet is not None
        simulated = fitted_night(HERON.with_plan(plan), sheet.id).fuel_l
        at = Conditions(np.array([difference]), np.array([9.0]), np.zeros(1))
        assert litres(TABLE, at, NONE)[0] == pytest.approx(simulated, rel=0.05)


def test_more_loss_more_cold_and_more_hours_take_more_fuel() -> None:
    at = Conditions(np.linspace(1, 50, 60), np.full(60, 10.0), np.zeros(60))
    now = litres(TABLE, at, NONE)
    assert (np.diff(now) >= -1e-9).all()
    for number in (0, 1, 2):
        more = NONE.copy()
        more[number] = 0.1
        assert (litres(TABLE, at, more) >= now - 1e-9).all()
    longer = Conditions(at.difference_k, at.hours_h + 1, at.people_w)
    assert (litres(TABLE, longer, NONE) >= now).all()


def test_what_was_taken_over_changes_need_and_sheet_and_is_not_counted_twice() -> None:
    learned = Learned(loss=1.2, air=1.1, consumption=1.05, least=1.1, charge=1.1, nights=30)
    after = Job(apply(HERON.plan, TakeLearned(learned=learned), BOOK), BOOK)
    need, plain = design_loss(after), design_loss(HERON)
    assert need.ventilation_w == pytest.approx(1.1 * plain.ventilation_w)
    rest, rest_plain = (x.design_loss_w - x.ventilation_w for x in (need, plain))
    assert rest == pytest.approx(1.2 * rest_plain)
    sheet, first = heater_sheet(after), heater_sheet(HERON)
    assert sheet is not None
    assert first is not None
    assert sheet.output.fuel_l_h_maximum == pytest.approx(1.05 * first.output.fuel_l_h_maximum)
    assert sheet.output.minimum_w == pytest.approx(1.1 * first.output.minimum_w)
    assert unlearned(after).plan == HERON.plan
    table = night_table(after)
    assert table is not None
    assert np.allclose(table.hourly_l, TABLE.hourly_l)
    assert np.allclose(np.exp(log_factors(learned)), [1.2, 1.1, 1.05, 1.1, 1.1])


def test_the_demo_winter_is_learned_with_its_drift_its_slip_and_its_fault() -> None:
    found = season(HERON, demo_log("heron"))
    assert len(found.nights) == 60
    assert found.fit is not None
    assert found.learned_percent is not None
    assert found.off_percent is not None
    assert found.learned_percent < found.off_percent / 2
    assert found.drift is not None
    assert 1 < found.drift.percent_a_month < 6
    assert [night.entry.id for night in found.nights if night.reasons] == ["n-24", "n-38"]
    assert not season(HERON, demo_log("heron")[:8]).drift


def test_nights_as_they_are_written_down_become_conditions() -> None:
    entry = LogEntry(id="a", on="2026-01-02", set_c=20, lowest_c=-8, hours_h=11, people=1)
    at = conditions(TABLE, [entry], 2)
    assert at.difference_k[0] == pytest.approx(28 - BOOK.log.night_over_lowest_k)
    assert at.people_w[0] == BOOK.log.person_w


def test_the_charge_has_its_band_too() -> None:
    found = season(HERON, demo_log("heron"))
    inside = [
        night.low_ah <= night.entry.charge_ah <= night.high_ah
        for night in found.nights
        if night.low_ah is not None
        and night.high_ah is not None
        and night.entry.charge_ah is not None
    ]
    assert len(inside) == 60
    assert sum(inside) >= 50
