"""A second way to the margins of a place: whole shapes, one pair at a time, by the collision and
planar libraries. None of the closed forms that the rules measure with is used.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

import shapely

from gale_nook.core.geometry.frames import add, turn_xy
from gale_nook.core.geometry.hollow import panel_boxes
from gale_nook.core.geometry.shapes import Shape, box_shape, separation, tube_shape
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import BoxSolid, Solid
from gale_nook.core.spot.air_rules import inlet_band, outlet_band
from gale_nook.core.spot.placement import (
    PlacedHole,
    body_corners,
    floor_holes,
    heater_port,
    mount_stack_mm,
    port_point,
)
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_where

FAR_MM = 3000.0
DRILL_REACH_MM = 150.0
STUB_MM = 40.0
Box = tuple[float, float, float, float, float, float]


def floor_margins(job: Job) -> Iterator[tuple[str, float]]:
    """Yield (rule, margin) of everything that the rules of a mount through the floor look at."""
    mount, stack = chosen_mount(job), mount_stack_mm(job)
    assert mount is not None
    assert mount.through == "floor"
    assert stack is not None
    limit = mount.stack
    yield "spot.stack", stack - (limit.minimum or -math.inf)
    yield "spot.stack", (limit.maximum or math.inf) - stack
    yield from _holes(job)
    yield from _body(job)
    yield from _plate(job)
    yield from _air(job)
    yield from _ports(job)


def _holes(job: Job) -> Iterator[tuple[str, float]]:
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    band = limit_band(job, "hole_edge_mm")
    least = (band.minimum if band is not None else 0.0) or 0.0
    for hole in floor_holes(job):
        cut = _cut(hole)
        away = [
            cut.bounds[0] - shell.front_x_mm,
            shell.rear_x_mm - cut.bounds[2],
            cut.bounds[1] + half,
            half - cut.bounds[3],
        ]
        yield "spot.hole", min(away) - least
        for _, kind, shape in surveyed_where(job, "below"):
            if kind.hole_mm is None or shape.high_z_mm < floor_underside_z_mm(job) - DRILL_REACH_MM:
                continue
            if hole.is_cut:
                gap = float(cut.distance(shape.footprint.geometry)) - shape.footprint.swell_mm
            else:
                gap = shape.footprint.signed_distance_mm(hole.x_mm, hole.y_mm) - hole.radius_mm
            if gap > 0 or not hole.is_cut:  # the depth of a cut in a part has no library
                yield "spot.hole", gap - kind.hole_mm
            else:
                yield "spot.hole", -math.inf


def _cut(hole: PlacedHole) -> shapely.Polygon:
    reach_x, reach_y = hole.reach_mm
    return shapely.box(
        hole.x_mm - reach_x, hole.y_mm - reach_y, hole.x_mm + reach_x, hole.y_mm + reach_y
    )


def _around(job: Job) -> list[tuple[float, Shape]]:
    """Everything in the heater's room with the gap to be kept from its body."""
    mount, shell = chosen_mount(job), job.plan.vehicle.shell
    assert mount is not None
    place = mount.place
    solids = [
        (kind.body_mm, panel)
        for solid, kind, shape in surveyed_where(job, place)
        for panel in _panels(solid, shape)
    ]
    if place == "below":
        return solids
    assert place == "inside"
    half, top, thick = shell.floor_width_mm / 2, shell.inside_height_mm, 400.0
    x0, x1 = shell.bulkhead_x_mm, shell.rear_x_mm
    room = (x1 - x0, 2 * half)
    walls = (
        ((x0 - thick, -half - thick, 0.0), (thick, room[1] + 2 * thick, top)),
        ((x1, -half - thick, 0.0), (thick, room[1] + 2 * thick, top)),
        ((x0 - thick, -half - thick, 0.0), (room[0] + 2 * thick, thick, top)),
        ((x0 - thick, half, 0.0), (room[0] + 2 * thick, thick, top)),
        ((x0 - thick, -half - thick, top), (room[0] + 2 * thick, room[1] + 2 * thick, thick)),
    )
    return [*solids, *((0.0, box_shape(low, size)) for low, size in walls)]


def _panels(solid: Solid, shape: Shape) -> list[Shape]:
    """A thing as it is; of hollow furniture each of its panels, for there is room between them."""
    if not isinstance(solid, BoxSolid) or solid.hollow is None:
        return [shape]
    return [box_shape(low, size, solid.yaw_deg) for low, size in panel_boxes(solid)]


def _body_box(job: Job) -> Box:
    corners = body_corners(job)
    assert corners is not None
    return (*corners[0], *corners[1])


def _body(job: Job) -> Iterator[tuple[str, float]]:
    b = _body_box(job)
    body = box_shape(b[:3], (b[3] - b[0], b[4] - b[1], b[5] - b[2]))
    for gap, shape in _around(job):
        yield "spot.body", separation(body, shape).distance_mm - gap


