"""The card for someone lying under the vehicle, and what it gives back."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from markupsafe import Markup
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from gale_nook.core.base.models import CoordinateMm
from gale_nook.core.build.drill import drill_sheet
from gale_nook.core.build.drill_sheet import Offset
from gale_nook.core.checking import Check
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan, places_of
from gale_nook.core.plan.spot import Pilot
from gale_nook.core.plan.vehicle import BoxSolid, CylinderSolid
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.length import UnitSystem, parse_length_mm
from gale_nook.core.quantities.measures import format_quantity, write_quantity
from gale_nook.core.spot.commands import TakeBelow
from gale_nook.core.spot.placement import floor_holes
from gale_nook.core.spot.transfer import mark_below_mm, next_drilled_mm
from gale_nook.core.vehicle.heights import WORDS as HEIGHT_WORDS
from gale_nook.core.vehicle.heights import as_measured_mm, measured_from, over_floor_mm
from gale_nook.core.vehicle.parts import surveyed_where
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import PAPER_WIDTH, BoardView, Frame, board_mapping, whole_frame
from gale_nook.drawing.svg import styles, svg
from gale_nook.exchange.sheet import TEMPLATES

MAX_LINE = 20_000
MEASURED = ("x_mm", "y_mm", "z_mm", "length_mm", "width_mm", "height_mm", "diameter_mm")
_environment = Environment(
    loader=FileSystemLoader(TEMPLATES),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)
CARD_ZOOM = 4.0  # of the drawing, against the whole vehicle
CARD_WIDTH = 400.0  # of the drawing, in paper units: a phone shows it without shrinking


@dataclass(frozen=True, slots=True)
class CardOffset:
    """A named feature and how far the middle lies from it, as texts."""

    name: str
    tape: str
    ways: str


@dataclass(frozen=True, slots=True)
class CardHole:
    """A hole of the mount: where its pilot is to be drilled inside, and the mark below that its
    miss is measured from (mm).
    """

    name: str
    drilled: tuple[float, float]
    mark: tuple[float, float]


@dataclass(frozen=True, slots=True)
class CardFeature:
    """A feature to be measured from below, and what was measured before."""

    id: str
    name: str
    known: str


@dataclass(frozen=True, slots=True)
class CardPart:
    """A part below the floor to be measured: (field, label, what is known) of each
    of its lengths.
    """

    id: str
    name: str
    fields: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class CreeperCard:
    """Everything that the card shows."""

    job_id: int
    revision: int
    job: str
    units: str
    heights: str
    mount: str
    offsets: tuple[CardOffset, ...]
    doubt: str
    holes: tuple[CardHole, ...]
    features: tuple[CardFeature, ...]
    parts: tuple[CardPart, ...]
    across: str
    drawing: Markup
    drawing_styles: Markup


def creeper_card_of(done: Check, job_id: int, revision: int, system: UnitSystem) -> CreeperCard:
    """Return the card of a checked plan."""
    job = done.job
    plan, sheet = job.plan, drill_sheet(job)
    mirrored = plan.vehicle.below_mirrored
    frame = None
    if plan.spot is not None:
        whole = whole_frame(plan.vehicle.shell)
        width, place = whole.width_mm / CARD_ZOOM, plan.spot
        frame = Frame(place.x_mm, place.y_mm, 0.0, width, whole.plan_px)
    view = BoardView(below=True, side="left", frame=frame)
    m = board_mapping(plan.vehicle.shell, view)
    part = (
        ((PAPER_WIDTH / 2 - CARD_WIDTH / 2, 0.0), (CARD_WIDTH, m.plan_height))
        if plan.spot is not None
        else None
    )
    drawn = svg(
        board(done, BoardOptions(view, "spot", "", system, editable=False, tag="card-")), part=part
    )
    below = sheet.faces[1].offsets if sheet is not None and sheet.faces[1].face == "below" else ()
    return CreeperCard(
        job_id=job_id,
        revision=revision,
        job=plan.name,
        units="in" if system is UnitSystem.IMPERIAL else "mm",
        heights=plan.settings.heights_below,
        mount=sheet.mount if sheet is not None else "",
        offsets=tuple(_offset(offset, system) for offset in below),
        doubt=f"Known to ±{sheet.transfer_mm:.0f} mm (95 %)."
        if sheet is not None and sheet.transfer_mm is not None
        else "",
        holes=card_holes(job),
        features=tuple(
            CardFeature(f.id, f.name, _known(f.below, system)) for f in plan.vehicle.features
        ),
        parts=tuple(
            _part(job, solid, system)
            for solid, _, _ in surveyed_where(job, "below")
            if isinstance(solid, BoxSolid | CylinderSolid)
        ),
        across="right as you see it" if mirrored else "vehicle's right of centre",
        drawing=Markup(drawn),
        drawing_styles=Markup(styles()),
    )


def card_holes(job: Job) -> tuple[CardHole, ...]:
    """Return the holes of the mount, as a card tells of them."""
    return tuple(
        CardHole(hole.name, next_drilled_mm(job, hole), mark_below_mm(job, hole))
        for hole in floor_holes(job)
    )


def _offset(offset: Offset, system: UnitSystem) -> CardOffset:
    def length(value: float) -> str:
        return format_quantity(round(value), "mm", system)

    ways = []
    if round(offset.along_mm):
        ways.append(
            f"{length(abs(offset.along_mm))} to the {'rear' if offset.along_mm > 0 else 'front'}"
        )
    if round(offset.across_mm):
        ways.append(
            f"{length(abs(offset.across_mm))} to the vehicle's "
            f"{'right' if offset.across_mm > 0 else 'left'}"
        )
    return CardOffset(offset.name, length(offset.tape_mm), ", ".join(ways) or "on it")


def _part(job: Job, solid: BoxSolid | CylinderSolid, system: UnitSystem) -> CardPart:
    data, fields = solid.model_dump(), []
    for leaf in MEASURED:
        if leaf in data:
            address = f"vehicle.solids.{solid.id}.{leaf}"
            origin = measured_from(job, address)
            words = HEIGHT_WORDS[origin] if origin != "floor" else field_words(leaf)
            shown = as_measured_mm(job, address, data[leaf])
            fields.append((leaf, words, write_quantity(shown, "mm", system)))
    return CardPart(solid.id, solid.name, tuple(fields))


def _known(at: tuple[float, float] | None, system: UnitSystem) -> str:
    return "" if at is None else ", ".join(format_quantity(value, "mm", system) for value in at)


def card_page(card: CreeperCard, style: str = "", script: str = "") -> str:
    """Return the card as a page; with style and script it is one file that needs no server."""
    return _environment.get_template("card.html").render(
        card=card, alone=bool(script), style=Markup(style), script=Markup(script)
    )


# --- what comes back ---


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


Typed = Annotated[str, Field(max_length=80)]


class _TypedPilot(_Strict):
    hole: Typed
    along: Typed = ""
    forth: Literal["forward", "rearward"] = "rearward"
    across: Typed = ""
    side: Literal["left", "right"] = "right"
    drilled: tuple[CoordinateMm, CoordinateMm] | None = None
    mark: tuple[CoordinateMm, CoordinateMm] | None = None


class _TypedBelow(_Strict):
    gale_nook: Literal["below"]
    version: Literal[1]
    job: int
    revision: int
    units: Literal["mm", "in"]
    heights: Literal["floor", "underside", "ground"] = "floor"
    features: Annotated[dict[Typed, tuple[Typed, Typed]], Field(max_length=120)] = {}
    parts: Annotated[dict[Typed, dict[Typed, Typed]], Field(max_length=400)] = {}
    pilots: Annotated[tuple[_TypedPilot, ...], Field(max_length=40)] = ()
    note: Annotated[str, Field(max_length=1000)] = ""


def read_below(line: str, job: Job, job_id: int, holes: tuple[CardHole, ...]) -> TakeBelow:
    """Return the command that takes in what a card gave back.

    Args:
        holes: of the mount as they are now, for a card that does not say where it had them.

    Raises:
        BadInput: not a card's line, of another job, or a length that cannot be read; names it.
    """
    typed, plan = _typed(line), job.plan
    if typed.job != job_id:
        raise BadInput(
            "line", None, f"This line is of job {typed.job}; it was given to job {job_id}."
        )
    system = UnitSystem.IMPERIAL if typed.units == "in" else UnitSystem.METRIC
    known = {feature.id: feature.name for feature in plan.vehicle.features}
    features: dict[str, tuple[float, float]] = {}
    for key, (x, y) in typed.features.items():
        if key not in known:
            raise BadInput("feature", key, f"The feature '{key}' is not in this job any more.")
        features[key] = (
            parse_length_mm(x, system, f"{known[key]}, behind"),
            parse_length_mm(y, system, f"{known[key]}, across"),
        )
    changes = _measured(typed, job, system)
    pilots: list[Pilot] = []
    for pilot in typed.pilots:
        pilots.append(_pilot(pilot, plan, holes, system, tuple(pilots)))
    try:
        return TakeBelow.model_validate(
            {
                "features": [{"id": key, "at": at} for key, at in features.items()],
                "pilots": [p.model_dump() for p in pilots],
                "changes": changes,
                "note": typed.note.strip(),
            }
        )
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None


def _measured(typed: _TypedBelow, job: Job, system: UnitSystem) -> list[dict[str, Any]]:
    """Return the changes of surveyed parts as address and value; heights from what the card had
    them measured from, whatever the job says now.
    """
    settings = job.plan.settings.model_copy(update={"heights_below": typed.heights})
    then = job.with_plan(job.plan.model_copy(update={"settings": settings}))
    known = {solid.id: solid for solid in job.plan.vehicle.solids}
    changes: list[dict[str, Any]] = []
    for key, given in typed.parts.items():
        if key not in known:
            raise BadInput("part", key, f"The part '{key}' is not in this job any more.")
        for leaf, text in given.items():
            if leaf not in MEASURED or not hasattr(known[key], leaf):
                raise BadInput("part", leaf, f"{known[key].name} has no such length.")
            value = parse_length_mm(text, system, f"{known[key].name}, {field_words(leaf)}")
            address = f"vehicle.solids.{key}.{leaf}"
            changes.append({"address": address, "value": over_floor_mm(then, address, value)})
    return changes


def _typed(line: str) -> _TypedBelow:
    text = line.strip()
    if not text or len(text) > MAX_LINE:
        raise BadInput("line", None, "Paste the line that the card shows, or take in its file.")
    try:
        data: Any = json.loads(text)
        return _TypedBelow.model_validate(data)
    except (ValueError, RecursionError):
        raise BadInput(
            "line", None, "This is not what a card gives back, or a part of it is missing."
        ) from None


def _pilot(
    typed: _TypedPilot,
    plan: Plan,
    holes: tuple[CardHole, ...],
    system: UnitSystem,
    others: tuple[Pilot, ...],
) -> Pilot:
    hole = next((each for each in holes if each.name == typed.hole), None)
    if hole is None:
        raise BadInput("hole", typed.hole, f"The mount has no hole '{typed.hole}' any more.")
    along = (
        parse_length_mm(typed.along, system, f"{typed.hole}, along") if typed.along.strip() else 0.0
    )
    across = (
        parse_length_mm(typed.across, system, f"{typed.hole}, across")
        if typed.across.strip()
        else 0.0
    )
    x, y = typed.drilled or hole.drilled
    mark_x, mark_y = typed.mark or hole.mark
    try:
        return Pilot(
            id=fresh_id((*plan.pilots, *others), "pilot"),
            hole=typed.hole,
            x_mm=x,
            y_mm=y,
            rearward_mm=along if typed.forth == "rearward" else -along,
            right_mm=across if typed.side == "right" else -across,
            mark_x_mm=mark_x,
            mark_y_mm=mark_y,
        )
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None
