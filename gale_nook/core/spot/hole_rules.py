"""Checks of the mount's holes in the floor: what is left of it beside them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.vehicle import Shell
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.convex_pieces import footprint, plan_distance_mm, ring_distance_mm
from gale_nook.core.spot.obstacles import Obstacle, solid_obstacles
from gale_nook.core.spot.placement import (
    PlacedHole,
    adapter_of,
    floor_holes,
    heater_finish_z_mm,
    heater_underside_z_mm,
)
from gale_nook.core.spot.places import Measure, Places, spot_rule

# A hole saw with its arbor and pilot reaches about this far under the floor before it can be
# stopped.
DRILL_REACH_MM = 150.0
NOT_INTO = Band(0.0, None, Whose.GEOMETRY, source="a hole in an opening that exists")


@spot_rule("spot.hole", "Hole in the floor", keep_clear=2)
def holes_clear(at: Places, this: Rule) -> Iterator[Measure]:
    """Metal left between each hole's edge and whatever a drill can reach below."""
    for hole in floor_holes(at.job):
        yield from _to_solids(at, this, hole)
        yield _to_floor_edge(at, this, hole)


@fact
def drilled_near(
    job: Job, underside_z_mm: float, finish_z_mm: float, in_opening: bool
) -> tuple[tuple[Obstacle, Band], ...]:
    """Return what a drill can reach below a floor and over it, with what has to be left beside
    it: nothing where the floor is open already, and no hole is drilled into it.
    """
    low = underside_z_mm - DRILL_REACH_MM
    high = finish_z_mm + DRILL_REACH_MM
    return tuple(
        (obstacle, NOT_INTO if in_opening else _metal_band(obstacle.kind))
        for obstacle in (*solid_obstacles(job, "below"), *solid_obstacles(job, "inside"))
        if obstacle.kind is not None
        and obstacle.kind.hole_mm is not None
        and obstacle.shape.high_z_mm >= low
        and obstacle.shape.low_z_mm <= high
    )


def drilled_at_heater(job: Job) -> tuple[tuple[Obstacle, Band], ...]:
    """Return the same where the heater stands."""
    in_opening = adapter_of(job) is not None
    low, high = heater_underside_z_mm(job), heater_finish_z_mm(job)
    return drilled_near(job, low, high, in_opening)


def _metal_band(kind: SolidKind) -> Band:
    return Band(kind.hole_mm, None, Whose.WORKSHOP, "hole_mm", f"{kind.label}: {kind.source}")


def metal_left_mm(hole: PlacedHole, obstacle: Obstacle, x_mm: Any, y_mm: Any) -> Any:
    """Return the distance in plan between a hole's edge and a solid; negative is the depth of
    overlap.

    Args:
        x_mm, y_mm: of the hole's middle; arrays that broadcast to one another.
    """
    if obstacle.ring and not hole.is_cut:  # by its own edges, not by its triangles
        return ring_distance_mm(obstacle.ring, x_mm, y_mm) - hole.radius_mm
    results = []
    for piece in obstacle.pieces:
        corners, swell = footprint(piece)
        away = plan_distance_mm(corners, hole.half_x_mm, hole.half_y_mm, x_mm, y_mm)
        results.append(away - swell - hole.radius_mm)
    return results[0] if len(results) == 1 else np.minimum.reduce(results)


def _to_solids(at: Places, this: Rule, hole: PlacedHole) -> Iterator[Measure]:
    dx, dy = offset = at.offset_mm(hole.x_mm, hole.y_mm)
    reach = max(hole.reach_mm)
    single = at.grid.is_one_place
    alike = _alike(hole, offset)
    for obstacle, band in drilled_at_heater(at.job):
        bounds = obstacle.shape.bounds
        window = at.near(bounds, reach + (band.minimum or 0.0), offset)
        if window is not None:
            yield Measure(
                _subject(hole, obstacle.id),
                band,
                partial(_left_at, hole, obstacle, dx, dy),
                partial(_solid_finding, at.job, this, hole, (obstacle, band)),
                window,
                _least(hole, bounds) if single else None,
                group=hole.name,
                alike=(*alike, obstacle.id),
            )


