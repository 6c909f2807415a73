"""Checks of a mount through a side wall or through the engine bay's bulkhead."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, separation, tube_shape
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.freeway import free_way
from gale_nook.core.spot.obstacles import obstacles
from gale_nook.core.spot.placement import (
    FaceHole,
    body_corners,
    face_holes,
    facing_wall,
    heater_body,
    heater_port,
    mount_stack_mm,
)
from gale_nook.core.vehicle.floor import floor_finish_z_mm
from gale_nook.core.vehicle.parts import surveyed_parts

DRILL_REACH_MM = 60.0  # of a drill past the far side of a wall
NEAR_MM = 400.0  # from the hole's axis, within which a part is looked at
ASKEW_DEG = 90.0
FACE_NAMES = {"left": "the left wall", "right": "the right wall", "bulkhead": "the bulkhead"}


@rule("spot.faces_wall", "Ports towards a side wall", "deg")
def faces_wall(job: Job, this: Rule) -> Iterator[Finding]:
    """A mount through a wall needs its ports to point at one."""
    mount = chosen_mount(job)
    if mount is None or mount.through != "wall" or facing_wall(job) is not None:
        return
    yield this.finding(
        job,
        measured=ASKEW_DEG,
        band=Band(None, 0.0, Whose.GEOMETRY, source="the ports of this mount go straight out"),
        sentence=(
            f"The ports point along the vehicle, {q(ASKEW_DEG, 'deg')} off either side wall: "
            "turn the heater a quarter."
        ),
    )


@rule("spot.bay", "Engine bay", "mm")
def bay_surveyed(job: Job, this: Rule) -> Iterator[Finding]:
    """Whether a heater fits the engine bay can only be said where its bulkhead was measured."""
    mount, shell = chosen_mount(job), job.plan.vehicle.shell
    if mount is not None and mount.place == "engine-bay" and shell.firewall_x_mm is None:
        yield this.finding(
            job,
            measured=None,
            band=Band(None, None, Whose.GEOMETRY, source="the survey"),
            sentence=(
                "Measure where the engine bay ends: its bulkhead, in the vehicle's main dimensions."
            ),
        )


@rule("spot.face_stack", "Thickness against the mount", "mm", hazard="fire")
def face_stack(job: Job, this: Rule) -> Iterator[Finding]:
    """The fitting has to reach from the body through the wall, or clamp the bulkhead: neither too
    thick nor too thin.
    """
    mount, stack = chosen_mount(job), mount_stack_mm(job)
    if (
        mount is None
        or mount.through == "floor"
        or (mount.through == "wall" and facing_wall(job) is None)
    ):
        return
    what = "from the body to the outer skin" if mount.through == "wall" else "of bulkhead"
    sentence = (
        f"{q(stack)} {what} for a {mount.label}."
        if stack is not None
        else "Measure how thick the engine bay's bulkhead is."
    )
    if stack is not None and mount.stack.maximum is not None and stack > mount.stack.maximum:
        sentence = f"{q(stack)} {what}: the fitting of the {mount.label} does not reach through."
    yield this.finding(
        job,
        subject=mount.id,
        subject_name=mount.label,
        measured=stack,
        band=Band.of(mount.stack, Whose.SHEET, "stack"),
        sentence=sentence,
        marks=tuple(_through(job, hole) for hole in face_holes(job)[:1]),
    )


def _through(job: Job, hole: FaceHole) -> Mark:
    start, end = hole_axis(job, hole, 0.0)
    return Mark(start, end)


def hole_axis(job: Job, hole: FaceHole, past_mm: float) -> tuple[Vec3, Vec3]:
    """Return the axis of a hole through a wall, from its inner face to so far past
    the outer one.
    """
    shell = job.plan.vehicle.shell
    if hole.face == "bulkhead":
        x = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm
        return (x, hole.along_mm, hole.z_mm), (
            x + (shell.firewall_mm or 0.0) + past_mm,
            hole.along_mm,
            hole.z_mm,
        )
    side = -1.0 if hole.face == "left" else 1.0
    inner, outer = side * shell.floor_width_mm / 2, side * (shell.outer_width_mm / 2 + past_mm)
    return (hole.along_mm, inner, hole.z_mm), (hole.along_mm, outer, hole.z_mm)


@rule("spot.face_hole", "Hole in the wall", "mm")
def face_holes_clear(job: Job, this: Rule) -> Iterator[Finding]:
    """Metal left between each hole's edge and openings, the wall's own edges, and what a drill can
    reach behind it.
    """
    for hole in face_holes(job):
        yield from worst_and_nearest([_gap(job, this, hole, gap) for gap in gaps_of(job, hole)], 1)


@dataclass(frozen=True, slots=True)
class Gap:
    """What is left between a hole's edge and something else, and what has to be."""

    other: str
    name: str
    left_mm: float
    band: Band

    def subject_at(self, hole: FaceHole) -> str:
        return f"{hole.name.replace(' ', '-')}:{self.other}"[:80]


