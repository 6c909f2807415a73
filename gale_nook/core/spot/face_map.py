"""Margins of a mount through a wall or bulkhead over a grid: its holes depend on one coordinate
only, its reach on the other.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.spot.face_rules import gaps_of
from gale_nook.core.spot.field import CAP_MM, Grid
from gale_nook.core.spot.placement import face_holes, facing_wall, mount_stack_mm


def face_hole_margins(at: Job, grid: Grid) -> Iterator[tuple[str, Any]]:
    """Yield (subject, margins) of each hole against each thing near it; margins (1, nx) or, in the
    bulkhead, (ny, 1).

    Args:
        at: with the heater turned as it is to be, anywhere.
    """
    spot = at.plan.spot
    if spot is None:
        return
    for hole in face_holes(at):
        across = hole.face == "bulkhead"
        places, here = (grid.y_mm, spot.y_mm) if across else (grid.x_mm, spot.x_mm)
        margins: dict[str, Any] = {}
        for number, place in enumerate(places):
            there = replace(hole, along_mm=hole.along_mm + float(place) - here)
            for gap in gaps_of(at, there):
                row = margins.setdefault(gap.subject_at(hole), np.full(len(places), CAP_MM))
                row[number] = gap.left_mm - (gap.band.minimum or 0.0)
        for subject, row in margins.items():
            yield subject, row[:, None] if across else row[None, :]


def wall_margins(at: Job, grid: Grid) -> Any:
    """Return by how much a mount suits the way from the body to the outer skin, (ny, 1). Needs one
    that faces a wall.
    """
    spot, mount, stack = at.plan.spot, chosen_mount(at), mount_stack_mm(at)
    if spot is None or mount is None or stack is None:
        raise ValueError("the mount faces no wall")
    towards = 1.0 if facing_wall(at) == "left" else -1.0
    passed = (stack + towards * (grid.y_mm - spot.y_mm))[:, None]
    limit = mount.stack
    ends = [passed - limit.minimum] if limit.minimum is not None else []
    ends += [limit.maximum - passed] if limit.maximum is not None else []
    return np.minimum.reduce(ends)
