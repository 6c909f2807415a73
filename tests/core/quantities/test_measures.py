"""The other quantities: units understood, units shown."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.errors import BadInput
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import (
    format_quantity,
    parse_quantity,
    quantity_of,
    write_quantity,
)
from gale_nook.core.quantities.sentences import q, say

METRIC, IMPERIAL = UnitSystem.METRIC, UnitSystem.IMPERIAL


@pytest.mark.parametrize(
    ("text", "kind", "system", "value"),
    [
        ("-14", "c", METRIC, -14),
        ("7", "c", IMPERIAL, -13.888889),
        ("14 °F", "c", METRIC, -10),
        ("3 kW", "w", METRIC, 3000),
        ("10000 BTU/h", "w", METRIC, 2930.71),
        ("10 km/h", "m_s", METRIC, 2.7777778),
        ("2000 ft", "m", METRIC, 609.6),
        ("15", "percent", METRIC, 15),
        ("0,8", "per_h", METRIC, 0.8),
    ],
)
def test_units_are_understood(text: str, kind: str, system: UnitSystem, value: float) -> None:
    """°F by (F - 32)·5/9; BTU by ISO 80000-5; mph and feet exact."""
    assert parse_quantity(text, kind, system, "value") == pytest.approx(value, rel=1e-6)


@pytest.mark.parametrize("text", ["warm", "3 stone", "", "1 2", "nan", "inf", "1e9", "--3"])
def test_what_is_no_quantity_is_refused_and_says_what_is_taken(text: str) -> None:
    with pytest.raises(BadInput, match="°C or °F"):
        parse_quantity(text, "c", METRIC, "temperature")


def test_the_kind_follows_from_the_name() -> None:
    assert quantity_of("heat.wind_m_s") == "m_s"
    assert quantity_of("vehicle.shell.rear_x_mm") == "mm"
    assert quantity_of("vehicle.solids.pipe.points.0.2") == "mm"
    assert quantity_of("heat.air_changes_per_h") == "per_h"
    assert quantity_of("vehicle.name") == "text"


@given(st.floats(-60, 60))
def test_shown_temperatures_read_back_within_what_is_shown(celsius: float) -> None:
    shown = format_quantity(celsius, "c", IMPERIAL)
    known = 0.05 if abs(celsius) < 30 else 0.5
    assert parse_quantity(shown, "c", IMPERIAL, "t") == pytest.approx(celsius, abs=known)
    typed = write_quantity(celsius, "c", IMPERIAL)
    assert parse_quantity(typed, "c", IMPERIAL, "t") == pytest.approx(celsius, abs=0.05)


def test_sentences_are_shown_in_the_readers_units() -> None:
    sentence = f"Shift it {q(254.0)} rearward for {q(2930.71, 'w')}."
    assert say(sentence) == "Shift it 254 mm rearward for 2931 W."
    assert say(sentence, IMPERIAL) == 'Shift it 10" rearward for 10000 BTU/h.'
