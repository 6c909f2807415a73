"""Check of how far a heater leans aboard a boat."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.placement import body_corners
from gale_nook.core.vehicle.lean import lean_of, lean_words


@rule("spot.lean", "Heater's lean as it heels", "deg")
def leans(job: Job, this: Rule) -> Iterator[Finding]:
    """Aboard it burns as the boat lies."""
    band, corners = limit_band(job, "heater_lean_deg"), body_corners(job)
    if band is None or corners is None or not job.plan.vehicle.afloat:
        return
    lean = lean_of(job).most_deg
    low, high = corners
    middle = ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2)
    yield this.finding(
        job,
        measured=lean,
        band=band,
        sentence=f"{lean_words(job)}, the heater leans {q(lean, 'deg')}.",
        marks=(Mark(middle, middle),),
    )
