"""Hollow furniture: its panels as boxes, with their openings left out."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.plan.solids import BoxSolid, Direction, Hollow

Box = tuple[Vec3, Vec3]  # low corner and size
Rectangle = tuple[float, float, float, float]  # low u, low v, high u, high v
# the axis that each face looks along, whether towards its end, and the two axes of its plane
FACES: dict[Direction, tuple[int, bool, int, int]] = {
    "front": (0, False, 1, 2),
    "rear": (0, True, 1, 2),
    "left": (1, False, 0, 2),
    "right": (1, True, 0, 2),
    "down": (2, False, 0, 1),
    "up": (2, True, 0, 1),
}


def panel_boxes(solid: BoxSolid, without: frozenset[Direction] = frozenset()) -> list[Box]:
    """Return the boxes that a hollow piece of furniture's panels are made of, each turned about its
    own centre by the furniture's yaw; the piece itself where it is not hollow.

    Args:
        without: panels that are off.
    """
    low: Vec3 = (solid.x_mm, solid.y_mm, solid.z_mm)
    size: Vec3 = (solid.length_mm, solid.width_mm, solid.height_mm)
    if solid.hollow is None:
        return [(low, size)]
    boxes = [
        box
        for face in solid.hollow.panels
        if face not in without
        for box in _panel(low, size, solid.hollow, face)
    ]
    return [turned_box(box, (low, size), solid.yaw_deg) for box in boxes]


def turned_box(box: Box, whole: Box, yaw_deg: float) -> Box:
    """Return a box moved so that, turned about its own centre, it lies where it would if the whole
    were turned about the whole's.
    """
    if yaw_deg == 0:
        return box
    middle, centre = _centre(box), _centre(whole)
    dx, dy = turn_xy(middle[0] - centre[0], middle[1] - centre[1], yaw_deg)
    x, y = centre[0] + dx, centre[1] + dy
    return (x - box[1][0] / 2, y - box[1][1] / 2, box[0][2]), box[1]


def opening_box(solid: BoxSolid, opening_id: str) -> Box | None:
    """Return an opening of a hollow piece as the box of panel that is cut out, turned about its own
    centre by the furniture's yaw; None where there is none of that id.
    """
    hollow = solid.hollow
    opening = next((o for o in hollow.openings if o.id == opening_id), None) if hollow else None
    if hollow is None or opening is None:
        return None
    low: Vec3 = (solid.x_mm, solid.y_mm, solid.z_mm)
    size: Vec3 = (solid.length_mm, solid.width_mm, solid.height_mm)
    rectangle = (
        opening.along_mm,
        opening.up_mm,
        opening.along_mm + opening.width_mm,
        opening.up_mm + opening.height_mm,
    )
    box = _box(low, size, hollow.panel_mm, opening.face, rectangle)
    return turned_box(box, (low, size), solid.yaw_deg)


def _centre(box: Box) -> Vec3:
    low, size = box
    return (low[0] + size[0] / 2, low[1] + size[1] / 2, low[2] + size[2] / 2)


def _panel(low: Vec3, size: Vec3, hollow: Hollow, face: Direction) -> Iterator[Box]:
    """A panel as boxes: strips between the heights at which openings begin or end, cut where there
    is an opening.
    """
    _, _, u, v = FACES[face]
    holes = [
        (o.along_mm, o.up_mm, o.along_mm + o.width_mm, o.up_mm + o.height_mm)
        for o in hollow.openings
        if o.face == face
    ]
    for rectangle in rectangles_without(size[u], size[v], holes):
        yield _box(low, size, hollow.panel_mm, face, rectangle)


def _box(low: Vec3, size: Vec3, panel_mm: float, face: Direction, cut: Rectangle) -> Box:
    axis, at_end, u, v = FACES[face]
    start, reach = list(low), list(size)
    thick = min(panel_mm, size[axis])
    start[axis] = low[axis] + size[axis] - thick if at_end else low[axis]
    reach[axis] = thick
    start[u], reach[u] = low[u] + cut[0], cut[2] - cut[0]
    start[v], reach[v] = low[v] + cut[1], cut[3] - cut[1]
    return (start[0], start[1], start[2]), (reach[0], reach[1], reach[2])


def rectangles_without(width: float, height: float, holes: list[Rectangle]) -> Iterator[Rectangle]:
    """Yield rectangles that cover a panel but for its holes, which may reach over its edge or into
    one another.

    >>> list(rectangles_without(10.0, 10.0, [(2.0, 0.0, 4.0, 10.0)]))
    [(0.0, 0.0, 2.0, 10.0), (4.0, 0.0, 10.0, 10.0)]
    """
    inside = [(max(h[0], 0.0), max(h[1], 0.0), min(h[2], width), min(h[3], height)) for h in holes]
    inside = [h for h in inside if h[0] < h[2] and h[1] < h[3]]
    levels = sorted({0.0, height, *(h[1] for h in inside), *(h[3] for h in inside)})
    for bottom, top in itertools.pairwise(levels):
        cuts = sorted((h[0], h[2]) for h in inside if h[1] < top and h[3] > bottom)
        at = 0.0
        for start, end in cuts:
            if start > at:
                yield at, bottom, start, top
            at = max(at, end)
        if at < width:
            yield at, bottom, width, top