def _plate(job: Job) -> Iterator[tuple[str, float]]:
    """The mount's plate lies flat on the floor, over its holes."""
    mount, spot = chosen_mount(job), job.plan.spot
    assert mount is not None
    assert spot is not None
    plate = mount.plate
    if plate is None or mount.place != "inside":
        return
    dx, dy = turn_xy(plate.x_mm, plate.y_mm, spot.yaw_deg)
    sides = [plate.length_mm, plate.width_mm]
    length, width = sides if spot.yaw_deg in {0, 180} else sides[::-1]
    low = (spot.x_mm + dx - length / 2, spot.y_mm + dy - width / 2, _body_box(job)[2])
    body = box_shape(low, (length, width, plate.thickness_mm))
    for _, shape in _around(job):
        yield "spot.plate", separation(body, shape).distance_mm
    for hole in floor_holes(job):
        cut = _cut(hole).bounds
        ahead, left = cut[0] - low[0], cut[1] - low[1]
        yield "spot.plate", min(ahead, left, low[0] + length - cut[2], low[1] + width - cut[3])


def _air(job: Job) -> Iterator[tuple[str, float]]:
    mount, spot, body = chosen_mount(job), job.plan.spot, _body_box(job)
    assert mount is not None
    assert spot is not None
    shapes = [shape for _, shape in _around(job)]
    for rule, name, own in (
        ("spot.inlet", "inlet_gap_mm", (-1, 0)),
        ("spot.outlet", "outlet_gap_mm", (1, 0)),
        ("spot.sides", "side_gap_mm", (0, -1)),
        ("spot.sides", "side_gap_mm", (0, 1)),
    ):
        ends = {"spot.inlet": inlet_band, "spot.outlet": outlet_band}
        band = ends[rule](job) if rule in ends else limit_band(job, name)
        if band is not None:
            dx, dy = turn_xy(own[0], own[1], spot.yaw_deg)
            axis = 0 if round(dx) else 1
            free = _free(body, axis, forward=dx + dy > 0, shapes=shapes)
            yield rule, free - (band.minimum or 0.0)
    above, top = _free(body, 2, forward=True, shapes=shapes), limit_band(job, "top_gap_mm")
    if mount.place != "below" and top is not None:
        yield "spot.top", above - (top.minimum or 0.0)
    if mount.place == "inside":
        names = ("exhaust", "intake", "fuel")
        yield "spot.removal", above - max(heater_port(job, name).drop_mm for name in names)


def _free(box: Box, axis: int, *, forward: bool, shapes: Iterable[Shape]) -> float:
    """How far a box can grow along an axis until its shadow meets a footprint."""
    face = box[axis + 3] if forward else box[axis]
    found = FAR_MM
    for shape in shapes:
        b = shape.bounds
        behind = b[axis + 3] <= box[axis + 3] if forward else b[axis] >= box[axis]
        if behind or any(b[i] >= box[i + 3] or b[i + 3] <= box[i] for i in range(3) if i != axis):
            continue
        swept = list(box)
        swept[axis + 3 if forward else axis] = face + (FAR_MM if forward else -FAR_MM)
        swept[axis if forward else axis + 3] = box[axis] if axis == 2 else face
        met = shape.footprint.area.intersection(shapely.box(swept[0], swept[1], swept[3], swept[4]))
        if met.area <= 1e-6:
            continue
        low, high = (b[2], b[5]) if axis == 2 else (met.bounds[axis], met.bounds[axis + 2])
        found = min(found, max(low - face if forward else face - high, 0.0))
    return found


def _ports(job: Job) -> Iterator[tuple[str, float]]:
    shell, below = job.plan.vehicle.shell, surveyed_where(job, "below")
    mount, band = chosen_mount(job), limit_band(job, "pipe_room_mm")
    assert mount is not None
    for name in ("exhaust", "intake", "fuel"):
        port = heater_port(job, name)
        x, y, z = port_point(job, port)
        r = port.diameter_mm / 2
        top = floor_underside_z_mm(job)
        top = top if mount.place == "inside" else min(top, z)
        free = _free(
            (x - r, y - r, top, x + r, y + r, top + 0.1),
            2,
            forward=False,
            shapes=[part[2] for part in below],
        )
        if band is not None:
            yield "spot.pipe_room", min(free, top - shell.ground_z_mm) - (band.minimum or 0.0)
    port = heater_port(job, "exhaust")
    start = port_point(job, port)
    stub = tube_shape((start, add(start, (0.0, 0.0, -STUB_MM))), port.diameter_mm)
    for _, kind, shape in below:
        if kind.exhaust_mm is not None and kind.hazard in {"fire", "brakes", "shock"}:
            yield "spot.port_heat", separation(stub, shape).distance_mm - kind.exhaust_mm
