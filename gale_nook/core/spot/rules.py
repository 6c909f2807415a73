"""Checks of the spot: hole, floor stack, body, clear air, and room for the pipes below."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial

import numpy as np

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import Candidate, nearest_first
from gale_nook.core.findings.rule import Rule, rule, tolerance_of
from gale_nook.core.geometry.frames import Vec3, add, scale, turn_xy
from gale_nook.core.geometry.shapes import Shape, least_separations_mm, separation, tube_shape
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.vehicle import Solid
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.convex_pieces import footprint, pieces_of_solid, plan_distance_mm
from gale_nook.core.spot.freeway import FAR_MM, Obstacle, free_way
from gale_nook.core.spot.obstacles import obstacles
from gale_nook.core.spot.placement import (
    PlacedHole,
    PortName,
    body_corners,
    floor_holes,
    floor_stack_mm,
    heater_body_shape,
    heater_port,
    mount_plane_z_mm,
    parts_at_ports,
    port_direction,
    port_point,
)
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_where

# A hole saw with its arbor and pilot reaches about this far under the floor before it can be
# stopped.
DRILL_REACH_MM = 150.0
PORT_STUB_MM = 40.0  # of exhaust that leaves the port straight down before it can bend
TO_PLACE = Band(None, None, Whose.GEOMETRY, source="the plan")


@rule("spot.place", "A place for the heater", "mm")
def placed(job: Job, this: Rule) -> Iterator[Finding]:
    """Without heater, place and mount there is nothing to check."""
    sheet = heater_sheet(job)
    if sheet is None:
        sentence = "Choose a heater first: its sheet decides the hole and the clearances."
    elif job.plan.spot is None:
        sentence = (
            "The heater has no place yet. Type how far behind the datum and off the centre "
            "line it may go."
        )
    elif chosen_mount(job) is None:
        known = ", ".join(mount.id for mount in sheet.mounts)
        sentence = (
            f"The sheet of {sheet.label} has no mount '{job.plan.spot.mount}'; it has {known}."
        )
    else:
        return
    yield this.finding(job, measured=None, band=TO_PLACE, sentence=sentence)


@rule("spot.hole", "Hole in the floor", "mm")
def holes_clear(job: Job, this: Rule) -> Iterator[Finding]:
    """Metal left between each hole's edge and whatever a drill can reach below."""
    for hole in floor_holes(job):
        yield from nearest_first(_hole(job, this, hole), tolerance_of(job, "mm"))
        yield _floor_edge(job, this, hole)


def _hole(job: Job, this: Rule, hole: PlacedHole) -> Iterator[Candidate]:
    reach = max(hole.reach_mm)
    for solid, kind, shape in surveyed_where(job, "below"):
        if kind.hole_mm is None or shape.high_z_mm < floor_underside_z_mm(job) - DRILL_REACH_MM:
            continue
        b = shape.bounds
        away = math.hypot(
            max(b[0] - hole.x_mm, hole.x_mm - b[3], 0.0),
            max(b[1] - hole.y_mm, hole.y_mm - b[4], 0.0),
        )
        look = partial(_hole_to, job, this, hole, (solid, kind, shape))
        yield Candidate(away - math.hypot(reach, reach) - kind.hole_mm, look)


def _hole_to(
    job: Job, this: Rule, hole: PlacedHole, part: tuple[Solid, SolidKind, Shape]
) -> Finding:
    solid, kind, shape = part
    name, here = hole.name, (hole.x_mm, hole.y_mm)
    gap = (
        cut_to_solid_mm(hole, solid)
        if hole.is_cut
        else shape.footprint.signed_distance_mm(*here) - hole.radius_mm
    )
    near = shape.footprint.nearest_xy(*here)
    words = f"{q(gap)} of floor left between the {name}'s edge and {solid.name}."
    if gap < 0:
        words = f"The {name} cuts {q(-gap)} into {solid.name}."
    return this.finding(
        job,
        subject=_subject(name, solid.id),
        subject_name=solid.name,
        measured=gap,
        band=Band(kind.hole_mm, None, Whose.WORKSHOP, "hole_mm", f"{kind.label}: {kind.source}"),
        title=f"{name[0].upper()}{name[1:]} to {solid.name}",
        sentence=words,
        hazard=kind.hazard,
        marks=(_rim_mark(hole, near, floor_underside_z_mm(job)),),
    )


