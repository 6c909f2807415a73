"""The season's hours, design temperatures, and what heaters make of it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.commands import SetClimate
from gale_nook.core.heat.loss import LossModel, heat_loss
from gale_nook.core.heat.season import (
    design_temperature_c,
    heater_season,
    hours_by_degree,
    idle_share,
    region_climate,
    season,
)
from gale_nook.core.plan.climate import climate_of
from gale_nook.core.plan.document import Plan

counts = st.dictionaries(
    st.tuples(st.integers(1, 12), st.integers(-40, 40)),
    st.integers(1, 300),
    min_size=1,
    max_size=60,
)


def test_a_regions_year_has_a_years_hours(catalogue: Catalogue) -> None:
    for region in catalogue.regions.values():
        climate = region_climate(region)
        assert sum(hours for _, _, hours in climate.bins()) == pytest.approx(8760, rel=0.01)
        january = [(celsius + 0.5, hours) for month, celsius, hours in climate.bins() if month == 1]
        mean = sum(c * h for c, h in january) / sum(h for _, h in january)
        assert mean == pytest.approx(region.mean_c[0], abs=0.1)


def test_design_temperatures_by_hand() -> None:
    """1000 hours: 10 at −9 and 990 at 5. 99 % are warmer than −8; half of one per cent lies half
    way through the bin.
    """
    climate = climate_of("x", "x", {(1, -9): 10, (1, 5): 990})
    assert design_temperature_c(climate, 0.99) == pytest.approx(-8)
    assert design_temperature_c(climate, 0.995) == pytest.approx(-8.5)
    assert design_temperature_c(climate, 1.0) == pytest.approx(-9)


@given(counts, st.floats(0, 1), st.floats(0, 1))
def test_a_stricter_share_is_never_warmer(
    found: dict[tuple[int, int], int], one: float, other: float
) -> None:
    climate = climate_of("x", "x", found)
    mild, strict = sorted((one, other))
    first, second = design_temperature_c(climate, strict), design_temperature_c(climate, mild)
    assert first is not None
    assert second is not None
    assert first <= second + 1e-9


@given(counts)
def test_no_hour_is_lost(found: dict[tuple[int, int], int]) -> None:
    climate = climate_of("x", "x", found)
    assert {(m, c): h for m, c, h in climate.bins() if h} == found
    in_winter = sum(h for (m, _), h in found.items() if m in climate.months)
    assert sum(h for _, h in hours_by_degree(climate)) == in_winter


def test_the_seasons_loss_is_the_heat_stations(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(
        heron, SetClimate(climate=region_climate(catalogue.regions["fell-upland"])), catalogue
    )
    bins = season(plan, catalogue)
    assert bins[3].loss_w == pytest.approx(
        heat_loss(plan, catalogue, bins[3].celsius).design_loss_w
    )
    assert [b.loss_w for b in bins] == sorted((b.loss_w for b in bins), reverse=True)
    assert all(b.celsius < plan.heat.inside_c for b in bins)


def test_each_heater_shares_out_all_hours(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(
        heron, SetClimate(climate=region_climate(catalogue.regions["fell-upland"])), catalogue
    )
    bins = season(plan, catalogue)
    rows = {
        s.id: heater_season(s, derated_w(s.output, plan.heat.altitude_m), bins)
        for s in catalogue.heaters.values()
    }
    for row in rows.values():
        assert row.cycling_h + row.served_h + row.short_h == sum(b.hours for b in bins)
    assert rows["croft-90"].cycling_h > rows["bothy-40"].cycling_h > rows["bothy-22"].cycling_h
    assert rows["bothy-22"].short_h >= rows["bothy-40"].short_h == 0


def test_without_weather_there_is_no_season(wren: Plan, catalogue: Catalogue) -> None:
    bare = apply(wren, SetClimate(climate=None), catalogue) if wren.heat.climate else wren
    assert season(bare, catalogue) == ()


@pytest.mark.parametrize("least_w", [200.0, 900.0, 1400.0, 2000.0, 9000.0])
def test_idling_counts_the_milder_half_hour_by_hour(
    heron: Plan, catalogue: Catalogue, least_w: float
) -> None:
    """Each hour of the season set out singly, spread over its degree; the milder half of them
    looked at one by one.
    """
    model, hours = LossModel(heron, catalogue), []
    for b in season(heron, catalogue):
        hours += [b.celsius - 0.5 + (number + 0.5) / b.hours for number in range(b.hours)]
    milder = hours[len(hours) // 2 :]
    under = [model.at(celsius).design_loss_w < least_w for celsius in milder]
    wanted = sum(under) / len(milder)
    assert idle_share(heron, LossModel(heron, catalogue), least_w) == pytest.approx(
        wanted, abs=2e-3
    )


def test_idling_needs_weather(wren: Plan, catalogue: Catalogue) -> None:
    assert idle_share(wren, LossModel(wren, catalogue), 900) is None
