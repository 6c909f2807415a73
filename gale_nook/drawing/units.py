"""Other heaters of the same vehicle on the board: their bodies, and their burner's pipes."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.heater import OtherUnit
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Group, Line, Node, Project

THIN_PX = 2.0


def unit_nodes(job: Job, m: Mapping, project: Project) -> Iterator[Node]:
    """Yield every other heater, as it was noted."""
    for unit in job.plan.heater.others:
        nodes: list[Node] = [Line(_corners(unit, project), "unit-body", closed=True)]
        for points, thick, words in (
            (unit.exhaust, unit.exhaust_mm, "exhaust"),
            (unit.intake, unit.intake_mm, "intake"),
        ):
            if points:
                line = [project(point) for point in points]
                width = max(m.px(thick), THIN_PX)
                nodes.append(Line(line, f"unit-{words}", width=width))
        yield Group(nodes, {"class": "unit"}, title=unit.name)


def _corners(unit: OtherUnit, project: Project) -> list[tuple[float, float]]:
    low: Vec3 = (unit.x_mm, unit.y_mm, unit.z_mm)
    high = (low[0] + unit.length_mm, low[1] + unit.width_mm, low[2] + unit.height_mm)
    (u0, v0), (u1, v1) = project(low), project(high)
    return [(u0, v0), (u1, v0), (u1, v1), (u0, v1)]
