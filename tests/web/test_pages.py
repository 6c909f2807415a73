"""Pages and edits over HTTP, without a browser."""

from __future__ import annotations

import json
import re

import pytest

from gale_nook.core.stations import STATIONS
from gale_nook.demo.load import DEMO_NAMES
from tests.web.conftest import Page

pytestmark = pytest.mark.store
WORDS = [station.word for station in STATIONS]


@pytest.mark.parametrize("name", DEMO_NAMES)
@pytest.mark.parametrize("word", WORDS)
def test_every_station_of_every_demo_job_opens(page: Page, name: str, word: str) -> None:
    job = page.new(name)
    for look in (
        "",
        "?plan=below&side=right&frame=whole",
        "?item=tank&frame=close",
        "?frame=900_-200_0_700_300",
    ):
        answer = page.get(f"/jobs/{job}/{word}{look}")
        assert answer.status_code == 200
        assert page.head(job).plan.name in answer.text
        ids = re.findall(r'\bid="([^"]+)"', answer.text)
        assert len(ids) == len(set(ids))


def test_the_line_shows_coolant_where_the_job_has_a_loop(page: Page) -> None:
    assert "Coolant" in page.get(f"/jobs/{page.new('quarto')}/vehicle").text
    assert ">Air<" in page.get(f"/jobs/{page.new('heron')}/vehicle").text


def test_typing_a_value_saves_it(page: Page) -> None:
    job = page.new("heron")
    answer = page.set(job, "vehicle", 1, vehicle__shell__rear_x_mm='171" - 25 mm')
    assert answer.status_code == 200
    assert page.head(job).plan.vehicle.shell.rear_x_mm == pytest.approx(171 * 25.4 - 25)
    assert "edit 2 · saved" in answer.text


def test_a_bad_value_is_named_and_nothing_is_saved(page: Page) -> None:
    job = page.new("heron")
    answer = page.set(job, "vehicle", 1, vehicle__shell__rear_x_mm="5 ft 14 in")
    assert answer.status_code == 422
    assert "after feet, inches must be under 12" in answer.text
    assert "Rear doors" in answer.text
    assert page.head(job).number == 1


def test_a_value_that_the_plan_cannot_hold_is_named(page: Page) -> None:
    answer = page.set(page.new("heron"), "heat", 1, heat__inside_c="-40")
    assert answer.status_code == 422
    assert "warmer than the outside" in answer.text


def test_temperatures_and_ticks(page: Page) -> None:
    job = page.new("heron")
    page.set(job, "heat", 1, heat__outside_c="0 °F")
    page.set(job, "heat", 2, **{"vehicle__openings__roof~vent__covered": "no"})
    page.set(job, "heat", 3, heat__cab_c="")
    plan = page.head(job).plan
    assert plan.heat.outside_c == pytest.approx(-17.7778, abs=1e-3)
    assert plan.heat.cab_c is None
    assert not next(o for o in plan.vehicle.openings if o.id == "roof-vent").covered


def test_imperial_shows_and_reads_inches(page: Page) -> None:
    job = page.new("heron")
    page.post("/units")
    assert 'value="169 11/16&#34;"' in page.get(f"/jobs/{job}/vehicle").text
    page.set(job, "vehicle", 1, vehicle__shell__rear_x_mm="170")
    assert page.head(job).plan.vehicle.shell.rear_x_mm == pytest.approx(4318)
    page.post("/units")
    assert 'value="4318 mm"' in page.get(f"/jobs/{job}/vehicle").text


def test_adding_copying_and_deleting_a_part(page: Page) -> None:
    job = page.new("blank")
    added = page.post(f"/jobs/{job}/vehicle/add", {"base": "1", "kind": "member", "shape": "box"})
    assert 'id="chosen"' in added.text
    page.post(f"/jobs/{job}/vehicle/copy", {"base": "2", "item": "member-1"})
    solids = page.head(job).plan.vehicle.solids
    assert [s.id for s in solids] == ["member-1", "member-2"]
    assert solids[1].x_mm == solids[0].x_mm + 100
    page.command(
        job, "vehicle", 3, {"op": "remove", "collection": "vehicle.solids", "item_id": "member-1"}
    )
    assert [s.id for s in page.head(job).plan.vehicle.solids] == ["member-2"]


