"""The vehicle part of the plan: shell, floor, openings, and the solids inside and below.

Frame: x rearward, y to the vehicle's right, z up, in mm; origin on top of the steel load floor, on
the centre line, at the datum.
"""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Moves,
    Name,
    Note,
    Point2,
    SizeMm,
    ThicknessMm,
    unique_ids,
)
from gale_nook.core.plan.looked import Confirmed, LookedArea
from gale_nook.core.plan.moves import Hull, SlideOut, Space
from gale_nook.core.plan.old import OldGas, OldOpening
from gale_nook.core.plan.photo import Photo
from gale_nook.core.plan.solids import Solid


class VehicleFuel(StrEnum):
    """What the vehicle itself runs on."""

    DIESEL = "diesel"
    PETROL = "petrol"
    ELECTRIC = "electric"
    NONE = "none"


class Face(StrEnum):
    """A face of the shell that can carry an opening."""

    LEFT = "left"
    RIGHT = "right"
    REAR = "rear"
    ROOF = "roof"


class Layer(Frozen):
    """One layer of a build-up, listed from inside to outside."""

    id: ItemId
    material: CatalogueId
    thickness_mm: ThicknessMm


Layers = Annotated[tuple[Layer, ...], Field(max_length=20), AfterValidator(unique_ids)]


class Shell(Frozen):
    """Main dimensions of the vehicle.

    The load space reaches from the bulkhead to the rear doors; the cab lies ahead of it.

    Attributes:
        firewall_x_mm, firewall_mm: where the engine bay ends and the cab begins, and how thick its
            bulkhead is; None where there is no engine bay ahead of the cab, or it was not measured.
    """

    front_x_mm: CoordinateMm
    bulkhead_x_mm: CoordinateMm
    rear_x_mm: CoordinateMm
    outer_width_mm: SizeMm
    floor_width_mm: SizeMm
    inside_height_mm: SizeMm
    sill_z_mm: CoordinateMm
    ground_z_mm: CoordinateMm
    bonnet_z_mm: CoordinateMm
    front_axle_x_mm: CoordinateMm
    rear_axle_x_mm: CoordinateMm
    wheel_diameter_mm: SizeMm
    firewall_x_mm: CoordinateMm | None = None
    firewall_mm: ThicknessMm | None = None

    @model_validator(mode="after")
    def _in_order(self) -> Shell:
        if (
            self.firewall_x_mm is not None
            and not self.front_x_mm < self.firewall_x_mm < self.bulkhead_x_mm
        ):
            raise ValueError(
                "the engine bay's bulkhead lies behind the nose and ahead of the load space"
            )
        if not self.front_x_mm < self.bulkhead_x_mm < self.rear_x_mm:
            raise ValueError("front, bulkhead and rear must follow one another from nose to tail")
        if self.floor_width_mm > self.outer_width_mm:
            raise ValueError("the load floor cannot be wider than the vehicle outside")
        if not self.ground_z_mm < self.sill_z_mm <= 0:
            raise ValueError("the sill's lower edge lies below the load floor and above the ground")
        return self

    @property
    def floor_front_x_mm(self) -> float:
        """Where the floor begins: without an engine bay's bulkhead about where the front axle is;
        of a body without a cab where the body does.
        """
        if self.firewall_x_mm is not None:
            return self.firewall_x_mm
        return min(self.front_axle_x_mm, self.bulkhead_x_mm)


class Floor(Frozen):
    """The floor stack over the steel, and the steel floor's own ribs.

    Attributes:
        layers: from the walked-on surface down to and including the steel.
        corrugation_mm: depth of the steel floor's ribs, which the mounting turret has to pass too.
        pitch_mm, phase_mm: of these ribs across the floor: one lies at the phase right of centre,
            the others at whole pitches from it.
    """

    layers: Layers
    corrugation_mm: ThicknessMm = 0.0
    pitch_mm: Annotated[float, Field(ge=10, le=1000)] | None = None
    phase_mm: CoordinateMm = 0.0


