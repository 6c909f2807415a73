"""Photos as they come in and are kept, and jobs that carry theirs."""

from __future__ import annotations

import io
import math
import zipfile

import numpy as np
import pytest
from PIL import Image

from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.plan.document import Plan, write_plan
from gale_nook.core.plan.photo import Photo
from gale_nook.core.vehicle.photo_scale import PhotoScale, photo_scale
from gale_nook.exchange import photos
from gale_nook.exchange.job_file import job_file, read_job_file
from gale_nook.exchange.photos import kept_picture, level_area, level_picture
from tests.core.vehicle.test_photo_scale import FIVE, HEIGHT, WIDTH, camera, photo

SPOT_MM = (1850.0, -220.0)


def jpeg(picture: Image.Image, **how: object) -> bytes:
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=92, **how)
    return out.getvalue()


def with_spot() -> bytes:
    """A photo of the camera of the scale's tests: grey, with a white spot at one place."""
    picture = np.full((HEIGHT, WIDTH, 3), 90, dtype=np.uint8)
    u, v = camera(SPOT_MM, 15.0, 30.0, below=True)
    rows, columns = np.indices((HEIGHT, WIDTH))
    picture[np.hypot(columns - u, rows - v) < 14] = 255
    return jpeg(Image.fromarray(picture))


def scaled(taken: Photo) -> PhotoScale:
    scale = photo_scale(taken)
    assert scale is not None
    return scale


@pytest.mark.parametrize("below", [True, False])
def test_what_the_photo_shows_lies_where_it_is(below: bool) -> None:
    """A spot of known place is found again in the picture to scale, in either view of the plan."""
    taken = photo()
    scale = scaled(taken)
    area = level_area(scale, taken)
    shown = Image.open(io.BytesIO(level_picture(with_spot(), scale, area, below=below)))
    grey = np.asarray(shown.convert("L")).astype(float)
    rows, columns = np.nonzero(grey > 200)
    x = area.low_x_mm + columns.mean() / shown.width * (area.high_x_mm - area.low_x_mm)
    down = rows.mean() / shown.height * (area.high_y_mm - area.low_y_mm)
    y = area.low_y_mm + down if below else area.high_y_mm - down
    assert math.dist((x, y), SPOT_MM) < 3.0
    assert shown.width * shown.height <= photos.LEVEL_PX * 1.01
    assert all(area.holds(*place) for place in FIVE)


def test_nothing_is_shown_beyond_the_horizon() -> None:
    """A camera that leans far sees its horizon: behind it no pixel stands for a place."""
    places = ((1500.0, -300.0), (1900.0, -300.0), (1900.0, 300.0), (1500.0, 300.0))
    taken = photo(places, lean=62.0, roll=0.0)
    scale = scaled(taken)
    area = level_area(scale, taken)
    shown = Image.open(io.BytesIO(level_picture(with_spot(), scale, area, below=True)))
    assert shown.mode == "RGBA"
    assert np.isfinite(area.corners).all()


def test_what_the_camera_wrote_is_gone() -> None:
    exif = Image.Exif()
    exif[0x010F] = "Made-up camera"
    exif.get_ifd(0x8825)[1] = "N"
    raw = jpeg(Image.new("RGB", (300, 200), "grey"), exif=exif, comment=b"taken at home")
    assert b"Made-up" in raw
    kept = kept_picture(raw)
    assert b"Made-up" not in kept.data
    assert b"taken at home" not in kept.data
    assert not Image.open(io.BytesIO(kept.data)).getexif()


def test_it_is_turned_upright_and_bounded() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6  # a quarter turn
    kept = kept_picture(jpeg(Image.new("RGB", (4800, 3000), "grey"), exif=exif))
    assert (kept.width_px, kept.height_px) == (1500, 2400)
    assert kept_picture(kept.data).width_px == 1500


@pytest.mark.parametrize("form", ["PNG", "WEBP"])
def test_see_through_pictures_are_laid_on_white(form: str) -> None:
    out = io.BytesIO()
    Image.new("RGBA", (100, 100), (0, 0, 0, 0)).save(out, form)
    shown = Image.open(io.BytesIO(kept_picture(out.getvalue()).data))
    assert shown.getpixel((50, 50)) == (255, 255, 255)


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "no picture that can be read"),
        (b"GIF89a" + b"\0" * 200, "no picture that can be read"),
        (jpeg(Image.new("RGB", (200, 200)))[:400], "no picture that can be read"),
        (jpeg(Image.new("RGB", (20, 20))), "too small"),
        (b"\xff" * (photos.MOST_BYTES + 1), "up to 16 MB"),
    ],
)
def test_what_is_no_photo_is_refused(raw: bytes, said: str) -> None:
    with pytest.raises(BadInput, match=said):
        kept_picture(raw)


def test_a_picture_that_unpacks_to_too_much_is_refused_before_it_is(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(photos, "MOST_DECODED_PX", 10_000)
    with pytest.raises(BadInput, match="megapixels"):
        kept_picture(jpeg(Image.new("RGB", (200, 100))))


def with_photo(plan: Plan) -> tuple[Plan, bytes]:
    kept = kept_picture(with_spot())
    taken = photo().model_copy(update={"file": kept.file})
    vehicle = plan.vehicle.model_copy(update={"photos": (taken,)})
    return plan.model_copy(update={"vehicle": vehicle}), kept.data


def test_a_job_keeps_its_photos_in_a_file(heron: Plan) -> None:
    plan, data = with_photo(heron)
    raw = job_file(plan, {plan.vehicle.photos[0].file: data})
    read, pictures = read_job_file(raw)
    assert set(pictures) == {read.vehicle.photos[0].file}
    assert read.vehicle.photos[0].points == plan.vehicle.photos[0].points
    without = {"vehicle": read.vehicle.model_copy(update={"photos": ()})}
    assert read.model_copy(update=without) == heron
    assert read_job_file(write_plan(heron).encode()) == (heron, {})


def archive(**entries: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in entries.items():
            made.writestr(name, data)
    return out.getvalue()


def damaged() -> bytes:
    """An archive whose plan cannot be unpacked any more."""
    raw = bytearray(archive(**{"plan.json": bytes(range(256)) * 40}))
    start = raw.index(b"plan.json") + len("plan.json")
    raw[start : start + 30] = b"\xff" * 30
    return bytes(raw)


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (archive(other=b"x"), "no job that was exported"),
        (archive(**{f"e{n}": b"x" for n in range(130)}), "no job that was exported"),
        (archive(**{"plan.json": b" " * 40_000_000}), "larger than"),
        (archive(**{"plan.json": b"{}"})[:60], "cannot be read"),
        (damaged(), "cannot be read"),
        (b"PK\x03\x04" + b"\0" * 40, "cannot be read"),
    ],
    ids=["no plan", "many files", "large", "cut off", "damaged", "empty"],  # bytes hold the time
)
def test_a_file_that_is_no_job_is_refused(raw: bytes, said: str) -> None:
    with pytest.raises(PlanUnreadable, match=said):
        read_job_file(raw)


def test_a_picture_of_another_size_is_refused(heron: Plan) -> None:
    plan, _ = with_photo(heron)
    name = f"pictures/{plan.vehicle.photos[0].file}.jpg"
    other = jpeg(Image.new("RGB", (300, 200)))
    raw = archive(**{"plan.json": write_plan(plan).encode(), name: other})
    with pytest.raises(BadInput, match="another size"):
        read_job_file(raw)
