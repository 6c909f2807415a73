"""The walls of the room as closed-form parts."""

from __future__ import annotations

from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.spot.convex_pieces import Prism, box_prism


def wall_prism(shape: Shape) -> Prism:
    """Return the box that fills a shape's bounds."""
    b = shape.bounds
    return box_prism((b[0], b[1], b[2]), (b[3] - b[0], b[4] - b[1], b[5] - b[2]))
