"""A layout from above, with others drawn faintly under it where it is compared with them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from gale_nook.core.ducts.tree import duct_runs
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.tank_pose import tank_shape
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import hose_runs
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.spot.placement import body_corners
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.drawing.scene import Line, Node, Point, Rect, Scene, Text

SMALL, LARGE = (360.0, 150.0), (560.0, 240.0)
EDGE = 6.0
NAMED_PX = 60.0  # a part has its name where it is so long
TUBES: tuple[tuple[Tube, str], ...] = (("intake", "small-intake"), ("exhaust", "small-exhaust"))


@dataclass(frozen=True, slots=True)
class _Paper:
    """Where things lie on the drawing: front to the left, the vehicle's right up."""

    job: Job
    size: tuple[float, float]

    @property
    def scale(self) -> float:
        shell = self.job.plan.vehicle.shell
        length = shell.rear_x_mm - shell.front_x_mm
        wide, high = (side - 2 * EDGE for side in self.size)
        return min(wide / length, high / shell.outer_width_mm)

    def at(self, x_mm: float, y_mm: float) -> Point:
        shell = self.job.plan.vehicle.shell
        middle = (shell.front_x_mm + shell.rear_x_mm) / 2
        half = (self.size[0] / 2, self.size[1] / 2)
        return (half[0] + (x_mm - middle) * self.scale, half[1] - y_mm * self.scale)

    def box(self, low: Point, high: Point, cls: str) -> Rect:
        (u0, v1), (u1, v0) = self.at(*low), self.at(*high)
        return Rect((u0, v0), (u1 - u0, v1 - v0), cls)

    def round(self, bounds: tuple[float, ...], cls: str) -> Rect:
        return self.box((bounds[0], bounds[1]), (bounds[3], bounds[4]), cls)

    def line(self, points: Iterable[Sequence[float]], cls: str) -> Line:
        return Line([self.at(point[0], point[1]) for point in points], cls)


def layout_picture(job: Job, others: tuple[Job, ...], tag: str, *, large: bool = False) -> Scene:
    """Return the drawing.

    Args:
        others: layouts of the same vehicle, drawn faintly.
        tag: id of the drawing.
        large: with the names of what stands inside.
    """
    paper = _Paper(job, LARGE if large else SMALL)
    nodes = [*_vehicle(paper, large=large)]
    for other in others:
        nodes += _laid(paper, other, " other")
    nodes += _laid(paper, job, "")
    title = "Layout from above" + (", the others faintly" if others else "")
    return Scene(title, paper.size, nodes, {"class": "drawing", "id": tag})


def _vehicle(paper: _Paper, *, large: bool) -> Iterator[Node]:
    shell = paper.job.plan.vehicle.shell
    half = shell.outer_width_mm / 2
    yield paper.box((shell.front_x_mm, -half), (shell.rear_x_mm, half), "small-shell")
    parts = surveyed_parts(paper.job)
    for inside in (True, False):  # what lies below is drawn over it, as outlines
        for _, kind, shape in parts:
            if (kind.where == "inside") == inside:
                yield paper.round(shape.bounds, "small-part" if inside else "small-below")
    for solid, kind, shape in parts if large else ():
        b = shape.bounds
        if kind.where == "inside" and (b[3] - b[0]) * paper.scale > NAMED_PX:
            u, v = paper.at((b[0] + b[3]) / 2, (b[1] + b[4]) / 2)
            yield Text((u, v + 3), solid.name, "small-name", anchor="middle", halo=True)


def _laid(paper: _Paper, job: Job, faint: str) -> Iterator[Node]:
    """All that a layout lays, in the order in which it lies over one another."""
    tank, line, corners = own_tank(job), fuel_run(job), body_corners(job)
    if tank is not None:
        yield paper.round(tank_shape(tank).bounds, f"small-tank{faint}")
    ways = [run.geometry for run in duct_runs(job)] + [run.geometry for run in hose_runs(job)]
    for way in ways:
        yield paper.line(way.points, f"small-air{faint}")
    if line is not None:
        yield paper.line(line.geometry.points, f"small-fuel{faint}")
    for tube, cls in TUBES:
        pipe = pipe_run(job, tube)
        if pipe is not None:
            yield paper.line(pipe.points, f"{cls}{faint}")
    if corners is not None:
        low, high = corners
        yield paper.box((low[0], low[1]), (high[0], high[1]), f"small-heater{faint}")
