"""From the vehicle's millimetres to the paper of the twin board: plan and elevation with one x
scale.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.plan.vehicle import Shell
from gale_nook.drawing.scene import Point

PAPER_WIDTH = 812.0
DRAWN_HEIGHT = 632.0  # plan and elevation together, without the tape
TAPE_HEIGHT = 30.0
EDGE = 22.0
ROUND_IT_MM = 130.0  # shown round what a frame is about
LEAST_FRAME_MM, MOST_FRAME_MM = 60.0, 60_000.0  # across the paper
FARTHEST_MM = 40_000.0
LEAST_SHARE, MOST_SHARE = 0.2, 0.8  # of the height for the plan
_NUMBER = r"-?[0-9]{1,5}(?:\.[0-9]{1,2})?"
_FRAME = re.compile(rf"({_NUMBER})_({_NUMBER})_({_NUMBER})_({_NUMBER})_({_NUMBER})")


@dataclass(frozen=True, slots=True)
class Frame:
    """What both drawings show.

    Attributes:
        x_mm, y_mm, z_mm: in their middle.
        width_mm: across the paper.
        plan_px: height of the plan; the rest is the elevation's.
    """

    x_mm: float
    y_mm: float
    z_mm: float
    width_mm: float
    plan_px: float

    @property
    def text(self) -> str:
        """As an address, a form or a cookie has it.

        >>> Frame(1250.0, -300.0, -80.5, 900.0, 380.0).text
        '1250_-300_-80.5_900_380'
        """
        values = (self.x_mm, self.y_mm, self.z_mm, self.width_mm, self.plan_px)
        return "_".join(f"{round(value, 2):.2f}".rstrip("0").rstrip(".") for value in values)

    @classmethod
    def of(cls, text: str) -> Frame | None:
        """Return the frame that a text describes; None for anything else.

        >>> Frame.of("1250_-300_-80.5_900_380").width_mm
        900.0
        >>> Frame.of("1250_-300_-80.5_1_380") is None
        True
        """
        found = _FRAME.fullmatch(text)
        if found is None:
            return None
        x, y, z, width, plan = (float(each) for each in found.groups())
        near = max(abs(x), abs(y), abs(z)) <= FARTHEST_MM
        wide = LEAST_FRAME_MM <= width <= MOST_FRAME_MM
        high = LEAST_SHARE * DRAWN_HEIGHT <= plan <= MOST_SHARE * DRAWN_HEIGHT
        return cls(x, y, z, width, plan) if near and wide and high else None


@dataclass(frozen=True, slots=True)
class BoardView:
    """What of the vehicle is shown and how.

    Attributes:
        below: the plan is seen from below, mirrored.
        side: the flank that the elevation inks.
        frame: what is shown; None for the whole vehicle.
        looked: where nobody has looked is drawn.
    """

    below: bool = False
    side: str = "left"
    frame: Frame | None = None
    looked: bool = False


def frame_round(points: Sequence[Vec3], around_mm: float = ROUND_IT_MM) -> Frame:
    """Return the frame that shows some points as large as they can be, with something round them;
    each drawing as high as it has to be.
    """
    low = [min(point[axis] for point in points) - around_mm for axis in range(3)]
    high = [max(point[axis] for point in points) + around_mm for axis in range(3)]
    length, width, height = (b - a for a, b in zip(low, high, strict=True))
    share = min(max(width / (width + height), LEAST_SHARE), MOST_SHARE)
    plan_px = 2 * EDGE + share * (DRAWN_HEIGHT - 4 * EDGE)
    scale = min(  # px to the mm
        (PAPER_WIDTH - 2 * EDGE) / length,
        (plan_px - 2 * EDGE) / width,
        (DRAWN_HEIGHT - plan_px - 2 * EDGE) / height,
    )
    x, y, z = ((a + b) / 2 for a, b in zip(low, high, strict=True))
    return Frame(x, y, z, PAPER_WIDTH / scale, plan_px)


def whole_frame(shell: Shell) -> Frame:
    """Return the frame that shows the whole vehicle, down to the ground."""
    length = shell.rear_x_mm - shell.front_x_mm
    width = shell.outer_width_mm
    top = shell.inside_height_mm + 80
    bottom = shell.ground_z_mm - 40
    scale = min(
        (PAPER_WIDTH - 2 * EDGE) / length, (DRAWN_HEIGHT - 4 * EDGE) / (width + top - bottom)
    )
    middle = (shell.front_x_mm + shell.rear_x_mm) / 2
    return Frame(middle, 0.0, (top + bottom) / 2, PAPER_WIDTH / scale, width * scale + 2 * EDGE)


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
    """Return the mapping that shows a view's frame, or the whole vehicle."""
    frame = view.frame if view.frame is not None else whole_frame(shell)
    scale = PAPER_WIDTH / frame.width_mm
    side_top = frame.plan_px + TAPE_HEIGHT
    side_height = DRAWN_HEIGHT - frame.plan_px
    sign = 1 if view.below else -1
    return Mapping(
        scale=scale,
        x_offset=PAPER_WIDTH / 2 - scale * frame.x_mm,
        plan_top=0.0,
        plan_height=frame.plan_px,
        plan_offset=frame.plan_px / 2 - sign * scale * frame.y_mm,
        plan_sign=sign,
        tape_top=frame.plan_px,
        side_top=side_top,
        side_height=side_height,
        side_offset=side_top + side_height / 2 + scale * frame.z_mm,
    )