def cut_to_solid_mm(hole: PlacedHole, solid: Solid) -> float:
    """Return the distance in plan between a square cut and a solid; negative is the depth of
    overlap.
    """
    x, y = np.array([[hole.x_mm]]), np.array([[hole.y_mm]])
    found = []
    for part in pieces_of_solid(solid):
        corners, swell = footprint(part)
        found.append(
            float(plan_distance_mm(corners, hole.half_x_mm, hole.half_y_mm, x, y).item()) - swell
        )
    return min(found)


def _floor_edge(job: Job, this: Rule, hole: PlacedHole) -> Finding:
    name, x, y, (reach_x, reach_y) = hole.name, hole.x_mm, hole.y_mm, hole.reach_mm
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    edges = {
        (shell.front_x_mm, y): x - shell.front_x_mm - reach_x,
        (shell.rear_x_mm, y): shell.rear_x_mm - x - reach_x,
        (x, -half): y + half - reach_y,
        (x, half): half - y - reach_y,
    }
    edge, gap = min(edges.items(), key=lambda item: item[1])
    band = limit_band(job, "hole_edge_mm") or Band(0, None, Whose.GEOMETRY)
    return this.finding(
        job,
        subject=_subject(name, "floor-edge"),
        subject_name="the floor's edge",
        measured=gap,
        band=band,
        title=f"{name[0].upper()}{name[1:]} to the floor's edge",
        hazard="structure",
        sentence=f"{q(gap)} of floor left between the {name} and the floor's edge.",
        marks=(_rim_mark(hole, edge, floor_underside_z_mm(job)),),
    )


def _subject(hole_name: str, other: str) -> str:
    return f"{hole_name.replace(' ', '-')}:{other}"[:80]


def _rim_mark(hole: PlacedHole, target: tuple[float, float], z: float) -> Mark:
    dx, dy = target[0] - hole.x_mm, target[1] - hole.y_mm
    if hole.is_cut:
        rim = (
            max(-hole.half_x_mm, min(dx, hole.half_x_mm)),
            max(-hole.half_y_mm, min(dy, hole.half_y_mm)),
        )
    else:
        length = math.hypot(dx, dy) or 1.0
        rim = (dx / length * hole.radius_mm, dy / length * hole.radius_mm)
    return Mark((hole.x_mm + rim[0], hole.y_mm + rim[1], z), (*target, z))


@rule("spot.stack", "Floor stack against the mount", "mm", hazard="fire")
def stack_fits(job: Job, this: Rule) -> Iterator[Finding]:
    """The mount has to pass board, insulation, steel and ribs: neither too thick nor too thin."""
    mount, spot, stack = chosen_mount(job), job.plan.spot, floor_stack_mm(job)
    if mount is None or spot is None or mount.through != "floor":
        return
    limit = mount.stack
    parts = f"{q(stack)} of floor stack and ribs"
    sentence = f"{parts} for a {mount.label}."
    if limit.maximum is not None and stack > limit.maximum:
        sentence = (
            f"{parts}: the collar of the {mount.label} ends inside the floor, where heat "
            "and spray get at it."
        )
    elif limit.minimum is not None and stack < limit.minimum:
        sentence = f"{parts}: too thin for the {mount.label} to clamp."
    yield this.finding(
        job,
        subject=mount.id,
        subject_name=mount.label,
        measured=stack,
        band=Band.of(limit, Whose.SHEET, "stack"),
        sentence=sentence,
        marks=(
            Mark(
                (spot.x_mm, spot.y_mm, mount_plane_z_mm(job)),
                (spot.x_mm, spot.y_mm, floor_underside_z_mm(job)),
            ),
        ),
    )


@rule("spot.body", "Body", "mm")
def body_clear(job: Job, this: Rule) -> Iterator[Finding]:
    """The heater's body and what stands around it cannot be in the same place."""
    shape = heater_body_shape(job)
    if shape is None:
        return
    around = obstacles(job)
    least = least_separations_mm(shape, [obstacle.shape for obstacle in around])
    looks = (
        Candidate(gap - body_band(obstacle)[0], partial(_body_to, job, this, shape, obstacle))
        for gap, obstacle in zip(least, around, strict=True)
    )
    yield from nearest_first(looks, tolerance_of(job, "mm"), 1)


