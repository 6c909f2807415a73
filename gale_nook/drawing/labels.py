"""Figures kept apart, and arrow heads."""

from __future__ import annotations

import math

from gale_nook.drawing.scene import Point

LETTER, LINE = 6.6, 14.0  # of a dimension's figure, px


class Labels:
    """Keeps figures apart: each is put where it belongs, or below the ones that stand there
    already.
    """

    def __init__(self) -> None:
        self._taken: list[tuple[float, float, float]] = []

    def place(self, at: Point, text: str) -> Point:
        """Return where a figure can start, at or under the wished-for point."""
        width, (x, y) = len(text) * LETTER + 8, at
        while any(
            x < left + w and left < x + width and abs(y - top) < LINE
            for left, top, w in self._taken
        ):
            y += LINE / 2
        self._taken.append((x, y, width))
        return (x, y)


def arrow_head(start: Point, tip: Point, size: float = 7.0) -> list[Point]:
    """Return the triangle at the tip of an arrow."""
    angle = math.atan2(tip[1] - start[1], tip[0] - start[0])
    return [
        tip,
        *(
            (tip[0] - size * math.cos(angle + t), tip[1] - size * math.sin(angle + t))
            for t in (0.45, -0.45)
        ),
    ]
