"""What is towed, carried or afloat, spaces, own tanks, and other heaters: as they are typed."""

from __future__ import annotations

from typing import Any

import pytest

from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_a_van_is_made_afloat_and_its_fields_follow(page: Page) -> None:
    job = page.new("blank")
    assert "heels to either side" not in page.get(f"/jobs/{job}/vehicle").text
    answer = page.set(job, "vehicle", 1, vehicle__moves="afloat")
    for words in ("heels to either side", "hull's bottom", "A boat sinks through a hole"):
        assert words in answer.text.replace("&#39;", "'")
    assert '"set:vehicle.shell.front_axle_x_mm"' not in page.get(f"/jobs/{job}/vehicle").text
    page.set(job, "vehicle", 2, vehicle__hull__heel_deg="12,5")
    assert page.head(job).plan.vehicle.hull.heel_deg == 12.5


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ({"vehicle__hull__heel_deg": "80"}, "40"),
        ({"vehicle__hull__trim_deg": "-3"}, "0"),
        ({"vehicle__moves": "flying"}, "flying"),
        ({"vehicle__tow_filler": "roof"}, "roof"),
        ({"vehicle__lift_mm": "seven"}, "seven"),
    ],
)
def test_what_cannot_be_is_refused_in_words(page: Page, values: dict[str, str], said: str) -> None:
    job = page.new("coot")
    answer = page.set(job, "vehicle", 1, **values)
    assert answer.status_code in {400, 409, 422}
    assert said in answer.text
    assert page.head(job).number == 1


def test_a_space_is_added_moved_and_taken_out(page: Page) -> None:
    job = page.new("coot")
    item = {
        "id": "locker",
        "name": "gas locker",
        "kind": "gas",
        "from_x_mm": 100,
        "to_x_mm": 500,
        "left_y_mm": -1000,
        "right_y_mm": -600,
        "low_z_mm": 500,
        "high_z_mm": 900,
    }
    add = {"op": "add", "collection": "vehicle.spaces", "item": item}
    answer = page.command(job, "vehicle", 1, add)
    assert "gas locker" in answer.text
    backwards = page.set(job, "vehicle", 2, vehicle__spaces__locker__to_x_mm="50")
    assert backwards.status_code == 422
    assert "front end lies ahead" in backwards.text
    page.set(job, "vehicle", 2, vehicle__spaces__locker__to_x_mm="600")
    assert page.head(job).plan.vehicle.spaces[-1].to_x_mm == 600
    gone = {"op": "remove", "collection": "vehicle.spaces", "item_id": "locker"}
    page.command(job, "vehicle", 3, gone)
    assert [s.id for s in page.head(job).plan.vehicle.spaces] == ["bilge", "petrol"]


@pytest.mark.parametrize(
    ("start", "moves"),
    [("trailer", "towed"), ("demountable", "carried"), ("small-boat", "afloat")],
)
def test_a_job_begins_on_such_a_body(page: Page, start: str, moves: str) -> None:
    answer = page.post("/jobs", {"name": f"a new {start}", "start": f"body:{start}"})
    job = int(answer.headers["hx-redirect"].split("/")[2])
    plan = page.head(job).plan
    assert plan.vehicle.moves == moves
    for station in ("vehicle", "heat", "heater", "spot", "pipes", "fuel", "air", "power", "build"):
        assert page.get(f"/jobs/{job}/{station}").status_code == 200


