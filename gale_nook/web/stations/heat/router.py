"""Heat station: its page, and adding layers to a build-up."""

from __future__ import annotations

from typing import Annotated

from fastapi.responses import Response
from pydantic import Field

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.heat.commands import AddLayer, SetClimate, SetLayers
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heat.moisture import compare_dampness
from gale_nook.core.heat.savings import savings
from gale_nook.core.heat.season import region_climate
from gale_nook.core.heat.station import HEAT
from gale_nook.core.heat.worked import worked_out
from gale_nook.core.job import with_own_book
from gale_nook.core.plan.climate import Climate
from gale_nook.core.plan.vehicle import Layer
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.exchange.weather import read_weather
from gale_nook.web.context import Book, Db, EditRequest, JobId, Units, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, ShortText, Text, Upload
from gale_nook.web.stations.routing import station_router

NO_SUCH_FACE = "Choose a face of the load space."
router = station_router(HEAT)
NEW_LAYER_MM = 20.0
MONTHS = tuple(str(number) for number in range(1, 13))
SHELL_FACES = ("roof", "left", "right", "rear")


@router.get("/jobs/{job_id}/heat/savings")
def what_matters_most(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """Single changes to the envelope with what each saves, worked out after the page is shown."""
    result = savings(db.head(job_id).plan, book)

    def amount(power_w: float) -> str:
        return format_quantity(power_w, "w", system)

    return render(
        "heat/savings.html",
        found=result,
        amount=amount,
        system=system,
        page_url=f"/jobs/{job_id}/heat",
    )


@router.get("/jobs/{job_id}/heat/worked")
def how_it_was_worked_out(db: Db, book: Book, job_id: JobId) -> Response:
    """The calculation with its own numbers."""
    return render("heat/worked.html", chapters=worked_out(db.head(job_id).plan, book))


@router.get("/jobs/{job_id}/heat/damp")
def flued_or_unflued(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The air inside with the flued heater, and with an unflued one in its place."""
    plan = db.head(job_id).plan

    def amount(value: float, kind: str) -> str:
        return format_quantity(value, kind, system)

    ways = compare_dampness(plan, book)
    humidity = set_value("heat.humidity_percent", round(ways[0].humidity_percent))
    return render(
        "heat/damp.html",
        ways=ways,
        take_humidity=humidity.model_dump(mode="json"),
        amount=amount,
        sleepers=plan.heat.sleepers,
        renewed=heat_loss(plan, book).air.total_m3_h,
        humidity=plan.heat.humidity_percent,
        page_url=f"/jobs/{job_id}/heat",
    )


class TakeInWeatherForm(PageForm):
    """What is asked for: load a weather file, or the weather of a region."""

    region: Text = ""
    file: Upload = None


@router.post("/jobs/{job_id}/heat/weather")
def take_in_weather(
    ask: Annotated[EditRequest[TakeInWeatherForm], edit_request(TakeInWeatherForm)], job_id: JobId
) -> Response:
    """Take in a weather file, or the weather of a region."""
    upload, region = ask.form.file, ask.form.region
    if upload is not None and upload.filename:
        climate: Climate | None = read_weather(upload.file.read(), upload.filename)
    elif region in ask.book.regions:
        climate = region_climate(ask.book.regions[region])
    elif not region:
        climate = None
    else:
        raise BadInput("region", region, "Choose a region from the list.")
    return edited(ask, job_id, "heat", SetClimate(climate=climate))


class ChooseMonthsForm(PageForm):
    """What is asked for: choose the months in which the vehicle is heated."""

    month: Annotated[tuple[ShortText, ...], Field(max_length=24)] = ()


@router.post("/jobs/{job_id}/heat/months")
def choose_months(
    ask: Annotated[EditRequest[ChooseMonthsForm], edit_request(ChooseMonthsForm)], job_id: JobId
) -> Response:
    """Choose the months in which the vehicle is heated."""
    climate = ask.db.head(job_id).plan.heat.climate
    months = [int(month) for month in ask.form.month if month in MONTHS]
    if climate is None or not months:
        raise BadInput(
            "months", None, "Choose at least one month, after a region or a weather file."
        )
    chosen = Climate.model_validate({**climate.model_dump(), "months": months})
    return edited(ask, job_id, "heat", SetClimate(climate=chosen))


class PutInPresetForm(PageForm):
    """What is asked for."""

    face: Text = ""
    preset: Text = ""


@router.post("/jobs/{job_id}/heat/preset")
def put_in_preset(
    ask: Annotated[EditRequest[PutInPresetForm], edit_request(PutInPresetForm)], job_id: JobId
) -> Response:
    """Put a usual build-up into one face, or into roof, sides and rear at once."""
    face, preset = ask.form.face, ask.book.build_ups.get(ask.form.preset)
    if preset is None:
        raise BadInput("build-up", ask.form.preset, "Choose a build-up from the list.")
    faces = SHELL_FACES if face == "shell" else (face,)
    if not set(faces) <= {*SHELL_FACES, "bulkhead", "curtain", "arches", "pop-top", "canvas"}:
        raise BadInput("face", face, NO_SUCH_FACE)
    layers = [
        {"id": f"l{n}", "material": m, "thickness_mm": mm}
        for n, (m, mm) in enumerate(preset.layers, 1)
    ]
    return edited(ask, job_id, "heat", SetLayers.model_validate({"faces": faces, "layers": layers}))


class AddLayerForm(PageForm):
    """What is asked for: add a layer to a face's build-up, inside its outer skin."""

    face: Text = ""
    material: Text = ""


@router.post("/jobs/{job_id}/heat/add-layer")
def add_layer(
    ask: Annotated[EditRequest[AddLayerForm], edit_request(AddLayerForm)], job_id: JobId
) -> Response:
    """Add a layer to a face's build-up, inside its outer skin."""
    plan = ask.db.head(job_id).plan
    face, material = ask.form.face, ask.form.material
    known: dict[str, tuple[str, tuple[Layer, ...]]] = {
        surface.id: (f"heat.surfaces.{surface.id}.layers", surface.layers)
        for surface in plan.heat.surfaces
    }
    known["floor"] = ("vehicle.floor.layers", plan.vehicle.floor.layers)
    collection, layers = known.get(face, ("", ()))
    if not collection:
        raise BadInput("face", face, NO_SUCH_FACE)
    if material not in with_own_book(plan, ask.book).materials:
        raise BadInput("material", material, "Choose a material from the list.")
    layer = Layer(id=fresh_id(layers, "l"), material=material, thickness_mm=NEW_LAYER_MM)
    # the last layer is the skin; a new one goes inside it
    after = layers[-2].id if len(layers) > 1 else None
    command = AddLayer(collection=collection, item=layer, first=len(layers) == 1, after=after)
    return edited(ask, job_id, "heat", command)
