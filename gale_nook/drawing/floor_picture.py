"""The clear-spot map as a picture: clear places shaded by their margin, the others hatched by what
stops them.
"""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from PIL import Image

from gale_nook.core.spot.field import Field
from gale_nook.core.spot.looked_rules import ASSUMED, TO_MEASURE

CELL_PX = 3
LEVELS_MM = (5.0, 20.0, 60.0)  # under the first it is tight
CLEAR = ((247, 226, 168), (214, 232, 214), (178, 214, 187), (141, 194, 160))
STOPS = {
    "spot.hole": "hole",
    "spot.pipe_room": "below",
    "spot.port_heat": "heat",
    "spot.body": "body",
    "spot.inlet": "air",
    "spot.outlet": "air",
    "spot.sides": "air",
    "spot.top": "air",
    "spot.removal": "air",
    "spot.stack": "stack",
    "spot.face_hole": "hole",
    "spot.face_removal": "air",
}
GROUNDS = {
    "hole": ((232, 205, 193), (150, 62, 36)),
    "below": ((206, 214, 224), (52, 82, 122)),
    "heat": ((238, 214, 196), (170, 90, 20)),
    "body": ((214, 212, 204), (90, 96, 96)),
    "air": ((241, 230, 198), (150, 112, 16)),
    "stack": ((224, 216, 232), (96, 72, 128)),
}

# what nobody has looked at is never shaded as clear; what is assumed keeps its shade under dots
PAPER, PENCIL = (238, 238, 234), (118, 126, 128)
UNKNOWN: dict[int, tuple[tuple[int, int, int] | None, tuple[int, int, int]]] = {
    ASSUMED: (None, PENCIL),
    TO_MEASURE: (PAPER, PENCIL),
}


def floor_picture(
    margin_mm: Any, reason: Any, fields: list[Field], looked: Any, below: bool
) -> bytes:
    """Return a PNG of a map, CELL_PX to a cell, x to the right.

    Args:
        margin_mm: (ny, nx).
        reason: (ny, nx), index into the reasons of all fields put one after another; -1 for none.
        looked: (ny, nx), what is known of each place.
        below: seen from below, mirrored: y runs down the page; else up.
    """
    reasons = [rule for field in fields for rule, _ in field.reasons]
    tall = np.repeat(np.repeat(margin_mm, CELL_PX, 0), CELL_PX, 1)
    index = np.repeat(np.repeat(reason, CELL_PX, 0), CELL_PX, 1)
    colours = np.empty((*tall.shape, 3), dtype=np.uint8)
    colours[:] = CLEAR[0]
    for level, colour in zip(LEVELS_MM, CLEAR[1:], strict=True):
        colours[tall >= level] = colour
    rows, columns = np.indices(tall.shape)
    for name, (ground, line) in GROUNDS.items():
        numbers = [i for i, rule in enumerate(reasons) if STOPS.get(rule, "stack") == name]
        stopped = (tall < -1e-9) & np.isin(index, numbers)
        colours[stopped] = ground
        colours[stopped & _lines(name, rows, columns)] = line
    known = np.repeat(np.repeat(looked, CELL_PX, 0), CELL_PX, 1)
    free = tall >= -1e-9
    for state, (paper, line) in UNKNOWN.items():
        there = free & (known == state)
        if paper is not None:
            colours[there] = paper
        colours[there & _unknown_lines(state, rows, columns)] = line
    picture = Image.fromarray(colours if below else colours[::-1])
    out = io.BytesIO()
    picture.save(out, "PNG", compress_level=4)
    return out.getvalue()


def _unknown_lines(state: int, rows: Any, columns: Any) -> Any:
    """Return which pixels are inked: rings where nobody has looked, single dots where it is
    assumed.
    """
    if state == ASSUMED:
        return (rows % 12 < 2) & (columns % 12 < 2)
    row, column = rows % 16 - 7.5, (columns + 8 * (rows // 16 % 2)) % 16 - 7.5
    far = np.hypot(row, column)
    return (far >= 3.0) & (far < 4.6)


def _lines(name: str, rows: Any, columns: Any) -> Any:
    """Return which pixels of a pattern are inked, so that no two stops differ by colour alone."""
    match name:
        case "hole":
            return (rows + columns) % 14 < 3
        case "below":
            return (rows - columns) % 14 < 3
        case "air":
            return rows % 12 < 2
        case "heat":
            return columns % 12 < 2
        case "body":
            return (rows % 10 < 3) & (columns % 10 < 3)
        case _:
            return ((rows + columns) % 18 < 2) | ((rows - columns) % 18 < 2)
