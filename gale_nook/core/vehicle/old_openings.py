"""Openings that something went through before: where they are, what would close them, how much room
what goes through has in them.
"""

from __future__ import annotations

import math

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.old import OldFace, OldOpening

OVERLAP_MM = 30.0  # of a plate over an opening, all round
# the two axes in which an opening's place is told, and the one across its face
AXES: dict[OldFace, tuple[int, int, int]] = {
    "floor": (0, 1, 2),
    "roof": (0, 1, 2),
    "left": (0, 2, 1),
    "right": (0, 2, 1),
    "rear": (1, 2, 0),
    "bulkhead": (1, 2, 0),
}


def middle_of(job: Job, opening: OldOpening) -> Vec3:
    """Return the middle of an opening in the vehicle's frame."""
    shell = job.plan.vehicle.shell
    plane = {
        "floor": 0.0,
        "roof": shell.inside_height_mm,
        "left": -shell.floor_width_mm / 2,
        "right": shell.floor_width_mm / 2,
        "rear": shell.rear_x_mm,
        "bulkhead": shell.bulkhead_x_mm,
    }[opening.face]
    along, up, across = AXES[opening.face]
    at = [0.0, 0.0, 0.0]
    at[along], at[up], at[across] = opening.along_mm, opening.up_mm, plane
    return (at[0], at[1], at[2])


def room_mm(opening: OldOpening, point: Vec3, diameter_mm: float) -> float:
    """Return the gap between what goes through an opening at a point and its edge; negative where
    it does not go through.
    """
    along, up, _ = AXES[opening.face]
    dx, dy = abs(point[along] - opening.along_mm), abs(point[up] - opening.up_mm)
    if opening.is_round:
        return opening.length_mm / 2 - math.hypot(dx, dy) - diameter_mm / 2
    return min(opening.length_mm / 2 - dx, opening.height_mm / 2 - dy) - diameter_mm / 2


def plate_mm(opening: OldOpening) -> tuple[float, float]:
    """Return the size of a plate over an opening."""
    height = opening.length_mm if opening.is_round else opening.height_mm
    return opening.length_mm + 2 * OVERLAP_MM, height + 2 * OVERLAP_MM
