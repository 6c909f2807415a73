"""Body types to begin with, and what each kind of surveyed part implies for the work around it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, Frozen, Moves, Name
from gale_nook.core.base.sourced import Sourced


class BodyType(Sourced):
    """A kind of body to begin a survey from.

    Attributes:
        floor: (material, thickness) from the walked-on surface down.
        corrugation: depth and pitch of the floor's ribs.
        openings: (kind, name, face, start, base, length, height, glazing).
        pop_top: start, length, width, rise.
        moves: by itself, towed, carried or afloat; hull: how it lies in the water, of a boat.
        has_none: kinds of parts that are asked for of a vehicle and that such a body does not have.
    """

    fuel: Literal["diesel", "petrol", "electric", "none"]
    datum: Name
    shell: dict[str, float]
    floor: tuple[tuple[CatalogueId, float], ...]
    corrugation: tuple[float, float | None]
    rib_pitch_mm: float | None
    pop_top: tuple[float, float, float, float] | None = None
    openings: tuple[tuple[str, Name, str, float, float, float, float, CatalogueId], ...]
    has_none: tuple[CatalogueId, ...] = ()
    moves: Moves = "itself"
    hull: dict[str, float] = Field(default_factory=dict)


Anchor = Literal[
    "front",
    "bulkhead",
    "rear",
    "front_axle",
    "rear_axle",
    "half_width",
    "half_floor",
    "underside",
    "ground",
    "wheel",
    "load",
    "mm",
]
LengthSum = dict[Anchor, float]
ThreeSums = tuple[LengthSum, LengthSum, LengthSum]


class UsualPart(Sourced):
    """A part that vehicles usually have, placed by their main dimensions: a box, or a tube.

    Attributes:
        of: what such vehicles run on.
        at, size: of a box: front, left and lower face; length, width and height. Each is a sum of
            anchors times a factor, and of mm.
        points, diameter_mm: of a tube.
    """

    kind: CatalogueId
    material: CatalogueId = "steel"
    of: tuple[Literal["diesel", "petrol", "electric", "none"], ...]
    at: ThreeSums = ({}, {}, {})
    size: ThreeSums = ({}, {}, {})
    points: tuple[ThreeSums, ...] = ()
    diameter_mm: Annotated[float, Field(gt=0, le=500)] = 10.0


class PartStart(Frozen):
    """What a part of a kind is usually like, to be corrected by the tape.

    Attributes:
        length_mm, width_mm: along and across the vehicle; 0 for as long or as wide as the load
            space.
        height_mm: of a box; diameter_mm: of a tube or cylinder, which lies along the vehicle.
        off_mm: below the floor's underside, or above the walked-on floor.
        aside_mm: of its middle, left of the centre line.
        hollow_mm: thickness of its panels, of furniture that usually is hollow; 0 for what is
            solid.
        lids: of these, those that usually lift out or open.
    """

    shape: Literal["box", "cylinder", "tube"] = "box"
    material: CatalogueId = "steel"
    length_mm: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    width_mm: Annotated[float, Field(ge=0, le=5_000)] = 400.0
    height_mm: Annotated[float, Field(gt=0, le=5_000)] = 150.0
    diameter_mm: Annotated[float, Field(gt=0, le=2_000)] = 20.0
    off_mm: Annotated[float, Field(ge=0, le=3_000)] = 0.0
    aside_mm: Annotated[float, Field(ge=-2_000, le=2_000)] = 0.0
    hollow_mm: Annotated[float, Field(ge=0, le=100)] = 0.0
    lids: tuple[Literal["front", "rear", "left", "right", "up", "down"], ...] = ()


Span = tuple[Annotated[float, Field(ge=0)], Annotated[float, Field(gt=0)]]


class PartUsual(Frozen):
    """What a part of a kind hardly ever differs from; what does is asked about.

    Attributes:
        shapes: that it has; any when empty.
        materials: that it is made of; any when empty.
        thick_mm: least and most of its smallest size (the diameter of a tube or cylinder).
        longest_mm: least and most of its largest size.
    """

    shapes: tuple[Literal["box", "cylinder", "tube", "outline"], ...] = ()
    materials: tuple[CatalogueId, ...] = ()
    thick_mm: Span | None = None
    longest_mm: Span | None = None


class UsualValue(Sourced):
    """Between which a dimension of a vehicle nearly always lies.

    Attributes:
        id: its name among the main dimensions or the floor's.
    """

    least_mm: float
    most_mm: float


class RestsOn(Sourced):
    """What of the vehicle some checks rest on, beside the thing that they name.

    Attributes:
        values: addresses in the vehicle, or of the heat need: a check that rests on them says so
            when nobody has measured them; `solids:` stands for every part of a kind, of those
            below, or of those `beside-the-heater`.
        rules: ids of these checks.
    """

    values: tuple[Name, ...]
    rules: tuple[Name, ...]


class SolidKind(Sourced):
    """What a kind of solid implies for the work around it.

    Attributes:
        where: inside, below the floor, outside the shell, or in the engine bay.
        hazard: what drilling into it or heating it would be; None for furniture and the like.
        hole_mm: metal to leave between the edge of a hole and it; None when a hole cannot reach it.
        exhaust_mm: gap between an unlagged exhaust pipe and it; None where there is no such rule.
        covered_mm: the same where the pipe is lagged or a shield stands between; None as for an
            unlagged pipe.
        heat_c: what it can stand for good; None for what heat does not harm.
        intake_mm: gap between the combustion-air pipe and it; 0 where it may touch.
        mouth_mm: distance of the exhaust's mouth from it; None where there is no such rule.
        body_mm: gap between the heater's body and it; 0 where it may touch.
        through: a pipe may pass through it in a fitting.
        duct_hole: a hole for a duct may be cut in it.
        board: a thin one of it is a single board, in which holes are cut as in a panel.
        may_be_hollow: a large one of it is furniture that may be hollow, with room inside.
        start: what one is usually like.
        usual: what one hardly ever differs from.
        asked_of: vehicles that usually have one, by what they run on: it is asked for.
    """

    where: Literal["inside", "below", "outside", "engine-bay"]
    hazard: Literal["structure", "brakes", "fire", "restraint", "shock", "fumes"] | None = None
    hole_mm: Annotated[float, Field(ge=0, le=500)] | None = None
    exhaust_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    covered_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    heat_c: Annotated[float, Field(ge=20, le=1000)] | None = None
    intake_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    mouth_mm: Annotated[float, Field(ge=0, le=5000)] | None = None
    body_mm: Annotated[float, Field(ge=0, le=500)] = 0.0
    through: bool = False
    duct_hole: bool = False
    board: bool = False
    may_be_hollow: bool = False
    start: PartStart = PartStart()
    usual: PartUsual = PartUsual()
    asked_of: tuple[Literal["diesel", "petrol", "electric", "none"], ...] = ()


class SolidMaterial(Sourced):
    """What a material asks of a hot pipe: heat that it stands for good, gap to a bare and to a
    covered one; None for nothing.
    """

    heat_c: Annotated[float, Field(ge=20, le=1000)] | None = None
    exhaust_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    covered_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