@pytest.mark.parametrize("shape", ["box", "tube", "cylinder"])
def test_every_kind_can_be_added_in_every_shape(page: Page, shape: str) -> None:
    job = page.new("blank")
    for number, kind in enumerate(page.app.state.catalogue.solid_kinds, 1):
        answer = page.post(
            f"/jobs/{job}/vehicle/add", {"base": str(number), "kind": kind, "shape": shape}
        )
        assert answer.status_code == 200
        copied = page.post(
            f"/jobs/{page.new('heron')}/vehicle/copy", {"base": "1", "item": "brake-left"}
        )
        assert copied.status_code == 200


def test_points_of_a_tube_are_put_in_and_taken_out(page: Page) -> None:
    job = page.new("heron")
    form = {"item": "fuel-line"}
    page.post(f"/jobs/{job}/vehicle/point", {**form, "base": "1", "row": "0", "do": "in"})
    page.post(f"/jobs/{job}/vehicle/point", {**form, "base": "2", "row": "2", "do": "in"})
    line = next(s for s in page.head(job).plan.vehicle.solids if s.id == "fuel-line")
    assert [x for x, _, _ in line.points] == [-1000, 50, 1100, 2150]
    for base in ("3", "4"):
        page.post(f"/jobs/{job}/vehicle/point", {**form, "base": base, "row": "0", "do": "out"})
    refused = page.post(
        f"/jobs/{job}/vehicle/point", {**form, "base": "5", "row": "0", "do": "out"}
    )
    assert refused.status_code == 422
    assert (
        page.post(f"/jobs/{job}/vehicle/point", {**form, "base": "5", "row": "9"}).status_code
        == 422
    )
    wren = page.new("wren")
    page.post(
        f"/jobs/{wren}/vehicle/point", {"base": "1", "item": "traction", "row": "5", "do": "in"}
    )
    battery = next(s for s in page.head(wren).plan.vehicle.solids if s.id == "traction")
    assert battery.outline[-1] == (140, -220)


def test_layers_and_corners_can_be_added(page: Page) -> None:
    job = page.new("heron")
    page.post(f"/jobs/{job}/heat/add-layer", {"base": "1", "face": "roof", "material": "cork"})
    page.post(f"/jobs/{job}/heat/add-layer", {"base": "2", "face": "floor", "material": "cork"})
    page.post(f"/jobs/{job}/pipes/insert", {"base": "3", "node": "n-1"})
    page.post(f"/jobs/{job}/pipes/insert", {"base": "4", "node": "n-3"})
    plan = page.head(job).plan
    roof = next(s for s in plan.heat.surfaces if s.id == "roof")
    assert [layer.material for layer in roof.layers] == ["lining-ply", "wool", "cork", "steel"]
    assert [layer.material for layer in plan.vehicle.floor.layers][-2:] == ["cork", "steel"]
    assert [node.id for node in plan.pipes.exhaust.nodes] == ["n-4", "n-1", "n-2", "n-5", "n-3"]


def test_a_preview_shows_without_saving(page: Page) -> None:
    job = page.new("heron")
    command = json.dumps({"op": "place", "x_mm": 2420, "y_mm": -286})
    shown = page.post(f"/jobs/{job}/spot/preview", {"base": "1", "command": command}).json()
    assert shown["over"] > 0
    assert "cross-member 4" in shown["findings"]
    assert shown["overlay"].startswith("<g")
    assert page.head(job).number == 1


