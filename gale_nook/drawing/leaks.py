"""Leak arrows: on both drawings an arrow leaves each surface, as wide as its watts."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.heat.envelope import FACE_NAMES, RIBBED, face_area_m2
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.job import Job
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Group, Line, Node, Point, Text

WIDEST_PX = 46.0
LENGTH_PX = 34.0
LEAST_PX = 2.0
ARROWS = ("roof", "left", "right", "rear", "bulkhead", "floor")
SHOWN_WITH = {"arches": "floor", "pop-top": "roof", "canvas": "roof", "curtain": "bulkhead"}


def watts_by_face(job: Job) -> dict[str, float]:
    """Return the loss by the arrow that shows it, windows and doors counted in.

    Wheel arches leave with the floor, a pop-top with the roof, a curtain as the bulkhead; ribs by
    the area of what they stiffen.
    """
    result = dict.fromkeys(ARROWS, 0.0)
    shell = job.plan.vehicle.shell
    ribbed_m2 = {face: face_area_m2(shell, face) for face in RIBBED}
    for element in design_loss(job).elements:
        if element.face == "-":
            for face, area in ribbed_m2.items():
                result[face] += element.loss_w * area / sum(ribbed_m2.values())
        else:
            result[SHOWN_WITH.get(element.face, element.face)] += element.loss_w
    return result


def plan_arrows(job: Job, m: Mapping, system: UnitSystem) -> Iterator[Node]:
    """Yield the arrows out of both sides, the rear and the bulkhead."""
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    middle = (shell.bulkhead_x_mm + shell.rear_x_mm) / 2
    watts = watts_by_face(job)
    up = -m.plan_sign  # which way on paper the vehicle's left lies
    yield _arrow("left", m.plan(middle, -half), (0.0, float(up)), watts, system)
    yield _arrow("right", m.plan(middle, half), (0.0, float(-up)), watts, system)
    yield _arrow("rear", m.plan(shell.rear_x_mm, 0), (1.0, 0.0), watts, system)
    yield _arrow("bulkhead", m.plan(shell.bulkhead_x_mm, 0), (-1.0, 0.0), watts, system)


def side_arrows(job: Job, m: Mapping, system: UnitSystem) -> Iterator[Node]:
    """Yield the arrows out of roof and floor."""
    shell = job.plan.vehicle.shell
    middle = (shell.bulkhead_x_mm + shell.rear_x_mm) / 2
    watts = watts_by_face(job)
    yield _arrow("roof", m.elevation(middle, shell.inside_height_mm), (0.0, -1.0), watts, system)
    yield _arrow("floor", m.elevation(middle, floor_underside_z_mm(job)), (0.0, 1.0), watts, system)


def _arrow(
    face: str, start: Point, direction: Point, watts: dict[str, float], system: UnitSystem
) -> Node:
    largest = max(1.0, *watts.values())
    half = max(max(watts[face], 0.0) / largest * WIDEST_PX, LEAST_PX) / 2
    side = (-direction[1], direction[0])

    def at(along: float, across: float) -> Point:
        return (
            start[0] + direction[0] * along + side[0] * across,
            start[1] + direction[1] * along + side[1] * across,
        )

    neck, wing = LENGTH_PX * 0.55, half + 5
    shape = [
        at(-16, -half),
        at(neck, -half),
        at(neck, -wing),
        at(LENGTH_PX, 0),
        at(neck, wing),
        at(neck, half),
        at(-16, half),
    ]
    figure = format_quantity(watts[face], "w", system)
    # the figure stands inside the load space, where there is room for it
    x, y = at(-24, 0)
    anchor = "middle" if direction[1] else ("end" if direction[0] > 0 else "start")
    y += 4 + (-6 if direction[1] > 0 else 8 if direction[1] < 0 else 0)
    told = Text((x, y), figure, "leak-figure", anchor, halo=True)
    title = f"{FACE_NAMES[face]}: {figure}, windows, doors and ribs included"
    return Group(
        [Line(shape, "leak", closed=True), told],
        {"class": "part", "data-leak": face},
        title=title,
    )
