"""Checks of what was read at the first firing against what this plan makes expected.

Nothing is asked for before somebody has read something; no change of the plan is to blame for what
was read.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from gale_nook.core.findings.finding import Band, Finding, Verdict, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.firing.expected import Expected, expected_phases
from gale_nook.core.firing.places import surveyed_places
from gale_nook.core.firing.pre_checks import rechecks
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import capital, q

NEAR_SHARE = 0.1  # of a band's width: so near its end a reading is called tight
KINDS = {"voltage_v": "v", "current_a": "a", "pump_hz": "hz", "outlet_c": "c"}
CLEAN = ("full", "regulation", "after-run")  # phases in which nothing is to be seen


@rule("firing.voltage", "Voltage read at the heater", "V", asks_for=True)
def voltage(job: Job, this: Rule) -> Iterator[Finding]:
    """What reaches the heater, against the ladder."""
    yield from _readings(job, this, "voltage_v")


@rule("firing.current", "Current read", "A", asks_for=True)
def current(job: Job, this: Rule) -> Iterator[Finding]:
    """What it draws, against its sheet at the voltage that it gets."""
    yield from _readings(job, this, "current_a")


@rule("firing.pump", "Ticks of the pump", "/s", asks_for=True)
def pump(job: Job, this: Rule) -> Iterator[Finding]:
    """Strokes a second, against the litres that it should burn."""
    yield from _readings(job, this, "pump_hz")


@rule("firing.outlet", "Temperature read at the warm end", "C", hazard="fire", asks_for=True)
def outlet(job: Job, this: Rule) -> Iterator[Finding]:
    """What leaves the heater, against what its air or its coolant takes off."""
    yield from _readings(job, this, "outlet_c")


@rule("firing.began", "When a phase began", "s", asks_for=True)
def began(job: Job, this: Rule) -> Iterator[Finding]:
    """A flame that comes late tells of air in the line, of little voltage, of little air."""
    for phase in expected_phases(job):
        reading = job.plan.firing.reading(phase.phase)
        if reading.began_s is None or phase.begins_s is None or phase.phase == "check":
            continue
        low, high = phase.begins_s
        label = job.catalogue.firing.phase(phase.phase).label
        yield this.finding(
            job,
            subject=phase.phase,
            subject_name=label,
            measured=reading.began_s,
            band=Band(low, high, Whose.WORKSHOP, source=job.catalogue.firing.source),
            tolerance=NEAR_SHARE * (high - low),
            title=f"{this.title}: {label}",
            sentence=f"{capital(label)} began {q(round(reading.began_s), 's')} after switching on; "
            f"{q(round(low), 's')} to {q(round(high), 's')} are usual.",
        )


@rule("firing.flame", "First flame", "yes-no", asks_for=True)
def flame(job: Job, this: Rule) -> Iterator[Finding]:
    """It stopped, and there had been no flame."""
    firing = job.plan.firing
    if heater_sheet(job) is None or firing.reading("glow").began_s is None:
        return
    stopped, lit = firing.reading("stop").began_s, firing.reading("flame").began_s
    if stopped is None and lit is None:
        return
    yield this.yes_no(
        job,
        answer=lit is not None,
        wanted=True,
        source=job.catalogue.firing.source,
        sentence="The fuel lit."
        if lit is not None
        else "It glowed and stopped again, and no flame came.",
    )


@rule("firing.full", "Full output before it slows down", "yes-no", asks_for=True)
def full(job: Job, this: Rule) -> Iterator[Finding]:
    """It slowed down, and had never been at full: its sensor feels something else than the room."""
    firing = job.plan.firing
    if heater_sheet(job) is None or firing.reading("regulation").began_s is None:
        return
    reached = firing.reading("full").began_s is not None
    yield this.yes_no(
        job,
        answer=reached,
        wanted=True,
        source=job.catalogue.firing.source,
        sentence="It was at full before it slowed down."
        if reached
        else "It slowed down before it had been at full.",
    )


@rule("firing.code", "Code of the controller", "yes-no", asks_for=True)
def code(job: Job, this: Rule) -> Iterator[Finding]:
    """The controller told of a fault."""
    firing = job.plan.firing
    if not firing.code.strip():
        return
    means = f": {firing.code_means}" if firing.code_means.strip() else ""
    yield this.yes_no(
        job,
        answer=False,
        wanted=True,
        source="the heater's manual",
        sentence=f"The controller showed {firing.code.strip()}{means}.",
    )


@rule("firing.smoke", "Smoke at the exhaust", "yes-no", hazard="fumes", asks_for=True)
def smoke(job: Job, this: Rule) -> Iterator[Finding]:
    """Some at the first flame is usual; afterwards it tells of too little air or too much fuel."""
    for reading in job.plan.firing.readings:
        if reading.smoke == "not-looked" or heater_sheet(job) is None:
            continue
        usual = reading.smoke == "none" or (reading.smoke == "some" and reading.id not in CLEAN)
        label, book = job.catalogue.firing.phase(reading.id).label, job.catalogue.firing
        low, high = book.smoke_min
        yield this.yes_no(
            job,
            subject=reading.id,
            subject_name=label,
            answer=usual,
            title=f"{this.title}: {label}",
            wanted=True,
            source=book.source,
            sentence=f"{capital(label)}: {SMOKE_WORDS[reading.smoke]}. It is gone {low:g} to "
            f"{high:g} minutes after the first flame.",
        )


SMOKE_WORDS = {"none": "no smoke", "some": "some smoke", "thick": "thick smoke"}


@rule(
    "firing.place",
    "Temperature read near the exhaust and the outlets",
    "C",
    hazard="fire",
    asks_for=True,
)
def place(job: Job, this: Rule) -> Iterator[Finding]:
    """What is near the exhaust must keep what it stands; the rest must not be hotter than was
    computed.
    """
    known = {each.id: each for each in surveyed_places(job)} if job.plan.firing.places else {}
    spread = job.catalogue.firing.skin_spread
    for reading in job.plan.firing.places:
        read = [each for each in (reading.after_5_c, reading.after_20_c) if each is not None]
        there = known.get(reading.id)
        if not read or there is None:
            continue
        computed = f"{q(round(there.expected_c), 'c')} computed"
        if there.most_c is not None:
            band = Band(None, there.most_c, Whose.WORKSHOP, source=there.how)
        else:
            high = there.expected_c + spread * max(there.expected_c - job.plan.pipes.firing_c, 0.0)
            band = Band(None, high, Whose.PLAN, source=f"within {spread:.0%}")
        yield this.finding(
            job,
            subject=reading.id,
            subject_name=there.name,
            measured=max(read),
            band=band,
            sentence=f"{capital(there.name)}: {q(max(read), 'c')} read, {computed}, {there.how}.",
        )


@rule("firing.co", "Carbon monoxide read", "ppm", hazard="fumes", asks_for=True)
def carbon_monoxide(job: Job, this: Rule) -> Iterator[Finding]:
    """None belongs where people breathe."""
    band = limit_band(job, "co_ppm")
    for reading in job.plan.firing.co:
        if reading.co_ppm is None or band is None:
            continue
        yield this.finding(
            job,
            subject=reading.id,
            subject_name=reading.name,
            measured=reading.co_ppm,
            band=band,
            tolerance=4.0,
            sentence=f"{capital(reading.name)}: {q(reading.co_ppm, 'ppm')} of carbon monoxide "
            f"{q(reading.after_min, 'min')} after switching on. Over the limit: out of the "
            "vehicle, heater off, look for the leak before it runs again.",
        )


@rule("firing.long_run", "First long run", "min", asks_for=True)
def long_run(job: Job, this: Rule) -> Iterator[Finding]:
    """Clamps settle, sealant and lagging get hot for the first time: an hour shows it."""
    ran, book = job.plan.firing.long_run_min, job.catalogue.firing
    if ran is None or heater_sheet(job) is None:
        return
    yield this.finding(
        job,
        measured=ran,
        band=Band(book.long_run_min, None, Whose.WORKSHOP, source=book.source),
        sentence=f"It ran on for {q(round(ran), 'min')} at full.",
    )


@rule("firing.recheck", "Looked at again after the long run", "yes-no", asks_for=True)
def recheck(job: Job, this: Rule) -> Iterator[Finding]:
    """What was tight when cold may have let go. What nobody looked at is to be looked at."""
    if job.plan.firing.long_run_min is None:
        return
    for check in rechecks(job):
        looked = check.id in job.plan.firing.rechecked
        found = this.yes_no(
            job,
            subject=check.id,
            subject_name=_until_stop(check.text),
            answer=looked,
            wanted=True,
            source=job.catalogue.firing.source,
            sentence=check.text if looked else f"Nobody has looked yet: {check.text}",
        )
        yield found if looked else replace(found, answer=None, verdict=Verdict.UNKNOWN)


def _until_stop(text: str) -> str:
    """The first part of a sentence, to name it by."""
    return re.split(r"[:,.;]", text)[0]


def _readings(job: Job, this: Rule, name: str) -> Iterator[Finding]:
    """One reading in every phase that has a band for it."""
    if not job.plan.firing.begun:
        return
    for phase in expected_phases(job):
        read = getattr(job.plan.firing.reading(phase.phase), name)
        found = phase.values.get(name)
        if read is None or found is None:
            continue
        label = job.catalogue.firing.phase(phase.phase).label
        yield this.finding(
            job,
            subject=phase.phase,
            subject_name=label,
            measured=read,
            band=Band(found.low, found.high, Whose.PLAN, source=found.how),
            tolerance=NEAR_SHARE * (found.high - found.low),
            title=f"{this.title}: {label}",
            sentence=f"{capital(label)}: {q(read, KINDS[name])} read; "
            f"{_range(found, KINDS[name])} expected.",
        )


def _range(found: Expected, kind: str) -> str:
    return f"{q(round(found.low, 2), kind)} to {q(round(found.high, 2), kind)}"
