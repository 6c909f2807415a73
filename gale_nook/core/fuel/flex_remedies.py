"""Candidate cures for flexible stretches of the line; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.fuel.flex import REACH_MM, SPARE_MM, _span, crossings
from gale_nook.core.fuel.items import AddLinePart
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.quantities.sentences import q


@remedy_for("fuel.flex")
@remedy_for("fuel.flex_ground")
def make_it_flex(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A flexible stretch over the edge, or one of the right length."""
    run, slide = fuel_run(job), job.plan.vehicle.slide
    if run is None or slide is None:
        return
    results = {f"crossing-{n}": crossing for n, crossing in enumerate(crossings(job, run), 1)}
    crossing, slack = results.get(finding.subject), least_of(job, "flex_slack_mm", 0.0) + SPARE_MM
    if crossing is None:
        return
    if crossing.flex is not None:
        hose = float(math.ceil(crossing.longest_mm + slack))
        address = f"fuel.line.parts.{crossing.flex.id}.hose_mm"
        yield Remedy(f"Make the flexible stretch {q(hose)} long.", set_value(address, hose))
        return
    for reach in (REACH_MM, 2 * REACH_MM, REACH_MM / 2):
        start, end = max(crossing.at_mm - reach, 0.0), min(crossing.at_mm + reach, run.length_mm)
        span = _span(job, run, slide, (crossing.at_mm, start, end), None)
        hose = float(math.ceil(span.longest_mm + slack))
        part = LinePart(
            id=fresh_id(run.line.parts, "flex"),
            kind="flex",
            at_mm=float(round(start)),
            length_mm=float(round(end - start)),
            hose_mm=hose,
        )
        words = (
            f"Put in a flexible stretch of {q(hose)}, from {q(part.at_mm)} to "
            f"{q(part.at_mm + part.length_mm)} from the tank."
        )
        yield Remedy(words, AddLinePart(item=part))
