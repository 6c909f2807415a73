"""Outlines of the body by how it moves: a vehicle with a nose, a trailer with its drawbar, a body
that is carried, a boat with its water.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.geometry.parked import LEVEL
from gale_nook.core.job import Job
from gale_nook.core.vehicle.afloat import attitudes_afloat, pivot_of
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Circle, Line, Node, Text

Outline = list[tuple[float, float]]
ROOF_MM = 40.0
BEYOND_MM = 4000.0
COUPLING_MM = 60.0


def plan_outline(job: Job, m: Mapping) -> Iterator[Node]:
    """Yield the outline seen from above."""
    shell, moves = job.plan.vehicle.shell, job.plan.vehicle.moves
    half, front, rear = shell.outer_width_mm / 2, shell.front_x_mm, shell.rear_x_mm
    if moves in {"towed", "carried"}:
        box = [(shell.bulkhead_x_mm - ROOF_MM, -half), (shell.bulkhead_x_mm - ROOF_MM, half)]
        outline = [*box, (rear, half), (rear, -half)]
    elif moves == "afloat":
        outline = _deck(front, rear, half)
    else:
        nose = front + 0.30 * (shell.bulkhead_x_mm - front)
        outline = [
            (rear, -half),
            (nose, -half),
            (front + 60, -half * 0.72),
            (front, 0.0),
            (front + 60, half * 0.72),
            (nose, half),
            (rear, half),
        ]
    yield Line([m.plan(x, y) for x, y in outline], "shell", closed=True)
    if moves == "towed":
        for side in (-1, 1):
            bar = [(front, 0.0), (shell.bulkhead_x_mm, side * half * 0.6)]
            yield Line([m.plan(x, y) for x, y in bar], "shell")
        yield Circle(m.plan(front, 0.0), m.px(COUPLING_MM), "shell", title="coupling")


def _deck(front: float, rear: float, half: float) -> Outline:
    """A bow that is rounded to a point, a transom a little narrower than the beam."""
    length, steps = rear - front, 8
    side = [
        (front + 0.45 * length * n / steps, half * math.sin(math.pi / 2 * n / steps))
        for n in range(steps + 1)
    ]
    ends = [(rear - 0.1 * length, half), (rear, 0.86 * half)]
    right = [*side, *ends]
    return [*right, *((x, -y) for x, y in reversed(right) if y > 0)]


def side_outline(job: Job, m: Mapping) -> Iterator[Node]:
    """Yield the outline seen from the side, nose left, with the ground or the water."""
    shell, moves = job.plan.vehicle.shell, job.plan.vehicle.moves
    outline = {"towed": _box, "carried": _box, "afloat": _boat}.get(moves, _van)(job)
    yield Line([m.elevation(x, z) for x, z in outline], "shell", closed=True)
    yield Line(
        [
            m.elevation(shell.bulkhead_x_mm, 0),
            m.elevation(shell.bulkhead_x_mm, shell.inside_height_mm),
        ],
        "thin",
    )
    ends = (shell.front_x_mm - BEYOND_MM, shell.rear_x_mm + BEYOND_MM)
    if moves == "afloat":
        yield from _water(job, m, ends)
        return
    yield Line([m.elevation(x, shell.ground_z_mm) for x in ends], "ground")
    if moves == "towed":
        low = shell.sill_z_mm
        bar = [(shell.front_x_mm, low), (shell.bulkhead_x_mm, low)]
        yield Line([m.elevation(x, z) for x, z in bar], "shell")
        yield Circle(
            m.elevation(shell.front_x_mm, low), m.px(COUPLING_MM), "shell", title="coupling"
        )


def _van(job: Job) -> Outline:
    shell = job.plan.vehicle.shell
    front, rear, bulk = shell.front_x_mm, shell.rear_x_mm, shell.bulkhead_x_mm
    top, sill, deep = (
        shell.inside_height_mm,
        shell.sill_z_mm,
        shell.bulkhead_x_mm - shell.front_x_mm,
    )
    return [
        (front, sill),
        (front + 20, shell.bonnet_z_mm * 0.8),
        (front + 0.36 * deep, shell.bonnet_z_mm),
        (front + 0.66 * deep, top * 0.9),
        (bulk - 0.12 * deep, top + ROOF_MM),
        (rear, top + ROOF_MM),
        (rear, sill),
    ]


def _box(job: Job) -> Outline:
    shell = job.plan.vehicle.shell
    front, rear = shell.bulkhead_x_mm - ROOF_MM, shell.rear_x_mm
    top, sill = shell.inside_height_mm + ROOF_MM, shell.sill_z_mm
    return [(front, sill), (front, top), (rear, top), (rear, sill)]


def _boat(job: Job) -> Outline:
    """Stem, foredeck, cabin, cockpit's side, transom, and the bottom."""
    shell = job.plan.vehicle.shell
    front, rear, bulk = shell.front_x_mm, shell.rear_x_mm, shell.bulkhead_x_mm
    deck, low, top = shell.bonnet_z_mm, shell.ground_z_mm, shell.inside_height_mm + ROOF_MM
    return [
        (front, deck),
        (bulk - 0.1 * (bulk - front), deck),
        (bulk + 150, top),
        (rear, top),
        (rear, low * 0.7),
        (rear - 0.3 * (rear - bulk), low),
        (bulk, low),
        (front + 0.3 * (bulk - front), low * 0.4),
    ]


def _water(job: Job, m: Mapping, ends: tuple[float, float]) -> Iterator[Node]:
    """The water level, and trimmed to either end; how far up it comes at the sides as it heels."""
    (x, _, z), half = pivot_of(job), job.plan.vehicle.shell.outer_width_mm / 2
    slopes = sorted({round(parked.slopes[0], 6) for parked in attitudes_afloat(job)})
    for slope in slopes:
        line = [m.elevation(end, z + slope * (end - x)) for end in ends]
        yield Line(line, "water" if slope == 0 else "water trimmed", title="water")
    rise = max(abs(parked.slopes[1]) for parked in attitudes_afloat(job) if parked is not LEVEL)
    if rise > 0:
        shell = job.plan.vehicle.shell
        at = [m.elevation(end, z + rise * half) for end in (shell.front_x_mm, shell.rear_x_mm)]
        yield Line(at, "water heeled", title="water at the low side, heeled")
        yield Text((at[0][0] + 4, at[0][1] - 4), "water, heeled", "water-name")
