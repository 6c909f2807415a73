"""Heat and heater stations: own heaters, choosing over the recommended one, figures that follow a
slider.
"""

from __future__ import annotations

import json
import re
from html.parser import HTMLParser

import pytest
import yaml

from gale_nook.catalogue.load import load_catalogue
from gale_nook.exchange.heater_sheets import write_sheet
from tests.web.conftest import Page

pytestmark = pytest.mark.store


class _Form(HTMLParser):
    """What a browser would send of the forms on a page."""

    def __init__(self) -> None:
        super().__init__()
        self.fields: dict[str, str] = {}
        self.choosing = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        has = dict(attrs)
        if tag == "select":
            self.choosing = has["name"] or ""
        elif tag == "option" and "selected" in has:
            self.fields[self.choosing] = has["value"] or ""
        elif tag == "input" and (has.get("type") != "checkbox" or "checked" in has):
            self.fields[has["name"] or ""] = has.get("value") or ""


def _filled(page: Page, job: int, sheet: str) -> dict[str, str]:
    """The fields of the sheet's form as the page shows them."""
    form = _Form()
    form.feed(page.get(f"/jobs/{job}/heater/sheet?sheet={sheet}").text)
    return {name: value for name, value in form.fields.items() if name != "base"}


def test_an_own_heater_is_begun_from_another_and_changed(page: Page) -> None:
    job = page.new("heron")
    fields = _filled(page, job, "bothy-40")
    assert fields["value:output.minimum_w"] == "900 W"
    fields |= {
        "label": "Corrie 38",
        "source": "sheet in the box",
        "value:output.maximum_w": "3.8 kW",
        "value:output.fuel_l_h_maximum": "0.4779",
        "source:output.maximum_w": "page 3",
        "value:limits.top_gap_mm.minimum": "5 cm",
    }
    kept = page.post(f"/jobs/{job}/heater/sheet", {"base": "1", **fields})
    assert kept.status_code == 200
    own = page.head(job).plan.heater.own_sheets[0]
    assert (own.id, own.output.maximum_w, own.sources) == (
        "corrie-38",
        3800,
        {"output.maximum_w": "page 3"},
    )
    assert own.limits["top_gap_mm"].minimum == 50
    again = _filled(page, job, "corrie-38")
    assert again["source:output.maximum_w"] == "page 3"
    page.post(f"/jobs/{job}/heater/sheet", {"base": "2", **again, "value:noise_db": ""})
    assert [sheet.noise_db for sheet in page.head(job).plan.heater.own_sheets] == [None]


def test_what_its_sheet_asks_for_and_how_loud_it_is_are_copied(page: Page) -> None:
    job = page.new("heron")
    fields = _filled(page, job, "byre-50") | {"label": "Corrie 50", "source": "its card"}
    assert fields["yes:tee_allowed"] == "1"
    assert "yes:pump_upright" not in fields
    del fields["yes:tee_allowed"]
    fields |= {
        "yes:pump_upright": "1",
        "value:noise_at_m": "2",
        "noise_how": "outdoors, at its most",
    }
    assert page.post(f"/jobs/{job}/heater/sheet", {"base": "1", **fields}).status_code == 200
    own = page.head(job).plan.heater.own_sheets[0]
    assert (own.tee_allowed, own.pump_upright, own.noise_at_m) == (False, True, 2.0)
    assert own.noise_how == "outdoors, at its most"


