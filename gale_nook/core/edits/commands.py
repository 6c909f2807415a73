"""The edits of a plan as small typed commands. Each is data; `apply` carries it out."""

from __future__ import annotations

from functools import singledispatch
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    Note,
    Point2,
    Point3,
)
from gale_nook.core.plan.climate import Climate
from gale_nook.core.plan.fuel import FuelLine, FuelSource, LinePart
from gale_nook.core.plan.heat import SurfaceId, Timer
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.pipes import EdgeName, Fitting, Route, RouteNode, Tube
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.plan.spot import Candidate, Pilot
from gale_nook.core.plan.vehicle import Feature, Layer, Layers, Opening, PopTop, SlideOut, Solid

Address = Annotated[str, Field(max_length=160, pattern=r"^[A-Za-z0-9_.-]+$")]
Whole = Annotated[int, Field(ge=-(10**12), le=10**12)]
Value = bool | Whole | float | Annotated[str, Field(max_length=2000)] | None


class Change(Frozen):
    """One value of the plan and what it becomes."""

    address: Address
    value: Value


class SetValues(Frozen):
    """Set one or several existing values together."""

    op: Literal["set"] = "set"
    changes: Annotated[tuple[Change, ...], Field(min_length=1, max_length=200)]


class AddItem(Frozen):
    """Add an item to a list of the plan: first, after another, or (neither given) at the end."""

    op: Literal["add"] = "add"
    collection: Address
    item: (
        Solid
        | Opening
        | Layer
        | RouteNode
        | Timer
        | Candidate
        | Feature
        | Pilot
        | Fitting
        | LinePart
    )
    first: bool = False
    after: ItemId | None = None


class RemoveItem(Frozen):
    """Take an item out of a list of the plan."""

    op: Literal["remove"] = "remove"
    collection: Address
    item_id: ItemId


class SetPoints(Frozen):
    """Replace the points of a tube, or the corners of an outline (mm)."""

    op: Literal["points"] = "points"
    item_id: ItemId
    points: Annotated[tuple[Point3 | Point2, ...], Field(max_length=60)]


class TakeSurvey(Frozen):
    """Add surveyed parts, or put them in the place of all that was surveyed; an id that is taken
    already gets a new one.
    """

    op: Literal["survey"] = "survey"
    solids: Annotated[tuple[Solid, ...], Field(min_length=1, max_length=400)]
    replace: bool = False


class SetLayers(Frozen):
    """Replace the build-up of one or several faces."""

    op: Literal["layers"] = "layers"
    faces: Annotated[tuple[SurfaceId, ...], Field(min_length=1, max_length=9)]
    layers: Layers


class SetClimate(Frozen):
    """Take in the weather of a place, or none."""

    op: Literal["climate"] = "climate"
    climate: Climate | None


class SetFeature(Frozen):
    """Set where a named feature was measured on one side of the floor, or that it is not seen from
    there.
    """

    op: Literal["feature"] = "feature"
    feature_id: ItemId
    side: Literal["inside", "below"]
    at: Point2 | None


class FeatureBelow(Frozen):
    """A feature and where it was measured from below."""

    id: ItemId
    at: Point2


class TakeBelow(Frozen):
    """Take in what was typed under the vehicle: features and parts measured there, pilots, and a
    note to the job's own.
    """

    op: Literal["take-below"] = "take-below"
    features: Annotated[tuple[FeatureBelow, ...], Field(max_length=120)] = ()
    pilots: Annotated[tuple[Pilot, ...], Field(max_length=40)] = ()
    changes: Annotated[tuple[Change, ...], Field(max_length=200)] = ()
    note: Annotated[Note, Field(max_length=1000)] = ""


class ShiftBelow(Frozen):
    """Move everything that was surveyed below the floor, and the features' places there, by a
    shift.
    """

    op: Literal["shift-below"] = "shift-below"
    rearward_mm: Annotated[float, Field(ge=-1000, le=1000)]
    right_mm: Annotated[float, Field(ge=-1000, le=1000)]


class PlaceHeater(Frozen):
    """Put the heater somewhere, whether or not it had a place; leaving out yaw or
    mount keeps them.
    """

    op: Literal["place"] = "place"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    yaw_deg: Literal[0, 90, 180, 270] | None = None
    mount: CatalogueId | None = None


