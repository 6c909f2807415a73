"""Humidity by balance, and what an unflued flame does to it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heat.moisture import PROPANE_WATER_KG_KG, compare_dampness, humidity_percent
from gale_nook.core.plan.document import Plan


def test_propane_burns_to_more_than_its_weight_of_water() -> None:
    """44.1 g of propane give four moles of water, 72.1 g."""
    assert pytest.approx(1.634, abs=0.001) == PROPANE_WATER_KG_KG


def test_humidity_by_hand() -> None:
    """20 °C in, 0 °C and 90 % out: 549.45 Pa; 100 g/h over 20 m³/h add 0.005 × 461.5 × 293.15 =
    676.4 Pa; of 2337 Pa.
    """
    assert humidity_percent(20, 0, 100, 20) == pytest.approx(100 * (549.45 + 676.4) / 2337, abs=0.1)


def test_air_that_is_not_renewed_is_saturated() -> None:
    assert humidity_percent(20, 0, 100, 0) == 100


@given(st.floats(0, 3000), st.floats(0, 3000), st.floats(1, 500), st.floats(1, 500))
def test_more_water_never_dries_and_more_air_never_wets(
    one: float, other: float, air: float, more: float
) -> None:
    less, much = sorted((one, other))
    assert humidity_percent(20, -5, less, air) <= humidity_percent(20, -5, much, air)
    assert humidity_percent(20, -5, less, air + more) <= humidity_percent(20, -5, less, air) + 1e-9


def test_an_unflued_flame_wets_what_a_flued_one_leaves_dry(
    any_demo: Plan, catalogue: Catalogue
) -> None:
    """2.48 kW for an hour are 8.9 MJ, 193 g of propane, 315 g of water."""
    flued, unflued = compare_dampness(any_demo, catalogue)
    assert flued.water_g_h == 45 * any_demo.heat.sleepers
    burnt_g = heat_loss(any_demo, catalogue).design_loss_w * 3600 / 46.35e6 * 1.634 * 1000
    assert unflued.water_g_h - flued.water_g_h == pytest.approx(burnt_g, rel=1e-3)
    assert unflued.dew_point_c > flued.dew_point_c or flued.humidity_percent == 100
    assert unflued.wet >= flued.wet
    assert bool(unflued.first) == bool(unflued.wet)
