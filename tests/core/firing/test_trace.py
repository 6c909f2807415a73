"""Runs of readings: thinned without losing a phase, and phases told from readings alone."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.base.phases import PHASES
from gale_nook.core.firing.phases_told import with_phases
from gale_nook.core.firing.trace import Row, readings_of, rows_of, thinned, trace_of
from gale_nook.core.plan.firing import MOST_POINTS, Trace
from tests.core.firing.fired import fired

NAMES = {"heron": "bothy-40", "quarto": "croft-52", "coot": "bothy-22"}


@pytest.mark.parametrize("name", NAMES)
def test_phases_are_told_from_current_ticks_and_warmth(name: str) -> None:
    """Of a logger that knows no phases, nearly every second is told as the heater itself does; the
    flame is told when it gets warm, some seconds late: with a loop to warm up, not before the ramp.
    """
    rows = rows_of(fired(name)[1])
    sheet = load_catalogue().heater(NAMES[name])
    told = with_phases([replace(row, phase=None) for row in rows], sheet)
    same = sum(a.phase == b.phase for a, b in zip(rows, told, strict=True))
    assert same / len(rows) > 0.95
    assert {row.phase for row in told} >= set(PHASES) - {"flame"}


def test_the_devices_own_word_counts() -> None:
    rows = [Row(0.0, "full"), Row(1.0, None, current_a=10.0)]
    assert [row.phase for row in with_phases(rows, load_catalogue().heater("bothy-40"))] == [
        "full",
        "glow",
    ]


@given(st.lists(st.sampled_from(PHASES), min_size=1, max_size=2000))
def test_thinning_keeps_every_phase_and_never_too_much(words: list[str]) -> None:
    rows = [Row(float(second), word) for second, word in enumerate(words)]  # type: ignore[arg-type]
    kept = thinned(rows)
    assert len(kept) <= MOST_POINTS
    assert [row.at_s for row in kept] == sorted({row.at_s for row in kept})
    if len(words) <= MOST_POINTS:
        assert {row.phase for row in kept} == set(words)
    assert kept[0] == rows[0]


def test_the_least_voltage_and_the_settled_middle_count() -> None:
    rows = [
        Row(float(second), "glow", volts, 10.0 + second)
        for second, volts in enumerate((12.9, 11.4, 12.5, 12.5, 12.5, 12.5))
    ]
    reading = next(r for r in readings_of(trace_of(rows, "test")) if r.id == "glow")
    assert (reading.began_s, reading.voltage_v, reading.current_a) == (0.0, 11.4, 13.5)
    assert reading.pump_hz is None


def test_columns_of_a_trace_belong_together() -> None:
    trace = trace_of([Row(0.0, "check", 12.0)], "test").model_dump()
    with pytest.raises(ValidationError, match="one length"):
        Trace.model_validate({**trace, "voltage_v": (12.0, 12.1)})
    twice = {key: (*value, *value) for key, value in trace.items() if key != "source"}
    with pytest.raises(ValidationError, match="do not rise"):
        Trace.model_validate({"source": "test", **twice, "at_s": (5.0, 1.0)})
