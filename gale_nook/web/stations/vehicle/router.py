"""Vehicle station: its page, and adding and copying what is surveyed."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, TypeVar, cast, get_args

from fastapi.responses import Response
from pydantic import BaseModel, Field, ValidationError

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone, PlanUnreadable
from gale_nook.core.job import Job
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.looked import HowLooked, LookedArea, LookedWhere
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, Solid, TubeSolid
from gale_nook.core.plan.vehicle import Face, Feature, Opening
from gale_nook.core.plan.words import FIELD_WORDS
from gale_nook.core.quantities.length import parse_length_mm
from gale_nook.core.vehicle.commands import (
    AddFeature,
    AddLookedArea,
    AddOpening,
    AddSolid,
    MoveDatum,
    SetFeature,
    SetPoints,
    TakeSurvey,
)
from gale_nook.core.vehicle.copies import mirrored
from gale_nook.core.vehicle.looked import Rect, looked_domain, named_places
from gale_nook.core.vehicle.pencil import DIMENSIONS, part_addresses
from gale_nook.core.vehicle.starts import starting_part
from gale_nook.core.vehicle.station import VEHICLE
from gale_nook.core.vehicle.traced import over_photo
from gale_nook.exchange.survey import read_survey_csv, read_survey_dxf, survey_csv, survey_dxf
from gale_nook.web.context import Db, EditRequest, JobId, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, ShortText, Text, Upload
from gale_nook.web.from_features import from_feature
from gale_nook.web.stations.routing import station_router

router = station_router(VEHICLE)
Model = TypeVar("Model", bound=BaseModel)
COPY_OFFSET_MM = 100.0
FEATURE_KINDS = ("edge", "bolt", "hole", "thread", "grommet", "other")
SHAPES = ("box", "cylinder", "tube", "outline")
DRAWN = ("x_mm", "y_mm", "length_mm", "width_mm")


class AddPartForm(PageForm):
    """What is asked for."""

    kind: Text = ""
    shape: Text = ""
    drawn: Annotated[Text, Field(max_length=120)] = ""
    traced: Annotated[Text, Field(max_length=1500)] = ""


@router.post("/jobs/{job_id}/vehicle/add")
def add_part(
    ask: Annotated[EditRequest[AddPartForm], edit_request(AddPartForm)], job_id: JobId
) -> Response:
    """Add a part of a kind and shape in the middle of the vehicle, chosen and ready
    to be measured.
    """
    plan = ask.db.head(job_id).plan
    kind = ask.book.solid_kinds.get(ask.form.kind)
    shape = ask.form.shape
    if kind is None:
        raise BadInput("kind", ask.form.kind, "Choose what it is from the list.")
    if shape and shape not in SHAPES:
        raise BadInput("shape", shape, f"A part is a {', '.join(SHAPES)}.")
    solid = starting_part(Job(plan, ask.book), kind, shape)
    drawn, traced = ask.form.drawn, ask.form.traced
    if drawn and isinstance(solid, BoxSolid):
        box = over_photo(plan.vehicle, _drawn(solid, drawn))
        return _added(ask, job_id, box, part_addresses(box, DRAWN))
    if traced and isinstance(solid, TubeSolid | OutlineSolid):
        part = over_photo(plan.vehicle, _traced(solid, traced))
        left = part_addresses(part, {"points", "outline"})
        heights = [f"vehicle.solids.{part.id}.points.{i}.2" for i in range(len(_points(part)))]
        return _added(ask, job_id, part, (*left, *heights) if part.shape == "tube" else left)
    return _added(ask, job_id, solid, part_addresses(solid))


def _traced(solid: TubeSolid | OutlineSolid, traced: str) -> TubeSolid | OutlineSolid:
    """Return the tube or outline along the places that were clicked: `x y;x y;…` in mm."""
    try:
        places = [tuple(float(n) for n in place.split()) for place in traced.split(";")]
    except ValueError:
        places = []
    if not places or any(len(place) != 2 for place in places):
        problem = "What was traced could not be read; draw it again."
        raise BadInput("drawing", traced[:60], problem)
    if isinstance(solid, TubeSolid):
        points = [(*place, solid.points[0][2]) for place in places]
        return _made(TubeSolid, {**solid.model_dump(), "points": points})
    return _made(OutlineSolid, {**solid.model_dump(), "outline": places})


def _drawn(solid: BoxSolid, drawn: str) -> BoxSolid:
    """Return the box with the place and size in plan that was drawn: `x y length width` in mm."""
    x, y, length, width = _numbers(drawn)
    drawn_at = {"x_mm": x, "y_mm": y, "length_mm": length, "width_mm": width}
    return _made(BoxSolid, {**solid.model_dump(), **drawn_at})


def _numbers(drawn: str) -> tuple[float, float, float, float]:
    """A drawn rectangle: place, length and width in mm."""
    try:
        x, y, length, width = (float(part) for part in drawn.split())
    except ValueError:
        raise BadInput(
            "drawing", drawn, "The rectangle that was drawn could not be read; draw it again."
        ) from None
    return x, y, length, width


class CopyPartForm(PageForm):
    """What is asked for: add a copy of a part, a little farther back or on the other side."""

    item: Text = ""
    across: bool = False


@router.post("/jobs/{job_id}/vehicle/copy")
def copy_part(
    ask: Annotated[EditRequest[CopyPartForm], edit_request(CopyPartForm)], job_id: JobId
) -> Response:
    """Add a copy of a part, a little farther back; or as it would lie on the vehicle's other side,
    where nobody has measured it yet.
    """
    vehicle = ask.db.head(job_id).plan.vehicle
    wanted = ask.form.item
    solid = next((s for s in vehicle.solids if s.id == wanted), None)
    if solid is None:
        raise Gone("part", wanted)
    if ask.form.across:
        other = mirrored(solid, fresh_id(vehicle.solids, solid.kind))
        return _added(ask, job_id, other, part_addresses(other))
    data = solid.model_dump(mode="json")
    data |= {"id": fresh_id(vehicle.solids, solid.kind), "name": f"{solid.name[:72]}, copy"}
    if isinstance(solid, BoxSolid | CylinderSolid):
        data["x_mm"] = solid.x_mm + COPY_OFFSET_MM
    elif isinstance(solid, TubeSolid):
        data["points"] = [[x + COPY_OFFSET_MM, y, z] for x, y, z in solid.points]
    else:
        data["outline"] = [[x + COPY_OFFSET_MM, y] for x, y in solid.outline]
    copy = type(solid).model_validate(data)
    here = f"vehicle.solids.{solid.id}."
    there = f"vehicle.solids.{copy.id}."
    pencilled = [a for a in vehicle.pencilled if a.startswith(here)]
    moved = part_addresses(copy, set(DIMENSIONS) - {"x_mm", "points", "outline"})
    return _added(ask, job_id, copy, (*(there + a.removeprefix(here) for a in pencilled), *moved))


class EditPointsForm(PageForm):
    """What is asked for."""

    item: Text = ""
    row: Annotated[Text, Field(max_length=4)] = ""
    do: Text = ""


@router.post("/jobs/{job_id}/vehicle/point")
def edit_points(
    ask: Annotated[EditRequest[EditPointsForm], edit_request(EditPointsForm)], job_id: JobId
) -> Response:
    """Put a point into a tube or an outline after one of its points, or take that one out."""
    vehicle, wanted = ask.db.head(job_id).plan.vehicle, ask.form.item
    solid = next((s for s in vehicle.solids if s.id == wanted), None)
    row = ask.form.row
    points = _points(solid)
    if not (row.isascii() and row.isdigit()) or int(row) >= len(points):
        raise BadInput("point", row, "This point is not there any more.")
    at = int(row)
    if ask.form.do == "out":
        del points[at]
    else:
        points.insert(at + 1, _between(points, at, closed=isinstance(solid, OutlineSolid)))
    command = SetPoints.model_validate({"item_id": wanted, "points": points})
    return edited(ask, job_id, "vehicle", command)


def _points(solid: Solid | None) -> list[tuple[float, ...]]:
    if isinstance(solid, TubeSolid):
        return list(solid.points)
    return list(solid.outline) if isinstance(solid, OutlineSolid) else []


def _between(points: list[tuple[float, ...]], at: int, closed: bool) -> tuple[float, ...]:
    """Halfway to the next point; past the end of a tube as far again as its last stretch."""
    here = points[at]
    if at + 1 < len(points) or closed:
        there = points[(at + 1) % len(points)]
        return tuple(round((a + b) / 2, 1) for a, b in zip(here, there, strict=True))
    before = points[at - 1]
    return tuple(round(2 * a - b, 1) for a, b in zip(here, before, strict=True))


@router.get("/jobs/{job_id}/survey.csv", response_class=Response)
def export_csv(db: Db, job_id: JobId) -> Response:
    """Everything surveyed as CSV."""
    text = survey_csv(db.head(job_id).plan.vehicle.solids)
    return _file(text, "text/csv; charset=utf-8", f"gale-nook-{job_id}-survey.csv")


@router.get("/jobs/{job_id}/survey.dxf", response_class=Response)
def export_dxf(db: Db, job_id: JobId) -> Response:
    """Everything surveyed as DXF, in millimetres, a layer for each kind."""
    text = survey_dxf(db.head(job_id).plan.vehicle.solids)
    return _file(text, "image/vnd.dxf", f"gale-nook-{job_id}-survey.dxf")


def _file(text: str, media_type: str, name: str) -> Response:
    return Response(
        text,
        media_type=media_type,
        headers={"content-disposition": f'attachment; filename="{name}"'},
    )


class ImportSurveyForm(PageForm):
    """What is asked for."""

    unit: Annotated[Text, Field(max_length=4)] = ""
    file: Upload = None


@router.post("/jobs/{job_id}/vehicle/survey")
def import_survey(
    ask: Annotated[EditRequest[ImportSurveyForm], edit_request(ImportSurveyForm)], job_id: JobId
) -> Response:
    """Take in a survey; where rows are bad, say which, and offer to take the good ones."""
    upload = ask.form.file
    if upload is None or not upload.filename:
        raise PlanUnreadable("No file was chosen. Choose a survey, CSV or DXF.")
    raw, kinds = upload.file.read(), dict(ask.book.solid_kinds)
    if upload.filename.lower().endswith(".dxf"):
        survey = read_survey_dxf(raw, kinds, ask.form.unit)
    else:
        survey = read_survey_csv(raw, kinds)
    command = TakeSurvey(solids=survey.solids) if survey.solids else None
    if survey.refused or command is None:
        return render(
            "vehicle/refused.html",
            422,
            refused=survey.refused or (("the file", "holds no parts"),),
            good=survey.solids,
            command=command.model_dump_json() if command is not None else "",
            page_url=f"/jobs/{job_id}/vehicle",
        )
    return edited(ask, job_id, "vehicle", command)


class AddFeatureForm(PageForm):
    """What is asked for: add a named feature, to be measured inside and below."""

    name: ShortText = ""
    kind: Annotated[Text, Field(max_length=20)] = ""


@router.post("/jobs/{job_id}/vehicle/add-feature")
def add_feature(
    ask: Annotated[EditRequest[AddFeatureForm], edit_request(AddFeatureForm)], job_id: JobId
) -> Response:
    """Add a named feature, to be measured inside and below."""
    vehicle = ask.db.head(job_id).plan.vehicle
    name = ask.form.name.strip() or f"feature {len(vehicle.features) + 1}"
    kind = ask.form.kind
    if kind not in FEATURE_KINDS:
        raise BadInput("kind", kind, f"A feature is one of: {', '.join(FEATURE_KINDS)}.")
    item = Feature.model_validate(
        {"id": fresh_id(vehicle.features, "feature"), "name": name, "kind": kind}
    )
    return edited(ask, job_id, "vehicle", AddFeature(item=item))


class MeasureFeatureForm(PageForm):
    """What is asked for."""

    side: Annotated[Text, Field(max_length=10)] = ""
    feature: Annotated[Text, Field(max_length=60)] = ""
    x: ShortText = ""
    y: ShortText = ""


@router.post("/jobs/{job_id}/vehicle/feature")
def measure_feature(
    ask: Annotated[EditRequest[MeasureFeatureForm], edit_request(MeasureFeatureForm)], job_id: JobId
) -> Response:
    """Set where a feature was measured on one side; a place with only one of its two lengths is
    waited for.
    """
    side, wanted = ask.form.side, ask.form.feature
    texts = [ask.form.x.strip(), ask.form.y.strip()]
    if side not in {"inside", "below"}:
        raise BadInput("side", side, "A feature is measured inside or below.")
    if bool(texts[0]) != bool(texts[1]):
        return Response(status_code=204)
    names = (f"{side}, behind the datum", f"{side}, right of centre")
    at = None
    if texts[0]:
        at = [
            parse_length_mm(text, ask.system, name) for text, name in zip(texts, names, strict=True)
        ]
    command = _made(SetFeature, {"feature_id": wanted, "side": side, "at": at})
    return edited(ask, job_id, "vehicle", command)


@router.post("/jobs/{job_id}/vehicle/add-opening")
def add_opening(
    ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId
) -> Response:
    """Add a window in the left side."""
    vehicle = ask.db.head(job_id).plan.vehicle
    middle = (vehicle.shell.bulkhead_x_mm + vehicle.shell.rear_x_mm) / 2
    opening = Opening(
        id=fresh_id(vehicle.openings, "window"),
        name="new window",
        kind="window",
        face=Face.LEFT,
        start_mm=middle - 300,
        base_mm=900,
        length_mm=600,
        height_mm=400,
        glazing=next(iter(ask.book.glazings)),
    )
    return edited(ask, job_id, "vehicle", AddOpening(item=opening))


class LookedAreaForm(PageForm):
    """What is asked for: where somebody has looked. Ends and sides are lengths, or named."""

    where: Annotated[Text, Field(max_length=20)] = ""
    how: Annotated[Text, Field(max_length=20)] = ""
    on: Annotated[Text, Field(max_length=20)] = ""
    start: ShortText = ""
    end: ShortText = ""
    left: ShortText = ""
    right: ShortText = ""
    drawn: Annotated[Text, Field(max_length=120)] = ""


@router.post("/jobs/{job_id}/vehicle/looked")
def add_looked_area(
    ask: Annotated[EditRequest[LookedAreaForm], edit_request(LookedAreaForm)], job_id: JobId
) -> Response:
    """Add a looked-at area: drawn, or from one named place of the vehicle to another."""
    job, form = Job(ask.db.head(job_id).plan, ask.book), ask.form
    if form.where not in get_args(LookedWhere):
        raise BadInput("where", form.where, "An area is below, inside or in the engine bay.")
    if form.how not in get_args(HowLooked):
        raise BadInput("how", form.how, "It was seen, measured, from a drawing, or only assumed.")
    domain = looked_domain(job, cast("LookedWhere", form.where))
    if form.drawn:
        x, y, length, width = _numbers(form.drawn)
        rect = (x, y, x + length, y + width)
    else:
        rect = _typed_rect(ask, job, domain)
    names = ("from_x_mm", "left_y_mm", "to_x_mm", "right_y_mm")
    given = {"where": form.where, "how": form.how, "on": form.on}
    new_id = fresh_id(job.plan.vehicle.looked_at, "area")
    area = _made(LookedArea, {"id": new_id, **given, **dict(zip(names, rect, strict=True))})
    return edited(ask, job_id, "vehicle", AddLookedArea(item=area))


def _typed_rect(ask: EditRequest[LookedAreaForm], job: Job, domain: Rect) -> Rect:
    """The area's ends and sides as they were typed; an empty one reaches to the vehicle's own."""
    form, named = ask.form, named_places(job.plan.vehicle.shell)

    def along(text: str, name: str, empty: float) -> float:
        text = text.strip()
        if not text or text.lower() in named:
            return named.get(text.lower(), empty)
        place = from_feature(text, "x_mm", job.plan.vehicle, ask.system, name)
        return place if place is not None else parse_length_mm(text, ask.system, name)

    def across(text: str, name: str, empty: float) -> float:
        return parse_length_mm(text, ask.system, name) if text.strip() else empty

    return (
        along(form.start, "from", domain[0]),
        across(form.left, "left side", domain[1]),
        along(form.end, "to", domain[2]),
        across(form.right, "right side", domain[3]),
    )


class MoveDatumForm(PageForm):
    """What is asked for: another datum, and whether the numbers move along."""

    name: ShortText = ""
    by: ShortText = ""


@router.post("/jobs/{job_id}/vehicle/datum")
def move_datum(
    ask: Annotated[EditRequest[MoveDatumForm], edit_request(MoveDatumForm)], job_id: JobId
) -> Response:
    """Measure from another datum; how far it lies behind the old one has to be said, 0 for the same
    point by another name.
    """
    name = "new datum, behind the old one"
    if not ask.form.by.strip():
        problem = (
            "Type how far the new datum lies behind the old one, so that the numbers can move "
            "along: 0 if it is the same point and only its name changes, minus if it lies ahead."
        )
        raise BadInput(name, "", problem)
    by_mm = parse_length_mm(ask.form.by, ask.system, name)
    command = _made(MoveDatum, {"name": ask.form.name, "by_mm": by_mm})
    return edited(ask, job_id, "vehicle", command)


def _made(model: type[Model], given: dict[str, Any]) -> Model:
    """Return a model of what a form gave; raises BadInput naming the first value that is wrong."""
    try:
        return model.model_validate(given)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(FIELD_WORDS.get(place, place), None, problem) from None


def _added(
    ask: EditRequest[Any], job_id: int, solid: Solid, pencilled: tuple[str, ...] = ()
) -> Response:
    """Save the new part and show it chosen."""
    view = replace(ask.form.view, item=solid.id)
    command = AddSolid(item=solid, pencilled=tuple(dict.fromkeys(pencilled)))
    return edited(ask, job_id, "vehicle", command, view)
