"""From the vehicle's millimetres to the paper of the twin board: plan and elevation with one x
scale.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.plan.vehicle import Shell
from gale_nook.drawing.scene import Point

PAPER_WIDTH = 812.0
DRAWN_HEIGHT = 632.0  # plan and elevation together, without the tape
TAPE_HEIGHT = 30.0
EDGE = 22.0


@dataclass(frozen=True, slots=True)
class BoardView:
    """What of the vehicle is shown and how.

    Attributes:
        below: the plan is seen from below, mirrored.
        side: the flank that the elevation inks.
        looked: where nobody has looked is drawn.
        zoom: 1 shows the whole vehicle.
        centre: what a zoomed view is centred on (mm).
    """

    below: bool = False
    side: str = "left"
    zoom: float = 1.0
    centre: Vec3 = (0.0, 0.0, 0.0)
    looked: bool = False


@dataclass(frozen=True, slots=True)
class Mapping:
    """Linear maps of both drawings: paper = offset + factor × mm."""

    scale: float
    x_offset: float
    plan_top: float
    plan_height: float
    plan_offset: float
    plan_sign: int
    tape_top: float
    side_top: float
    side_height: float
    side_offset: float

    def u(self, x_mm: float) -> float:
        return self.x_offset + self.scale * x_mm

    def plan(self, x_mm: float, y_mm: float) -> Point:
        return (self.u(x_mm), self.plan_offset + self.plan_sign * self.scale * y_mm)

    def elevation(self, x_mm: float, z_mm: float) -> Point:
        return (self.u(x_mm), self.side_offset - self.scale * z_mm)

    def px(self, length_mm: float) -> float:
        return self.scale * length_mm

    @property
    def height(self) -> float:
        return self.side_top + self.side_height


def board_mapping(shell: Shell, view: BoardView) -> Mapping:
    """Return the mapping that shows the whole vehicle at zoom 1, or is centred on a point when
    zoomed.
    """
    length = shell.rear_x_mm - shell.front_x_mm
    width = shell.outer_width_mm
    top = shell.inside_height_mm + 80
    bottom = shell.ground_z_mm - 40
    fit = min((PAPER_WIDTH - 2 * EDGE) / length, (DRAWN_HEIGHT - 4 * EDGE) / (width + top - bottom))
    scale = fit * view.zoom
    plan_height = width * fit + 2 * EDGE
    side_height = DRAWN_HEIGHT - plan_height
    tape_top = plan_height
    side_top = tape_top + TAPE_HEIGHT
    sign = 1 if view.below else -1
    if view.zoom == 1:
        x_mid = (shell.front_x_mm + shell.rear_x_mm) / 2
        y_mid = 0.0
        z_mid = (top + bottom) / 2
    else:
        x_mid, y_mid, z_mid = view.centre
    return Mapping(
        scale=scale,
        x_offset=PAPER_WIDTH / 2 - scale * x_mid,
        plan_top=0.0,
        plan_height=plan_height,
        plan_offset=plan_height / 2 - sign * scale * y_mid,
        plan_sign=sign,
        tape_top=tape_top,
        side_top=side_top,
        side_height=side_height,
        side_offset=side_top + side_height / 2 + scale * z_mid,
    )