def _left_at(
    hole: PlacedHole, obstacle: Obstacle, dx_mm: float, dy_mm: float, x_mm: Any, y_mm: Any
) -> Any:
    return metal_left_mm(hole, obstacle, x_mm + dx_mm, y_mm + dy_mm)


def _least(hole: PlacedHole, bounds: tuple[float, ...]) -> float:
    away = math.hypot(
        max(bounds[0] - hole.x_mm, hole.x_mm - bounds[3], 0.0),
        max(bounds[1] - hole.y_mm, hole.y_mm - bounds[4], 0.0),
    )
    return away - math.hypot(*hole.reach_mm) if away > 0 else -math.inf


def _alike(hole: PlacedHole, offset: tuple[float, float]) -> tuple[Any, ...]:
    """A hole in the middle does not move when the heater is turned."""
    return (hole.name, *(round(each, 9) for each in (*offset, *hole.reach_mm)), hole.is_cut)


def cut_words(hole: str, deep_mm: float, name: str) -> str:
    """Return that a hole cuts into something."""
    return f"The {hole} cuts {q(deep_mm)} into {name}."


def _solid_finding(
    job: Job,
    this: Rule,
    hole: PlacedHole,
    beside: tuple[Obstacle, Band],
    left_mm: float | None,
) -> Finding:
    (obstacle, band), left = beside, left_mm or 0.0
    near = obstacle.shape.footprint.nearest_xy(hole.x_mm, hole.y_mm)
    words = f"{q(left)} of floor left between the {hole.name}'s edge and {obstacle.name}."
    if left < 0:
        words = cut_words(hole.name, -left, obstacle.name)
    return this.finding(
        job,
        subject=_subject(hole, obstacle.id),
        subject_name=obstacle.name,
        measured=left_mm,
        band=band,
        title=f"{capital(hole.name)} to {obstacle.name}",
        sentence=words,
        hazard=obstacle.kind.hazard if obstacle.kind else None,
        marks=(_rim_mark(hole, near, heater_underside_z_mm(job)),),
    )


def _to_floor_edge(at: Places, this: Rule, hole: PlacedHole) -> Measure:
    shell, offset = at.job.plan.vehicle.shell, at.offset_mm(hole.x_mm, hole.y_mm)
    return Measure(
        _subject(hole, "floor-edge"),
        limit_band(at.job, "hole_edge_mm") or Band(0, None, Whose.GEOMETRY),
        lambda x, y: np.minimum.reduce(
            np.broadcast_arrays(*_edge_gaps(shell, hole, x + offset[0], y + offset[1]))
        ),
        partial(_edge_finding, at.job, this, hole),
        at.everywhere,
        alike=(*_alike(hole, offset), "floor-edge"),
    )


def _edge_gaps(shell: Shell, hole: PlacedHole, x_mm: Any, y_mm: Any) -> tuple[Any, Any, Any, Any]:
    """What is left to the floor's edge in front, behind, on the left and on the right."""
    (reach_x, reach_y), half = hole.reach_mm, shell.floor_width_mm / 2
    return (
        x_mm - shell.front_x_mm - reach_x,
        shell.rear_x_mm - x_mm - reach_x,
        y_mm + half - reach_y,
        half - y_mm - reach_y,
    )


def _edge_finding(job: Job, this: Rule, hole: PlacedHole, left_mm: float | None) -> Finding:
    shell, x, y = job.plan.vehicle.shell, hole.x_mm, hole.y_mm
    half = shell.floor_width_mm / 2
    edges = ((shell.front_x_mm, y), (shell.rear_x_mm, y), (x, -half), (x, half))
    edge = edges[int(np.argmin(_edge_gaps(shell, hole, x, y)))]
    return this.finding(
        job,
        subject=_subject(hole, "floor-edge"),
        subject_name="the floor's edge",
        measured=left_mm,
        band=limit_band(job, "hole_edge_mm") or Band(0, None, Whose.GEOMETRY),
        title=f"{capital(hole.name)} to the floor's edge",
        hazard="structure",
        sentence=f"{q(left_mm or 0.0)} of floor left between the {hole.name} and the floor's edge.",
        marks=(_rim_mark(hole, edge, heater_underside_z_mm(job)),),
    )


def _subject(hole: PlacedHole, other: str) -> str:
    return f"{hole.name.replace(' ', '-')}:{other}"[:80]


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
