"""Photos of the floor: taken in, set to scale, traced over, copied and exported with the job."""

from __future__ import annotations

import io
import re

import pytest
from PIL import Image

from tests.core.vehicle.test_photo_scale import FIVE, HEIGHT, WIDTH, camera
from tests.exchange.test_photos import jpeg
from tests.web.conftest import Answer, Page


def raw_photo() -> bytes:
    return jpeg(Image.new("RGB", (WIDTH, HEIGHT), "grey"))


def add(page: Page, job: int, raw: bytes, name: str = "floor.jpg") -> Answer:
    base = str(page.head(job).number)
    return page.post(
        f"/jobs/{job}/vehicle/photos",
        {"base": base, "seen": "below"},
        {"file": (name, raw, "image/jpeg")},
    )


def points(page: Page, job: int, count: int = 5, **fields: str) -> Answer:
    """Show and type the first points of the camera of the scale's tests."""
    given = {"base": str(page.head(job).number), "seen": "below"}
    for number, place in enumerate(FIVE[:count], 1):
        u, v = camera(place, 15.0, 30.0, below=True)
        given |= {f"u-{number}": f"{u:.1f}", f"v-{number}": f"{v:.1f}"}
        given |= {f"x-{number}": f"{place[0]} mm", f"y-{number}": f"{place[1]} mm"}
    return page.post(f"/jobs/{job}/vehicle/photos/photo-1", {**given, **fields})


def with_scale(page: Page) -> int:
    job = page.new("heron")
    assert add(page, job, raw_photo()).status_code == 204
    assert points(page, job).status_code == 200
    return job


def test_a_photo_is_taken_in_and_set_to_scale(page: Page) -> None:
    job = page.new("heron")
    answer = add(page, job, raw_photo())
    assert answer.headers["hx-redirect"] == f"/jobs/{job}/vehicle/photos/photo-1"
    assert "0 of 4 points" in page.get(answer.headers["hx-redirect"]).text
    assert "not to scale yet" in page.get(f"/jobs/{job}/vehicle").text
    assert "Nothing tells yet how good" in points(page, job, 4).text
    assert "Point 5 lies <strong>0" in points(page, job).text
    text = page.get(f"/jobs/{job}/vehicle?plan=below").text
    address = re.search(r'href="([^"]*level.webp[^"]*)"', text)
    assert address is not None
    shown = page.get(address[1].replace("&amp;", "&"))
    assert Image.open(io.BytesIO(shown.content)).format == "WEBP"
    assert "immutable" in shown.headers["cache-control"]


def test_parts_traced_over_it_are_known_as_well_as_it_is(page: Page) -> None:
    job = with_scale(page)
    base = str(page.head(job).number)
    given = {"base": base, "kind": "member", "shape": "box", "drawn": "1400 -200 60 400"}
    page.post(f"/jobs/{job}/vehicle/add", given)
    box = page.head(job).plan.vehicle.solids[-1]
    assert 3 < box.uncertainty_mm < 15
    given = {"kind": "brake-pipe", "traced": "1400 -300;1800 -250;2100 -300"}
    page.post(f"/jobs/{job}/vehicle/add", {"base": str(page.head(job).number), **given})
    tube = page.head(job).plan.vehicle.solids[-1]
    assert [point[:2] for point in tube.points] == [(1400, -300), (1800, -250), (2100, -300)]
    assert tube.uncertainty_mm > 0
    pencilled = [a for a in page.head(job).plan.vehicle.pencilled if tube.id in a]
    assert f"vehicle.solids.{tube.id}.points.0.2" in pencilled  # nobody measured its height
    assert f"vehicle.solids.{tube.id}.points.0.0" not in pencilled
    given = {"kind": "panel", "shape": "outline", "traced": "1400 0;1800 0;1800 300"}
    page.post(f"/jobs/{job}/vehicle/add", {"base": str(page.head(job).number), **given})
    assert len(page.head(job).plan.vehicle.solids[-1].outline) == 3
    given = {"kind": "member", "shape": "box", "drawn": "-900 -200 60 400"}
    page.post(f"/jobs/{job}/vehicle/add", {"base": str(page.head(job).number), **given})
    assert page.head(job).plan.vehicle.solids[-1].uncertainty_mm == 0  # not in the photo


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"u-1": "9999"}, "0 to 2400 across"),
        ({"u-1": "left"}, "Click it in the photo"),
        ({"v-1": ""}, "type both numbers"),
        ({"x-1": ""}, "Type both"),
        ({"x-1": "far"}, "far"),
        ({"feature-1": "gone"}, "has not been measured"),
        ({"do": "paper"}, "Choose the size of the sheet"),
        ({"do": "paper", "paper": "a4"}, "Type both"),
    ],
)
def test_points_that_cannot_be_are_refused(page: Page, fields: dict[str, str], said: str) -> None:
    job = page.new("heron")
    add(page, job, raw_photo())
    answer = points(page, job, **fields)
    assert answer.status_code == 422
    assert said in answer.text


