"""Check of the mount's holes against old openings of the floor that are closed by a plate."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.old import OldOpening
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.placement import PlacedHole, face_holes, floor_holes, free_shelf
from gale_nook.core.vehicle.old_openings import OVERLAP_MM, middle_of

PLATE = Band(OVERLAP_MM, None, Whose.WORKSHOP, "overlap", "workshop rule 77: a plate has its rim")


@rule("spot.old_opening", "Mount's holes beside closed openings", "mm", hazard="fumes")
def beside_plates(job: Job, this: Rule) -> Iterator[Finding]:
    """A hole through the plate over an old opening, or through its rim, opens it again."""
    for opening in job.plan.vehicle.old_openings:
        if opening.use != "closed":
            continue
        gaps = [(left, name, at) for name, left, at in _beside(job, opening)]
        if not gaps:
            continue
        left, name, at = min(gaps)
        middle = middle_of(job, opening)
        yield this.finding(
            job,
            subject=opening.id,
            subject_name=opening.name,
            measured=left,
            band=PLATE,
            tolerance=0.0,
            title=f"{capital(name)} beside {opening.name}",
            sentence=f"{q(round(left))} between the {name} and {opening.name}, which is closed."
            if left >= 0
            else f"The {name} cuts {q(round(-left))} into {opening.name}, which is closed.",
            marks=(Mark(middle, at),),
        )


def _beside(job: Job, opening: OldOpening) -> Iterator[tuple[str, float, Vec3]]:
    """Every hole of the mount in the face of an opening: its name, what is left between, where."""
    x, y, z = middle_of(job, opening)
    if opening.face == "floor" and free_shelf(job) is None:
        for hole in floor_holes(job):
            yield hole.name, left_mm(hole, opening), (hole.x_mm, hole.y_mm, z)
    for face_hole in face_holes(job):
        if face_hole.face == opening.face:
            along, up = face_hole.along_mm, face_hole.z_mm
            flat = PlacedHole(face_hole.name, along, up, face_hole.diameter_mm, 0.0, 0.0)
            at = (x, along, up) if opening.face == "bulkhead" else (along, y, up)
            yield face_hole.name, left_mm(flat, opening), at


def left_mm(hole: PlacedHole, opening: OldOpening) -> float:
    """Return what is left of the floor between a hole's edge and an opening's; negative where one
    cuts into the other.
    """
    dx, dy = abs(hole.x_mm - opening.along_mm), abs(hole.y_mm - opening.up_mm)
    if not hole.is_cut and opening.is_round:
        return math.hypot(dx, dy) - hole.radius_mm - opening.length_mm / 2
    half_x, half_y = hole.reach_mm
    high = opening.length_mm if opening.is_round else opening.height_mm
    gap_x, gap_y = dx - half_x - opening.length_mm / 2, dy - half_y - high / 2
    if max(gap_x, gap_y) <= 0:
        return max(gap_x, gap_y)
    return math.hypot(max(gap_x, 0.0), max(gap_y, 0.0))


@remedy_for("spot.old_opening")
def use_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """What the mount's hole takes in is used again, for the exhaust that goes through it."""
    del job
    if finding.measured is not None and finding.measured < 0:
        yield Remedy(
            "Use it for the exhaust, which goes through it now.",
            set_value(f"vehicle.old_openings.{finding.subject}.use", "exhaust"),
        )
