"""Limit sheets as files: what is written is read again, what is wrong is named with its place."""

from __future__ import annotations

import json

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.errors import PlanUnreadable
from gale_nook.exchange.heater_sheets import MAX_SHEET_BYTES, read_sheet, sheet_schema, write_sheet

IDS = sorted(load_catalogue().heaters)


def _refused(raw: bytes) -> PlanUnreadable:
    with pytest.raises(PlanUnreadable) as caught:
        read_sheet(raw)
    return caught.value


@pytest.mark.parametrize("heater", IDS)
def test_what_is_written_is_read_again(heater: str) -> None:
    sheet = load_catalogue().heaters[heater]
    assert read_sheet(write_sheet(sheet).encode()) == sheet
    assert read_sheet(json.dumps(sheet.model_dump(mode="json")).encode()) == sheet


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [
        ("output.minimum_w", 5200, "least output must lie below the most"),
        ("output.efficiency", 1.2, "1.2 is too much; it has to be at most 1"),
        (
            "fan.points",
            [[0, 150], [40, 160]],
            "the fan curve does not fall: 150 Pa at 0 m³/h, 160 Pa at 40 m³/h",
        ),
        ("fan.points", [[40, 150], [40, 120]], "flow does not rise from 40 to 40"),
        (
            "limits.top_gap_mm",
            {"minimum": 50, "maximum": 20, "source": "p. 4"},
            "minimum lies above its maximum",
        ),
        ("electrical.run_minimum_a", 9, "least running current lies above the most"),
        ("electrical.cut_out_v", 12.5, "cut-out lies at or above"),
        ("exhaust.direction", [0, 0, -3], "unit vector"),
        ("body.length_mm", "long", "not a number"),
    ],
)
def test_contradictions_are_named(path: str, value: object, said: str) -> None:
    data = yaml.safe_load(write_sheet(load_catalogue().heaters["bothy-40"]))
    *way, leaf = path.split(".")
    place = data
    for part in way:
        place = place[part]
    place[leaf] = value
    refused = _refused(yaml.safe_dump(data).encode())
    assert said in " ".join(problem for _, problem in refused.places)
    assert any(where.startswith(way[0]) for where, _ in refused.places)


def test_a_slip_of_the_pen_is_found_by_its_line() -> None:
    text = write_sheet(load_catalogue().heaters["bothy-40"]).replace("medium: air", "medium: [air")
    assert _refused(text.encode()).places[0][0].startswith("line ")


@pytest.mark.parametrize(
    "raw",
    [b"", b"- 1\n- 2", b"\xff\xfe\x00", b"a: &x [1]\nb: *x", b"x" * (MAX_SHEET_BYTES + 1), b"{"],
)
def test_what_is_no_sheet_is_refused_in_words(raw: bytes) -> None:
    assert str(_refused(raw))


@given(st.binary(max_size=200) | st.text(max_size=200).map(str.encode))
def test_any_file_is_read_or_refused(raw: bytes) -> None:
    with pytest.raises(PlanUnreadable):
        read_sheet(raw)


def test_the_schema_names_every_value() -> None:
    assert {"output", "body", "limits", "mounts", "sources"} <= set(sheet_schema()["properties"])