def test_accepting_needs_a_name_and_for_hazards_a_reason(page: Page) -> None:
    job = page.new("wren")
    form = {"base": "1", "rule": "spot.stack", "subject": "turret", "by": "Ina", "reason": "no"}
    refused = page.post(f"/jobs/{job}/spot/accept", form)
    assert refused.status_code == 422
    assert "about fire" in refused.text
    assert (
        page.post(
            f"/jobs/{job}/spot/accept", {**form, "reason": "a longer collar is on order", "by": " "}
        ).status_code
        == 422
    )
    done = page.post(f"/jobs/{job}/spot/accept", {**form, "reason": "a longer collar is on order"})
    assert "Accepted by Ina: a longer collar is on order" in done.text
    again = page.post(
        f"/jobs/{job}/spot/accept", {**form, "base": "2", "reason": "a longer collar is on order"}
    )
    assert "not over any more" in again.text


def test_an_acceptance_that_nothing_needs_any_more_is_told(page: Page) -> None:
    job = page.new("heron")
    page.set(job, "air", 1, air__warm_end="free")
    assert (
        "Accepted earlier by Ina of Skerry Lane, and not over any more: air.first_straight"
        in page.get(f"/jobs/{job}/build").text
    )


def test_a_limit_of_ones_own_is_put_in_and_taken_back(page: Page) -> None:
    job = page.new("heron")
    form = {
        "base": "1",
        "limit": "side_gap_mm",
        "least": '13"',
        "most": "",
        "note": "sheet in hand, page 4",
    }
    assert "sheet in hand, page 4" in page.post(f"/jobs/{job}/spot/limit", form).text
    own = page.head(job).plan.heater.own_limits[0]
    assert (own.minimum, own.maximum) == (pytest.approx(330.2), None)
    for wrong, said in (
        ({"least": ""}, "least or a greatest"),
        ({"most": "1"}, "lies above"),
        ({"note": ""}, "it needs a name"),
        ({"least": "9 m"}, "not believable"),
        ({"limit": "luck"}, "no limit of this name"),
    ):
        refused = page.post(f"/jobs/{job}/spot/limit", {**form, "base": "2", **wrong})
        assert refused.status_code == 422
        assert said in refused.text.lower()
    page.command(job, "spot", 2, {"op": "drop-limit", "limit_id": "side_gap_mm"})
    assert page.head(job).plan.heater.own_limits == ()


def test_weather_is_taken_in_and_gives_the_season(page: Page) -> None:
    job = page.new("wren")
    assert "No weather yet" in page.get(f"/jobs/{job}/heater/season").text
    assert (
        "99.6 %"
        in page.post(f"/jobs/{job}/heat/weather", {"base": "1", "region": "fell-upland"}).text
    )
    assert "cycles and soots" in page.get(f"/jobs/{job}/heater/season").text
    rows = "".join(f"2025-02-{1 + h // 24:02}T{h % 24:02}:00,{-h / 10}\n" for h in range(240))
    done = page.post(
        f"/jobs/{job}/heat/weather", {"base": "2"}, {"file": ("hut.csv", rows.encode(), "text/csv")}
    )
    assert "hut.csv" in done.text
    assert "−23.9" in done.text or "−24 °C" in done.text
    page.post(f"/jobs/{job}/heat/months", {"base": "3", "month": "7"})
    assert "nothing is heated" in page.get(f"/jobs/{job}/heater/season").text
    assert page.post(f"/jobs/{job}/heat/months", {"base": "4", "month": "13"}).status_code == 422
    broken = page.post(
        f"/jobs/{job}/heat/weather",
        {"base": "4"},
        {"file": ("x.csv", b"2025-01-01,cold", "text/csv")},
    )
    assert broken.status_code == 422
    assert "line 1" in broken.text
    assert (
        page.post(f"/jobs/{job}/heat/weather", {"base": "4", "region": "moon"}).status_code == 422
    )
    page.post(f"/jobs/{job}/heat/weather", {"base": "4", "region": ""})
    assert page.head(job).plan.heat.climate is None


