"""Files of readings: lines of JSON and CSV in, CSV out, bad ones refused with their line."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.firing.trace import rows_of, trace_of
from gale_nook.exchange.readings import line_of, read_run, write_csv
from tests.core.firing.fired import fired

SHEET = load_catalogue().heater("bothy-40")


def test_what_the_simulated_heater_says_is_read_back() -> None:
    _, told = fired("heron")
    raw = "\n".join(line_of(each) for each in told).encode()
    read = read_run(raw, "run.jsonl", SHEET).trace
    ours = trace_of(rows_of(told), "run.jsonl")
    assert set(read.phase) == set(ours.phase)
    assert max(v for v in read.voltage_v if v) == max(v for v in ours.voltage_v if v)


def test_csv_comes_back_as_it_was_written() -> None:
    trace = trace_of(rows_of(fired("heron")[1]), "run.csv")
    assert read_run(write_csv(trace).encode(), "run.csv", SHEET).trace == trace


def test_a_spreadsheets_csv_is_read_too() -> None:
    raw = "at_s;voltage_v;current_a;comment\r\n0;12,9;0,7;cold\r\n\r\n9;12,4;9,8;\r\n".encode(
        "utf-16"
    )
    read = read_run(raw, "log.csv", SHEET).trace
    assert read.voltage_v == (12.9, 12.4)
    assert read.phase == ("check", "glow")
    assert read.pump_hz == (None, None)


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "no reading"),
        (b'{"at_s": 1}\n{"at_s": "soon"}', "line 2"),
        (b'{"at_s": 1, "voltage_v": 900}', "60"),
        (b'{"at_s": 9}\n{"at_s": 3}', "times have to rise"),
        (b'{"at_s": 1, "phase": "dancing"}', "glow"),
        (b'{"at_s": 1}\n[1]', "line 2"),
        (b'{"at_s": 1', "line 1"),
        (b"time,volts\n1,2\n", "at_s"),
        (b"at_s,current_a\n0,1\n1,lots\n", "line 3"),
        (b"at_s\n" + b"1\n" * 50_001, "too many"),
        (b'{"at_s": NaN}', "line 1"),
        (b"\x00\x01", "not text"),
        (b'{"at_s": 1, "phase": "off"}', "no reading"),
    ],
)
def test_bad_files_are_refused_with_the_line(raw: bytes, said: str) -> None:
    with pytest.raises(PlanUnreadable) as refused:
        read_run(raw, "bad", SHEET)
    places = " ".join(f"{place}: {problem}" for place, problem in refused.value.places)
    assert said in f"{refused.value.summary} {places}"


@given(st.binary(max_size=300) | st.text(max_size=300).map(str.encode))
def test_any_file_is_read_or_refused(raw: bytes) -> None:
    with suppress(PlanUnreadable):
        assert read_run(raw, "any", SHEET).trace.at_s
