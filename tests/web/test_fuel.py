"""Fuel station: sources, tank, level, line and dip-stick."""

from __future__ import annotations

import json
import re

import pytest

from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_sources_are_told_with_what_they_need_and_why_not(page: Page) -> None:
    heron, wren = (page.get(f"/jobs/{page.new(name)}/fuel").text for name in ("heron", "wren"))
    assert heron.count('class="source') == wren.count('class="source') == 8  # seven, their list
    assert "Not here: The sheet of Bothy 40 forbids a tee" in heron
    assert wren.count("Not here: The vehicle has no fuel tank.") == 5
    assert "11 nights" in heron


def test_an_empty_job_is_led_from_source_to_spot(page: Page) -> None:
    job = page.new("blank")
    assert "Choose where the fuel comes from." in page.get(f"/jobs/{job}/fuel").text
    page.command(job, "fuel", 1, {"op": "source", "source": "tank-outside"})
    assert page.head(job).plan.fuel.tank is not None
    text = page.get(f"/jobs/{job}/fuel").text
    assert "Find a spot first" in text
    assert 'name="set:fuel.tank.length_mm"' in text
    refused = page.command(job, "fuel", 2, {"op": "start-line"})
    assert refused.status_code == 422
    assert "choose a heater and a spot first" in refused.text


def test_the_level_moves_litres_stick_and_nights_together(page: Page) -> None:
    job = page.new("wren")
    page.set(job, "air", 1, air__warm_end="free")  # through its ducts it shuts down: no fuel
    shown = []
    for number, level in ((2, "100"), (3, "50")):
        page.set(job, "fuel", number, fuel__level_percent=level) if level != "100" else None
        text = page.get(f"/jobs/{job}/fuel").text
        shown.append(
            [
                float(re.search(f'id="{name}">([0-9.]+)', text)[1])
                for name in ("litres", "fuel-nights")
            ]
        )  # type: ignore[index]
        if level == "100":
            page.set(job, "fuel", 2, fuel__price_per_l="2,05")
    assert shown[1][0] == pytest.approx(shown[0][0] / 2, abs=0.06)
    assert shown[1][1] < shown[0][1]


def test_a_preview_gives_the_figures_with_the_board(page: Page) -> None:
    job = page.new("wren")
    command = {"op": "set", "changes": [{"address": "fuel.level_percent", "value": 25}]}
    answer = page.post(
        f"/jobs/{job}/fuel/preview", {"base": "1", "command": json.dumps(command)}
    ).json()
    assert "in the tank" in answer["parts"]["fuel-figures"]
    assert 'class="fuel-level"' in answer["overlay"]
    assert page.head(job).number == 1


def test_bends_are_inserted_typed_from_features_and_taken_out(page: Page) -> None:
    job = page.new("heron")
    before = page.head(job).plan.fuel.line.nodes
    page.post(f"/jobs/{job}/fuel/insert", {"base": "1", "straight": "1"})
    after = page.head(job).plan.fuel.line.nodes
    assert [n.id for n in after if n in before] == [n.id for n in before]
    new = next(n for n in after if n not in before)
    assert after.index(new) == 1
    fields = {
        f"set:fuel.line.nodes.{new.id}.x_mm": "420 behind sliding door, rear edge",
        "base": "2",
    }
    assert page.post(f"/jobs/{job}/fuel/set", fields).status_code == 200
    assert next(n for n in page.head(job).plan.fuel.line.nodes if n.id == new.id).x_mm == 1985 + 420
    page.command(
        job, "fuel", 3, {"op": "remove", "collection": "fuel.line.nodes", "item_id": new.id}
    )
    assert page.head(job).plan.fuel.line.nodes == before
    assert page.post(f"/jobs/{job}/fuel/insert", {"base": "4", "straight": "77"}).status_code == 422