def test_plugs_loads_and_sensors_are_copied_from_the_card(page: Page) -> None:
    job = page.new("heron")
    fields = _filled(page, job, "bothy-40") | {"label": "Corrie 38", "source": "its card"}
    assert (fields["pin:0:colour"], fields["load:glow_load"]) == ("red", "resistive")
    fields |= {"pin:0:colour": "orange", "load:glow_load": "power"}
    fields |= {f"pin:9:{name}": "" for name in ("plug", "pin", "colour", "function")}
    more = {"plug": "clock", "pin": "7", "colour": "pink", "function": "lamp", "lead": "sensor"}
    fields |= {f"pin:11:{name}": text for name, text in more.items()}
    del fields["sensor:lead"]
    assert page.post(f"/jobs/{job}/heater/sheet", {"base": "1", **fields}).status_code == 200
    own = page.head(job).plan.heater.own_sheets[0]
    was = load_catalogue().heaters["bothy-40"].wiring.pins
    assert own.electrical.glow_load == "power"
    assert own.wiring.sensors == ("controller", "heater")
    assert own.wiring.pins[0].colour == "orange"
    assert own.wiring.pins[1:9] == was[1:9]
    assert [pin.model_dump() for pin in own.wiring.pins[9:]] == [more | {"pin": 7}]


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [
        ("pin:0:colour", "", "Say also: colour"),
        ("pin:0:pin", "1.5", "whole number from 1 to 60"),
        ("pin:0:pin", "61", "whole number from 1 to 60"),
        ("pin:0:lead", "moon", "Choose one of the list"),
        ("load:run_load", "moon", "Choose one of the list"),
        ("pin:12:plug", "x" * 90, "80"),
        ("value:output.minimum_w", "5 kW", "least output must lie below the most"),
        ("value:output.efficiency", "1.2", "efficiency"),
        ("value:noise_at_m", "300", "told at, metres from it"),
        ("value:output.fuel_l_h_maximum", "0.9", "not to the stated 4000 W"),
        ("value:body.length_mm", "a yard", "is not a unit"),
        ("value:body.length_mm", "", "length"),
        ("value:limits.top_gap_mm.minimum", "4 m", "is not believable"),
        ("label", "", "it needs a name"),
        ("base_sheet", "moon", "no heater of that name"),
    ],
)
def test_what_contradicts_itself_is_refused_with_the_reason(
    page: Page, field: str, value: str, said: str
) -> None:
    job = page.new("heron")
    answer = page.post(
        f"/jobs/{job}/heater/sheet",
        {"base": "1", **_filled(page, job, "bothy-40"), "source": "x", field: value},
    )
    assert answer.status_code == 422
    assert said.lower() in answer.text.lower()
    assert page.head(job).number == 1


def test_a_sheet_goes_out_and_comes_in_again(page: Page) -> None:
    job = page.new("heron")
    out = page.get(f"/jobs/{job}/heater/sheet.yaml?sheet=byre-50")
    assert "attachment" in out.headers["content-disposition"]
    taken = page.post(
        f"/jobs/{job}/heater/import-sheet", {"base": "1"}, {"file": ("byre.yaml", out.content)}
    )
    assert taken.status_code == 200
    own = page.head(job).plan.heater.own_sheets[0]
    assert own.id == "byre-50-2"
    assert own.model_copy(update={"id": "byre-50"}) == load_catalogue().heaters["byre-50"]


def test_a_sheet_that_contradicts_itself_is_refused_with_its_places(page: Page) -> None:
    job = page.new("heron")
    data = yaml.safe_load(write_sheet(load_catalogue().heaters["bothy-40"]))
    data["output"]["fuel_l_h_maximum"] = 0.9
    data["limits"]["luck_mm"] = {"minimum": 3, "source": "p. 1"}
    answer = page.post(
        f"/jobs/{job}/heater/import-sheet",
        {"base": "1"},
        {"file": ("x.json", json.dumps(data).encode())},
    )
    assert answer.status_code == 422
    assert "limits.luck_mm" in answer.text
    assert "output.fuel_l_h_maximum" in answer.text
    assert "No file was chosen" in page.post(f"/jobs/{job}/heater/import-sheet", {"base": "1"}).text


def test_another_heater_is_taken_only_with_a_reason_which_is_kept(page: Page) -> None:
    job = page.new("heron")
    refused = page.post(
        f"/jobs/{job}/heater/choose", {"base": "1", "sheet": "byre-50", "reason": " "}
    )
    assert refused.status_code == 422
    assert "Bothy 40 is recommended; type why" in refused.text
    page.post(
        f"/jobs/{job}/heater/choose",
        {"base": "1", "sheet": "byre-50", "reason": "stood in the shed"},
    )
    heater = page.head(job).plan.heater
    assert (heater.sheet, heater.instead_of, heater.reason) == (
        "byre-50",
        "bothy-40",
        "stood in the shed",
    )
    assert "Taken instead of the Bothy 40" in page.get(f"/jobs/{job}/heater").text
    assert "instead of the Bothy 40" in page.get(f"/jobs/{job}/build").text
    page.post(f"/jobs/{job}/heater/choose", {"base": "2", "sheet": "bothy-40"})
    assert page.head(job).plan.heater.instead_of is None


