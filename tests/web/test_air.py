"""Air station: its page, previews, balance and slips."""

from __future__ import annotations

import json
import re
from html import unescape

import pytest

from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_the_page_tells_what_arrives_where(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/air").text
    assert re.search(r'id="usable">\d+ W<', text)
    for words in (
        "galley outlet",
        "needs 751 W",
        "Which outlets may be closed together",
        "l an hour",
    ):
        assert words in text


def test_an_empty_job_is_led_to_the_spot(page: Page) -> None:
    job = page.new("blank")
    assert "Find a spot first" in page.get(f"/jobs/{job}/air").text
    refused = page.command(job, "air", 1, {"op": "start-duct"})
    assert refused.status_code == 422


def test_a_preview_gives_the_figures_and_outlets_with_the_board(page: Page) -> None:
    job = page.new("heron")
    change = {"address": "air.ducts.bed.outlet.open_percent", "value": 30}
    command = {"op": "set", "changes": [change]}
    answer = page.post(
        f"/jobs/{job}/air/preview", {"base": "1", "command": json.dumps(command)}
    ).json()
    assert "usable" in answer["parts"]["air-figures"]
    before = page.get(f"/jobs/{job}/air").text
    flows = [
        float(re.search(r"bed outlet.*?([0-9.]+) m³/h", text, re.DOTALL)[1])  # type: ignore[index]
        for text in (before[before.index('id="air-outlets"') :], answer["parts"]["air-outlets"])
    ]
    assert flows[1] < flows[0]
    assert page.head(job).number == 1


def test_bends_are_inserted_and_taken_out(page: Page) -> None:
    job = page.new("heron")
    before = page.head(job).plan.air.ducts
    page.post(f"/jobs/{job}/air/insert", {"base": "1", "duct": "bed", "straight": "1"})
    bed = next(duct for duct in page.head(job).plan.air.ducts if duct.id == "bed")
    new = next(n for n in bed.nodes if n not in next(d for d in before if d.id == "bed").nodes)
    assert bed.nodes.index(new) == 1
    where = "air.ducts.bed.nodes"
    page.command(job, "air", 2, {"op": "remove", "collection": where, "item_id": new.id})
    assert page.head(job).plan.air.ducts == before
    for duct, straight in (("bed", "77"), ("bed", "x"), ("nowhere", "0")):
        form = {"base": "3", "duct": duct, "straight": straight}
        assert page.post(f"/jobs/{job}/air/insert", form).status_code == 422


@pytest.mark.parametrize(
    ("station", "address", "typed", "said"),
    [
        ("air", "air.ducts.bed.outlet.open_percent", "2", "5"),
        ("air", "air.ducts.bed.outlet.open_percent", "ajar", "ajar"),
        ("air", "air.ducts.bed.outlet.share_percent", "130", "100"),
        ("air", "air.ducts.bed.outlet.zone", "cellar", "cellar"),
        ("air", "air.ducts.bed.kind", "duct-nowhere", "known are"),
        ("air", "air.ducts.bed.comes_from", "bed", "bed"),
        ("air", "air.zones.bed.opening_cm2", "-4", "0"),
        ("air", "air.warm_end", "sideways", "panel"),
        ("vehicle", "vehicle.solids.galley.hollow.panel_mm", "thick", "thick"),
        ("vehicle", "vehicle.solids.galley.hollow.panel_mm", "900", "Panels, thick"),
    ],
)
def test_slips_are_refused_with_their_name(
    page: Page, station: str, address: str, typed: str, said: str
) -> None:
    job = page.new("heron")
    answer = page.post(f"/jobs/{job}/{station}/set", {"base": "1", f"set:{address}": typed})
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).number == 1


def test_a_trunk_goes_with_what_goes_on_from_it(page: Page) -> None:
    job = page.new("heron")
    page.command(job, "air", 1, {"op": "remove-duct", "duct": "rise"})
    assert {duct.id for duct in page.head(job).plan.air.ducts} == {"trunk", "galley"}
    text = page.get(f"/jobs/{job}/air").text
    assert "verdict-over" in text