@pytest.mark.parametrize(
    ("address", "typed", "said"),
    [
        ("fuel.tank.length_mm", "long", "cannot be read as a length"),
        ("fuel.reserve_l", "lots", "not a number"),
        ("fuel.line.pump.tilt_deg", "120", "120° is too much; it has to be at most 90°"),
        ("fuel.tank.wall_mm", "30", "no room inside"),
        ("fuel.grade", "moonshine", "known are arctic, summer, winter"),
        ("fuel.tank.edge_mm", "90", "larger than the box"),
    ],
)
def test_slips_are_refused_with_their_name(page: Page, address: str, typed: str, said: str) -> None:
    job = page.new("wren")
    page.set(job, "fuel", 1, fuel__tank__height_mm="60 mm")
    answer = page.post(f"/jobs/{job}/fuel/set", {"base": "2", f"set:{address}": typed})
    assert answer.status_code == 422
    assert said in answer.text


def test_two_readings_of_the_stick_tell_what_was_used(page: Page) -> None:
    job = page.new("wren")
    assert re.fullmatch(
        r"\d\.\d l used", page.get(f"/jobs/{job}/fuel/fell?before=120&after=3 in").text
    )
    assert "filled in" in page.get(f"/jobs/{job}/fuel/fell?before=20&after=100").text
    for query in ("before=far&after=1", "before=900&after=1", "before=&after="):
        assert page.get(f"/jobs/{job}/fuel/fell?{query}").status_code == 422
    assert page.get(f"/jobs/{page.new('blank')}/fuel/fell?before=1&after=0").status_code == 422


def test_the_dip_stick_prints_in_both_measures(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('wren')}/fuel/dip-stick").text
    rows = re.findall(r'<td class="number">([0-9.]+)</td>' * 3, text)
    assert len(rows) > 8
    for mm, inches, _ in rows:
        assert float(inches) == pytest.approx(float(mm) / 25.4, abs=0.03)
    assert [float(row[2]) for row in rows] == sorted(float(row[2]) for row in rows)
    assert (
        "The tank was not chosen yet" in page.get(f"/jobs/{page.new('blank')}/fuel/dip-stick").text
    )


@pytest.mark.parametrize(
    ("station", "values", "told"),
    [
        ("fuel", {"fuel.tank.profile.0.1": "wide"}, "up"),
        ("fuel", {"fuel.tank.filler_deg": "120°"}, "filler above level"),
        ("fuel", {"fuel.tank_wall_mm": "60"}, "30"),
        ("vehicle", {"vehicle.slide.to_mm": "-9000"}, "first edge"),
        ("vehicle", {"vehicle.slide.travel_mm": "0"}, "comes out"),
        ("fuel", {"fuel.line.parts.flex-1.hose_mm": "-5"}, "length of the hose"),
    ],
)
def test_wrong_input_is_refused_by_its_name_and_nothing_is_lost(
    page: Page, station: str, values: dict[str, str], told: str
) -> None:
    """Each of the new fields with something that cannot be: named in the field's own words, the job
    unchanged.
    """
    job = page.new("wren")
    page.command(
        job, "fuel", 1, {"op": "tank-profile", "corners": [[0, 0], [220, 0], [220, 170], [0, 170]]}
    )
    slide = {"side": "left", "from_mm": 400, "to_mm": 1600, "inner_mm": 500, "travel_mm": 400}
    page.command(job, "vehicle", 2, {"op": "slide", "slide": slide})
    flex = {"id": "flex-1", "kind": "flex", "at_mm": 200, "length_mm": 200, "hose_mm": 400}
    page.command(job, "fuel", 3, {"op": "add", "collection": "fuel.line.parts", "item": flex})
    assert page.head(job).number == 4
    form = {"base": "4", **{f"set:{address}": text for address, text in values.items()}}
    refused = page.post(f"/jobs/{job}/{station}/set", form)
    assert refused.status_code == 422
    assert told in refused.text.lower()
    assert page.head(job).number == 4


def test_turning_round_what_is_not_there_is_refused(page: Page) -> None:
    job = page.new("blank")
    runs = [{"op": "reverse-run", "tube": tube} for tube in ("exhaust", "intake")]
    for command in (*runs, {"op": "reverse-line"}):
        refused = page.command(job, "pipes", 1, command)
        assert refused.status_code == 422
        assert "could be turned round" in refused.text
