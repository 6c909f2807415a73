"""The finding that a run below the floor leads through looked-at areas, or leaves them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.looked import missing_along, place_words, unlooked, unseen

SOURCE = "what was not looked at is to measure"


def run_looked_at(
    job: Job, this: Rule, points: Sequence[Vec3], around_mm: float, subject: tuple[str, str]
) -> Finding:
    """Return whether a run's whole way below the floor was looked at.

    Args:
        points: of its centre line, in mm.
        around_mm: how far beside it has to be looked at.
        subject: id and name of the run.
    """
    name, missing = subject[1], missing_along(unlooked(job, "below"), points, around_mm)
    if missing is None:
        result = this.yes_no(
            job,
            subject=subject[0],
            subject_name=name,
            answer=True,
            wanted=True,
            whose=Whose.GEOMETRY,
            source=SOURCE,
            sentence=f"The whole way of {name} lies in looked-at areas.",
        )
        assumed = missing_along(unseen(job, "below"), points, around_mm) is not None
        return replace(result, assumed=("what lies below",)) if assumed else result
    z = floor_underside_z_mm(job)
    return this.finding(
        job,
        subject=subject[0],
        subject_name=name,
        measured=None,
        band=Band(None, None, Whose.GEOMETRY, source=SOURCE),
        sentence=f"{capital(name)} leaves the looked-at areas: nobody has looked "
        f"below {place_words(missing)}. Look there, {q(around_mm)} to each side, enter what there "
        "is, and add it to the looked-at areas.",
        marks=(Mark((missing[0], missing[1], z), (missing[2], missing[3], z)),),
    )
