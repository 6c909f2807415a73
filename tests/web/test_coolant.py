"""Coolant station: usual loops, ladder, warm-up, filling, parts, hoses, refusals."""

from __future__ import annotations

import json
import re

import pytest

from tests.web.conftest import Answer, Page

pytestmark = pytest.mark.store


def test_an_empty_loop_offers_usual_ones(page: Page) -> None:
    job = page.new("quarto")
    page.command(job, "coolant", 1, {"op": "start-loop", "usual": "preheat"})
    page.command(job, "coolant", 2, {"op": "start-loop", "usual": "convector-water"})
    loop = page.head(job).plan.coolant
    assert {part.id for part in loop.parts} >= {"convector-1", "water", "header", "drain", "bypass"}
    text = page.get(f"/jobs/{job}/coolant").text
    assert "Usual loops" in text
    assert text.count("loop-step") >= 3
    refused = page.command(job, "coolant", 3, {"op": "start-loop", "usual": "moon"})
    assert refused.status_code == 422
    assert "There are: preheat" in refused.text


def test_quarto_shows_ladder_warm_up_and_filling(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('quarto')}/coolant").text
    assert "through the heater" in text
    assert re.search(r"water at 45 °C</th>\s*<td class=\"number\">\s*<strong>\d+ min", text)
    assert re.search(r"[\d.]+ l of glycol and [\d.]+ l of water", text)
    assert "calorifier" in text
    assert "living space gets" in text


def test_an_air_job_has_no_coolant_station(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/vehicle").text
    assert "/coolant" not in text


@pytest.mark.parametrize(
    ("address", "typed", "said"),
    [
        ("coolant__glycol_percent", "80", "too much"),
        ("coolant__glycol_percent", "half", "not a number"),
        ("coolant__parts__mixer__mix_c", "200", "too much"),
        ("coolant__parts__floor-pump__level_percent", "-5", "too little"),
        ("coolant__parts__floor-1__length_m", "0", "too little"),
        ("coolant__hoses__hose-1__lagging_mm", "thick", "cannot be read as a length"),
        ("coolant__hoses__hose-1__kind", "gold", "There is no"),
        ("coolant__parts__engine__kind", "moon", "There is no"),
        ("coolant__frost_c", "-90", "too little"),
        ("coolant__parts__convector-1__fan", "11", "too much"),
    ],
)
def test_what_cannot_be_is_refused_in_plain_words(
    page: Page, address: str, typed: str, said: str
) -> None:
    job = page.new("quarto")
    answer = page.set(job, "coolant", 1, **{address: typed})
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).number == 1


def test_a_slider_previews_the_loop_without_saving(page: Page) -> None:
    job = page.new("quarto")
    before = page.get(f"/jobs/{job}/coolant").text
    change = {"address": "coolant.parts.mixer.mix_c", "value": 28.0}
    answer = page.post(
        f"/jobs/{job}/coolant/preview",
        {"base": "1", "command": json.dumps({"op": "set", "changes": [change]})},
    )
    assert answer.status_code == 200
    figures = answer.json()["parts"]["coolant-figures"]
    assert "loop-step" in figures
    assert figures not in before
    assert page.head(job).number == 1


def test_orders_of_warming_are_compared(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('quarto')}/coolant/orders").text
    assert text.count("<tr>") == 5
    assert "engine first" in text


def test_a_hose_is_laid_between_free_ends(page: Page) -> None:
    job = page.new("quarto")
    page.command(job, "coolant", 1, {"op": "start-loop", "usual": "convector"})
    loop = page.head(job).plan.coolant
    hose = next(h for h in loop.hoses if h.to_part == "convector-1")
    removed = {"op": "remove", "collection": "coolant.hoses", "item_id": hose.id}
    page.command(job, "coolant", 2, removed)
    text = page.get(f"/jobs/{job}/coolant").text
    assert "leads nowhere" in text
    ends = {"start": f"{hose.from_part}:{hose.from_end}", "end": "convector-1:in"}
    assert page.post(f"/jobs/{job}/coolant/join", {"base": "3", **ends}).status_code == 200
    after = page.head(job).plan.coolant
    laid = next(h for h in after.hoses if h.to_part == "convector-1")
    assert (laid.from_part, laid.kind) == (hose.from_part, hose.kind)
    for wrong, said in (
        ({"start": "moon:in", "end": "convector-1:in"}, "ends that are free"),
        ({"start": "bypass:in", "end": "bypass:in"}, "from one end to another"),
    ):
        answer = page.post(f"/jobs/{job}/coolant/join", {"base": "4", **wrong})
        assert answer.status_code == 422
        assert said in answer.text


