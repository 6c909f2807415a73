"""Small holes drilled up into the floor from below, for rivet nuts that brackets hang on."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job, fact
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.hole_rules import metal_left_mm
from gale_nook.core.spot.obstacles import Obstacle, solid_obstacles
from gale_nook.core.spot.placement import PlacedHole
from gale_nook.core.station import HoleLine

STOP_MM = (
    40.0  # of the drill's stop: so far it comes over the floor's underside, or begins below it
)
NUT = "rivet-nut"


@dataclass(frozen=True, slots=True)
class FixingHole:
    """A hole for one rivet nut.

    Attributes:
        subject: id of what hangs on it.
        at: its middle in the floor's underside.
    """

    subject: str
    name: str
    at: Vec3
    diameter_mm: float


def fixing_hole(job: Job, subject: str, name: str, at: Vec3) -> FixingHole:
    """Return the hole for a rivet nut at a place."""
    wide = job.catalogue.parts[NUT].hole_mm
    if wide is None:
        raise ValueError(f"the parts list has to say the hole of a {NUT}")
    return FixingHole(subject, name, at, wide)


def drill_words(hole: FixingHole) -> str:
    """Return what it is drilled with."""
    return f"drill {q(hole.diameter_mm)} with a stop at {q(STOP_MM)}, for a rivet nut"


def hole_line(hole: FixingHole) -> HoleLine:
    """Return the line of the list of holes."""
    x, y, _ = hole.at
    return HoleLine(hole.name, x, y, hole.diameter_mm, drill_words(hole))


def _reached(job: Job, hole: FixingHole) -> Iterator[tuple[float, Obstacle]]:
    """Parts that the drill can reach, each with what is left beside it over what it asks for."""
    for obstacle, asked in _drilled_into(job):
        if _is_reached(hole, obstacle):
            yield metal_left(hole, obstacle) - asked, obstacle


@fact
def _drilled_into(job: Job) -> tuple[tuple[Obstacle, float], ...]:
    """Parts below and inside that a drill must keep from, with the metal that is to be left."""
    return tuple(
        (obstacle, obstacle.kind.hole_mm)
        for obstacle in (*solid_obstacles(job, "below"), *solid_obstacles(job, "inside"))
        if obstacle.kind is not None and obstacle.kind.hole_mm is not None
    )


def is_too_near(job: Job, hole: FixingHole) -> bool:
    """Return whether less is left beside a hole than some part asks for that the drill can
    reach.
    """
    return any(
        metal_left(hole, obstacle) < asked
        for obstacle, asked in _drilled_into(job)
        if _is_reached(hole, obstacle) and _box_mm(hole, obstacle) < asked + hole.diameter_mm
    )


def _is_reached(hole: FixingHole, obstacle: Obstacle) -> bool:
    low_z, high_z = obstacle.shape.low_z_mm, obstacle.shape.high_z_mm
    return high_z >= hole.at[2] - STOP_MM and low_z <= hole.at[2] + STOP_MM


def _box_mm(hole: FixingHole, obstacle: Obstacle) -> float:
    """Distance in plan from a hole's middle to the box round a part."""
    low_x, low_y, _, high_x, high_y, _ = obstacle.shape.bounds
    x, y, _ = hole.at
    return math.hypot(max(low_x - x, x - high_x, 0.0), max(low_y - y, y - high_y, 0.0))


def fixing_findings(job: Job, this: Rule, hole: FixingHole) -> Iterator[Finding]:
    """Yield what is left between a hole's edge and the nearest part that the drill can reach, each
    held against what that part asks for; the one with the least to spare.
    """
    reached = list(_reached(job, hole))
    if not reached:
        return
    _, nearest = min(reached, key=lambda pair: (pair[0], pair[1].id))
    left, kind = metal_left(hole, nearest), nearest.kind
    if kind is None:
        return
    words = (
        f"{capital(hole.name)}: {q(round(left))} from its edge to {nearest.name}."
        if left >= 0
        else f"{capital(hole.name)} is drilled {q(round(-left))} into {nearest.name}."
    )
    yield this.finding(
        job,
        subject=hole.subject,
        subject_name=hole.name,
        measured=left,
        band=Band(kind.hole_mm, None, Whose.WORKSHOP, "hole_mm", f"{kind.label}: {kind.source}"),
        hazard=kind.hazard,
        title=f"Hole for {hole.name}",
        sentence=words,
        marks=(Mark(hole.at, hole.at),),
    )


def metal_left(hole: FixingHole, obstacle: Obstacle) -> float:
    """Return the distance in plan between a hole's edge and a part, mm; negative inside it."""
    x, y, _ = hole.at
    round_hole = PlacedHole(hole.name, x, y, hole.diameter_mm)
    return float(metal_left_mm(round_hole, obstacle, x, y))
