"""Checks of a mount through a side wall or through the engine bay's bulkhead."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, separation, tube_shape
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.vehicle import Opening
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.air_rules import mark_from_body
from gale_nook.core.spot.free_reach import free_along
from gale_nook.core.spot.hole_rules import cut_words
from gale_nook.core.spot.moving import moving_body
from gale_nook.core.spot.obstacles import obstacles
from gale_nook.core.spot.placement import (
    FaceHole,
    face_holes,
    facing_wall,
    heater_body,
    heater_finish_z_mm,
    heater_port,
    mount_stack_mm,
)
from gale_nook.core.spot.places import Measure, Places, known, spot_rule
from gale_nook.core.vehicle.parts import surveyed_parts

DRILL_REACH_MM = 60.0  # of a drill past the far side of a wall
NEAR_MM = 400.0  # from the hole's axis, within which a part is looked at
ASKEW_DEG = 90.0
FACE_NAMES = {"left": "the left wall", "right": "the right wall", "bulkhead": "the bulkhead"}


@spot_rule("spot.faces_wall", "Ports towards a side wall", "deg")
def faces_wall(at: Places, this: Rule) -> Iterator[Measure]:
    """A mount through a wall needs its ports to point at one."""
    mount = chosen_mount(at.job)
    if mount is None or mount.through != "wall" or facing_wall(at.job) is not None:
        return
    band = Band(None, 0.0, Whose.GEOMETRY, source="the ports of this mount go straight out")
    yield Measure(
        "-",
        band,
        known(ASKEW_DEG),
        lambda askew: this.finding(
            at.job,
            measured=askew,
            band=band,
            sentence=(
                f"The ports point along the vehicle, {q(ASKEW_DEG, 'deg')} off either side wall: "
                "turn the heater a quarter."
            ),
        ),
        at.everywhere,
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


@spot_rule("spot.face_stack", "Thickness against the mount", hazard="fire")
def face_stack(at: Places, this: Rule) -> Iterator[Measure]:
    """The fitting has to reach from the body through the wall, or clamp the bulkhead: neither too
    thick nor too thin.
    """
    mount = chosen_mount(at.job)
    spot = at.job.plan.spot
    wall = facing_wall(at.job)
    if mount is None or spot is None or mount.through == "floor":
        return
    if mount.through == "wall" and wall is None:
        return
    stack, y0 = mount_stack_mm(at.job), spot.y_mm
    towards = {"left": 1.0, "right": -1.0, None: 0.0}[wall]
    yield Measure(
        mount.id,
        Band.of(mount.stack, Whose.SHEET, "stack"),
        None if stack is None else lambda _x, y: stack + towards * (y - y0),
        partial(_stack_finding, at.job, this),
        at.everywhere,
        same_everywhere=wall is None,
    )


def _stack_finding(job: Job, this: Rule, stack_mm: float | None) -> Finding:
    mount = chosen_mount(job)
    if mount is None:
        raise ValueError("the heater has no mount")
    what = "from the body to the outer skin" if mount.through == "wall" else "of bulkhead"
    sentence = "Measure how thick the engine bay's bulkhead is."
    if stack_mm is not None:
        sentence = f"{q(stack_mm)} {what} for a {mount.label}."
        if mount.stack.maximum is not None and stack_mm > mount.stack.maximum:
            fitting = f"the fitting of the {mount.label}"
            sentence = f"{q(stack_mm)} {what}: {fitting} does not reach through."
    return this.finding(
        job,
        subject=mount.id,
        subject_name=mount.label,
        measured=stack_mm,
        band=Band.of(mount.stack, Whose.SHEET, "stack"),
        sentence=sentence,
        marks=tuple(Mark(*hole_axis(job, hole, 0.0)) for hole in face_holes(job)[:1]),
    )


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


@spot_rule("spot.face_hole", "Hole in the wall")
def face_holes_clear(at: Places, this: Rule) -> Iterator[Measure]:
    """Metal left between each hole's edge and openings, the wall's own edges, and what a drill can
    reach behind it.
    """
    for hole in face_holes(at.job):
        yield _to_face_edge(at, this, hole)
        for opening in at.job.plan.vehicle.openings:
            if opening.face == hole.face:
                yield _to_opening(at, this, hole, opening)
        yield from _to_parts(at, this, hole)


def _along_mm(at: Places, hole: FaceHole, x_mm: Any, y_mm: Any) -> Any:
    """Where along its face a hole lies when the heater stands at places."""
    dx, dy = at.offset_mm(hole.along_mm, hole.along_mm)
    return y_mm + dy if hole.face == "bulkhead" else x_mm + dx


def _hole_band(job: Job) -> Band:
    return limit_band(job, "hole_edge_mm") or Band(0.0, None, Whose.GEOMETRY)


def _to_face_edge(at: Places, this: Rule, hole: FaceHole) -> Measure:
    shell = at.job.plan.vehicle.shell
    low = shell.bulkhead_x_mm
    high = shell.rear_x_mm
    top = shell.inside_height_mm
    if hole.face == "bulkhead":
        low = -shell.floor_width_mm / 2
        high = shell.floor_width_mm / 2
        top = shell.bonnet_z_mm
    upright = min(hole.z_mm - heater_finish_z_mm(at.job), top - hole.z_mm)

    def left_mm(x: Any, y: Any) -> Any:
        along = _along_mm(at, hole, x, y)
        edge = np.minimum(np.minimum(along - low, high - along), upright)
        return edge - hole.diameter_mm / 2

    edge_name = f"the edge of {FACE_NAMES[hole.face]}"
    return _measure(at, this, hole, ("edge", edge_name, _hole_band(at.job)), left_mm)


def _to_opening(at: Places, this: Rule, hole: FaceHole, opening: Opening) -> Measure:
    below = opening.base_mm - hole.z_mm
    upright = max(below, -below - opening.height_mm)

    def left_mm(x: Any, y: Any) -> Any:
        before = opening.start_mm - _along_mm(at, hole, x, y)
        sideways = np.maximum(before, -before - opening.length_mm)
        outside = np.hypot(np.maximum(sideways, 0.0), max(upright, 0.0))
        return outside + np.minimum(np.maximum(sideways, upright), 0.0) - hole.diameter_mm / 2

    other = (opening.id, opening.name, _hole_band(at.job))
    return _measure(at, this, hole, other, left_mm)


def _to_parts(at: Places, this: Rule, hole: FaceHole) -> Iterator[Measure]:
    along = np.ravel(_along_mm(at, hole, *at.everywhere.places(at.grid)))
    first, last = (
        hole_axis(at.job, replace(hole, along_mm=float(end)), DRILL_REACH_MM)
        for end in (along[0], along[-1])
    )
    for solid, kind, shape in surveyed_parts(at.job):
        wanted = kind.hole_mm if kind.hole_mm is not None else kind.body_mm
        harmless = kind.hazard is None and kind.hole_mm is None
        if harmless or wanted <= 0 or _away_mm((*first, *last), shape) > NEAR_MM:
            continue
        band = Band(wanted, None, Whose.WORKSHOP, "hole_mm", f"{kind.label}: {kind.source}")
        distance = partial(_drill_to_mm, at, hole, shape)
        yield _measure(at, this, hole, (solid.id, solid.name, band), distance)


def _drill_to_mm(at: Places, hole: FaceHole, shape: Shape, x_mm: Any, y_mm: Any) -> Any:
    """Distance from the drill to a part, for each place along the face."""
    along = _along_mm(at, hole, x_mm, y_mm)
    results = []
    for value in np.ravel(along):
        axis = hole_axis(at.job, replace(hole, along_mm=float(value)), DRILL_REACH_MM)
        results.append(separation(tube_shape(axis, hole.diameter_mm), shape).distance_mm)
    return np.reshape(results, np.shape(along))


def _away_mm(axis: tuple[Vec3, ...], shape: Shape) -> float:
    """A distance that no point of a hole's axes is ever nearer than to a shape."""
    b = shape.bounds
    return max(
        max(b[i] - max(point[i] for point in axis), min(point[i] for point in axis) - b[i + 3])
        for i in range(3)
    )


