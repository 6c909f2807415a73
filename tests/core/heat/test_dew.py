"""Dew points and cold surfaces against printed values and hand sums."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.heat.dew import cold_spots, dew_point_c, saturation_pressure_pa
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.plan.document import Plan


@pytest.mark.parametrize(
    ("celsius", "pascal"), [(-10, 260), (0, 611), (10, 1228), (20, 2337), (30, 4241)]
)
def test_saturation_pressure(celsius: float, pascal: float) -> None:
    """Table E.1 of ISO 13788:2012."""
    assert saturation_pressure_pa(celsius) == pytest.approx(pascal, abs=1)


@pytest.mark.parametrize(
    ("celsius", "humidity", "dew"), [(20, 50, 9.3), (20, 80, 16.4), (19, 60, 11.1)]
)
def test_dew_points(celsius: float, humidity: float, dew: float) -> None:
    """As printed in common dew-point tables, to 0.1 K."""
    assert dew_point_c(celsius, humidity) == pytest.approx(dew, abs=0.1)


@given(st.floats(-20, 40), st.floats(1, 100))
def test_at_the_dew_point_the_vapour_just_saturates(celsius: float, humidity: float) -> None:
    dew = dew_point_c(celsius, humidity)
    assert saturation_pressure_pa(dew) == pytest.approx(
        saturation_pressure_pa(celsius) * humidity / 100, rel=1e-9
    )
    assert dew <= celsius + 1e-9


def test_no_humidity_has_no_dew_point() -> None:
    with pytest.raises(BadInput, match="1 to 100"):
        dew_point_c(20, 0)


def test_surface_temperatures_by_hand(heron: Plan, catalogue: Catalogue) -> None:
    """Covered double acrylic, U 1.6: 19 − 1.6 · 33 · 0.13 = 12.14 °C inside; the dew point at 60 %
    is 11.1 °C.
    """
    spots = {(s.name, s.where): s for s in cold_spots(heat_loss(heron, catalogue), 19, 60)}
    window = spots["galley window", "inside surface"]
    assert window.celsius == pytest.approx(19 - 1.6 * 33 * 0.13, abs=1e-9)
    assert window.above_dew_k == pytest.approx(window.celsius - dew_point_c(19, 60))


def test_behind_the_insulation_it_is_named(heron: Plan, catalogue: Catalogue) -> None:
    """The outer side of wool is far below any room's dew point: the interface to the steel is
    named.
    """
    spots = [
        s
        for s in cold_spots(heat_loss(heron, catalogue), 19, 60)
        if s.face == "roof" and s.name == "Roof"
    ]
    assert [s.where for s in spots] == ["between sheep's wool and steel", "inside surface"]
    assert spots[0].celsius < spots[1].celsius


def test_coldest_first_and_nothing_colder_than_outside(
    any_demo: Plan, catalogue: Catalogue
) -> None:
    loss = heat_loss(any_demo, catalogue)
    temperatures = [s.celsius for s in cold_spots(loss, any_demo.heat.inside_c, 55)]
    assert temperatures == sorted(temperatures)
    assert loss.outside_c < temperatures[0]
    assert temperatures[-1] <= any_demo.heat.inside_c
