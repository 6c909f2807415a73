"""Checks of what the heater bears on: its plate, a plate over an existing opening, and a shelf."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.shapes import separation
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.vehicle import Feature
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.convex_pieces import MovingBox
from gale_nook.core.spot.moving import MovingPart, gaps
from gale_nook.core.spot.obstacles import Obstacle, obstacles
from gale_nook.core.spot.placement import (
    PlacedHole,
    adapter_of,
    floor_holes,
    mount_plane_z_mm,
    opening_used,
    shelf_of,
)
from gale_nook.core.spot.places import Measure, Places, known, spot_rule
from gale_nook.core.spot.plate import Extent, adapter_plate, bearing, mount_plate

FITS = Band(0.0, None, Whose.GEOMETRY, source="the plates and openings as they are entered")


@spot_rule("spot.plate", "The mount's plate")
def plate_lies_flat(at: Places, this: Rule) -> Iterator[Measure]:
    """The plate lies flat on what carries it: nothing of the room stands where it lies, and it
    covers the mount's holes.
    """
    plate = mount_plate(at.job)
    if plate is None:
        return
    around = [(each, FITS) for each in _beside(at.job)]
    yield from gaps(at, _moving(at, plate), around, partial(_plate_finding, at.job, this))
    for hole in floor_holes(at.job):
        yield Measure(
            f"covers:{hole.name.replace(' ', '-')}"[:80],
            FITS,
            known(_inside_mm(plate, hole)),
            partial(_cover_finding, at.job, this, hole),
            at.everywhere,
            same_everywhere=True,
        )


def _beside(job: Job) -> Iterator[Obstacle]:
    """What may stand where a plate lies; not the shelf that it lies on."""
    under = shelf_of(job)
    return (each for each in obstacles(job) if under is None or each.id != under.id)


def _moving(at: Places, plate: Extent) -> MovingPart:
    box = MovingBox(*plate.half_mm, plate.low_z_mm, plate.high_z_mm)
    return MovingPart(box, at.offset_mm(*plate.middle_mm))


def _inside_mm(plate: Extent, hole: PlacedHole) -> float:
    """How far inside a plate's edge a hole's edge lies; negative outside."""
    (x, y), (half_x, half_y) = plate.middle_mm, plate.half_mm
    reach_x, reach_y = hole.reach_mm
    return min(half_x - abs(hole.x_mm - x) - reach_x, half_y - abs(hole.y_mm - y) - reach_y)


def _plate_finding(
    job: Job, this: Rule, obstacle: Obstacle, band: Band, gap_mm: float | None
) -> Finding:
    plate, gap = mount_plate(job), gap_mm or 0.0
    if plate is None:
        raise ValueError("the mount has no plate")
    near = separation(plate.shape, obstacle.shape)
    words = f"{q(gap)} between the mount's plate and {obstacle.name}."
    if gap < 0:
        words = f"{capital(obstacle.name)} stands where the mount's plate has to lie flat."
    return this.finding(
        job,
        subject=obstacle.id,
        subject_name=obstacle.name,
        measured=gap_mm,
        band=band,
        title=f"Plate to {obstacle.name}",
        sentence=words,
        marks=(Mark(near.start, near.end),),
    )


def _cover_finding(job: Job, this: Rule, hole: PlacedHole, inside_mm: float | None) -> Finding:
    inside, place = inside_mm or 0.0, (hole.x_mm, hole.y_mm, mount_plane_z_mm(job))
    words = f"The plate reaches {q(inside)} beyond the {hole.name}."
    if inside < 0:
        words = f"The {hole.name} lies {q(-inside)} outside the mount's plate: nothing closes it."
    return this.finding(
        job,
        subject=f"covers:{hole.name.replace(' ', '-')}"[:80],
        subject_name=hole.name,
        measured=inside_mm,
        band=FITS,
        title=f"Plate over the {hole.name}",
        hazard="fumes" if inside < 0 else None,
        sentence=words,
        marks=(Mark(place, place),),
    )


# --- a plate over an existing opening ---


@rule("spot.opening", "The opening that is used", "mm")
def opening_measured(job: Job, this: Rule) -> Iterator[Finding]:
    """An adapter plate needs an opening whose place and size were measured."""
    if adapter_of(job) is None or opening_used(job) is not None:
        return
    yield this.finding(
        job,
        measured=None,
        band=Band(None, None, Whose.GEOMETRY, source="the survey"),
        sentence="The adapter plate lies over an opening whose place or size was not measured: "
        "enter both at Vehicle, or take the plate out.",
    )


@spot_rule("spot.adapter", "Adapter plate over the opening", hazard="structure")
def adapter_closes(at: Places, this: Rule) -> Iterator[Measure]:
    """The plate laps the opening all round, the mount's holes lie inside the opening, and the mount
    bears on the plate.
    """
    job, plate, opening = at.job, adapter_plate(at.job), opening_used(at.job)
    if plate is None or opening is None or opening.opening_mm is None:
        return
    size = opening.opening_mm
    lap = min(plate.half_mm[0] - size[0] / 2, plate.half_mm[1] - size[1] / 2)
    yield Measure(
        "rim",
        limit_band(job, "adapter_rim_mm") or FITS,
        known(lap),
        partial(_rim_finding, job, this),
        at.everywhere,
        same_everywhere=True,
    )
    for hole in floor_holes(job):
        dx, dy = at.offset_mm(hole.x_mm, hole.y_mm)
        yield Measure(
            f"inside:{hole.name.replace(' ', '-')}"[:80],
            FITS,
            partial(_in_opening_mm, opening, hole, dx, dy),
            partial(_hole_finding, job, this, hole),
            at.everywhere,
        )
    rests = bearing(job)
    if rests is not None:
        yield Measure(
            "bears",
            FITS,
            partial(_on_plate_mm, plate, rests.half_mm, at.offset_mm(*rests.middle_mm)),
            partial(_bears_finding, job, this),
            at.everywhere,
        )
    for obstacle in _beside(job):
        gap = separation(plate.shape, obstacle.shape).distance_mm
        if gap < 0:
            yield Measure(
                obstacle.id,
                FITS,
                known(gap),
                partial(_under_finding, job, this, obstacle),
                at.everywhere,
                same_everywhere=True,
            )


def _in_opening_mm(
    opening: Feature, hole: PlacedHole, dx_mm: float, dy_mm: float, x_mm: Any, y_mm: Any
) -> Any:
    """How far inside the opening's edge a hole's edge lies, with the heater at places."""
    if opening.at is None or opening.opening_mm is None:
        raise ValueError("the opening has no place or size")
    away_x = np.abs(x_mm + dx_mm - opening.at[0])
    away_y = np.abs(y_mm + dy_mm - opening.at[1])
    half_x, half_y = opening.opening_mm[0] / 2, opening.opening_mm[1] / 2
    reach_x, reach_y = hole.reach_mm
    if not opening.is_round:
        return np.minimum(half_x - away_x - reach_x, half_y - away_y - reach_y)
    if hole.is_cut:
        return half_x - np.hypot(away_x + reach_x, away_y + reach_y)
    return half_x - np.hypot(away_x, away_y) - reach_x


def _on_plate_mm(
    plate: Extent,
    half_mm: tuple[float, float],
    offset_mm: tuple[float, float],
    x_mm: Any,
    y_mm: Any,
) -> Any:
    """How far inside the adapter plate's edge the mount bears on it."""
    (middle_x, middle_y), (half_x, half_y) = plate.middle_mm, plate.half_mm
    away_x = np.abs(x_mm + offset_mm[0] - middle_x)
    away_y = np.abs(y_mm + offset_mm[1] - middle_y)
    return np.minimum(half_x - away_x - half_mm[0], half_y - away_y - half_mm[1])


