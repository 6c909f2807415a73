"""Spot station: the map, why, best and kept spots, features, pilots, lengths from
named features.
"""

from __future__ import annotations

import re

import pytest

from gale_nook.core.spot.commands import UseOpening
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_the_map_is_a_picture_that_may_be_kept(page: Page) -> None:
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/spot").text
    found = re.search(r'class="floor-map" href="([^"]+)"', text)
    assert found is not None
    answer = page.get(f"/jobs/{job}/{found[1].replace('&amp;', '&')}")
    assert answer.content.startswith(b"\x89PNG")
    assert "immutable" in answer.headers["cache-control"]
    assert "floor-map" not in page.get(f"/jobs/{job}/spot?floor=off").text
    assert page.get(f"/jobs/{page.new('blank')}/spot/floor.png?key={'0' * 16}").status_code == 422


def test_a_place_tells_why(page: Page) -> None:
    job = page.new("heron")
    assert (
        page.get(f"/jobs/{job}/spot/why?x=2760&y=-286").json()["words"].startswith("Tight by 2 mm")
    )
    assert "Not here" in page.get(f"/jobs/{job}/spot/why?x=500&y=-480&best=true").json()["words"]
    assert page.get(f"/jobs/{job}/spot/why?x=nan&y=0").status_code == 422
    assert page.get(f"/jobs/{page.new('blank')}/spot/why?x=0&y=0").json() == {"words": ""}


def test_best_spots_follow_their_weights(page: Page) -> None:
    job = page.new("heron")
    first = re.findall(r'data-x="([^"]+)"', page.get(f"/jobs/{job}/spot/best").text)
    only = "exhaust=10&fuel=0&duct=0&quiet=0&margin=0"
    second = re.findall(r'data-x="([^"]+)"', page.get(f"/jobs/{job}/spot/best?{only}").text)
    assert len(first) == 5
    assert first != second
    assert "No place of the floor is clear" in page.get(f"/jobs/{page.new('wren')}/spot/best").text


def test_spots_are_kept_with_the_reason_of_their_rejection(page: Page) -> None:
    job = page.new("wren")
    page.post(
        f"/jobs/{job}/spot/keep",
        {"base": "1", "name": "the wish", "note": "cross-member 2 lies under it"},
    )
    kept = page.head(job).plan.candidates[0]
    assert (kept.name, kept.rejected, kept.spot) == ("the wish", True, page.head(job).plan.spot)
    text = page.get(f"/jobs/{job}/spot/candidates").text
    assert "the wish, here" in text
    assert "cross-member 2 lies under it" in text
    assert re.search(r"\d over", text)
    assert "no place yet" in page.post(f"/jobs/{page.new('blank')}/spot/keep", {"base": "1"}).text


def test_features_are_measured_on_both_sides(page: Page) -> None:
    job = page.new("blank")
    page.post(
        f"/jobs/{job}/vehicle/add-feature", {"base": "1", "name": "door edge", "kind": "edge"}
    )
    fields = {"feature": "feature-1", "side": "inside"}
    waits = page.post(f"/jobs/{job}/vehicle/feature", {"base": "2", **fields, "x": "1200", "y": ""})
    assert waits.status_code == 204
    page.post(f"/jobs/{job}/vehicle/feature", {"base": "2", **fields, "x": "1200", "y": "6 7/8 in"})
    page.post(
        f"/jobs/{job}/vehicle/feature",
        {"base": "3", **fields, "side": "below", "x": "1203", "y": "172"},
    )
    assert page.head(job).plan.vehicle.features[0].inside == (1200, pytest.approx(174.625))
    assert "off by" in page.get(f"/jobs/{job}/vehicle").text
    page.post(f"/jobs/{job}/vehicle/feature", {"base": "4", **fields, "x": "", "y": ""})
    assert page.head(job).plan.vehicle.features[0].inside is None
    for wrong in (
        {"x": "far", "y": "1"},
        {"x": "99 m", "y": "1"},
        {"feature": "moon", "x": "1", "y": "1"},
    ):
        assert (
            page.post(f"/jobs/{job}/vehicle/feature", {"base": "5", **fields, **wrong}).status_code
            == 422
        )


