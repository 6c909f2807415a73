"""A heater's body, its ports, and the ways of fixing it."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from gale_nook.core.base.limit import Limit
from gale_nook.core.base.models import CatalogueId, Frozen, Name, Note

PortName = Literal["exhaust", "intake", "fuel", "warm", "cold"]
OffsetMm = Annotated[float, Field(ge=-1000, le=1000)]


class Port(Frozen):
    """Where a pipe leaves the heater, from the mount's reference point.

    Attributes:
        x_mm, y_mm: towards the warm end and to its right, at yaw 0.
        drop_mm: below the mount's plane (floor finish for inside mounts, underside for those
            below).
        direction: unit vector along which the pipe leaves, at yaw 0.
        diameter_mm: outside diameter of the pipe.
    """

    x_mm: OffsetMm
    y_mm: OffsetMm
    drop_mm: OffsetMm
    direction: tuple[float, float, float] = (0.0, 0.0, -1.0)
    diameter_mm: Annotated[float, Field(gt=0, le=200)]

    @model_validator(mode="after")
    def _unit_vector(self) -> Port:
        if not math.isclose(math.hypot(*self.direction), 1.0, abs_tol=1e-3):
            raise ValueError("a port's direction is a unit vector")
        return self


class MountHole(Frozen):
    """A hole of a mount, from its reference point at yaw 0: round, or a square-cornered cut.

    Attributes:
        diameter_mm: of a round hole; of the drill for the corners of a cut.
        length_mm, width_mm: of a cut, along and across the heater; None for a round hole.
        z_mm: above the mount's plane, of a hole through a wall or the bulkhead; None for one in the
            floor.
    """

    name: Name
    x_mm: OffsetMm
    y_mm: OffsetMm
    diameter_mm: Annotated[float, Field(gt=0, le=400)]
    length_mm: Annotated[float, Field(gt=0, le=600)] | None = None
    width_mm: Annotated[float, Field(gt=0, le=600)] | None = None
    z_mm: OffsetMm | None = None

    @model_validator(mode="after")
    def _cut_has_both(self) -> MountHole:
        if (self.length_mm is None) != (self.width_mm is None):
            raise ValueError("a cut has a length and a width; a round hole has neither")
        return self

    def half_mm(self, yaw_deg: int) -> tuple[float, float]:
        """Return half the cut along the vehicle and across it; (0, 0) for a round hole."""
        if self.length_mm is None or self.width_mm is None:
            return 0.0, 0.0
        half = (self.length_mm / 2, self.width_mm / 2)
        return half if yaw_deg % 180 == 0 else half[::-1]


class Body(Frozen):
    """The heater's body at yaw 0: centre from the mount's reference point, and its size."""

    x_mm: OffsetMm
    y_mm: OffsetMm
    length_mm: Annotated[float, Field(gt=0, le=2000)]
    width_mm: Annotated[float, Field(gt=0, le=1000)]
    height_mm: Annotated[float, Field(gt=0, le=1000)]
    mass_kg: Annotated[float, Field(gt=0, le=100)]


class Plate(Frozen):
    """The plate or flange by which a mount bears on the floor, in plan at yaw 0.

    Attributes:
        x_mm, y_mm: of its middle, from the mount's reference point.
        thickness_mm: of its edge, above what it lies on.
    """

    x_mm: OffsetMm = 0.0
    y_mm: OffsetMm = 0.0
    length_mm: Annotated[float, Field(gt=0, le=1000)]
    width_mm: Annotated[float, Field(gt=0, le=1000)]
    thickness_mm: Annotated[float, Field(gt=0, le=50)] = 4.0


class Mount(Frozen):
    """A way of fixing the heater, with its holes and the floor stack that it passes.

    Attributes:
        place: of the heater: in the cabin, under the floor, or in the engine bay.
        through: what its holes go through; a wall is the one that its ports point at, the bulkhead
            is that of the engine bay.
        stack: thickness that it passes: of the floor; from the body to the outer skin; of the
            bulkhead.
        plate: by which it bears on the floor; None where the sheet gives none.
        body: of the heater as it stands on this mount, where that is not as on the others: on its
            side, or in a box.
        collar: a metal collar lines its hole, round the hot pipe.
        ports: of the heater on this mount, where they are others than the sheet's.
        limits: of the sheet that are others on this mount.
        sealing, service: what is to be said of them on the build sheet.
    """

    id: CatalogueId
    label: Name
    place: Literal["inside", "below", "engine-bay"] = "inside"
    through: Literal["floor", "wall", "bulkhead"] = "floor"
    holes: Annotated[tuple[MountHole, ...], Field(max_length=12)]
    stack: Limit
    collar: bool = False
    plate: Plate | None = None
    body: Body | None = None
    ports: dict[Literal["exhaust", "intake", "fuel", "warm", "cold"], Port] = Field(
        default_factory=dict
    )
    limits: Annotated[dict[CatalogueId, Limit], Field(max_length=40, default_factory=dict)]
    sealing: Note = ""
    service: Note = ""

    @model_validator(mode="after")
    def _holes_belong(self) -> Mount:
        if any((hole.z_mm is None) != (self.through == "floor") for hole in self.holes):
            raise ValueError(
                "a hole through a wall or bulkhead has a height above the mount's plane; "
                "one in "
                "the floor has none"
            )
        if (self.place == "engine-bay") != (self.through == "bulkhead"):
            raise ValueError(
                "a heater in the engine bay has its fittings through the bulkhead, and no other has"
            )
        if self.through == "wall" and not all(
            name in self.ports and self.ports[name].direction[2] == 0
            for name in ("exhaust", "intake")
        ):
            raise ValueError(
                "a mount through a wall has an exhaust and an intake port of its own that "
                "point level"
            )
        return self