def test_outlets_are_pointed_at_and_their_ducts_found_and_taken(page: Page) -> None:
    job = page.new("heron")
    page.post(f"/jobs/{job}/air/point", {"base": "1", "at": "1150 -395"})
    page.post(f"/jobs/{job}/air/point", {"base": "2"})
    wanted = page.head(job).plan.air.wanted
    assert [outlet.zone for outlet in wanted] == ["living", "bed"]
    where = f"air.wanted.{wanted[1].id}"
    page.command(
        job, "air", 3, {"op": "remove", "collection": "air.wanted", "item_id": wanted[1].id}
    )
    answer = page.post(f"/jobs/{job}/air/find", {"base": "4"})
    assert 'aria-label="Ducts A"' in answer.text
    assert "one duct to living space outlet" in answer.text
    taken = json.loads(unescape(re.findall(r"data-preview='([^']*)'", answer.text)[0]))
    page.command(job, "air", 4, taken)
    air = page.head(job).plan.air
    assert air.wanted == ()
    assert [duct.outlet.name for duct in air.ducts] == ["living space outlet"]
    assert where not in page.get(f"/jobs/{job}/air").text


@pytest.mark.parametrize(
    ("at", "said"),
    [("9000 0", "outside"), ("1150", "point at it again"), ("x y", "again"), ("1e9 0", "far away")],
)
def test_what_is_pointed_at_badly_is_refused(page: Page, at: str, said: str) -> None:
    job = page.new("heron")
    answer = page.post(f"/jobs/{job}/air/point", {"base": "1", "at": at})
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).number == 1


def test_without_heater_or_outlets_nothing_is_looked_for(page: Page) -> None:
    blank, heron = page.new("blank"), page.new("heron")
    assert page.post(f"/jobs/{blank}/air/find", {"base": "1"}).status_code == 422
    for number, duct in enumerate(("trunk",), 1):
        page.command(heron, "air", number, {"op": "remove-duct", "duct": duct})
    answer = page.post(f"/jobs/{heron}/air/find", {"base": "2"})
    assert answer.status_code == 422
    assert "Point first" in answer.text


def test_furniture_in_the_way_is_offered_as_hollow(page: Page) -> None:
    job = page.new("heron")
    none = {"op": "hollow", "solid": "locker", "hollow": None}
    page.command(job, "vehicle", 1, none)
    page.post(f"/jobs/{job}/air/point", {"base": "2", "at": "2180 -640"})
    answer = page.post(f"/jobs/{job}/air/find", {"base": "3"})
    assert "leads through" in answer.text
    assert "It is hollow" in answer.text


def test_what_may_be_left_out_can_be_emptied(page: Page) -> None:
    """Of zones, shares and outlets that were pointed at."""
    job = page.new("heron")
    page.post(f"/jobs/{job}/air/point", {"base": "1", "at": "1150 -395"})
    outlet = page.head(job).plan.air.wanted[0].id
    typed = [
        ("air.zones.bed.low_z_mm", "700", ""),
        ("air.zones.locker.set_c", "21", ""),
        ("air.ducts.bed.outlet.share_percent", "40", ""),
        (f"air.wanted.{outlet}.blows", "right", ""),
        (f"air.wanted.{outlet}.kind", "fixed-75", ""),
    ]
    number = 2
    for address, value, empty in typed:
        for text in (value, empty):
            form = {"base": str(number), f"set:{address}": text}
            assert page.post(f"/jobs/{job}/air/set", form).status_code == 200, (address, text)
            number += 1
    air = page.head(job).plan.air
    assert air.zone("bed").low_z_mm is None
    assert air.zone("locker").set_c is None
    assert air.wanted[0].blows is None
    assert air.wanted[0].kind is None