@pytest.mark.parametrize(
    ("address", "typed", "value"),
    [
        ("spot.x_mm", "420 behind sliding door, rear edge", 1985 + 420),
        ("spot.x_mm", "2' ahead of drain grommet", 3905 - 609.6),
        ("spot.y_mm", "150 left of seat bolt", -512 - 150),
        ("spot.y_mm", "25 cm right of centre", 250),
        ("vehicle.solids.tank.x_mm", "100 behind factory thread", 2055 + 100),
    ],
)
def test_lengths_are_taken_from_named_features(
    page: Page, address: str, typed: str, value: float
) -> None:
    job = page.new("heron")
    assert page.set(job, "spot", 1, **{address: typed}).status_code == 200
    data = page.head(job).plan.model_dump()
    found = (
        data["spot"]
        if address.startswith("spot")
        else next(s for s in data["vehicle"]["solids"] if s["id"] == "tank")
    )
    assert found[address.rsplit(".", 1)[1]] == pytest.approx(value)


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("420 behind the moon", "There is no feature of that name; known are: sliding door"),
        ("420 behind factory", "Several features begin like that"),
        ("420 left of seat bolt", "counts behind or ahead of a feature"),
        ("far behind seat bolt", "is not a"),
    ],
)
def test_what_a_feature_cannot_mean_is_refused(page: Page, typed: str, said: str) -> None:
    answer = page.set(page.new("heron"), "spot", 1, **{"spot.x_mm": typed})
    assert answer.status_code == 422
    assert said in answer.text


def test_a_pilot_is_logged_and_the_next_one_told(page: Page) -> None:
    job = page.new("wren")
    pilot = {"id": "pilot-1", "hole": "turret hole", "x_mm": 760, "y_mm": 500}
    page.command(job, "spot", 1, {"op": "add", "collection": "pilots", "item": pilot})
    page.set(
        job, "spot", 2, **{"pilots.pilot~1.right_mm": "-18", "pilots.pilot~1.rearward_mm": "-4"}
    )
    text = page.get(f"/jobs/{job}/spot").text
    assert "Drill the next 4 mm rearward and 18 mm to the right of the last." in text
    assert "Move the survey below by that" in text


def test_the_drill_sheet_is_printed_and_drawn(page: Page) -> None:
    job = page.new("heron")
    assert page.get(f"/jobs/{job}/spot/drill.pdf").content.startswith(b"%PDF")
    assert "ENTITIES" in page.get(f"/jobs/{job}/spot/drill-below.dxf").text
    assert page.get(f"/jobs/{page.new('blank')}/spot/drill.pdf").status_code == 422


def test_a_survey_comes_in_and_its_bad_rows_are_listed_first(page: Page) -> None:
    job = page.new("blank")
    head = b"kind,shape,x_mm,y_mm,z_mm,length_mm,width_mm,height_mm\n"
    bad = head + b"member,box,800,-700,-70,60,1400,60\nbeam,box,1,1,1,1,1,1\n"
    refused = page.post(f"/jobs/{job}/vehicle/survey", {"base": "1"}, {"file": ("s.csv", bad)})
    assert refused.status_code == 422
    assert "line 3" in refused.text
    assert "Take the 1 good ones" in refused.text
    assert page.head(job).number == 1
    out = page.get(f"/jobs/{page.new('heron')}/survey.csv")
    assert (
        page.post(
            f"/jobs/{job}/vehicle/survey", {"base": "1"}, {"file": ("s.csv", out.content)}
        ).status_code
        == 200
    )
    assert len(page.head(job).plan.vehicle.solids) == 31
    drawn = page.get(f"/jobs/{page.new('wren')}/survey.dxf").content
    assert (
        page.post(
            f"/jobs/{job}/vehicle/survey", {"base": "2"}, {"file": ("s.DXF", drawn)}
        ).status_code
        == 200
    )
    assert "No file was chosen" in page.post(f"/jobs/{job}/vehicle/survey", {"base": "3"}).text


