"""Checks of what was built: lengths that were cut."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.air.station import AIR
from gale_nook.core.coolant.station import COOLANT
from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.job import Job
from gale_nook.core.pipes.station import PIPES
from gale_nook.core.power.station import POWER
from gale_nook.core.quantities.sentences import q

CUTTING = (PIPES, AIR, COOLANT, POWER)  # the stations that bring lengths to cut
SHORT_MM = 10.0  # that a piece may be short: sleeves and ends take so much up
SPARE_MM = 150.0  # that it may be longer before it no longer lies as drawn


@rule("build.cut", "Length that was cut", "mm", asks_for=True)
def long_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """A piece that is too short pulls; one that is far too long lies otherwise than drawn."""
    if not job.plan.build.cut:
        return
    wanted = {line.id: line for s in CUTTING for line in s.cuts(job)}
    for piece in job.plan.build.cut:
        line = wanted.get(piece.id)
        if line is None:
            continue
        needed = line.length_mm
        yield this.finding(
            job,
            subject=piece.id,
            subject_name=line.label,
            measured=piece.length_mm,
            band=Band(needed - SHORT_MM, needed + SPARE_MM, Whose.PLAN, source="its cutting list"),
            title=f"{this.title}: {line.label}",
            sentence=f"The {line.label} was cut to {q(round(piece.length_mm))}; {q(round(needed))} "
            "with its allowance are in the cutting list.",
        )
