"""What moves or is kept free: a slide-out, a hull in the water, spaces with a name."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from gale_nook.core.base.models import (
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    SizeMm,
)


class SlideOut(Frozen):
    """A part of the body that slides out where the vehicle is parked. The survey has it in.

    Attributes:
        from_mm, to_mm: its edges along the vehicle; of one at the rear, across it.
        inner_mm: how far in from the outside it reaches.
        travel_mm: how far it comes out.
        base_mm: lower edge of what moves, with all that hangs on it.
    """

    side: Literal["left", "right", "rear"] = "left"
    from_mm: CoordinateMm
    to_mm: CoordinateMm
    inner_mm: SizeMm
    travel_mm: SizeMm
    base_mm: CoordinateMm = -150.0

    @model_validator(mode="after")
    def _has_a_width(self) -> SlideOut:
        if self.from_mm >= self.to_mm:
            raise ValueError("the slide-out's first edge lies before its second")
        return self


SpaceKind = Literal["bilge", "petrol", "gas", "engine", "battery"]


class Hull(Frozen):
    """How a boat lies in the water.

    Attributes:
        waterline_z_mm: still water, laden, above the load floor; negative below it.
        heel_deg, trim_deg: how far it leans sideways and lengthwise at its worst, to either side.
        pivot_x_mm: what it trims about, behind the datum; None for the middle of its length.
    """

    waterline_z_mm: CoordinateMm = -100.0
    heel_deg: Annotated[float, Field(ge=0, le=40)] = 20.0
    trim_deg: Annotated[float, Field(ge=0, le=20)] = 5.0
    pivot_x_mm: CoordinateMm | None = None


class Space(Frozen):
    """A space with a name in which some things have no place: a bilge, a petrol space.

    Attributes:
        from_x_mm, to_x_mm: its ends behind the datum; left_y_mm, right_y_mm: its sides, right of
            centre; low_z_mm, high_z_mm: its bottom and top above the load floor.
    """

    id: ItemId
    name: Name
    kind: SpaceKind = "bilge"
    from_x_mm: CoordinateMm
    to_x_mm: CoordinateMm
    left_y_mm: CoordinateMm
    right_y_mm: CoordinateMm
    low_z_mm: CoordinateMm
    high_z_mm: CoordinateMm

    @model_validator(mode="after")
    def _has_room(self) -> Space:
        if self.from_x_mm >= self.to_x_mm:
            raise ValueError("a space's front end lies ahead of its rear end")
        if self.left_y_mm >= self.right_y_mm:
            raise ValueError("a space's left side lies left of its right side")
        if self.low_z_mm >= self.high_z_mm:
            raise ValueError("a space's bottom lies below its top")
        return self
