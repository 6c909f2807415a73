"""Checks of what is afloat, towed or carried."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.afloat import least_over_water, under_water
from gale_nook.core.vehicle.lean import lean_words
from gale_nook.core.vehicle.old_openings import AXES, middle_of
from gale_nook.core.vehicle.parts import opening_box


@rule("vehicle.flood", "What opens above the water", "mm")
def openings_above_water(job: Job, this: Rule) -> Iterator[Finding]:
    """Heeled and trimmed at its worst, the lowest corner of what opens stays out of the water."""
    band = limit_band(job, "flood_mm")
    if band is None or not job.plan.vehicle.afloat:
        return
    findings = []
    for thing_id, name, corners in _openings(job):
        corner = min(corners, key=lambda point: least_over_water(job, point)[0])
        height, parked = least_over_water(job, corner)
        findings.append(
            this.finding(
                job,
                subject=thing_id,
                subject_name=name,
                measured=height,
                band=band,
                title=f"{capital(name)} above the water",
                sentence=f"{lean_words(job, parked)}, {name} comes to {q(round(height))} above the "
                "water.",
                marks=(Mark(corner, under_water(job, corner)),),
            )
        )
    yield from worst_and_nearest(findings, 1)


def _openings(job: Job) -> Iterator[tuple[str, str, list[Vec3]]]:
    """Everything that water could come in by: its id, its name, its corners."""
    for opening in job.plan.vehicle.openings:
        if opening.opens:
            yield opening.id, opening.name, _corners(*opening_box(job, opening))
    for old in job.plan.vehicle.old_openings:
        if old.use == "closed":
            continue
        along, up, _ = AXES[old.face]
        high = old.length_mm if old.is_round else old.height_mm
        low, size = list(middle_of(job, old)), [0.0, 0.0, 0.0]
        size[along], size[up] = old.length_mm, high
        start: Vec3 = (low[0] - size[0] / 2, low[1] - size[1] / 2, low[2] - size[2] / 2)
        yield old.id, old.name, _corners(start, (size[0], size[1], size[2]))


def _corners(low: Vec3, size: Vec3) -> list[Vec3]:
    return [
        (low[0] + a * size[0], low[1] + b * size[1], low[2] + c * size[2])
        for a, b, c in itertools.product((0, 1), repeat=3)
    ]


@rule("vehicle.tow_filler", "Where what tows it is filled", "yes-no", asks_for=True)
def flank_known(job: Job, this: Rule) -> Iterator[Finding]:
    """A filler on the same flank is filled at the same pump."""
    vehicle = job.plan.vehicle
    if vehicle.moves == "towed" and vehicle.tow_filler is None:
        yield this.finding(
            job,
            measured=None,
            band=Band(None, None, Whose.WORKSHOP, source="workshop rule 84"),
            sentence="Say on which flank what tows it is filled.",
        )