def _rim_finding(job: Job, this: Rule, lap_mm: float | None) -> Finding:
    lap = lap_mm or 0.0
    words = f"The plate laps the opening by {q(lap)} all round."
    if lap < 0:
        words = f"The plate is {q(-2 * lap)} too small to close the opening."
    about = ("rim", "the opening's rim", "Plate over the opening's rim")
    return _adapter_finding(job, this, about, lap_mm, words)


def _hole_finding(job: Job, this: Rule, hole: PlacedHole, inside_mm: float | None) -> Finding:
    inside = inside_mm or 0.0
    words = f"The {hole.name} lies {q(inside)} inside the opening's edge."
    if inside < 0:
        words = f"The {hole.name} reaches {q(-inside)} over the opening's edge, into the floor."
    subject = f"inside:{hole.name.replace(' ', '-')}"[:80]
    about = (subject, hole.name, f"{capital(hole.name)} in the opening")
    return _adapter_finding(job, this, about, inside_mm, words)


def _bears_finding(job: Job, this: Rule, inside_mm: float | None) -> Finding:
    inside = inside_mm or 0.0
    words = f"The mount bears on the plate, {q(inside)} inside its edge."
    if inside < 0:
        words = f"The mount reaches {q(-inside)} over the adapter plate's edge."
    about = ("bears", "the adapter plate", "Mount on the adapter plate")
    return _adapter_finding(job, this, about, inside_mm, words)