def body_band(obstacle: Obstacle) -> tuple[float, Band]:
    """Return the gap to be kept between the body and an obstacle, and as a band with its owner."""
    kind = obstacle.kind
    if kind is None or kind.body_mm == 0:
        return 0.0, Band(0.0, None, Whose.GEOMETRY, source="two things cannot be in one place")
    return kind.body_mm, Band(
        kind.body_mm, None, Whose.WORKSHOP, "body_mm", f"{kind.label}: {kind.source}"
    )


def _body_to(job: Job, this: Rule, body: Shape, obstacle: Obstacle) -> Finding:
    near = separation(body, obstacle.shape)
    words = f"{q(near.distance_mm)} between the body and {obstacle.name}."
    if near.distance_mm < 0:
        words = f"The body reaches {q(-near.distance_mm)} into {obstacle.name}."
    return this.finding(
        job,
        subject=obstacle.id,
        subject_name=obstacle.name,
        measured=near.distance_mm,
        band=body_band(obstacle)[1],
        hazard=obstacle.kind.hazard if obstacle.kind and obstacle.kind.body_mm else None,
        title=f"Body to {obstacle.name}",
        sentence=words,
        marks=(Mark(near.start, near.end),),
    )


def _air(
    job: Job, this: Rule, limit_name: str, direction: tuple[int, int, int], what: str
) -> Iterator[Finding]:
    """One finding: free distance from a face of the body along a direction of the
    vehicle's frame.
    """
    corners = body_corners(job)
    band = limit_band(job, limit_name)
    if band is None or corners is None:
        return
    low, high = corners
    way = free_way(low, high, direction, obstacles(job))
    name = way.obstacle.name if way.obstacle is not None else f"nothing within {q(FAR_MM)}"
    yield this.finding(
        job,
        subject=what,
        subject_name=name,
        measured=way.distance_mm,
        band=band,
        sentence=f"{q(way.distance_mm)} of clear air to {name}.",
        marks=(Mark(way.start, way.end),),
    )


def _turned(job: Job, direction: tuple[int, int]) -> tuple[int, int, int]:
    yaw = job.plan.spot.yaw_deg if job.plan.spot is not None else 0
    dx, dy = turn_xy(direction[0], direction[1], yaw)
    return (round(dx), round(dy), 0)


@rule("spot.inlet", "Clear air at the inlet end", "mm")
def inlet_air(job: Job, this: Rule) -> Iterator[Finding]:
    """A wall close to the inlet end starves the heater."""
    yield from _air(job, this, "inlet_gap_mm", _turned(job, (-1, 0)), "inlet")


@rule("spot.outlet", "Clear air at the warm end", "mm", hazard="fire")
def outlet_air(job: Job, this: Rule) -> Iterator[Finding]:
    """The warm end must not blow at a wall, a bed or a panel."""
    yield from _air(job, this, "outlet_gap_mm", _turned(job, (1, 0)), "outlet")


@rule("spot.sides", "Gap beside the body", "mm")
def side_gaps(job: Job, this: Rule) -> Iterator[Finding]:
    """Room beside the body to cool it and to reach it."""
    for direction, what in (((0, -1), "left flank"), ((0, 1), "right flank")):
        yield from _air(job, this, "side_gap_mm", _turned(job, direction), what)


@rule("spot.top", "Gap above the body", "mm")
def top_gap(job: Job, this: Rule) -> Iterator[Finding]:
    """Room above the body to cool it and to open it."""
    mount = chosen_mount(job)
    if mount is not None and mount.place != "below":
        yield from _air(job, this, "top_gap_mm", (0, 0, 1), "top")


@rule("spot.pipe_room", "Room below the ports", "mm", hazard="structure")
def pipe_room(job: Job, this: Rule) -> Iterator[Finding]:
    """Pipes leave the ports downwards; what lies close below one stops them."""
    mount = chosen_mount(job)
    band = limit_band(job, "pipe_room_mm")
    if heater_sheet(job) is None or mount is None or band is None or mount.through == "wall":
        return
    below = [Obstacle(solid.id, solid.name, shape) for solid, _, shape in parts_at_ports(job)]
    z, ground = floor_underside_z_mm(job), job.plan.vehicle.shell.ground_z_mm
    for name, port in (
        ("exhaust port", heater_port(job, "exhaust")),
        ("combustion-air port", heater_port(job, "intake")),
        ("fuel port", heater_port(job, "fuel")),
    ):
        x, y, port_z = port_point(job, port)
        r = port.diameter_mm / 2
        top = {"inside": z, "below": min(z, port_z), "engine-bay": port_z}[mount.place]
        low: Vec3 = (x - r, y - r, top)
        way = free_way(low, (x + r, y + r, top + 0.1), (0, 0, -1), below)
        distance, met = min(way.distance_mm, top - ground), way.obstacle
        met_name = met.name if met is not None and way.distance_mm < top - ground else "the ground"
        yield this.finding(
            job,
            subject=name.replace(" ", "-"),
            subject_name=met_name,
            measured=distance,
            band=band,
            title=f"Room below the {name}",
            sentence=f"{q(distance)} free below the {name}, down to {met_name}.",
            marks=(Mark((x, y, top), (x, y, top - distance)),),
        )


