"""A drill sheet as data: holes, and the two faces from which they are measured."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Views = Literal["inside", "below", "outside"]


@dataclass(frozen=True, slots=True)
class DrillHole:
    """A hole, its centre from the middle of the drawing, and the saw; half its sides where it is a
    cut.
    """

    name: str
    x_mm: float
    y_mm: float
    diameter_mm: float
    saw: str
    order: int
    half_x_mm: float = 0.0
    half_y_mm: float = 0.0

    @property
    def reach_mm(self) -> tuple[float, float]:
        """How far it reaches along and across from its centre."""
        return (
            (self.half_x_mm, self.half_y_mm)
            if self.half_x_mm
            else (self.diameter_mm / 2, self.diameter_mm / 2)
        )


@dataclass(frozen=True, slots=True)
class Offset:
    """From something named to the middle of the drawing: along the face, up or across it, and by a
    straight tape.

    Attributes:
        along_mm: rearward; through the bulkhead, to the right.
        across_mm: to the right; through a wall or bulkhead, up.
    """

    name: str
    along_mm: float
    across_mm: float
    tape_mm: float


@dataclass(frozen=True, slots=True)
class DrillFace:
    """One face of what is drilled: what it is called, where to measure from, and how it lies on the
    page.

    Attributes:
        along_sign, across_sign: 1 where along or across grows to the page's right or top, -1 where
            it falls.
        sides: words at the top, at the bottom, and where along is least and most.
        ways: words of an offset along, against it, across, against it.
    """

    face: Views
    title: str
    offsets: tuple[Offset, ...]
    along_sign: int
    across_sign: int
    sides: tuple[str, str, str, str]
    ways: tuple[str, str, str, str]


@dataclass(frozen=True, slots=True)
class DrillSheet:
    """Everything that the sheet prints.

    Attributes:
        middle_mm: of the drawing in the vehicle's frame, as drilled from inside.
        holes: in the order of drilling, the pilots first.
        faces: inside, and below or outside, as far as it is drilled there; lengths below are those
            of the survey there.
        depth_mm: that the saw passes; None where it was not measured.
        passes, look: what that is, and from where pilots are looked at.
        cross: what the middle of the drawing is.
        mount: label of the mount.
        transfer_mm: half axis of the 95 % ellipse of the transfer; None where nothing is measured
            on both sides.
    """

    job: str
    heater: str
    mount: str
    middle_mm: tuple[float, float]
    holes: tuple[DrillHole, ...]
    faces: tuple[DrillFace, ...]
    depth_mm: float | None
    transfer_mm: float | None
    passes: str
    look: str
    cross: str = "the mount's middle"

    @property
    def half_size_mm(self) -> tuple[float, float]:
        """Half the width and height that the holes take, about the middle."""
        reach = [(abs(h.x_mm) + h.reach_mm[0], abs(h.y_mm) + h.reach_mm[1]) for h in self.holes]
        return max(r[0] for r in reach), max(r[1] for r in reach)
