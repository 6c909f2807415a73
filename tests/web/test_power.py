"""Power station: battery, ladder, cable, leads, nights, controller, alarms."""

from __future__ import annotations

import json
import re

import pytest

from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_the_ladder_and_the_smallest_cable_are_shown(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/power").text
    assert text.count("ladder-line") == 3
    assert "cut-out 10.6 V" in text
    assert re.search(r'id="smallest">1 mm²<', text)
    assert "AWG 12" in text
    assert "the ladder counts both conductors" in text
    assert "What would raise it at glow" in text


def test_an_empty_job_is_led_from_heater_to_battery_to_cable(page: Page) -> None:
    job = page.new("blank")
    assert "choose one and a spot first" in page.get(f"/jobs/{job}/power").text
    refused = page.command(job, "power", 1, {"op": "start-lead", "lead": "supply"})
    assert refused.status_code == 422
    assert "choose one and a spot first" in refused.text
    page.command(job, "heater", 1, {"op": "choose", "sheet": "bothy-22"})
    page.command(job, "spot", 2, {"op": "place", "x_mm": 1500, "y_mm": 0})
    refused = page.command(job, "power", 3, {"op": "start-lead", "lead": "supply"})
    assert "say first where both are" in refused.text
    page.command(job, "power", 3, {"op": "start-battery"})
    page.command(job, "power", 4, {"op": "start-lead", "lead": "supply"})
    text = page.get(f"/jobs/{job}/power").text
    assert "Smallest that does" in text
    assert page.head(job).plan.power.lead("supply") is not None


@pytest.mark.parametrize(
    ("address", "typed", "said"),
    [
        ("power__leads__supply__area_mm2", "12", "AWG 12 is 3.31 mm²"),
        ("power__leads__supply__area_mm2", "thick", "not a number"),
        ("power__battery__capacity_ah", "0", "too little"),
        ("power__battery__charge_percent", "120", "too much"),
        ("power__battery__nominal_v", "13", "12 or 24"),
        ("power__leads__supply__one_way_mm", "-500", "too little"),
        ("power__battery__temperature_c", "cold", "not a number"),
        ("power__battery__open_v", "900", "too much"),
        ("power__insulation_c", "80", "70, 90 or 105"),
        ("power__leads__supply__parts__fuse-1__rating_a", "0", "too little"),
    ],
)
def test_what_cannot_be_is_refused_in_plain_words(
    page: Page, address: str, typed: str, said: str
) -> None:
    job = page.new("heron")
    answer = page.set(job, "power", 1, **{address: typed})
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).number == 1


@pytest.mark.parametrize(("typed", "area"), [("AWG 10", 5.2612), ("4", 4.0), ("6 mm²", 6.0)])
def test_a_conductor_is_typed_in_either_way(page: Page, typed: str, area: float) -> None:
    job = page.new("heron")
    page.set(job, "power", 1, power__leads__supply__area_mm2=typed)
    lead = page.head(job).plan.power.lead("supply")
    assert lead is not None
    assert lead.area_mm2 == pytest.approx(area)


def test_the_slider_previews_the_ladder_without_saving(page: Page) -> None:
    job = page.new("heron")
    before = page.get(f"/jobs/{job}/power").text
    command = {
        "op": "set",
        "changes": [{"address": "power.battery.temperature_c", "value": -25.0}],
    }
    answer = page.post(f"/jobs/{job}/power/preview", {"base": "1", "command": json.dumps(command)})
    parts = json.dumps(answer.json())
    assert "ladder-line" in parts
    glow = re.search(r"at glow, in the evening.*?<strong>([\d.]+) V", before, re.DOTALL)
    now = re.search(r"at glow, in the evening.*?<strong>([\d.]+) V", parts, re.DOTALL)
    assert glow is not None
    assert now is not None
    assert float(now[1]) < float(glow[1])
    assert page.head(job).number == 1


def test_bends_and_parts_are_put_into_a_lead(page: Page) -> None:
    job = page.new("heron")
    bends = len(page.head(job).plan.power.leads[0].nodes)
    page.post(f"/jobs/{job}/power/insert", {"base": "1", "lead": "supply", "straight": "1"})
    lead = page.head(job).plan.power.lead("supply")
    assert lead is not None
    assert len(lead.nodes) == bends + 1
    for wrong in ({"lead": "supply", "straight": "99"}, {"lead": "gone", "straight": "0"}):
        answer = page.post(f"/jobs/{job}/power/insert", {"base": "2", **wrong})
        assert answer.status_code == 422
        assert "not there any more" in answer.text


def test_loads_and_charge_change_the_nights(page: Page) -> None:
    job = page.new("heron")

    def lasts() -> str:
        text = page.get(f"/jobs/{job}/power").text
        found = re.search(r'<h2>Nights</h2>\s*<span class="fold-state">([^<]+)<', text)
        assert found is not None
        return found[1]

    assert lasts() == "8.5 nights"
    item = {"id": "load-9", "name": "heated blanket", "charge_ah": 20}
    page.command(job, "power", 1, {"op": "add", "collection": "power.loads", "item": item})
    fewer = lasts()
    assert float(fewer.split()[0]) < 8.5
    sun = {"id": "sun-9", "name": "panel", "kind": "sun", "hours_h": 5, "current_a": 30}
    page.command(job, "power", 2, {"op": "add", "collection": "power.charging", "item": sun})
    assert lasts() == "for good"


def test_the_build_sheet_has_the_wiring(page: Page) -> None:
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/build").text
    assert "<h2>Wiring</h2>" in text
    assert "crimped to 2.5 mm²" in text
    assert "Hang the CO alarm" in text
    assert "<h2>Wiring</h2>" not in page.get(f"/jobs/{page.new('blank')}/build").text


def test_both_unit_systems_show_the_station(page: Page) -> None:
    job = page.new("quarto")
    page.post("/units")
    text = page.get(f"/jobs/{job}/power").text
    assert "24 V" in text
    assert "AWG" in text
    page.post("/units")
