"""The plan's part for the heater's place: the spot, those kept beside it, and pilot holes."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    Note,
)


class Adapter(Frozen):
    """A plate over an opening of the floor that exists and is larger than the mount's holes: it
    closes the opening and carries the mount.

    Attributes:
        opening: the surveyed feature; the plate lies centred on it.
        length_mm, width_mm: along the vehicle and across it.
    """

    opening: ItemId
    length_mm: Annotated[float, Field(gt=0, le=1000)]
    width_mm: Annotated[float, Field(gt=0, le=1000)]
    thickness_mm: Annotated[float, Field(ge=0.5, le=30)] = 3.0


class Spot(Frozen):
    """Where the heater stands.

    Attributes:
        x_mm, y_mm: the mount's reference point (centre of a turret), behind the datum and right of
            centre.
        yaw_deg: 0 has the warm end rearward; 90 has it to the vehicle's right.
        rebate_mm: depth let into the floor stack under the mount.
        packing_mm: ring or pad added under the mount; packing: what it is of, None where nobody has
            said.
        z_mm: height of the bracket above the load floor, for a heater in the engine bay.
        adapter: a plate over an existing opening that carries the mount.
        stands_on: the surveyed box on whose top the heater stands: a shelf, a bench or a step; None
            for the floor.
        boxed: a box is built round it, with openings for its air.
        on_rubber: a soft gasket or rubber lies between its mount and the body.
    """

    x_mm: CoordinateMm
    y_mm: CoordinateMm
    yaw_deg: Literal[0, 90, 180, 270] = 0
    mount: CatalogueId = "turret"
    rebate_mm: Annotated[float, Field(ge=0, le=300)] = 0.0
    packing_mm: Annotated[float, Field(ge=0, le=300)] = 0.0
    packing: CatalogueId | None = None
    z_mm: CoordinateMm = 0.0
    adapter: Adapter | None = None
    stands_on: ItemId | None = None
    on_rubber: bool = True
    boxed: bool = False


class Candidate(Frozen):
    """A place for the heater that is kept beside others; a rejected one says why."""

    id: ItemId
    name: Name
    spot: Spot
    rejected: bool = False
    note: Note = ""


class Pilot(Frozen):
    """A pilot hole that was drilled, and where it came out.

    Attributes:
        hole: of the mount.
        x_mm, y_mm: where it was drilled, as measured inside.
        rearward_mm, right_mm: how far from the mark it came out, in the vehicle's own directions;
            None until somebody has looked.
        mark_x_mm, mark_y_mm: the mark below that it was measured from, in the survey there; None
            for the same numbers as where it was drilled.
    """

    id: ItemId
    hole: Name
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    rearward_mm: Annotated[float, Field(ge=-1000, le=1000)] | None = None
    right_mm: Annotated[float, Field(ge=-1000, le=1000)] | None = None
    mark_x_mm: CoordinateMm | None = None
    mark_y_mm: CoordinateMm | None = None

    @property
    def came_out_mm(self) -> tuple[float, float] | None:
        """Where it came out, in the survey below; None until both its misses were measured."""
        if self.rearward_mm is None or self.right_mm is None:
            return None
        x = self.mark_x_mm if self.mark_x_mm is not None else self.x_mm
        y = self.mark_y_mm if self.mark_y_mm is not None else self.y_mm
        return x + self.rearward_mm, y + self.right_mm
