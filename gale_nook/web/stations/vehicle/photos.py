"""Photos of the floor: taken in, their known points shown, and laid to scale under the plan."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Path, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, ConfigDict, Field

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.plan.photo import Photo, PhotoPoint
from gale_nook.core.plan.vehicle import Feature, Vehicle
from gale_nook.core.quantities.length import parse_length_mm
from gale_nook.core.vehicle.commands import AddPhoto, SetPhotoPoints
from gale_nook.core.vehicle.photo_scale import NEEDED, PhotoScale, photo_scale
from gale_nook.exchange.photos import kept_picture, level_area, level_picture
from gale_nook.web.context import EditRequest, JobId, Read, is_fragment, page_for, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.forms import PageForm, ShortText, Upload, extra_text
from gale_nook.web.from_features import from_feature
from gale_nook.web.view_state import ViewState

router = APIRouter(default_response_class=HTMLResponse)
ROWS = 6
PAPERS_MM = {
    "a4": ("A4 sheet", 297.0, 210.0),
    "a3": ("A3 sheet", 420.0, 297.0),
    "letter": ("Letter sheet", 279.4, 215.9),
}
SEEN_FROM = (
    ("below", "from below, lying under the vehicle"),
    ("inside", "from inside, looking down"),
)
FOREVER = {"cache-control": "private, max-age=31536000, immutable"}
PhotoId = Annotated[str, Path(pattern=r"^[a-z][a-z0-9-]{0,39}$")]


def _photo(vehicle: Vehicle, photo_id: str) -> Photo:
    photo = next((p for p in vehicle.photos if p.id == photo_id), None)
    if photo is None:
        raise BadInput("photo", photo_id, "This photo is not there any more.")
    return photo


class AddPhotoForm(PageForm):
    """What is asked for: a photo, and from where it was taken."""

    seen: Literal["below", "inside"] = "below"
    name: ShortText = ""
    file: Upload = None


@router.post("/jobs/{job_id}/vehicle/photos")
def add_photo(
    ask: Annotated[EditRequest[AddPhotoForm], edit_request(AddPhotoForm)], job_id: JobId
) -> Response:
    """Take in a photo of the floor, and go to its points."""
    upload = ask.form.file
    if upload is None or not upload.filename:
        raise PlanUnreadable("No file was chosen. Choose a photo of the floor.")
    kept = kept_picture(upload.file.read())
    photos = ask.db.head(job_id).plan.vehicle.photos
    photo = Photo(
        id=fresh_id(photos, "photo"),
        name=ask.form.name.strip() or f"photo {len(photos) + 1}",
        seen=ask.form.seen,
        file=kept.file,
        width_px=kept.width_px,
        height_px=kept.height_px,
        points=tuple(PhotoPoint(id=f"p{number}") for number in range(1, ROWS)),
    )
    ask.db.keep_pictures(job_id, {kept.file: kept.data})
    ask.db.save(job_id, ask.form.revision, AddPhoto(item=photo), ask.book)
    where = f"/jobs/{job_id}/vehicle/photos/{photo.id}"
    return Response(status_code=204, headers={"hx-redirect": where})


@dataclass(frozen=True, slots=True)
class Marking:
    """A photo with its points, as its page shows it.

    Attributes:
        problem: why the points decide no scale; empty where they do, or are too few.
        errors: (number, words) of the points that tell how good the scale is.
    """

    photo: Photo
    scale: PhotoScale | None
    problem: str
    errors: tuple[tuple[int, float], ...]
    worst_mm: float

    @classmethod
    def of(cls, photo: Photo) -> Marking:
        try:
            scale = photo_scale(photo)
        except BadInput as error:
            return cls(photo, None, error.problem, (), 0.0)
        if scale is None:
            return cls(photo, None, "", (), 0.0)
        known = [n for n, p in enumerate(photo.points, 1) if p.at_px and p.place_mm]
        errors = tuple(zip(known[NEEDED:], scale.residuals_mm, strict=True))
        return cls(photo, scale, "", errors, max(map(scale.error_mm, scale.places)))

    @property
    def known(self) -> int:
        """How many points are shown and measured."""
        return sum(p.at_px is not None and p.place_mm is not None for p in self.photo.points)


@router.get("/jobs/{job_id}/vehicle/photos/{photo_id}")
def show_photo(read: Read, job_id: JobId, photo_id: PhotoId) -> Response:
    """Show a photo with its points."""
    return _shown(read, job_id, photo_id)


def _shown(read: Any, job_id: int, photo_id: str) -> Response:
    page = page_for(read, read.db.head(job_id), "vehicle", ViewState())
    photo = _photo(page.plan.vehicle, photo_id)
    template = "photo_main" if is_fragment(read.request) else "photo"
    return render(
        f"vehicle/{template}.html",
        page=page,
        marking=Marking.of(photo),
        papers=PAPERS_MM,
        seen_from=SEEN_FROM,
        is_kept=read.db.picture(job_id, photo.file) is not None,
    )


class PhotoForm(PageForm):
    """The points of a photo: of the nth the fields `u-n`, `v-n`, `feature-n`, `x-n` and `y-n`; or
    the size and place of a sheet of paper whose corners are the first four.
    """

    model_config = ConfigDict(frozen=True, extra="allow")

    seen: Literal["below", "inside"] = "below"
    do: ShortText = ""
    paper: ShortText = ""
    paper_x: ShortText = ""
    paper_y: ShortText = ""
    paper_turn: Literal["along", "across"] = "along"


@router.post("/jobs/{job_id}/vehicle/photos/{photo_id}")
def set_points(
    ask: Annotated[EditRequest[PhotoForm], edit_request(PhotoForm)],
    job_id: JobId,
    photo_id: PhotoId,
) -> Response:
    """Keep the points of a photo."""
    vehicle = ask.db.head(job_id).plan.vehicle
    photo = _photo(vehicle, photo_id)
    corners = _sheet_corners(ask, vehicle) if ask.form.do == "paper" else ()
    points = tuple(
        PhotoPoint(
            id=f"p{number}",
            at_px=_pixel(ask.form, number, photo),
            place_mm=corners[number - 1]
            if number <= len(corners)
            else _place(ask, vehicle, number),
        )
        for number in range(1, ROWS + 1)
    )
    command = SetPhotoPoints(photo=photo_id, seen=ask.form.seen, points=points)
    ask.db.save(job_id, ask.form.revision, command, ask.book)
    return _shown(ask, job_id, photo_id)


def _pixel(form: PhotoForm, number: int, photo: Photo) -> tuple[float, float] | None:
    texts = [extra_text(form, f"{name}-{number}", 20).strip() for name in "uv"]
    if not any(texts):
        return None
    try:
        u, v = (float(text.replace(",", ".")) for text in texts)
    except ValueError:
        u = v = -1.0
    if not (0 <= u <= photo.width_px and 0 <= v <= photo.height_px):
        problem = (
            f"In the photo a point lies 0 to {photo.width_px} across and 0 to "
            f"{photo.height_px} down. Click it in the photo, or type both numbers."
        )
        raise BadInput(f"point {number}", " ".join(texts), problem)
    return (u, v)


def _place(
    ask: EditRequest[PhotoForm], vehicle: Vehicle, number: int
) -> tuple[float, float] | None:
    """Where a point is on the vehicle: at a surveyed feature, or as typed."""
    wanted = extra_text(ask.form, f"feature-{number}", 60)
    if wanted:
        feature = next((f for f in vehicle.features if f.id == wanted), None)
        place = _feature_place(vehicle, feature) if feature is not None else None
        if place is None:
            problem = "This feature has not been measured. Choose another, or type its place."
            raise BadInput(f"point {number}", wanted, problem)
        return place
    texts = [extra_text(ask.form, f"{name}-{number}", 80).strip() for name in "xy"]
    if not any(texts):
        return None
    return _typed_place(ask, vehicle, (texts[0], texts[1]), f"point {number}")


def _typed_place(
    ask: EditRequest[PhotoForm], vehicle: Vehicle, texts: tuple[str, str], what: str
) -> tuple[float, float]:
    ways = (("x_mm", "behind the datum"), ("y_mm", "right of centre"))
    results = []
    for text, (leaf, words) in zip(texts, ways, strict=True):
        name = f"{what}, {words}"
        if not text:
            raise BadInput(name, "", "Type both: how far behind the datum and right of centre.")
        place = from_feature(text, leaf, vehicle, ask.system, name)
        results.append(place if place is not None else parse_length_mm(text, ask.system, name))
    return (results[0], results[1])


def _feature_place(vehicle: Vehicle, feature: Feature) -> tuple[float, float] | None:
    if feature.inside is not None:
        return feature.inside
    if feature.below is None:
        return None
    x, y = feature.below
    return (x, -y if vehicle.below_mirrored else y)


def _sheet_corners(
    ask: EditRequest[PhotoForm], vehicle: Vehicle
) -> tuple[tuple[float, float], ...]:
    """The corners of a sheet of paper that lies square to the vehicle: front left, rear left, rear
    right, front right.
    """
    paper = PAPERS_MM.get(ask.form.paper)
    if paper is None:
        raise BadInput("sheet of paper", ask.form.paper, "Choose the size of the sheet.")
    x, y = _typed_place(
        ask, vehicle, (ask.form.paper_x, ask.form.paper_y), "front left corner of the sheet"
    )
    along, across = paper[1:] if ask.form.paper_turn == "along" else (paper[2], paper[1])
    return ((x, y), (x + along, y), (x + along, y + across), (x, y + across))


class Level(BaseModel):
    """How a photo to scale is wanted: as the plan shows it; `of` tells one state from another."""

    plan: Literal["above", "below"] = "above"
    of: Annotated[str, Field(max_length=64)] = ""


@router.get("/jobs/{job_id}/vehicle/photos/{photo_id}/level.webp", response_class=Response)
def level(
    read: Read, job_id: JobId, photo_id: PhotoId, asked: Annotated[Level, Query()]
) -> Response:
    """A photo to scale."""
    photo = _photo(read.db.head(job_id).plan.vehicle, photo_id)
    scale, data = photo_scale(photo), read.db.picture(job_id, photo.file)
    if scale is None or data is None:
        return Response(status_code=404)
    area = level_area(scale, photo)
    shown = level_picture(data, scale, area, below=asked.plan == "below")
    return Response(shown, media_type="image/webp", headers=FOREVER if asked.of else None)


@router.get("/jobs/{job_id}/pictures/{file}.jpg", response_class=Response)
def kept(
    read: Read, job_id: JobId, file: Annotated[str, Path(pattern=r"^[0-9a-f]{64}$")]
) -> Response:
    """A picture as it is kept."""
    data = read.db.picture(job_id, file)
    if data is None:
        return Response(status_code=404)
    return Response(data, media_type="image/jpeg", headers=FOREVER)
