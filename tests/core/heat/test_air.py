"""Leaks, open vents, and the cab by balance."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.heat.air import leaks_m3_h, vent_m3_h
from gale_nook.core.heat.cab import cab_share
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.plan.document import Plan


def test_an_open_vent_by_hand() -> None:
    """100 cm², no wind, 1 m column, 20 over 0 °C: Δp = 1.2922 · 9.81 · 20/293.15 = 0.8648 Pa, half
    at each opening; q = 0.6 · 0.01 · √(0.8648 / 1.2922) = 0.004908 m³/s = 17.67 m³/h.
    """
    assert vent_m3_h(100, 1.0, 0.0, 20.0, 0.0) == pytest.approx(17.67, abs=0.02)


def test_wind_alone_by_hand() -> None:
    """Δp/ρ = 0.25/2 · 16 = 2 m²/s², half of it: q = 0.6 · 0.01 · √2 = 30.55 m³/h."""
    assert vent_m3_h(100, 0.0, 4.0, 0.0, 0.0) == pytest.approx(30.55, abs=0.01)


@given(st.floats(0, 5000), st.floats(0, 3), st.floats(0, 30), st.floats(-40, 40))
def test_no_vent_breathes_backwards(
    area: float, column: float, wind: float, outside: float
) -> None:
    assert vent_m3_h(area, column, wind, 20.0, outside) >= 0


def test_a_negative_area_is_no_vent() -> None:
    with pytest.raises(ValueError, match="not negative"):
        vent_m3_h(-1, 1, 0, 20, 0)


def test_leaks_follow_the_wind_but_never_stop() -> None:
    assert leaks_m3_h(0.9, 10, 4) == pytest.approx(9)
    assert leaks_m3_h(0.9, 10, 8) == pytest.approx(18)
    assert leaks_m3_h(0.9, 10, 0) == pytest.approx(3)


def test_a_class_takes_the_place_of_what_was_typed(heron: Plan, catalogue: Catalogue) -> None:
    tight = heat_loss(apply(heron, set_value("heat.leakage", "tight"), catalogue), catalogue)
    assert tight.air.leaks_m3_h == pytest.approx(0.4 * tight.volume_m3 * 5 / 4)
    opened = heat_loss(
        apply(heron, set_value("vehicle.openings.roof-vent.open_cm2", 200), catalogue), catalogue
    )
    assert opened.ventilation_w > heat_loss(heron, catalogue).ventilation_w
    assert opened.air.fresh_m3_h == pytest.approx(2 * 7 * 3.6)


def test_the_cab_by_balance(heron: Plan, catalogue: Catalogue) -> None:
    """What comes through the bulkhead is what the cab loses, whatever the night."""
    plan = apply(heron, set_value("heat.cab_loss_w_k", 60), catalogue)
    for outside in (-14.0, 4.0):
        loss = heat_loss(plan, catalogue, outside)
        bulkhead = next(e for e in loss.elements if e.id == "bulkhead")
        assert bulkhead.loss_w == pytest.approx(60 * (loss.cab_c - outside))


def test_a_typed_cab_keeps_its_share_on_other_nights(heron: Plan, catalogue: Catalogue) -> None:
    """Typed −8 °C at −14 °C outside and 19 °C inside: 6/33 of the way; so 4 °C outside makes 6.73
    °C.
    """
    assert cab_share(heron, catalogue) == pytest.approx(6 / 33)
    assert heat_loss(heron, catalogue).cab_c == pytest.approx(-8)
    assert heat_loss(heron, catalogue, 4.0).cab_c == pytest.approx(4 + 15 * 6 / 33)
