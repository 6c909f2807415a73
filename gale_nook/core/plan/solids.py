"""What was surveyed: boxes, drums, tubes and outlines, hollow ones with their panels."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    Note,
    Point2,
    Point3,
    SizeMm,
    unique_ids,
)


class _Solid(Frozen):
    """
    Attributes:
        uncertainty_mm: how far off its place may be, along and across; checks allow for it.
        picture: SHA-256 of a picture of it that is kept beside the plan; empty for none.
        goes: it is taken out before the work: nothing has to keep clear of it.
    """

    id: ItemId
    name: Name
    kind: CatalogueId
    material: CatalogueId = "steel"
    goes: bool = False
    uncertainty_mm: Annotated[float, Field(ge=0, le=300)] = 0.0
    picture: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    note: Note = ""


Direction = Literal["front", "rear", "left", "right", "up", "down"]
EVERY_PANEL: tuple[Direction, ...] = ("front", "rear", "left", "right", "up")


class PanelOpening(Frozen):
    """An opening in a panel of hollow furniture, from the panel's low corner: along it (rearward,
    or to the right), and up (of a lid or floor: to the right).

    Attributes:
        grille: catalogue entry of what covers it.
        covered_percent: of it, by what may stand in front: storage, bedding.
        returns: the heater's air comes back through it.
    """

    id: ItemId
    name: Name = "opening"
    face: Direction = "front"
    along_mm: Annotated[float, Field(ge=0, le=30_000)] = 50.0
    up_mm: Annotated[float, Field(ge=0, le=30_000)] = 50.0
    width_mm: SizeMm = 200.0
    height_mm: SizeMm = 100.0
    grille: CatalogueId = "bare-opening"
    covered_percent: Annotated[float, Field(ge=0, le=100)] = 0.0
    returns: bool = True


class Hollow(Frozen):
    """Furniture that is hollow: a seat base, a bench, a bed box, a galley.

    Attributes:
        panel_mm: thickness of its panels.
        panels: faces that have one; furniture usually stands on the floor without a bottom.
        lids: of these, those that lift out or open.
    """

    panel_mm: Annotated[float, Field(ge=1, le=100)] = 15.0
    panels: Annotated[tuple[Direction, ...], Field(max_length=6)] = EVERY_PANEL
    lids: Annotated[tuple[Direction, ...], Field(max_length=6)] = ("up",)
    openings: Annotated[
        tuple[PanelOpening, ...], Field(max_length=12), AfterValidator(unique_ids)
    ] = ()


class BoxSolid(_Solid):
    """A box, turned about its own centre.

    Attributes:
        x_mm, y_mm, z_mm: front, left and lower face before turning.
        yaw_deg: turn about the vertical, from rearward towards the vehicle's right.
        travel_up_mm, travel_down_mm: how far it moves with the suspension.
        hollow: it is; None for what is solid, or nobody has said.
    """

    shape: Literal["box"] = "box"
    hollow: Hollow | None = None
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    length_mm: SizeMm
    width_mm: SizeMm
    height_mm: SizeMm
    yaw_deg: Annotated[float, Field(ge=-180, le=180)] = 0.0
    travel_up_mm: Annotated[float, Field(ge=0, le=500)] = 0.0
    travel_down_mm: Annotated[float, Field(ge=0, le=500)] = 0.0


class CylinderSolid(_Solid):
    """A cylinder along one axis; x, y and z are its centre."""

    shape: Literal["cylinder"] = "cylinder"
    axis: Literal["x", "y", "z"]
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    diameter_mm: SizeMm
    length_mm: SizeMm


class TubeSolid(_Solid):
    """A tube: a line through points with a diameter (pipes, cables, wiring)."""

    shape: Literal["tube"] = "tube"
    points: Annotated[tuple[Point3, ...], Field(min_length=2, max_length=60)]
    diameter_mm: SizeMm


class OutlineSolid(_Solid):
    """An outline in plan, raised from z by a height."""

    shape: Literal["outline"] = "outline"
    outline: Annotated[tuple[Point2, ...], Field(min_length=3, max_length=60)]
    z_mm: CoordinateMm
    height_mm: SizeMm


Solid = Annotated[BoxSolid | CylinderSolid | TubeSolid | OutlineSolid, Field(discriminator="shape")]
