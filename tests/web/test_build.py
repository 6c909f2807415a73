"""Build station: cards ticked, values as built, cuts, stock, days."""

from __future__ import annotations

import io

import pytest
from PIL import Image
from pypdf import PdfReader

from gale_nook.exchange.job_file import read_job_file
from tests.exchange.test_photos import jpeg
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_the_job_in_hand_is_shown_as_cards(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/build").text
    assert text.count('class="work-card"') == 16
    assert "10 of 26" in text
    assert "planned 840 mm" in text
    fresh = page.get(f"/jobs/{page.new('coot')}/build").text
    assert "Ends: overnight the sealant under the flange has cured." in fresh
    assert "To buy before day one" in text


def test_an_empty_job_has_no_cards(page: Page) -> None:
    assert "There is no order of work yet" in page.get(f"/jobs/{page.new('blank')}/build").text


def test_a_card_is_ticked_with_a_note_and_taken_back(page: Page) -> None:
    job = page.new("heron")
    form = {"base": "1", "card": "lay-line", "done": "yes", "note": "on the ramp"}
    text = page.post(f"/jobs/{job}/build/tick", form).text
    assert "11 of 26" in text
    assert "on the ramp" in text
    form = {"base": "2", "card": "lay-line", "done": "no"}
    assert "10 of 26" in page.post(f"/jobs/{job}/build/tick", form).text
    gone = page.post(f"/jobs/{job}/build/tick", {"base": "3", "card": "dance", "done": "yes"})
    assert gone.status_code in {404, 422}


def test_a_hole_as_built_moves_the_plan_and_tells_what_it_changed(page: Page) -> None:
    job = page.new("heron")
    text = page.post(f"/jobs/{job}/build/built", {"base": "1", "set:spot.x_mm": "2.772 m"}).text
    assert "As built" in text
    assert "planned 2760 mm" in text
    assert page.head(job).plan.spot.x_mm == 2772
    effect = page.get(f"/jobs/{job}/build/effect").text
    assert "as planned" in effect
    assert "as built" in effect


def test_cut_lengths_are_judged(page: Page) -> None:
    job = page.new("heron")
    form = {"base": "1", "piece": "exhaust-1", "length": "1.2 m"}
    assert "Length that was cut: exhaust pipe" in page.post(f"/jobs/{job}/build/cut", form).text
    form = {"base": "2", "piece": "exhaust-1", "length": ""}
    assert page.post(f"/jobs/{job}/build/cut", form).status_code == 200
    assert [piece.id for piece in page.head(job).plan.build.cut] == ["intake"]


@pytest.mark.parametrize(
    ("form", "fields", "said"),
    [
        ("cut", {"piece": "exhaust-1", "length": "long"}, "not a"),
        ("cut", {"piece": "exhaust-1", "length": "-5"}, "more than 0"),
        ("built", {"set:spot.x_mm": "there"}, "not a"),
        ("built", {"set:spot.mount": "turret"}, "as a number"),
        ("stock", {}, "Choose a CSV file"),
    ],
)
def test_bad_input_is_refused_in_plain_words(
    page: Page, form: str, fields: dict[str, str], said: str
) -> None:
    job = page.new("heron")
    answer = page.post(f"/jobs/{job}/build/{form}", {"base": "1", **fields})
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).number == 1


def test_stock_days_and_drawings(page: Page) -> None:
    job = page.new("heron")
    raw = b"part,have,price\npipe-clip,2,1.50\nexhaust-clamp,0,2\n"
    text = page.post(f"/jobs/{job}/build/stock", {"base": "1"}, files={"file": ("s.csv", raw)}).text
    assert "without a price" in text
    assert page.get(f"/jobs/{job}/build/shopping.csv").text.startswith("part,label,shop")
    assert page.get(f"/jobs/{page.new('coot')}/build/days.ics").status_code == 422
    page.set(job, "build", 2, build__begins_on="2026-12-01")
    assert "BEGIN:VCALENDAR" in page.get(f"/jobs/{job}/build/days.ics").text
    assert "<svg" in page.get(f"/jobs/{job}/build/cards/cut-holes/drawing").text
    assert page.get(f"/jobs/{job}/build/cards/dance/drawing").status_code in {404, 422}


def test_a_photo_is_kept_with_its_card_and_goes_along_with_the_job(page: Page) -> None:
    job = page.new("heron")
    exif = Image.Exif()
    exif[0x010F] = "a camera that talks"
    raw = jpeg(Image.new("RGB", (3000, 1500), "grey"), exif=exif)
    form = {"base": "1", "card": "lay-line"}
    text = page.post(f"/jobs/{job}/build/photo", form, {"file": ("a.jpg", raw)}).text
    assert "Photo 1 of: Lay the fuel line" in text
    photo = page.head(job).plan.build.photos[0].id
    kept = page.get(f"/jobs/{job}/build/photos/{photo}.jpg")
    picture = Image.open(io.BytesIO(kept.content))
    assert picture.width == 2400
    assert not picture.getexif()
    assert b"talks" not in kept.content
    exported = page.get(f"/jobs/{job}/job.zip").content
    plan, pictures = read_job_file(exported)
    assert set(pictures) == {photo.file for photo in plan.build.photos}
    again = page.post(f"/jobs/{job}/copy", {"name": "Another"})
    other = int(again.headers["hx-redirect"].split("/")[2])
    assert page.get(f"/jobs/{other}/build/photos/{photo}.jpg").status_code == 200
    gone = {"op": "remove", "collection": "build.photos", "item_id": photo}
    assert "Photo 1 of" not in page.command(job, "build", 2, gone).text
    assert page.get(f"/jobs/{job}/build/photos/{photo}.jpg").status_code in {404, 422}


@pytest.mark.parametrize(
    ("card", "raw", "said"),
    [
        ("dance", b"x", "not there any more"),
        ("lay-line", b"no picture", "no picture that can be read"),
        ("lay-line", None, "No photo was chosen"),
    ],
)
def test_what_is_no_photo_is_refused(page: Page, card: str, raw: bytes | None, said: str) -> None:
    job = page.new("heron")
    files = {"file": ("a.jpg", raw)} if raw is not None else None
    answer = page.post(f"/jobs/{job}/build/photo", {"base": "1", "card": card}, files)
    assert answer.status_code in {404, 422}
    assert said in answer.text
    assert page.head(job).number == 1


def test_a_print_says_what_has_changed_since_the_last(page: Page) -> None:
    job = page.new("heron")

    def printed() -> str:
        read = PdfReader(io.BytesIO(page.get(f"/jobs/{job}/build.pdf").content))
        return " ".join(" ".join(each.extract_text() for each in read.pages).split())

    assert "was printed" not in printed()
    assert page.get(f"/jobs/{job}/build/since").text.strip() == ""
    page.set(job, "spot", 1, spot__x_mm="2770 mm")
    on_page = page.get(f"/jobs/{job}/build/since").text
    assert "Changed since edit 1 was printed" in on_page
    text = printed()
    assert text.count("Changed since edit 1 was printed") == 2  # along, and behind
    assert "Turret hole: 2770 mm" in text
    assert "Changed since edit 1 was printed" in printed()  # printed again it says the same
    page.set(job, "build", 2, note="a note")
    assert "Nothing of the work" in page.get(f"/jobs/{job}/build/since").text
