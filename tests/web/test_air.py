"""Air station: its page, previews, balance and slips."""

from __future__ import annotations

import json
import re

import pytest

from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_the_page_tells_what_arrives_where(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/air").text
    assert re.search(r'id="usable">\d+ W<', text)
    for words in ("galley outlet", "needs 751 W", "What may be closed together", "l an hour"):
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