def test_a_job_begins_from_a_body_or_from_a_vehicle_surveyed_before(page: Page) -> None:
    heron = page.new("heron")
    for start, name in (("body:coach", "coach-sized"), (f"job:{heron}", "long high panel van")):
        made = page.post("/jobs", {"name": f"Third, from {start}", "start": start})
        new = int(re.findall(r"/jobs/(\d+)/", made.headers["hx-redirect"])[0])
        assert page.head(new).plan.vehicle.name == name
        assert page.head(new).plan.heater.sheet is None
    assert page.post("/jobs", {"name": "Third", "start": "body:moon"}).status_code == 422
    assert page.post("/jobs", {"name": "Third", "start": "job:99999999"}).status_code == 404


def test_a_best_spot_says_whether_the_exhaust_has_a_way_from_there(page: Page) -> None:
    """One of Heron's best spots has one, proved by every check of the exhaust with the heater put
    there; in the middle of the floor over the spare wheel there is none.
    """
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/spot/best").text
    asked = re.findall(r'hx-get="(/jobs/\d+/spot/way\?[^"]*)"', text)
    shown = [page.get(each.replace("&amp;", "&")).text for each in asked]
    led = r"exhaust to the (left side|right side|rear), \d+ mm"
    assert any(re.search(led, each) for each in shown)
    assert all(re.search(led, each) or "no way for the exhaust found" in each for each in shown)
    here = f"/jobs/{job}/spot/way?x=3600&y=0&mount=turret"
    assert "no way for the exhaust found" in page.get(here).text


@pytest.mark.parametrize(
    "query", ["x=1&y=1&mount=Moon", "x=1&y=1&yaw=45&mount=turret", "x=far&y=1"]
)
def test_a_place_that_cannot_be_is_refused(page: Page, query: str) -> None:
    assert page.get(f"/jobs/{page.new('heron')}/spot/way?{query}").status_code == 422


def test_an_existing_opening_is_used_and_given_up_again(page: Page) -> None:
    """An old hatch is entered with its size, the heater put over it, and its plate changed."""
    job = page.new("heron")
    form = {"base": "1", "name": "old hatch", "kind": "hole"}
    page.post(f"/jobs/{job}/vehicle/add-feature", form)
    hatch = page.head(job).plan.vehicle.features[-1].id
    at = {"feature": hatch, "side": "inside", "x": "2760", "y": "-286"}
    page.post(f"/jobs/{job}/vehicle/feature", {"base": "2", **at})
    for base, leaf, length in (("3", "length_mm", "200"), ("4", "width_mm", "160")):
        set_to = {f"set:vehicle.features.{hatch}.{leaf}": length}
        assert page.post(f"/jobs/{job}/vehicle/set", {"base": base, **set_to}).status_code == 200
    assert "Put it over old hatch" in page.get(f"/jobs/{job}/spot").text
    put = UseOpening(opening=hatch).model_dump_json()
    use = {"base": "5", "command": put}
    assert page.post(f"/jobs/{job}/spot/command", use).status_code == 200
    text = page.get(f"/jobs/{job}/spot").text
    assert "An adapter plate over old hatch" in text
    assert "Plate over the opening&#39;s rim" in text or "Plate over the opening's rim" in text
    wrong = {"base": "6", "set:spot.adapter.length_mm": "3 m"}
    assert page.post(f"/jobs/{job}/spot/set", wrong).status_code == 422
    taken = {"base": "6", "command": UseOpening().model_dump_json()}
    page.post(f"/jobs/{job}/spot/command", taken)
    spot = page.head(job).plan.spot
    assert spot is not None
    assert spot.adapter is None


def test_the_heater_stands_on_a_surveyed_box_or_on_the_floor(page: Page) -> None:
    job = page.new("heron")
    text = page.get(f"/jobs/{job}/spot").text
    assert "stands on" in text
    chosen = page.post(f"/jobs/{job}/spot/set", {"base": "1", "set:spot.stands_on": "bench"})
    assert chosen.status_code == 200
    assert "the height of" in page.get(f"/jobs/{job}/spot").text
    page.post(f"/jobs/{job}/spot/set", {"base": "2", "set:spot.stands_on": ""})
    spot = page.head(job).plan.spot
    assert spot is not None
    assert spot.stands_on is None
