"""The plan's part for wishes: what a whole layout has to keep to besides the limits, and how much
each thing about it counts.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import CoordinateMm, Frozen, ItemId, Name, SizeMm, unique_ids
from gale_nook.core.plan.fuel import FuelSource

PartWishKind = Literal["near", "not-in", "keep"]
Pinned = Literal["heater", "spot", "pipes", "fuel", "air", "coolant", "power"]
FillSide = Literal["any", "left", "right", "front", "rear"]
Weight = Annotated[float, Field(ge=0, le=10)]
MOST_PARTS, MOST_AREAS = 20, 20


class Weights(Frozen):
    """How much each measure of a layout counts, 0 to 10; 0 leaves it out."""

    storage: Weight = 4.0
    exhaust: Weight = 4.0
    quiet: Weight = 4.0
    heat: Weight = 5.0
    fuel: Weight = 3.0
    holes: Weight = 3.0
    cost: Weight = 2.0
    hours: Weight = 2.0


class PartWish(Frozen):
    """A wish about a surveyed part.

    Attributes:
        wish: the heater near it; the heater not where it stands; nothing at all into it or through.
        within_mm: how near, from the heater's middle to the part, in plan.
    """

    id: ItemId
    part: ItemId
    wish: PartWishKind = "near"
    within_mm: Annotated[float, Field(gt=0, le=10_000)] = 800.0


class WishArea(Frozen):
    """A rectangle painted on the floor, in the vehicle's frame.

    Attributes:
        wanted: the heater has to stand in one that is wanted, where there are any.
        of: what keeps out of one that is not wanted: the heater, or all that is laid.
    """

    id: ItemId
    name: Name = "area"
    wanted: bool = True
    of: Literal["heater", "everything"] = "heater"
    from_x_mm: CoordinateMm
    to_x_mm: CoordinateMm
    left_y_mm: CoordinateMm
    right_y_mm: CoordinateMm

    @model_validator(mode="after")
    def _has_room(self) -> WishArea:
        if self.from_x_mm >= self.to_x_mm:
            raise ValueError("the area's front end lies before its rear end")
        if self.left_y_mm >= self.right_y_mm:
            raise ValueError("the area's left side lies left of its right side")
        return self


class Wishes(Frozen):
    """What a layout has to keep to.

    Attributes:
        side: of the vehicle on which the heater stands.
        fill_from: where a tank of one's own is filled.
        most_hole_mm: largest hole that may be cut; None for any.
        under_sill: whether anything may hang lower than the sill.
        sources: of fuel that may be used; none for the one that is chosen, or any that can be.
        pinned: stations that stay as they are.
    """

    side: Literal["any", "left", "right"] = "any"
    fill_from: FillSide = "any"
    most_hole_mm: SizeMm | None = None
    under_sill: Literal["may", "never"] = "may"
    sources: Annotated[tuple[FuelSource, ...], Field(max_length=7)] = ()
    pinned: Annotated[tuple[Pinned, ...], Field(max_length=7)] = ()
    parts: Annotated[
        tuple[PartWish, ...], Field(max_length=MOST_PARTS), AfterValidator(unique_ids)
    ] = ()
    areas: Annotated[
        tuple[WishArea, ...], Field(max_length=MOST_AREAS), AfterValidator(unique_ids)
    ] = ()
    weights: Weights = Weights()
