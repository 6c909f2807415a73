"""Vehicle station: looked-at areas, pencilled values, unlikely numbers, heights as measured, and
another datum.
"""

from __future__ import annotations

import html
import json
import re

import pytest

from tests.web.conftest import Page


def add(page: Page, job: int, base: int, kind: str) -> None:
    answer = page.post(f"/jobs/{job}/vehicle/add", {"base": str(base), "kind": kind})
    assert answer.status_code == 200


def looked(page: Page, job: int, base: int, **fields: str) -> object:
    given = {"base": str(base), "where": "below", "how": "seen", "on": "2026-10-03", **fields}
    return page.post(f"/jobs/{job}/vehicle/looked", given)


def test_an_area_is_said_from_one_place_to_another(page: Page) -> None:
    """From the bulkhead to the rear axle, full width; and drawn; and from a named feature."""
    job = page.new("heron")
    first = looked(page, job, 1, start="Bulkhead", end="rear axle")
    assert "% of the load floor" in first.text
    area = page.head(job).plan.vehicle.looked_at[-1]
    shell = page.head(job).plan.vehicle.shell
    assert (area.from_x_mm, area.to_x_mm) == (shell.bulkhead_x_mm, shell.rear_axle_x_mm)
    assert (area.left_y_mm, area.right_y_mm) == (
        -shell.outer_width_mm / 2,
        shell.outer_width_mm / 2,
    )
    looked(page, job, 2, where="inside", how="measured", drawn="200 -300 800 400")
    area = page.head(job).plan.vehicle.looked_at[-1]
    assert (area.where, area.from_x_mm, area.right_y_mm) == ("inside", 200, 100)
    looked(page, job, 3, start="100 behind seat bolt", end="2 m", left="-40 cm", right="")
    area = page.head(job).plan.vehicle.looked_at[-1]
    bolt = next(f for f in page.head(job).plan.vehicle.features if "seat bolt" in f.name)
    assert area.from_x_mm == bolt.inside[0] + 100
    assert (area.to_x_mm, area.left_y_mm) == (2000, -400)


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"start": "the moon"}, "the moon"),
        ({"start": "rear axle", "end": "bulkhead"}, "front end lies ahead"),
        ({"where": "roof"}, "below, inside or in the engine bay"),
        ({"how": "guessed"}, "from a drawing, or only assumed"),
        ({"on": "yesterday"}, "A date is written year, month, day"),
        ({"drawn": "1 2 3"}, "draw it again"),
    ],
)
def test_an_area_that_cannot_be_is_refused(page: Page, fields: dict[str, str], said: str) -> None:
    answer = looked(page, page.new("heron"), 1, **fields)
    assert answer.status_code == 422
    assert said in answer.text


def test_a_new_job_is_in_pencil_and_typing_inks_it(page: Page) -> None:
    job = page.new("blank")
    text = page.get(f"/jobs/{job}/vehicle").text
    assert "values here are assumed" in text
    assert "pencilled" in text
    before = len(page.head(job).plan.vehicle.pencilled)
    page.set(job, "vehicle", 1, **{"vehicle.shell.sill_z_mm": "-180"})
    assert len(page.head(job).plan.vehicle.pencilled) == before - 1
    add(page, job, 2, "fuel-tank")
    text = page.get(f"/jobs/{job}/vehicle?item=fuel-tank-1").text
    assert "Measured: they are right" in text
    pencilled = [a for a in page.head(job).plan.vehicle.pencilled if "fuel-tank-1" in a]
    page.command(job, "vehicle", 3, {"op": "ink", "addresses": pencilled})
    assert not any("fuel-tank-1" in a for a in page.head(job).plan.vehicle.pencilled)


def test_a_verdict_that_rests_on_an_assumed_value_says_so(page: Page) -> None:
    job = page.new("blank")
    add(page, job, 1, "member")
    text = page.get(f"/jobs/{job}/vehicle").text
    assert "Rests on what is only assumed" in text


def test_an_unlikely_number_stays_and_is_asked_about(page: Page) -> None:
    job = page.new("heron")
    answer = page.set(job, "vehicle", 1, **{"vehicle.shell.inside_height_mm": "17500"})
    assert answer.status_code == 200
    assert page.head(job).plan.vehicle.shell.inside_height_mm == 17500
    assert "is very much for the height inside" in answer.text
    page.command(job, "vehicle", 2, {"op": "confirm", "address": "vehicle.shell.inside_height_mm"})
    assert "is very much for" not in page.get(f"/jobs/{job}/vehicle").text


@pytest.mark.parametrize(
    ("measured_from", "typed", "z_mm", "words"),
    [
        ("underside", "80", -9.2 - 80, "below the steel"),
        ("ground", "400", -640 + 400, "above the ground"),
        ("floor", "-90", -90, "above the load floor"),
    ],
)
def test_heights_below_are_typed_from_what_can_be_seen_there(
    page: Page, measured_from: str, typed: str, z_mm: float, words: str
) -> None:
    """Heron's steel ends 9.2 mm below the load floor, its ground lies 640 mm below it."""
    job = page.new("heron")
    page.set(job, "vehicle", 1, **{"settings.heights_below": measured_from})
    base = page.head(job).number
    page.set(job, "vehicle", base, **{"vehicle.solids.tank.z_mm": typed})
    solids = {s.id: s for s in page.head(job).plan.vehicle.solids}
    assert solids["tank"].z_mm == pytest.approx(z_mm)
    text = page.get(f"/jobs/{job}/vehicle?item=tank").text
    assert words in text
    assert f'value="{typed} mm"' in text
    # what stands inside is measured from the floor all the same
    page.set(job, "vehicle", base + 1, **{"vehicle.solids.locker.z_mm": "45"})
    solids = {s.id: s for s in page.head(job).plan.vehicle.solids}
    assert solids["locker"].z_mm == 45
    # and a tube's points below as boxes are
    page.set(job, "vehicle", base + 2, **{"vehicle.solids.brake-left.points.0.2": typed})
    solids = {s.id: s for s in page.head(job).plan.vehicle.solids}
    assert solids["brake-left"].points[0][2] == pytest.approx(z_mm)


