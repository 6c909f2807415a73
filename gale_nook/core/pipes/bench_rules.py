"""Check of the bundle of ports and clamps in the mount's hole."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.bench import bundle
from gale_nook.core.quantities.sentences import capital, q

WORDS = {
    "exhaust": "the exhaust's clamp",
    "intake": "the air pipe's clamp",
    "fuel": "the fuel stub",
}


@rule("pipes.bundle", "Room for clamps in the mount's hole", "mm")
def clamps_fit(job: Job, this: Rule) -> Iterator[Finding]:
    """What is put on at the bench has to pass the hole with its clamps, none on another."""
    band = limit_band(job, "bundle_mm")
    found = bundle(job)
    if band is None or not found:
        return
    worst = min(found, key=lambda each: each.gap_mm)
    one, other = WORDS[worst.one], WORDS.get(worst.other, worst.other)
    words = (
        f"{q(round(worst.gap_mm, 1))} between {one} and {other}"
        if worst.gap_mm >= 0
        else f"{one} and {other} are in one place by {q(round(-worst.gap_mm, 1))}: turn the "
        "clamp's screw away, or clamp it after it is in"
    )
    yield this.finding(
        job,
        measured=round(worst.gap_mm, 1),
        band=band,
        tolerance=1.0,
        sentence=f"{capital(words)}.",
        marks=(Mark(worst.at, worst.at),),
    )