@rule("spot.removal", "Room to lift the heater out", "mm")
def removal_path(job: Job, this: Rule) -> Iterator[Finding]:
    """To come out of its hole again the heater is lifted by as much as its ports hang below the
    mount.
    """
    mount = chosen_mount(job)
    corners = body_corners(job)
    if (
        heater_sheet(job) is None
        or mount is None
        or mount.place != "inside"
        or mount.through != "floor"
        or corners is None
    ):
        return
    low, high = corners
    way = free_way(low, high, (0, 0, 1), obstacles(job))
    name = way.obstacle.name if way.obstacle is not None else "nothing"
    yield this.finding(
        job,
        subject="lift",
        subject_name=name,
        measured=way.distance_mm,
        band=Band(
            lift_mm(job),
            None,
            Whose.GEOMETRY,
            source="as far as the ports hang below the mount",
        ),
        sentence=(
            f"It can be lifted {q(way.distance_mm)} before it meets {name}; its ports need "
            f"{q(lift_mm(job))}."
        ),
        marks=(Mark(way.start, way.end),),
    )


def lift_mm(job: Job) -> float:
    """Return how far the heater has to be lifted until its ports are out of the hole. Needs a
    sheet.
    """
    names: tuple[PortName, ...] = ("exhaust", "intake", "fuel")
    return (
        max(heater_port(job, name).drop_mm for name in names)
        if heater_sheet(job) is not None
        else 0.0
    )


@rule("spot.port_heat", "Exhaust port to what heat harms", "mm", hazard="fire")
def port_heat(job: Job, this: Rule) -> Iterator[Finding]:
    """The first stretch of exhaust below its port is hot whichever way the pipe goes on."""
    if heater_sheet(job) is None or chosen_mount(job) is None or job.plan.spot is None:
        return
    port = heater_port(job, "exhaust")
    start = port_point(job, port)
    stub = tube_shape((start, add(start, scale(stub_way(job), PORT_STUB_MM))), port.diameter_mm)
    harmed = [(s, kind, shape) for s, kind, shape in parts_at_ports(job) if harmed_by_heat(kind)]
    least = least_separations_mm(stub, [shape for _, _, shape in harmed])
    looks = (
        Candidate(gap - (part[1].exhaust_mm or 0.0), partial(_stub_to, job, this, stub, part))
        for gap, part in zip(least, harmed, strict=True)
    )
    yield from nearest_first(looks, tolerance_of(job, "mm"), 1)


def stub_way(job: Job) -> Vec3:
    """Return the way in which the first stretch of exhaust goes: straight down, or
    out of the wall.
    """
    mount = chosen_mount(job)
    through_wall = mount is not None and mount.through == "wall"
    return port_direction(job, "exhaust") if through_wall else (0.0, 0.0, -1.0)


def harmed_by_heat(kind: SolidKind) -> bool:
    """Return whether a kind of part has to be kept from a hot pipe for more than its own sake."""
    return kind.exhaust_mm is not None and kind.hazard in {"fire", "brakes", "shock"}


def _stub_to(job: Job, this: Rule, stub: Shape, part: tuple[Solid, SolidKind, Shape]) -> Finding:
    solid, kind, shape = part
    near = separation(stub, shape)
    return this.finding(
        job,
        subject=solid.id,
        subject_name=solid.name,
        measured=near.distance_mm,
        hazard=kind.hazard,
        band=Band(
            kind.exhaust_mm, None, Whose.WORKSHOP, "exhaust_mm", f"{kind.label}: {kind.source}"
        ),
        title=f"Exhaust port to {solid.name}",
        marks=(Mark(near.start, near.end),),
        sentence=f"{q(near.distance_mm)} between the exhaust just past its port and {solid.name}.",
    )