def test_points_that_decide_no_scale_are_kept_and_said(page: Page) -> None:
    job = page.new("heron")
    add(page, job, raw_photo())
    text = points(page, job, **{"x-2": "1200 mm", "y-2": "-500 mm"}).text
    assert "No scale." in text
    assert "lie on one line" in text
    assert page.get(f"/jobs/{job}/vehicle").status_code == 200
    assert "the photo was taken from below. Choose that" in points(page, job, seen="inside").text


def test_a_sheet_of_paper_gives_four_points(page: Page) -> None:
    job = page.new("heron")
    add(page, job, raw_photo())
    paper = {"do": "paper", "paper": "a4", "paper_x": "100 behind datum", "paper_y": "-50"}
    points(page, job, paper_turn="across", **paper)
    places = [p.place_mm for p in page.head(job).plan.vehicle.photos[0].points]
    assert places[:4] == [(100, -50), (310, -50), (310, 247), (100, 247)]
    assert places[4] == FIVE[4]


def test_a_surveyed_feature_is_a_point(page: Page) -> None:
    job = page.new("heron")
    add(page, job, raw_photo())
    feature = next(f for f in page.head(job).plan.vehicle.features if f.inside)
    points(page, job, **{"feature-1": feature.id})
    assert page.head(job).plan.vehicle.photos[0].points[0].place_mm == feature.inside


@pytest.mark.parametrize(
    ("raw", "name", "said"),
    [(b"", "", "No file was chosen"), (b"MZ" * 50, "a.jpg", "no picture that can be read")],
)
def test_what_is_no_photo_is_refused(page: Page, raw: bytes, name: str, said: str) -> None:
    job = page.new("heron")
    answer = add(page, job, raw, name)
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).plan.vehicle.photos == ()


def test_it_goes_with_copies_and_exports_of_the_job(page: Page) -> None:
    job = with_scale(page)
    file = page.head(job).plan.vehicle.photos[0].file
    copied = page.post(f"/jobs/{job}/copy").headers["hx-redirect"].split("/")[2]
    assert page.get(f"/jobs/{copied}/pictures/{file}.jpg").status_code == 200
    packed = page.get(f"/jobs/{job}/job.zip").content
    answer = page.post("/jobs/import", files={"file": ("job.zip", packed, "application/zip")})
    other = int(answer.headers["hx-redirect"].split("/")[2])
    again = page.head(other).plan.vehicle.photos[0]
    assert page.get(f"/jobs/{other}/pictures/{again.file}.jpg").status_code == 200
    page.post(f"/jobs/{job}/delete")
    assert page.get(f"/jobs/{job}/pictures/{file}.jpg").status_code == 404


def test_without_its_picture_a_photo_keeps_its_points(page: Page) -> None:
    """A plan that comes without the picture: the page opens, the picture is not there."""
    job = with_scale(page)
    plan = page.get(f"/jobs/{job}/plan.json").content
    answer = page.post("/jobs/import", files={"file": ("plan.json", plan, "application/json")})
    other = answer.headers["hx-redirect"].split("/")[2]
    assert page.get(f"/jobs/{other}/vehicle").status_code == 200
    photo = f"/jobs/{other}/vehicle/photos/photo-1"
    assert "The picture is not here" in page.get(photo).text
    assert page.get(f"{photo}/level.webp").status_code == 404
    assert page.get(f"/jobs/{other}/vehicle/photos/photo-9").status_code == 422


def test_a_job_begun_on_anothers_vehicle_names_none_of_its_pictures(page: Page) -> None:
    job = with_scale(page)
    base, file = page.head(job).number, page.head(job).plan.vehicle.photos[0].file
    page.set(job, "vehicle", base, **{"vehicle.solids.tank.picture": file})
    assert file in page.head(job).plan.vehicle.pictures
    answer = page.post("/jobs", {"name": "begun on it", "start": f"job:{job}"})
    other = int(answer.headers["hx-redirect"].split("/")[2])
    assert page.head(other).plan.vehicle.pictures == ()