def test_leaks_sleepers_and_what_is_left_open(page: Page) -> None:
    job = page.new("heron")
    page.set(job, "heat", 1, heat__leakage="draughty")
    page.set(job, "heat", 2, heat__sleepers="3")
    page.set(job, "heat", 3, **{"vehicle__openings__roof~vent__open_cm2": "10 in²"})
    plan = page.head(job).plan
    assert (plan.heat.leakage, plan.heat.sleepers) == ("draughty", 3)
    assert next(o for o in plan.vehicle.openings if o.id == "roof-vent").open_cm2 == pytest.approx(
        64.516
    )
    assert "3 sleepers need 76" in page.set(job, "heat", 4, heat__cab_loss_w_k="60").text
    page.set(job, "heat", 5, heat__leakage="")
    assert page.head(job).plan.heat.leakage is None
    assert page.set(job, "heat", 6, heat__sleepers="2.5").status_code == 422
    assert page.set(job, "heat", 6, heat__leakage="sieve").status_code == 422


def test_usual_build_ups_are_put_in(page: Page) -> None:
    job = page.new("blank")
    page.post(f"/jobs/{job}/heat/preset", {"base": "1", "face": "shell", "preset": "sprayed"})
    page.post(f"/jobs/{job}/heat/preset", {"base": "2", "face": "roof", "preset": "canvas"})
    stacks = {
        s.id: [layer.material for layer in s.layers] for s in page.head(job).plan.heat.surfaces
    }
    assert stacks["left"] == stacks["rear"] == ["lining-ply", "spray-foam", "steel"]
    assert stacks["roof"] == ["canvas"]
    for wrong in ({"face": "moon"}, {"preset": "straw"}):
        assert (
            page.post(
                f"/jobs/{job}/heat/preset", {"base": "3", "face": "roof", "preset": "wool", **wrong}
            ).status_code
            == 422
        )


def test_what_matters_most_is_told_and_applied(page: Page) -> None:
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/heat/savings").text
    assert "Ribs covered on the inside." in text
    assert "579 W" in text
    page.command(
        job,
        "heat",
        1,
        {"op": "set", "changes": [{"address": "heat.ribs.kind", "value": "covered"}]},
    )
    assert "Ribs broken by a batten." in page.get(f"/jobs/{job}/heat/savings").text


def test_where_moisture_settles(page: Page) -> None:
    job = page.new("wren")
    text = page.get(f"/jobs/{job}/heat").text
    assert "wet: bench window, inside surface" in text
    page.set(job, "heat", 1, heat__humidity_percent="20")
    assert "wet: bench window, inside surface" not in page.get(f"/jobs/{job}/heat").text


