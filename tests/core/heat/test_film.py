"""Films, air layers and air against the standards' own figures."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.heat.film import (
    Flow,
    air_density_kg_m3,
    air_layer_m2k_w,
    density_ratio,
    foil_layer_m2k_w,
    outside_film_m2k_w,
    pressure_pa,
)


def test_outside_film_at_four_metres_a_second() -> None:
    """ISO 6946:2017 table 7 rounds the same formula to 0.04 m²K/W."""
    assert outside_film_m2k_w(4.0, 0.0) == pytest.approx(0.04, abs=0.002)


def test_outside_film_by_hand() -> None:
    """h = 4 + 4·10 + 4·0.9·5.670374e-8·263.15³ = 47.7199 W/m²K at 10 m/s and -10 °C."""
    assert outside_film_m2k_w(10.0, -10.0) == pytest.approx(1 / 47.7199, rel=1e-5)


@pytest.mark.parametrize(
    ("thickness_mm", "flow", "resistance"),
    [
        (5, Flow.UP, 0.11),
        (15, Flow.SIDEWAYS, 0.17),
        (25, Flow.DOWN, 0.19),
        (300, Flow.DOWN, 0.23),
        (20, Flow.SIDEWAYS, 0.175),
        (0, Flow.UP, 0),
    ],
)
def test_air_layers(thickness_mm: float, flow: Flow, resistance: float) -> None:
    """Rows of ISO 6946:2017 table 8, and the middle between two of them."""
    assert air_layer_m2k_w(thickness_mm, flow) == pytest.approx(resistance)


@pytest.mark.parametrize(
    ("altitude_m", "pascal", "density"),
    [(0, 101325, 1.2250), (1000, 89874.6, 1.1117), (3000, 70108.5, 0.9091)],
)
def test_standard_atmosphere(altitude_m: float, pascal: float, density: float) -> None:
    """Tables of ISO 2533 (geopotential altitude; the formula is good to 0.1 %)."""
    assert pressure_pa(altitude_m) == pytest.approx(pascal, rel=1e-3)
    assert density_ratio(altitude_m) * 1.225 == pytest.approx(density, rel=1e-3)


def test_air_density_at_sea_level_and_15_c() -> None:
    assert air_density_kg_m3(0, 15) == pytest.approx(1.225, rel=1e-3)


@given(st.floats(0, 40), st.floats(0, 39), st.floats(-60, 60))
def test_more_wind_never_insulates(wind: float, calmer: float, outside: float) -> None:
    low, high = sorted((wind, calmer))
    assert outside_film_m2k_w(high, outside) <= outside_film_m2k_w(low, outside)


@pytest.mark.parametrize(
    ("thickness_mm", "flow", "resistance"),
    [
        # E = 1/(10 + 1.1111 − 1) = 0.098901, hr0 = 4σ·283.15³ = 5.1489, E·hr0 = 0.50923
        (20, Flow.SIDEWAYS, 1 / (1.25 + 0.50923)),
        (10, Flow.UP, 1 / (2.5 + 0.50923)),
        (50, Flow.UP, 1 / (1.95 + 0.50923)),
        (50, Flow.DOWN, 1 / (0.5 + 0.50923)),  # 0.025/0.05 is over 0.12·0.05^−0.44 = 0.448
        (0, Flow.UP, 0),
    ],
)
def test_foil_gains_with_a_gap_only(thickness_mm: float, flow: Flow, resistance: float) -> None:
    """ISO 6946:2017, annex D, by hand."""
    assert foil_layer_m2k_w(thickness_mm, flow, 0.1) == pytest.approx(resistance, rel=1e-4)
    assert foil_layer_m2k_w(thickness_mm, flow, 0.1) >= air_layer_m2k_w(thickness_mm, flow)
