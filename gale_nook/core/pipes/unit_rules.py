"""Checks of the mouths against those of other heaters in the same vehicle."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import tube_of
from gale_nook.core.quantities.sentences import capital, q


@rule("pipes.unit_mouth", "Mouth to the other heater's combustion air", "mm", run="exhaust")
@rule("pipes.unit_mouth", "Combustion air to the other heater's mouth", "mm", run="intake")
def mouths_of_both(job: Job, this: Rule) -> Iterator[Finding]:
    """Neither burner breathes what the other one blows out."""
    tube, band = tube_of(this), limit_band(job, "mouths_apart_mm")
    run = pipe_run(job, tube)
    if run is None or band is None:
        return
    for unit in job.plan.heater.others:
        points = unit.intake if tube == "exhaust" else unit.exhaust
        theirs = "combustion air" if tube == "exhaust" else "exhaust"
        if not points:
            at = (unit.x_mm, unit.y_mm, unit.z_mm)
            yield this.finding(
                job,
                subject=unit.id,
                subject_name=unit.name,
                measured=None,
                band=Band(None, None, Whose.WORKSHOP, source="workshop rule 87"),
                title=f"{capital(unit.name)}: its {theirs}",
                sentence=f"Nobody has noted where the {theirs} of {unit.name} runs.",
                marks=(Mark(at, at),),
            )
            continue
        apart = math.dist(run.mouth, points[-1])
        yield this.finding(
            job,
            subject=unit.id,
            subject_name=unit.name,
            measured=apart,
            band=band,
            title=f"{capital(unit.name)}: mouths apart",
            sentence=f"{q(round(apart))} between this mouth and the {theirs} of {unit.name}.",
            marks=(Mark(run.mouth, points[-1]),),
        )
