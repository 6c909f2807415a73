"""A job in small: the vehicle from above with what stands in it, the heater and its runs."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.ducts.convector import ducts_wanted
from gale_nook.core.ducts.tree import duct_runs
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.spot.placement import body_corners
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.drawing.scene import Line, Node, Point, Rect, Scene

WIDTH, HEIGHT = 260.0, 104.0
EDGE = 4.0


def thumbnail(job: Job) -> Scene:
    """Return the drawing; front to the left, the vehicle's right up."""
    shell = job.plan.vehicle.shell
    length = shell.rear_x_mm - shell.front_x_mm
    scale = min((WIDTH - 2 * EDGE) / length, (HEIGHT - 2 * EDGE) / shell.outer_width_mm)

    def at(x: float, y: float) -> Point:
        middle = (shell.front_x_mm + shell.rear_x_mm) / 2
        return (WIDTH / 2 + (x - middle) * scale, HEIGHT / 2 - y * scale)

    def box(low: Point, high: Point, cls: str) -> Rect:
        (u0, v1), (u1, v0) = at(*low), at(*high)
        return Rect((u0, v0), (u1 - u0, v1 - v0), cls)

    def nodes() -> Iterator[Node]:
        half = shell.outer_width_mm / 2
        yield box((shell.front_x_mm, -half), (shell.rear_x_mm, half), "small-shell")
        for _, _, shape in surveyed_parts(job):
            b = shape.bounds
            yield box((b[0], b[1]), (b[3], b[4]), "small-part")
        for run in duct_runs(job) if ducts_wanted(job) else ():
            yield Line([at(p[0], p[1]) for p in run.geometry.points], "small-air")
        line = fuel_run(job)
        if line is not None:
            yield Line([at(p[0], p[1]) for p in line.geometry.points], "small-fuel")
        for tube in ("intake", "exhaust"):
            pipe = pipe_run(job, tube)
            if pipe is not None:
                yield Line([at(p[0], p[1]) for p in pipe.points], f"small-{tube}")
        corners = body_corners(job)
        if corners is not None:
            low, high = corners
            yield box((low[0], low[1]), (high[0], high[1]), "small-heater")

    return Scene(
        f"{job.plan.name} from above", (WIDTH, HEIGHT), list(nodes()), {"class": "drawing"}
    )