class ChooseHeater(Frozen):
    """Choose a heater, or none; a mount that the new sheet lacks gives way to its first.

    Attributes:
        instead_of: the recommended one, where another is chosen over it.
    """

    op: Literal["choose"] = "choose"
    sheet: CatalogueId | None
    reason: Note = ""
    instead_of: CatalogueId | None = None


class PutSheet(Frozen):
    """Put in a heater of one's own, or replace one of the same id."""

    op: Literal["put-sheet"] = "put-sheet"
    sheet: HeaterSheet


class DropSheet(Frozen):
    """Take out a heater of one's own; where it was chosen, no heater is chosen any more."""

    op: Literal["drop-sheet"] = "drop-sheet"
    sheet_id: CatalogueId


class SetPopTop(Frozen):
    """Give the roof a pop-top, or none."""

    op: Literal["pop-top"] = "pop-top"
    pop_top: PopTop | None


class SetSlide(Frozen):
    """Give the body a slide-out, or none."""

    op: Literal["slide"] = "slide"
    slide: SlideOut | None


class StartRun(Frozen):
    """Begin a run at the port: straight down, then out; the exhaust falls to the nearer side of the
    vehicle.
    """

    op: Literal["start-run"] = "start-run"
    tube: Tube


class TakeRun(Frozen):
    """Put a whole run in the place of what there was."""

    op: Literal["take-run"] = "take-run"
    tube: Tube
    route: Route


class RemoveRun(Frozen):
    """Take a run out."""

    op: Literal["remove-run"] = "remove-run"
    tube: Tube


class ReverseRun(Frozen):
    """Turn the order of a line's corners round, for one that was typed from its far end; what sits
    on it stays where it is.
    """

    op: Literal["reverse-run"] = "reverse-run"
    line: Tube | Literal["fuel"]


class PutFittings(Frozen):
    """Replace every fitting of one kind on a run, the others staying as they are."""

    op: Literal["put-fittings"] = "put-fittings"
    tube: Tube
    kind: Literal["joint", "support", "lagging", "shield", "clamp"]
    fittings: Annotated[tuple[Fitting, ...], Field(max_length=40)]


class SetEdges(Frozen):
    """Set at which sides of the vehicle the exhaust may end."""

    op: Literal["edges"] = "edges"
    edges: Annotated[tuple[EdgeName, ...], Field(min_length=1, max_length=3)]


class SetSource(Frozen):
    """Choose where the fuel comes from; a tank of one's own begins in a usual place."""

    op: Literal["source"] = "source"
    source: FuelSource


class SetProfile(Frozen):
    """Give the tank of one's own a cross-section of these corners (across the extrusion, up; mm
    from its low corner).
    """

    op: Literal["tank-profile"] = "tank-profile"
    corners: Annotated[tuple[Point2, ...], Field(min_length=3, max_length=40)]


class PutLine(Frozen):
    """Put in a fuel line in the place of what there was, or take it out."""

    op: Literal["fuel-line"] = "fuel-line"
    line: FuelLine | None


class StartLine(Frozen):
    """Begin the fuel line: from where it takes off to the heater, rising, with filter, pump and
    clips.
    """

    op: Literal["start-line"] = "start-line"


class SetOwnLimit(Frozen):
    """Put a limit of one's own over the sheet's or the workshop's."""

    op: Literal["own-limit"] = "own-limit"
    limit: OwnLimit


class DropOwnLimit(Frozen):
    """Go back to the sheet's or the workshop's limit."""

    op: Literal["drop-limit"] = "drop-limit"
    limit_id: CatalogueId


class Accept(Frozen):
    """Accept a finding that is over, with reason and name."""

    op: Literal["accept"] = "accept"
    acceptance: Acceptance


class Withdraw(Frozen):
    """Withdraw an acceptance."""

    op: Literal["withdraw"] = "withdraw"
    rule: Name
    subject: Annotated[str, Field(max_length=80)]


Command = Annotated[
    SetValues
    | AddItem
    | RemoveItem
    | SetPoints
    | TakeSurvey
    | SetLayers
    | SetClimate
    | SetFeature
    | ShiftBelow
    | TakeBelow
    | PlaceHeater
    | ChooseHeater
    | PutSheet
    | DropSheet
    | SetPopTop
    | SetSlide
    | StartRun
    | TakeRun
    | RemoveRun
    | ReverseRun
    | PutFittings
    | SetEdges
    | SetSource
    | SetProfile
    | PutLine
    | StartLine
    | SetOwnLimit
    | DropOwnLimit
    | Accept
    | Withdraw,
    Field(discriminator="op"),
]
COMMAND: TypeAdapter[Command] = TypeAdapter(Command)