def test_the_night_of_every_heater(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/heater/night").text
    assert "Bothy 40, chosen" in text
    assert text.count("<tr") == 6
    assert "night-air" in text
    assert "night-air" not in page.get(f"/jobs/{page.new('blank')}/heater/night").text


def test_a_remedy_is_offered_and_can_be_applied(page: Page) -> None:
    job = page.new("wren")
    text = page.get(f"/jobs/{job}/pipes/remedy?rule=pipes.radius&subject=n-1").text
    assert "Open bend 1 to a radius of 60 mm." in text
    assert "No single step" in page.get(f"/jobs/{job}/pipes/remedy?rule=nonsense").text


def test_the_nearest_clear_place(page: Page) -> None:
    job = page.new("wren")
    page.command(job, "heater", 1, {"op": "choose", "sheet": "bothy-22"})
    assert "nothing of the spot is over there" in page.get(f"/jobs/{job}/spot/nearest").text


def test_undo_and_redo(page: Page) -> None:
    job = page.new("heron")
    page.set(job, "heat", 1, heat__outside_c="-20")
    assert "Undo: coldest night" in page.get(f"/jobs/{job}/heat").text
    page.post(f"/jobs/{job}/heat/undo", {"base": "2"})
    assert page.head(job).plan.heat.outside_c == -14
    page.post(f"/jobs/{job}/heat/redo", {"base": "1"})
    assert page.head(job).plan.heat.outside_c == -20
    assert page.post(f"/jobs/{job}/heat/undo", {"base": "1"}).status_code == 409


def test_a_collision_shows_both_and_either_can_stay(page: Page) -> None:
    job = page.new("heron")
    page.set(job, "heat", 1, heat__outside_c="-20")
    met = page.set(job, "heat", 1, heat__outside_c="-25")
    assert met.status_code == 409
    assert "Put mine in" in met.text
    assert "−20 °C" in met.text
    assert "−25 °C" in met.text
    assert page.head(job).plan.heat.outside_c == -20


def test_a_plan_goes_out_and_comes_in_again(page: Page) -> None:
    job = page.new("heron")
    exported = page.get(f"/jobs/{job}/plan.json")
    assert "attachment" in exported.headers["content-disposition"]
    taken = page.post(
        "/jobs/import", files={"file": ("heron.json", exported.content, "application/json")}
    )
    assert taken.status_code == 204
    new = int(re.findall(r"/jobs/(\d+)/", taken.headers["hx-redirect"])[0])
    assert page.head(new).plan == page.head(job).plan


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "not JSON"),
        (b"{\n oops", "line 2, column 2"),
        (b'{"format": "gale-nook-plan", "version": 1, "vehicle": {}}', "vehicle.name"),
        (b"x" * 2_400_000, "plan files up to 2.3 MB"),
    ],
)
def test_a_wrong_file_names_the_place(page: Page, content: bytes, said: str) -> None:
    answer = page.post("/jobs/import", files={"file": ("plan.json", content, "application/json")})
    assert answer.status_code == 422
    assert said in answer.text


def test_no_file_is_told(page: Page) -> None:
    assert "No file was chosen" in page.post("/jobs/import", {"file": "text"}).text


def test_beginning_and_copying_a_job(page: Page) -> None:
    begun = page.post("/jobs", {"name": "Tern"})
    job = int(re.findall(r"/jobs/(\d+)/", begun.headers["hx-redirect"])[0])
    assert page.head(job).plan.name == "Tern"
    page.post(f"/jobs/{job}/copy")
    assert "Tern, copy" in page.get("/").text
    nameless = page.post("/jobs", {"name": "  "})
    assert nameless.status_code == 422
    assert "it needs a name" in nameless.text.lower()


def test_a_job_is_deleted_for_good(page: Page) -> None:
    job = page.new("wren")
    assert page.post(f"/jobs/{job}/delete").status_code == 204
    assert page.get(f"/jobs/{job}/heat").status_code == 404
    assert page.post(f"/jobs/{job}/delete").status_code == 404


def test_the_build_sheet_as_pdf(page: Page) -> None:
    answer = page.get(f"/jobs/{page.new('wren')}/build.pdf")
    assert answer.content.startswith(b"%PDF")
    assert answer.headers["content-type"] == "application/pdf"


def test_what_is_not_there_is_told_plainly(page: Page) -> None:
    for url in ("/jobs/999999/heat", "/jobs/999999/plan.json", "/nothing", "/jobs/1/sauna"):
        answer = page.get(url)
        assert answer.status_code == 404
        assert "<h1>Not there</h1>" in answer.text
        assert "Traceback" not in answer.text


def test_words_of_the_trade(page: Page) -> None:
    """Never "safe", and no stock verdicts."""
    job = page.new("wren")
    for word in WORDS:
        text = re.sub(r"<[^>]+>", " ", page.get(f"/jobs/{job}/{word}").text).lower()
        assert not re.search(r"\b(safe|safely|approved|ok)\b", text)


def test_back_pressure_and_temperatures_stand_beside_the_run(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/pipes").text
    assert re.search(r'id="back-pressure">308 Pa', text)
    assert "</strong>of 620" in text
    assert "bend 2, " in text
    assert "back-pressure" not in page.get(f"/jobs/{page.new('blank')}/pipes").text