def _measure(
    at: Places, this: Rule, hole: FaceHole, other: tuple[str, str, Band], left_mm: Any
) -> Measure:
    """What is left between a hole's edge and something else.

    Args:
        other: its id and name, and what has to be left.
    """
    (other_id, _, band), stem = other, hole.name.replace(" ", "-")
    return Measure(
        f"{stem}:{other_id}"[:80],
        band,
        left_mm,
        partial(_hole_finding, at.job, this, hole, other),
        at.everywhere,
        group=hole.name,
    )


def _hole_finding(
    job: Job, this: Rule, hole: FaceHole, other: tuple[str, str, Band], left_mm: float | None
) -> Finding:
    (other_id, name, band), left = other, left_mm or 0.0
    start, _ = hole_axis(job, hole, 0.0)
    words = f"{q(left)} left between the {hole.name}'s edge and {name}."
    if left < 0:
        words = cut_words(hole.name, -left, name)
    return this.finding(
        job,
        subject=f"{hole.name.replace(' ', '-')}:{other_id}"[:80],
        subject_name=name,
        measured=left_mm,
        band=band,
        sentence=words,
        title=f"{hole.name[0].upper()}{hole.name[1:]} to {name}",
        marks=(Mark(start, start),),
    )


def pull_mm(job: Job) -> float:
    """Return how far the heater has to be pulled from the wall until its ports are out of it. Needs
    a mount through one.
    """
    body, ports = heater_body(job), [heater_port(job, "exhaust"), heater_port(job, "intake")]
    return max(abs(port.y_mm - body.y_mm) for port in ports) - body.width_mm / 2


@spot_rule("spot.face_removal", "Room to pull the heater from the wall")
def face_removal(at: Places, this: Rule) -> Iterator[Measure]:
    """To come out of the wall again the heater is pulled by as much as its ports reach into it."""
    wall, body = facing_wall(at.job), moving_body(at)
    if wall is None or body is None:
        return
    towards, pull = 1 if wall == "left" else -1, pull_mm(at.job)
    reach = free_along(at, body, (0, towards), obstacles(at.job), pull)
    name = reach.met.name if reach.met is not None else "nothing"
    band = Band(pull, None, Whose.GEOMETRY, source="as far as the ports reach past the body")
    yield Measure(
        "pull",
        band,
        known(reach.distance_mm),
        lambda free: this.finding(
            at.job,
            subject="pull",
            subject_name=name,
            measured=free,
            band=band,
            sentence=(
                f"It can be pulled {q(free or 0.0)} before it meets {name}; its ports need "
                f"{q(pull)}."
            ),
            marks=(mark_from_body(at.job, (0, towards, 0), free or 0.0),),
        ),
        at.everywhere,
    )