def _under_finding(job: Job, this: Rule, obstacle: Obstacle, gap_mm: float | None) -> Finding:
    words = f"{capital(obstacle.name)} stands where the adapter plate has to lie flat."
    about = (obstacle.id, obstacle.name, f"Adapter plate to {obstacle.name}")
    return _adapter_finding(job, this, about, gap_mm, words)


def _adapter_finding(
    job: Job, this: Rule, about: tuple[str, str, str], measured_mm: float | None, sentence: str
) -> Finding:
    """A finding of the adapter plate, about a subject with its name and title."""
    plate = adapter_plate(job)
    if plate is None:
        raise ValueError("there is no adapter plate")
    subject, name, title = about
    at = (*plate.middle_mm, plate.high_z_mm)
    rim = limit_band(job, "adapter_rim_mm") if subject == "rim" else None
    return this.finding(
        job,
        subject=subject,
        subject_name=name,
        measured=measured_mm,
        band=rim or FITS,
        title=title,
        sentence=sentence,
        marks=(Mark(at, at),),
    )


# --- a shelf, a bench or a step ---


@spot_rule("spot.shelf", "What the heater stands on", hazard="structure")
def shelf_carries(at: Places, this: Rule) -> Iterator[Measure]:
    """The mount bears on the top of what it stands on with its whole plate."""
    job, shelf, rests = at.job, shelf_of(at.job), bearing(at.job)
    if shelf is not None and rests is not None:
        offset, half = at.offset_mm(*rests.middle_mm), rests.half_mm
        yield Measure(
            "shelf",
            FITS,
            partial(_on_shelf_mm, shelf, half, offset),
            partial(_shelf_finding, job, this, shelf),
            at.everywhere,
        )


def _on_shelf_mm(
    shelf: BoxSolid,
    half_mm: tuple[float, float],
    offset_mm: tuple[float, float],
    x_mm: Any,
    y_mm: Any,
) -> Any:
    """How far inside the top's edge the bearing lies: of its worst corner, in the top's own
    directions, less what the top's place is uncertain by.
    """
    middle_x, middle_y = shelf.x_mm + shelf.length_mm / 2, shelf.y_mm + shelf.width_mm / 2
    turn = math.radians(shelf.yaw_deg)
    cos, sin = math.cos(turn), math.sin(turn)
    results = []
    for sx in (-1, 1):
        for sy in (-1, 1):
            dx = x_mm + offset_mm[0] + sx * half_mm[0] - middle_x
            dy = y_mm + offset_mm[1] + sy * half_mm[1] - middle_y
            along, across = np.abs(dx * cos + dy * sin), np.abs(dy * cos - dx * sin)
            left = np.minimum(shelf.length_mm / 2 - along, shelf.width_mm / 2 - across)
            results.append(left)
    return np.minimum.reduce(results) - shelf.uncertainty_mm


def _shelf_finding(job: Job, this: Rule, shelf: BoxSolid, left_mm: float | None) -> Finding:
    spot, left = job.plan.spot, left_mm or 0.0
    if spot is None:
        raise ValueError("the heater has no place yet")
    words = f"The mount bears on {shelf.name}, {q(left)} inside its edge."
    if left < 0:
        words = f"The mount reaches {q(-left)} over the edge of {shelf.name}."
    at = (spot.x_mm, spot.y_mm, mount_plane_z_mm(job))
    return this.finding(
        job,
        subject="shelf",
        subject_name=shelf.name,
        measured=left_mm,
        band=FITS,
        sentence=words,
        marks=(Mark(at, at),),
    )


@rule("spot.stands_on", "What the heater stands on is there", "mm")
def shelf_known(job: Job, this: Rule) -> Iterator[Finding]:
    """A heater on a shelf needs the shelf in the survey."""
    spot = job.plan.spot
    if spot is None or spot.stands_on is None or shelf_of(job) is not None:
        return
    surveyed = any(solid.id == spot.stands_on for solid in job.plan.vehicle.solids)
    why = "stands inside" if surveyed else "stands on is not in the survey any more"
    words = f"What the heater {why}: choose the floor, or another part."
    if surveyed:
        words = "Only a heater inside stands on a part, and only on a box: choose the floor."
    yield this.finding(
        job,
        measured=None,
        band=Band(None, None, Whose.GEOMETRY, source="the survey"),
        sentence=words,
    )
