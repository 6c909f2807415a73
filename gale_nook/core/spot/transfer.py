"""Through the floor: what was measured inside and below, brought together, and what pilots have
taught.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.findings.finding import Finding
from gale_nook.core.geometry.registration import Ellipse, Registration, mismeasured, register
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.spot import Pilot
from gale_nook.core.spot.placement import PlacedHole, floor_holes

CAME_OUT_RIGHT_MM = 2.0  # what a pilot may be off and still be right; workshop assumption


@dataclass(frozen=True)
class Matched:
    """One thing seen on both sides: a named feature or a pilot, with how far it is off after the
    match.
    """

    id: str
    name: str
    residual_mm: float
    doubted: bool


@dataclass(frozen=True)
class Transfer:
    """How the survey below lies under the one inside.

    Attributes:
        match: from below to inside.
        matched: every pair with its residual.
        here: for the heater's place: where it lies in the survey below, and the ellipse round it;
            None without a place.
        off_mm: how far that is from where the drawing has it, rearward and to the right.
    """

    match: Registration
    matched: tuple[Matched, ...]
    here: Ellipse | None
    off_mm: tuple[float, float] = (0.0, 0.0)


def transfer_of(plan: Plan) -> Transfer | None:
    """Return the match of inside and below; None while nothing is measured on both sides."""
    pairs = _pairs(plan)
    if not pairs:
        return None
    match = register([below for _, _, _, below in pairs], [inside for _, _, inside, _ in pairs])
    doubted = mismeasured(match)
    matched = tuple(
        Matched(key, name, residual, index == doubted)
        for index, ((key, name, _, _), residual) in enumerate(
            zip(pairs, match.residuals_mm, strict=True)
        )
    )
    if plan.spot is None:
        return Transfer(match, matched, None)
    x, y = match.back(plan.spot.x_mm, plan.spot.y_mm)
    there = register(match.target, match.source).ellipse(plan.spot.x_mm, plan.spot.y_mm)
    ellipse = Ellipse((x, y), there.long_mm, there.short_mm, there.turn_deg)
    return Transfer(match, matched, ellipse, (x - plan.spot.x_mm, y - plan.spot.y_mm))


def _pairs(plan: Plan) -> list[tuple[str, str, tuple[float, float], tuple[float, float]]]:
    """Return (id, name, inside, below) of features measured on both sides, and of pilots."""
    results = []
    for feature in plan.vehicle.features:
        if feature.inside is not None and feature.below is not None:
            x, y = feature.below
            results.append(
                (
                    feature.id,
                    feature.name,
                    feature.inside,
                    (x, -y if plan.vehicle.below_mirrored else y),
                )
            )
    for pilot in plan.pilots:
        drilled, came_out = (pilot.x_mm, pilot.y_mm), pilot.came_out_mm
        if came_out is not None:
            results.append((pilot.id, f"pilot at {pilot.hole}", drilled, came_out))
    return results


def next_pilot_mm(job: Job, pilot: Pilot) -> tuple[float, float]:
    """Return how far from a pilot the next one has to be drilled, rearward and to the right
    (inside), to come out where the drawing has the hole; nothing where it came out right, where
    nobody has looked yet, or where the mount has no such hole any more.

    What the pilot has shown at its own place counts more than any match of features far from it.
    """
    wanted = next((h for h in floor_holes(job) if h.name == pilot.hole), None)
    came_out = pilot.came_out_mm
    if wanted is None or came_out is None:
        return 0.0, 0.0
    x, y = came_out
    missed = (wanted.x_mm - x, wanted.y_mm - y)
    return missed if math.hypot(*missed) > CAME_OUT_RIGHT_MM else (0.0, 0.0)


def last_pilot(job: Job, hole: str) -> Pilot | None:
    """Return the last pilot of a hole of which it is known where it came out; None without one."""
    drilled = [p for p in job.plan.pilots if p.hole == hole and p.came_out_mm is not None]
    return drilled[-1] if drilled else None


def next_drilled_mm(job: Job, hole: PlacedHole) -> tuple[float, float]:
    """Return where inside the next pilot of a hole goes: from the last one as that has shown, else
    where the drawing has it.
    """
    before = last_pilot(job, hole.name)
    if before is None:
        return (hole.x_mm, hole.y_mm)
    dx, dy = next_pilot_mm(job, before)
    return (before.x_mm + dx, before.y_mm + dy)


def mark_below_mm(job: Job, hole: PlacedHole) -> tuple[float, float]:
    """Return the place of a hole that somebody below is led to and marks: where one drilled by the
    drawing comes out, by the match; without a match the drawing's own.
    """
    transfer = transfer_of(job.plan)
    return (hole.x_mm, hole.y_mm) if transfer is None else transfer.match.back(hole.x_mm, hole.y_mm)


def came_out_right(job: Job) -> Pilot | None:
    """Return a pilot that came out where its hole has to be, the last of that hole; that ends the
    matter. None where there is none.
    """
    for hole in floor_holes(job):
        last = last_pilot(job, hole.name)
        if last is not None and next_pilot_mm(job, last) == (0.0, 0.0):
            return last
    return None


def nearest_hole(findings: tuple[Finding, ...]) -> Finding | None:
    """Return the hole finding with the smallest margin: what the transfer's error is to be held
    against.
    """
    holes = [f for f in findings if f.rule == "spot.hole" and f.margin is not None]
    return min(holes, key=lambda f: f.margin or 0.0, default=None)


def known_words(error_mm: float) -> str:
    """Return how well the place below is known."""
    return f"The place below is known to ±{error_mm:.0f} mm (95 %)."


def advice(transfer: Transfer, hole: Finding | None, right: Pilot | None = None) -> str:
    """Return what the error of the transfer means for the saw, in one sentence.

    Args:
        right: a pilot that came out where its hole has to be.
    """
    if right is not None:
        return (
            f"The last pilot at the {right.hole} came out where the hole has to be: cut from it. "
            "That is surer than any measuring."
        )
    if transfer.here is None:
        return "Put the heater somewhere first; then the place below it is worked out here."
    error = transfer.here.long_mm
    if hole is None or hole.margin is None:
        return known_words(error)
    margin = hole.margin
    if margin < error:
        return (
            f"Margin {margin:.0f} mm, transfer ±{error:.0f} mm (95 %): pilot first, with "
            "a thin "
            "bit, and look from below."
        )
    return f"Margin {margin:.0f} mm, transfer ±{error:.0f} mm (95 %): a pilot will confirm it."
