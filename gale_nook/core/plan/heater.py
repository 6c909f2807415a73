"""The plan's part for the heater: which, why, and sheets and limits of one's own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    Note,
    Point3,
    SizeMm,
    unique_ids,
)

MOST_SHEETS = 24


class OwnLimit(Frozen):
    """A limit that the user sets over the sheet's or the workshop's, with the reason."""

    id: CatalogueId
    minimum: Annotated[float, Field(ge=-10_000, le=100_000)] | None = None
    maximum: Annotated[float, Field(ge=-10_000, le=100_000)] | None = None
    note: Name

    @model_validator(mode="after")
    def _has_an_end(self) -> OwnLimit:
        if self.minimum is None and self.maximum is None:
            raise ValueError("a limit needs a least or a greatest value")
        if self.minimum is not None and self.maximum is not None and self.minimum > self.maximum:
            raise ValueError("the least value of a limit lies above its greatest")
        return self


class OtherUnit(Frozen):
    """Another heater in the same vehicle, as it stands.

    Attributes:
        heats: the room that this job heats, its cab, or water only.
        least_w, most_w: its output; use_l_h: fuel at its most.
        glow_a, run_a: current as it starts, and as it runs at its most.
        x_mm, y_mm, z_mm: low corner of its body, with length, width and height.
        exhaust, intake: its burner's pipes from port to mouth, and how thick they are; empty where
            nobody has noted them.
        shares_battery: it is fed by the same battery; starts_apart: never while this one starts.
    """

    id: ItemId
    name: Name = "other heater"
    heats: Literal["room", "cab", "water"] = "cab"
    least_w: Annotated[float, Field(ge=0, le=50_000)] = 800.0
    most_w: Annotated[float, Field(gt=0, le=50_000)] = 2000.0
    use_l_h: Annotated[float, Field(ge=0, le=20)] = 0.26
    glow_a: Annotated[float, Field(ge=0, le=100)] = 9.0
    run_a: Annotated[float, Field(ge=0, le=100)] = 2.5
    x_mm: CoordinateMm = 0.0
    y_mm: CoordinateMm = 0.0
    z_mm: CoordinateMm = 0.0
    length_mm: SizeMm = 330.0
    width_mm: SizeMm = 120.0
    height_mm: SizeMm = 135.0
    exhaust: Annotated[tuple[Point3, ...], Field(max_length=60)] = ()
    exhaust_mm: SizeMm = 26.0
    intake: Annotated[tuple[Point3, ...], Field(max_length=60)] = ()
    intake_mm: SizeMm = 24.0
    shares_battery: bool = True
    starts_apart: bool = False

    @model_validator(mode="after")
    def _least_under_most(self) -> OtherUnit:
        if self.least_w >= self.most_w:
            raise ValueError("its least output lies under its most")
        for name, points in (("exhaust", self.exhaust), ("combustion air", self.intake)):
            if len(points) == 1:
                raise ValueError(f"its {name} has a port and a mouth: at least two points, or none")
        return self


class HeaterChoice(Frozen):
    """The heater in hand, by its id in the catalogue, and why it was chosen.

    Attributes:
        medium: what the job is to be heated by: warm air, or coolant with its consumers.
        instead_of: the heater that was recommended when another was chosen over it; `reason` says
            why.
        own_sheets: heaters that the catalogue does not have.
        others: heaters that are in the vehicle besides.
    """

    medium: Literal["air", "coolant"] = "air"
    sheet: CatalogueId | None = None
    reason: Note = ""
    instead_of: CatalogueId | None = None
    own_sheets: Annotated[
        tuple[HeaterSheet, ...], Field(max_length=MOST_SHEETS), AfterValidator(unique_ids)
    ] = ()
    own_limits: Annotated[
        tuple[OwnLimit, ...], Field(max_length=60), AfterValidator(unique_ids)
    ] = ()
    others: Annotated[tuple[OtherUnit, ...], Field(max_length=4), AfterValidator(unique_ids)] = ()