def test_a_tank_is_tilted_dented_and_put_under_a_lid(page: Page) -> None:
    job = page.new("dunlin")
    before = page.get(f"/jobs/{job}/fuel").text
    assert "How it stands and is fitted" in before
    answer = page.set(job, "fuel", 1, fuel__tank__tilt_along_deg="-8")
    assert "tilted" in answer.text
    dent = {"id": "dent-1", "x_mm": 60, "y_mm": 0, "length_mm": 30, "width_mm": 400, "depth_mm": 10}
    add = {"op": "add", "collection": "fuel.tank.indents", "item": dent}
    assert "Dent 1" in page.command(job, "fuel", 2, add).text
    too_deep = page.set(job, "fuel", 3, **{"fuel__tank__indents__dent~1__depth_mm": "200"})
    assert too_deep.status_code == 422
    assert "half as deep" in too_deep.text
    page.set(job, "fuel", 3, fuel__tank__bracket_on="sheet")
    page.set(job, "fuel", 4, fuel__tank__lid="floor")
    tank = page.head(job).plan.fuel.tank
    assert (tank.tilt_along_deg, tank.bracket_on, tank.lid) == (-8, "sheet", "floor")
    shown = page.get(f"/jobs/{job}/fuel").text
    for words in ("plates behind it", "the lid opens", "Plates behind the tank", "Lid over"):
        assert words in shown
    assert page.get(f"/jobs/{job}/build").status_code == 200


def _copy(page: Page, job: int) -> Any:
    answer = page.post(f"/jobs/{job}/copy")
    return page.head(int(answer.headers["hx-redirect"].split("/")[2])).plan


def test_another_jobs_heater_is_taken_over(page: Page) -> None:
    job = page.new("heron")
    other = _copy(page, job)
    answer = page.post(f"/jobs/{job}/heater/unit", {"base": "1", "job": other.name})
    assert answer.status_code == 200
    assert "Which one when" in answer.text
    unit = page.head(job).plan.heater.others[0]
    assert unit.name == f"Bothy 40 of {other.name}"
    assert unit.exhaust[-1] == pytest.approx(
        (
            other.pipes.exhaust.nodes[-1].x_mm,
            other.pipes.exhaust.nodes[-1].y_mm,
            other.pipes.exhaust.nodes[-1].z_mm,
        )
    )
    # it stands where the first one does: that is told
    shown = page.get(f"/jobs/{job}/spot").text
    assert "are in one place" in shown


@pytest.mark.parametrize("name", ["", "no such job", "Coot"])
def test_a_heater_of_no_such_job_is_refused(page: Page, name: str) -> None:
    job = page.new("heron")
    if name == "Coot":
        page.new("coot")
    answer = page.post(f"/jobs/{job}/heater/unit", {"base": "1", "job": name})
    assert answer.status_code == 422
    assert "another job" in answer.text or "main dimensions" in answer.text
    assert page.head(job).number == 1


def test_another_heater_is_typed_by_hand(page: Page) -> None:
    job = page.new("heron")
    item = {"id": "unit-1", "name": "cab heater", "x_mm": -700, "y_mm": 350, "z_mm": 20}
    page.command(job, "heater", 1, {"op": "add", "collection": "heater.others", "item": item})
    page.set(job, "heater", 2, **{"heater__others__unit~1__most_w": "1,8 kW"})
    pipe = {
        "op": "unit-pipe",
        "unit": "unit-1",
        "pipe": "exhaust",
        "points": [[-600, 400, 0], [-600, 400, -150], [-600, 980, -170]],
    }
    answer = page.command(job, "heater", 3, pipe)
    assert "its exhaust, point 3" in answer.text
    page.set(job, "heater", 4, **{"heater__others__unit~1__exhaust__2__1": "1000"})
    unit = page.head(job).plan.heater.others[0]
    assert (unit.most_w, unit.exhaust[2][1]) == (1800, 1000)
    small = page.set(job, "heater", 5, **{"heater__others__unit~1__most_w": "100 W"})
    assert small.status_code == 422
    assert "least output lies under its most" in small.text


def test_an_old_duct_is_not_bought_but_looked_at(page: Page) -> None:
    job = page.new("heron")
    duct = page.head(job).plan.air.ducts[0].id
    answer = page.set(job, "air", 1, **{f"air__ducts__{duct}__was_there": "true"})
    assert "nobody has looked at it" in answer.text
    answer = page.set(job, "air", 2, **{f"air__ducts__{duct}__checked": "true"})
    assert "nobody has looked at it" not in answer.text