def test_a_preview_brings_the_figures_and_saves_nothing(page: Page) -> None:
    job = page.new("heron")
    page.set(job, "air", 1, air__warm_end="free")
    change = {"op": "set", "changes": [{"address": "heat.altitude_m", "value": 3000}]}
    shown = page.post(
        f"/jobs/{job}/heater/preview", {"base": "2", "command": json.dumps(change)}
    ).json()
    assert set(shown["parts"]) == {"heater-need", "ranges", "night-live"}
    assert shown["fields"] == {"heat.altitude_m": "3000 m"}
    assert "3437 W" in shown["parts"]["ranges"]
    change["changes"][0] = {"address": "heat.surfaces.roof.layers.l2.thickness_mm", "value": 100}
    shown = page.post(
        f"/jobs/{job}/heat/preview", {"base": "2", "command": json.dumps(change)}
    ).json()
    assert {"need-figures", "loss-bars", "u-roof", "u-floor"} <= set(shown["parts"])
    assert shown["parts"]["u-roof"].startswith("U 0.")
    assert page.head(job).number == 2


def test_a_timer_is_added_typed_and_switched_off(page: Page) -> None:
    job = page.new("heron")
    timer = {"id": "timer-1", "from_h": 0, "to_h": 5, "set_c": 12}
    page.command(job, "heater", 1, {"op": "add", "collection": "heat.night.timers", "item": timer})
    assert "timer 1 set to, empty for off" in page.get(f"/jobs/{job}/heater").text
    page.set(job, "heater", 2, **{"heat.night.timers.timer~1.set_c": ""})
    assert page.head(job).plan.heat.night.timers[0].set_c is None
    page.command(
        job, "heater", 3, {"op": "remove", "collection": "heat.night.timers", "item_id": "timer-1"}
    )
    assert page.head(job).plan.heat.night.timers == ()


def test_side_by_side_marks_the_better_figure(page: Page) -> None:
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/heater/beside?heater=bothy-40&heater=byre-50").text
    assert re.search(r"<td>least output</td><td class=\"number best\">900 W", text)
    number, best = r"<td class=\"number\">", r"<td class=\"number best\">"
    assert re.search(rf"<td>warm after a cold start</td>{number}\d+ min</td>{best}", text)
    assert (
        len(re.findall(r"<th class=\"number\">", page.get(f"/jobs/{job}/heater/beside").text)) == 3
    )


def test_how_the_need_was_worked_out_and_the_air_of_an_unflued_flame(page: Page) -> None:
    job = page.new("heron")
    assert "12 hoops × 5.64 m + 3 lengthwise × 4.19 m" in page.get(f"/jobs/{job}/heat/worked").text
    damp = page.get(f"/jobs/{job}/heat/damp").text
    assert "unflued gas heater" in damp
    assert "100 %, dripping" in damp
    assert "as the humidity inside" in damp


def test_a_pop_top_brings_its_surfaces(page: Page) -> None:
    job = page.new("heron")
    top = {"start_mm": 800, "length_mm": 2000, "width_mm": 1300, "rise_mm": 550}
    page.command(job, "heat", 1, {"op": "pop-top", "pop_top": top})
    text = page.get(f"/jobs/{job}/heat").text
    assert "Pop-top&#39;s canvas" in text
    page.set(job, "heat", 2, **{"vehicle.pop_top.raised": "no"})
    assert "Pop-top&#39;s canvas" not in page.get(f"/jobs/{job}/heat").text
    assert "Take another width" not in text
    assert page.set(job, "heat", 3, **{"vehicle.pop_top.width_mm": "3 m"}).status_code == 422
