"""Arrow heads."""

from __future__ import annotations

import math

from gale_nook.drawing.scene import Point


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
