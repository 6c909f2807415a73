"""What the wheels throw up, faintly, under the pipes that are worked on."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.pipes.spray import Wedge, wedges
from gale_nook.drawing.scene import Line, Node, Project


def spray_nodes(job: Job, project: Project, board: str) -> Iterator[Node]:
    """Yield the spray of each wheel as seen on one of the two drawings; in elevation those of an
    axle are one.
    """
    drawn: set[tuple[float, ...]] = set()
    for wedge in wedges(job):
        corners = [
            project(corner)
            for corner in (_in_plan(wedge) if board == "plan" else _in_elevation(wedge))
        ]
        key = tuple(round(value) for corner in corners for value in corner)
        if key not in drawn:
            drawn.add(key)
            yield Line(corners, "spray", closed=True, title=f"spray behind the {wedge.name}")


def _in_plan(wedge: Wedge) -> list[Vec3]:
    x, y, z = wedge.foot
    wide = wedge.half_mm + wedge.reach_mm * math.tan(math.radians(wedge.spread_deg))
    end = x + wedge.reach_mm
    return [
        (x, y - wedge.half_mm, z),
        (end, y - wide, z),
        (end, y + wide, z),
        (x, y + wedge.half_mm, z),
    ]


def _in_elevation(wedge: Wedge) -> list[Vec3]:
    x, y, z = wedge.foot
    end = x + wedge.reach_mm
    return [(x, y, z), (end, y, z), (end, y, z + wedge.height_mm(end))]