def gaps_of(job: Job, hole: FaceHole) -> Iterator[Gap]:
    """Yield what is left between a hole and the wall's edges, its openings, and the
    parts near it.
    """
    shell, radius = job.plan.vehicle.shell, hole.diameter_mm / 2
    band = limit_band(job, "hole_edge_mm") or Band(0.0, None, Whose.GEOMETRY)
    low, high, top = shell.bulkhead_x_mm, shell.rear_x_mm, shell.inside_height_mm
    if hole.face == "bulkhead":
        low, high, top = -shell.floor_width_mm / 2, shell.floor_width_mm / 2, shell.bonnet_z_mm
    edge = (
        min(
            hole.along_mm - low,
            high - hole.along_mm,
            hole.z_mm - floor_finish_z_mm(job),
            top - hole.z_mm,
        )
        - radius
    )
    yield Gap("edge", f"the edge of {FACE_NAMES[hole.face]}", edge, band)
    for opening in job.plan.vehicle.openings:
        if opening.face == hole.face:
            du = max(
                opening.start_mm - hole.along_mm,
                hole.along_mm - opening.start_mm - opening.length_mm,
            )
            dv = max(opening.base_mm - hole.z_mm, hole.z_mm - opening.base_mm - opening.height_mm)
            left = math.hypot(max(du, 0.0), max(dv, 0.0)) + min(max(du, dv), 0.0) - radius
            yield Gap(opening.id, opening.name, left, band)
    yield from _to_parts(job, hole)


def _to_parts(job: Job, hole: FaceHole) -> Iterator[Gap]:
    start, end = hole_axis(job, hole, DRILL_REACH_MM)
    drill = tube_shape((start, end), hole.diameter_mm)
    for solid, kind, shape in surveyed_parts(job):
        least = kind.hole_mm if kind.hole_mm is not None else kind.body_mm
        if kind.hazard is None or least <= 0 or _away_mm(start, end, shape) > NEAR_MM:
            continue
        band = Band(least, None, Whose.WORKSHOP, "hole_mm", f"{kind.label}: {kind.source}")
        yield Gap(solid.id, solid.name, separation(drill, shape).distance_mm, band)


def _away_mm(start: Vec3, end: Vec3, shape: Shape) -> float:
    """A distance that the hole's axis is never nearer than to a shape."""
    b = shape.bounds
    return max(
        max(b[i] - max(start[i], end[i]), min(start[i], end[i]) - b[i + 3]) for i in range(3)
    )


def _gap(job: Job, this: Rule, hole: FaceHole, gap: Gap) -> Finding:
    start, _ = hole_axis(job, hole, 0.0)
    words = f"{q(gap.left_mm)} left between the {hole.name}'s edge and {gap.name}."
    if gap.left_mm < 0:
        words = f"The {hole.name} cuts {q(-gap.left_mm)} into {gap.name}."
    return this.finding(
        job,
        subject=gap.subject_at(hole),
        subject_name=gap.name,
        measured=gap.left_mm,
        band=gap.band,
        sentence=words,
        title=f"{hole.name[0].upper()}{hole.name[1:]} to {gap.name}",
        marks=(Mark(start, start),),
    )


def pull_mm(job: Job) -> float:
    """Return how far the heater has to be pulled from the wall until its ports are out of it. Needs
    a mount through one.
    """
    body, ports = heater_body(job), [heater_port(job, "exhaust"), heater_port(job, "intake")]
    return max(abs(port.y_mm - body.y_mm) for port in ports) - body.width_mm / 2


@rule("spot.face_removal", "Room to pull the heater from the wall", "mm")
def face_removal(job: Job, this: Rule) -> Iterator[Finding]:
    """To come out of the wall again the heater is pulled by as much as its ports reach into it."""
    wall = facing_wall(job)
    corners = body_corners(job)
    if wall is None or corners is None:
        return
    low, high = corners
    way = free_way(low, high, (0, 1 if wall == "left" else -1, 0), obstacles(job))
    name = way.obstacle.name if way.obstacle is not None else "nothing"
    yield this.finding(
        job,
        subject="pull",
        subject_name=name,
        measured=way.distance_mm,
        band=Band(
            pull_mm(job), None, Whose.GEOMETRY, source="as far as the ports reach past the body"
        ),
        sentence=(
            f"It can be pulled {q(way.distance_mm)} before it meets {name}; its ports need "
            f"{q(pull_mm(job))}."
        ),
        marks=(Mark(way.start, way.end),),
    )