class FloorArea(Floor):
    """A floor of its own: of the cab, a step, a well, a podium.

    Attributes:
        top_z_mm: height of its steel over the load floor's.
        from_x_mm, to_x_mm: its ends behind the datum; left_y_mm, right_y_mm: its sides, right of
            centre.
    """

    id: ItemId
    name: Name
    top_z_mm: CoordinateMm = 0.0
    from_x_mm: CoordinateMm
    to_x_mm: CoordinateMm
    left_y_mm: CoordinateMm
    right_y_mm: CoordinateMm

    @model_validator(mode="after")
    def _has_a_size(self) -> FloorArea:
        if self.from_x_mm >= self.to_x_mm:
            raise ValueError("a floor's front end lies ahead of its rear end")
        if self.left_y_mm >= self.right_y_mm:
            raise ValueError("a floor's left side lies left of its right side")
        return self

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Return whether a place lies on it."""
        along = self.from_x_mm <= x_mm <= self.to_x_mm
        return along and self.left_y_mm <= y_mm <= self.right_y_mm


class Opening(Frozen):
    """A window, door or roof vent in a face of the shell.

    Attributes:
        start_mm: near edge: x for the sides and the roof, y for the rear.
        base_mm: lower edge z for sides and rear; lowest y for the roof.
        glazing: entry of the catalogue's openings (its U-value, bare and covered).
        open_cm2: area left open at night.
        opens: fumes can come in through it.
    """

    id: ItemId
    name: Name
    kind: Literal["window", "door", "vent"]
    face: Face
    start_mm: CoordinateMm
    base_mm: CoordinateMm
    length_mm: SizeMm
    height_mm: SizeMm
    glazing: CatalogueId
    covered: bool = False
    open_cm2: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    opens: bool = True


class PopTop(Frozen):
    """A lid in the roof that is raised on canvas.

    Attributes:
        start_mm: front edge of its hole in the roof.
        rise_mm: mean height of the canvas when raised.
        raised: up on the nights that the heat is computed for.
    """

    start_mm: CoordinateMm
    length_mm: SizeMm
    width_mm: SizeMm
    rise_mm: SizeMm
    raised: bool = True


class Feature(Frozen):
    """Something with a name that can be measured from, on one side of the floor or on both.

    Attributes:
        inside: (behind the datum, right of centre) as measured inside; None where it is not seen
            from there.
        below: the same as measured lying below.
        diameter_mm: of an existing hole, old flue or drop vent that a mount's hole could use.
        length_mm, width_mm: of an opening with straight sides, along the vehicle and across it.
        fixing: a factory hole or thread that brackets and clips can be hung on.
    """

    id: ItemId
    name: Name
    kind: Literal["edge", "bolt", "hole", "thread", "grommet", "other"] = "other"
    inside: Point2 | None = None
    below: Point2 | None = None
    diameter_mm: Annotated[float, Field(gt=0, le=400)] | None = None
    length_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    width_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    note: Note = ""

    @property
    def at(self) -> Point2 | None:
        """Where it is as measured inside; as measured below where it is not seen from inside."""
        return self.inside if self.inside is not None else self.below

    @property
    def opening_mm(self) -> tuple[float, float] | None:
        """How long and wide it is as an opening; None where that was not measured."""
        if self.length_mm is not None and self.width_mm is not None:
            return self.length_mm, self.width_mm
        if self.diameter_mm is not None:
            return self.diameter_mm, self.diameter_mm
        return None

    @property
    def is_round(self) -> bool:
        return self.length_mm is None or self.width_mm is None

    @property
    def fixing(self) -> bool:
        return self.kind in {"hole", "thread"}


def _each_once(texts: tuple[str, ...]) -> tuple[str, ...]:
    """Sorted, each once: the order means nothing."""
    return tuple(sorted(set(texts)))


Texts = Annotated[
    tuple[Annotated[str, Field(max_length=160)], ...],
    Field(max_length=6000),
    AfterValidator(_each_once),
]


class Vehicle(Frozen):
    """The surveyed vehicle.

    Attributes:
        datum: the physical feature from which x is measured.
        below_mirrored: the features' measurements below were taken as seen lying there, left for
            right.
        floor: of the load space; floors: those that differ from it, where they lie.
        photos: of the floor, to trace parts over.
        looked_at: where somebody has looked; elsewhere everything is still to be measured.
        pencilled: addresses of the values that nobody has typed or measured yet, of the vehicle
            and of what it loses heat through.
        has_none: kinds of parts that are asked for and that this vehicle does not have.
        confirmed: unlikely values that are right.
        old_openings: what was cut into it before; old_gas: a gas appliance that goes.
        moves: on its own wheels, towed, carried (and set down), or afloat.
        tow_filler: the flank on which what tows it is filled; None where nobody has looked.
        lift_mm: how far a carried body is raised off before its carrier drives out forwards.
        hull: how it lies in the water, of what is afloat; spaces: where some things have no place.
    """

    name: Name
    fuel: VehicleFuel
    datum: Name
    shell: Shell
    floor: Floor
    floors: Annotated[tuple[FloorArea, ...], Field(max_length=8), AfterValidator(unique_ids)] = ()
    openings: Annotated[tuple[Opening, ...], Field(max_length=60), AfterValidator(unique_ids)] = ()
    solids: Annotated[tuple[Solid, ...], Field(max_length=400), AfterValidator(unique_ids)] = ()
    pop_top: PopTop | None = None
    slide: SlideOut | None = None
    features: Annotated[tuple[Feature, ...], Field(max_length=120), AfterValidator(unique_ids)] = ()
    old_openings: Annotated[
        tuple[OldOpening, ...], Field(max_length=40), AfterValidator(unique_ids)
    ] = ()
    old_gas: OldGas = OldGas()
    moves: Moves = "itself"
    tow_filler: Literal["left", "right"] | None = None
    lift_mm: Annotated[float, Field(ge=0, le=2000)] = 200.0
    hull: Hull = Hull()
    spaces: Annotated[tuple[Space, ...], Field(max_length=20), AfterValidator(unique_ids)] = ()
    below_mirrored: bool = False
    photos: Annotated[tuple[Photo, ...], Field(max_length=12), AfterValidator(unique_ids)] = ()
    looked_at: Annotated[
        tuple[LookedArea, ...], Field(max_length=60), AfterValidator(unique_ids)
    ] = ()
    pencilled: Texts = ()
    has_none: Texts = ()
    confirmed: Annotated[tuple[Confirmed, ...], Field(max_length=400)] = ()

    @property
    def afloat(self) -> bool:
        return self.moves == "afloat"

    @property
    def body_front_x_mm(self) -> float:
        """Where the body begins: of what is towed or carried behind drawbar or carrier's cab."""
        other = self.moves in {"towed", "carried"}
        return self.shell.bulkhead_x_mm if other else self.shell.front_x_mm

    @property
    def pictures(self) -> tuple[str, ...]:
        """The files of all pictures that are kept beside the plan."""
        of_parts = (solid.picture for solid in self.solids if solid.picture)
        return tuple(dict.fromkeys((*(photo.file for photo in self.photos), *of_parts)))

    @model_validator(mode="after")
    def _pop_top_in_the_roof(self) -> Vehicle:
        top, shell = self.pop_top, self.shell
        if top is None:
            return self
        if top.width_mm > shell.floor_width_mm:
            raise ValueError("the pop-top cannot be wider than the load space")
        if top.start_mm < shell.bulkhead_x_mm or top.start_mm + top.length_mm > shell.rear_x_mm:
            raise ValueError("the pop-top's hole lies between bulkhead and rear doors")
        return self
