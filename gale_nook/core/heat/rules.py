"""Checks of the heat station."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heat.envelope import FACE_NAMES, face_area_m2, opening_area_m2
from gale_nook.core.job import Job


@rule("heat.openings", "Openings in their face", "m²")
def openings_fit(job: Job, this: Rule) -> Iterator[Finding]:
    """The windows, doors and vents of a face cannot be larger than the face."""
    vehicle = job.plan.vehicle
    for face in sorted({opening.face.value for opening in vehicle.openings}):
        area = face_area_m2(vehicle.shell, face)
        taken = sum(opening_area_m2(o) for o in vehicle.openings if o.face.value == face)
        yield this.finding(
            job,
            subject=face,
            subject_name=FACE_NAMES[face],
            measured=taken,
            tolerance=0.0,
            title=f"Openings in: {FACE_NAMES[face].lower()}",
            band=Band(0.0, area, Whose.GEOMETRY, source="area of the face inside"),
            sentence=f"{taken:.2f} m² of openings in a face of {area:.2f} m².",
        )