def set_value(address: str, value: Value) -> SetValues:
    """Return a SetValues of one address."""
    return SetValues(changes=(Change(address=address, value=value),))


@singledispatch
def touches(command: Command) -> set[str]:
    """Return the addresses that a command writes, to see whether it collides with
    another's edit.
    """
    raise TypeError(f"no word on what {type(command).__name__} touches")


@touches.register
def _(command: SetValues) -> set[str]:
    return {change.address for change in command.changes}


@touches.register
def _(command: AddItem) -> set[str]:
    return {f"{command.collection}.{command.item.id}"}


@touches.register
def _(command: RemoveItem) -> set[str]:
    return {f"{command.collection}.{command.item_id}"}


@touches.register
def _(command: SetPoints) -> set[str]:
    return {f"vehicle.solids.{command.item_id}.{leaf}" for leaf in ("points", "outline")}


@touches.register
def _(_command: TakeSurvey) -> set[str]:
    return {"vehicle.solids"}


@touches.register
def _(command: SetLayers) -> set[str]:
    return {f"heat.surfaces.{face}.layers" for face in command.faces}


@touches.register
def _(_command: SetClimate) -> set[str]:
    return {"heat.climate"}


@touches.register
def _(command: SetFeature) -> set[str]:
    return {f"vehicle.features.{command.feature_id}.{command.side}"}


@touches.register
def _(command: TakeBelow) -> set[str]:
    found = {f"vehicle.features.{feature.id}.below" for feature in command.features}
    found |= {f"pilots.{pilot.id}" for pilot in command.pilots} | {
        change.address for change in command.changes
    }
    return found | ({"note"} if command.note else set())


@touches.register
def _(_command: ShiftBelow) -> set[str]:
    return {"vehicle.solids", "vehicle.features"}


@touches.register
def _(command: PlaceHeater) -> set[str]:
    given = command.model_dump(exclude={"op"}, exclude_none=True)
    return {f"spot.{field}" for field in given}


@touches.register
def _(_command: ChooseHeater) -> set[str]:
    return {"heater.sheet", "heater.reason", "heater.instead_of"}


@touches.register
def _(command: PutSheet) -> set[str]:
    return {f"heater.own_sheets.{command.sheet.id}"}


@touches.register
def _(command: DropSheet) -> set[str]:
    return {f"heater.own_sheets.{command.sheet_id}", "heater.sheet"}


@touches.register
def _(_command: SetPopTop) -> set[str]:
    return {"vehicle.pop_top"}


@touches.register
def _(_command: SetSlide) -> set[str]:
    return {"vehicle.slide"}


@touches.register(StartRun)
@touches.register(TakeRun)
@touches.register(RemoveRun)
def _(command: StartRun | TakeRun | RemoveRun) -> set[str]:
    return {f"pipes.{command.tube}"}


@touches.register
def _(command: ReverseRun) -> set[str]:
    return {"fuel.line"} if command.line == "fuel" else {f"pipes.{command.line}"}


@touches.register
def _(command: PutFittings) -> set[str]:
    return {f"pipes.{command.tube}.fittings"}


@touches.register
def _(_command: SetEdges) -> set[str]:
    return {"pipes.edges"}


@touches.register
def _(_command: SetSource) -> set[str]:
    return {"fuel.source", "fuel.tank"}


@touches.register
def _(_command: SetProfile) -> set[str]:
    return {"fuel.tank.shape", "fuel.tank.profile"}


@touches.register
def _(_command: PutLine) -> set[str]:
    return {"fuel.line"}


@touches.register
def _(_command: StartLine) -> set[str]:
    return {"fuel.line"}


@touches.register
def _(command: SetOwnLimit) -> set[str]:
    return {f"heater.own_limits.{command.limit.id}"}


@touches.register
def _(command: DropOwnLimit) -> set[str]:
    return {f"heater.own_limits.{command.limit_id}"}


@touches.register
def _(command: Accept) -> set[str]:
    return {f"acceptances.{command.acceptance.id}"}


@touches.register
def _(_command: Withdraw) -> set[str]:
    return {"acceptances"}