def test_another_datum_asks_whether_the_numbers_move_along(page: Page) -> None:
    job = page.new("heron")
    before = page.head(job).plan
    asked = page.post(f"/jobs/{job}/vehicle/datum", {"base": "1", "name": "B post", "by": ""})
    assert asked.status_code == 422
    assert "how far the new datum lies behind the old one" in asked.text
    page.post(f"/jobs/{job}/vehicle/datum", {"base": "1", "name": "B post", "by": "250"})
    after = page.head(job).plan
    assert after.vehicle.datum == "B post"
    assert after.spot.x_mm == before.spot.x_mm - 250
    same = page.post(f"/jobs/{job}/vehicle/datum", {"base": "2", "name": "B post", "by": "10"})
    assert same.status_code == 422
    page.post(f"/jobs/{job}/vehicle/datum", {"base": "2", "name": "the B post", "by": "0"})
    assert page.head(job).plan.spot.x_mm == after.spot.x_mm


def test_what_is_asked_for_is_entered_or_said_to_be_missing(page: Page) -> None:
    job = page.new("blank")
    text = page.get(f"/jobs/{job}/vehicle").text
    assert "Such a vehicle usually has this: fuel tank." in text
    page.command(job, "vehicle", 1, {"op": "has-none", "kind": "fuel-tank"})
    assert "usually has this: fuel tank." not in page.get(f"/jobs/{job}/vehicle").text
    answer = page.command(job, "vehicle", 2, {"op": "has-none", "kind": "moon"})
    assert answer.status_code == 422


def test_the_cab_gets_a_floor_of_its_own(page: Page) -> None:
    """Added in pencil over the cab, raised, given a mat; then the heater stands there on it."""
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/vehicle").text
    found = re.search(r"hx-vals='([^']*vehicle.floors[^']*)'", text)
    assert found is not None
    command = json.loads(json.loads(html.unescape(found[1]))["command"])
    assert page.command(job, "vehicle", 1, command).status_code == 200
    floors = page.head(job).plan.vehicle.floors
    assert [f.name for f in floors] == ["the cab floor"]
    assert "vehicle.floors.floor-1.top_z_mm" in page.head(job).plan.vehicle.pencilled
    page.set(job, "vehicle", 2, **{"vehicle.floors.floor-1.top_z_mm": "85"})
    layer = {"id": "mat", "material": "plywood", "thickness_mm": 9}
    collection = "vehicle.floors.floor-1.layers"
    add = {"op": "add", "collection": collection, "item": layer, "first": True}
    assert page.command(job, "vehicle", 3, add).status_code == 200
    place = {"op": "place", "x_mm": -200, "y_mm": -300}
    page.command(job, "spot", 4, place)
    text = page.get(f"/jobs/{job}/spot").text
    assert "edge of the cab floor" in text
    picture = re.search(r'href="([^"]*floor\.png[^"]*)"', text)
    assert picture is not None
    assert page.get(f"/jobs/{job}/{html.unescape(picture[1])}").status_code == 200


@pytest.mark.parametrize(
    ("address", "typed", "said"),
    [("from_x_mm", "9 m", "front end lies ahead"), ("top_z_mm", "high", "high")],
)
def test_a_floor_that_cannot_be_is_refused(page: Page, address: str, typed: str, said: str) -> None:
    job = page.new("heron")
    item = {"id": "step", "name": "step", "from_x_mm": 0, "to_x_mm": 300, "layers": []}
    item |= {"left_y_mm": -300, "right_y_mm": 300}
    page.command(job, "vehicle", 1, {"op": "add", "collection": "vehicle.floors", "item": item})
    answer = page.set(job, "vehicle", 2, **{f"vehicle.floors.step.{address}": typed})
    assert answer.status_code == 422
    assert said in answer.text


def test_old_openings_and_gas_are_entered(page: Page) -> None:
    """Added, measured, closed by a remedy; wrong input is said and stays."""
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/vehicle").text
    assert "What was there before" in text
    item = {"id": "old", "name": "old flue", "face": "left", "along_mm": 1500, "up_mm": 400}
    add = {"op": "add", "collection": "vehicle.old_openings", "item": item}
    page.command(job, "vehicle", 1, add)
    text = page.get(f"/jobs/{job}/vehicle").text
    assert "old-side-old" in text
    assert "close it with a plate" in text
    refused = page.set(job, "vehicle", 2, vehicle__old_openings__old__length_mm="-5")
    assert refused.status_code == 422
    assert "5 mm is too little" in refused.text
    page.set(job, "vehicle", 2, vehicle__old_openings__old__use="closed")
    assert page.head(job).plan.vehicle.old_openings[0].use == "closed"
    page.set(job, "vehicle", 3, vehicle__old_gas__there="yes")
    text = page.get(f"/jobs/{job}/vehicle").text
    assert "Drill nothing before that is done" in text
    wrong = page.set(job, "vehicle", 4, vehicle__old_gas__tested_on="soon")
    assert wrong.status_code == 422
    assert "2026-10-03" in wrong.text
