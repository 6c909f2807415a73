"""Lengths as people type them: read exactly, or refused with the reason."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.errors import BadInput
from gale_nook.core.quantities.length import UnitSystem, format_length, parse_length_mm

METRIC, IMPERIAL = UnitSystem.METRIC, UnitSystem.IMPERIAL


@pytest.mark.parametrize(
    ("text", "millimetres"),
    [
        ("640", 640),
        ("64 cm", 640),
        ("1,5 m", 1500),
        ("0.5", 0.5),
        ("-25 mm", -25),
        ('25 1/4"', 641.35),
        ("25 1/4 in", 641.35),
        ('7/8"', 22.225),
        ("2' 1 1/4\"", 641.35),
        ("2 ft 1.25 in", 641.35),
        ("5 ft", 1524),
        ('6 7/8" - 2 3/8"', 114.3),
        ("1 m + 25 mm - 1 cm", 1015),
        ("25¼″", 641.35),
        ("640 + 10", 650),
        ("6,5 mm", 6.5),
        ("−40", -40),
    ],
)
def test_reads_what_people_type(text: str, millimetres: float) -> None:
    """Values by hand: an inch is 25.4 mm, a foot twelve inches (international yard, 1959)."""
    assert parse_length_mm(text) == pytest.approx(millimetres, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "millimetres"), [("25 1/4", 641.35), ("12", 304.8), ("640 mm", 640), ("2' 1", None)]
)
def test_a_bare_number_takes_the_unit_of_the_display(text: str, millimetres: float | None) -> None:
    if millimetres is None:
        with pytest.raises(BadInput):
            parse_length_mm(text, IMPERIAL)
    else:
        assert parse_length_mm(text, IMPERIAL) == pytest.approx(millimetres)


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("5 ft 14 in", "inches must be under 12"),
        ('6 7/0"', "divides by nought"),
        ("6 7/8", "fractions are read in inches only"),
        ("6 9/8 in", "must be under 1"),
        ("1,250", "thousands or decimals"),
        ("12 34", "two numbers"),
        ("12 furlong", "not a unit"),
        ("640 mm -", "ends with a sign"),
        ("6 -- 2", "two signs"),
        ("", "Nothing was typed"),
        ("1/1000 in", "finer than a tape"),
        ("9" * 60, "over a kilometre"),
        ("1e3", "not a unit"),
        ("6 7/8 in - 20", "give every part of a sum its unit"),
        ("mm", "no number before"),
        ("x" * 200, "longer than"),
        ("1.5 ft 3 in", "whole number"),
        ("2.5 1/4 in", "decimal and a fraction"),
    ],
)
def test_evident_slips_are_refused_with_the_reason(text: str, reason: str) -> None:
    with pytest.raises(BadInput, match=reason):
        parse_length_mm(text, name="length")


@given(st.text(max_size=90))
def test_any_text_is_a_length_or_bad_input(text: str) -> None:
    """Nothing that is typed raises anything but BadInput."""
    try:
        value = parse_length_mm(text)
    except BadInput:
        return
    assert abs(value) <= 1_000_000


@given(st.integers(-160_000, 160_000))
def test_whole_millimetres_survive_showing_and_reading(millimetres: int) -> None:
    assert parse_length_mm(format_length(millimetres)) == millimetres


@given(st.integers(-64_000, 64_000))
def test_sixteenths_of_an_inch_survive_showing_and_reading(sixteenths: int) -> None:
    length = sixteenths / 16 * 25.4
    assert parse_length_mm(format_length(length, IMPERIAL), IMPERIAL) == pytest.approx(
        length, abs=1e-6
    )


def test_shown_lengths() -> None:
    assert format_length(641.35, IMPERIAL) == '25 1/4"'
    assert format_length(-3.0) == "−3 mm"
    assert format_length(49.24) == "49 mm"
    assert format_length(24.5) == "24.5 mm"
    assert format_length(1284.5) == "1284 mm"
    assert format_length(0.04) == "0 mm"
    assert format_length(-1.26) == "−1.3 mm"
    assert format_length(0.2, IMPERIAL) == '0"'