def test_a_bend_is_put_in_and_a_part_into_a_hose(page: Page) -> None:
    job = page.new("quarto")
    hose = page.head(job).plan.coolant.hoses[0].id
    put = page.post(f"/jobs/{job}/coolant/insert", {"base": "1", "hose": hose, "straight": "0"})
    assert put.status_code == 200
    found = page.head(job).plan.coolant.hose(hose)
    assert found is not None
    assert len(found.nodes) >= 1
    gone = page.post(f"/jobs/{job}/coolant/insert", {"base": "2", "hose": hose, "straight": "99"})
    assert gone.status_code == 422
    page.command(
        job, "coolant", 2, {"op": "split-hose", "hose": hose, "at_mm": 50, "kind": "bleed"}
    )
    assert page.head(job).plan.coolant.part("bleed-1") is not None
    refused = page.command(
        job, "coolant", 3, {"op": "split-hose", "hose": hose, "at_mm": 50, "kind": "tee-20"}
    )
    assert refused.status_code == 422
    assert "two ends" in refused.text


def test_the_build_sheet_has_hoses_and_filling(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('quarto')}/build").text
    assert "Mix and fill" in text
    assert "heater hose 20" in text
    assert "Coolant is hot and under pressure" in text


def test_ducts_begin_at_a_convector(page: Page) -> None:
    """The station for air comes with it, and goes with it; zones are entered here too."""
    job = page.new("quarto")
    assert f"/jobs/{job}/air" not in page.get(f"/jobs/{job}/coolant").text
    kind, begin = "coolant.parts.convector-1.kind", "air.convector"
    page.command(
        job, "coolant", 1, {"op": "set", "changes": [{"address": kind, "value": "matrix-5-duct"}]}
    )
    text = page.get(f"/jobs/{job}/coolant").text
    assert "ducts begin at" in text
    assert "+ zone" in text
    page.command(
        job, "coolant", 2, {"op": "set", "changes": [{"address": begin, "value": "convector-1"}]}
    )
    page.command(job, "air", 3, {"op": "start-duct"})
    air = page.get(f"/jobs/{job}/air").text
    assert "Ducts begin at the <strong>convector 1</strong>" in air
    assert re.search(r"id=\"usable\">\d[\d ]* W</strong>\s*into these ducts", air)
    assert "Which outlets may be closed" not in air
    off = {"address": "coolant.parts.convector-1.fan", "value": 0}
    page.command(job, "coolant", 4, {"op": "set", "changes": [off]})
    assert "is off: nothing is blown into ducts" in page.get(f"/jobs/{job}/air").text
    nobody = {"address": begin, "value": None}
    page.command(job, "coolant", 5, {"op": "set", "changes": [nobody]})
    assert f"/jobs/{job}/air" not in page.get(f"/jobs/{job}/coolant").text


def test_the_ladder_puts_in_takes_out_and_turns(page: Page) -> None:
    job = page.new("quarto")
    before = page.head(job).plan.coolant
    text = page.get(f"/jobs/{job}/coolant").text
    assert text.count('class="rung') >= 25
    assert "Put in here: hose flow tee 2 to convector 1" in text
    hoses = {(h.from_part, h.to_part): h.id for h in before.hoses}
    hose = hoses["tee-flow-2", "convector-1"]

    def put_in(base: int, kind: str, into: str = hose, back: str = "") -> Answer:
        form = {"base": str(base), "hose": into, "kind": kind, "back": back}
        return page.post(f"/jobs/{job}/coolant/put-in", form)

    put_in(1, "valve")
    loop = page.head(job).plan.coolant
    valve = next(part.id for part in loop.parts if part.kind == "valve")
    page.command(job, "coolant", 2, {"op": "turn-loop-part", "part": valve})
    page.command(job, "coolant", 3, {"op": "take-out-part", "part": valve})
    assert page.head(job).plan.coolant.parts == before.parts
    refused = put_in(4, "tee-20")
    assert refused.status_code == 422
    assert "two ends" in refused.text
    assert "This hose is not there any more" in put_in(4, "rail", into="no-such").text
    put_in(4, "rail", back=hoses["convector-1", "tee-back-2"])
    assert any(part.kind == "rail" for part in page.head(job).plan.coolant.parts)
