"""Checks of what was there before: openings that are left, and gas that goes."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.old_openings import middle_of, plate_mm

USES = ("exhaust", "intake", "fuel", "duct", "hose", "cable")
LEFT = "workshop rule 77: what is left open lets fumes, water and vermin in"
GAS = "licensed practice: gas is isolated, capped and tested before anything else"


@rule("vehicle.old_opening", "Old openings closed or used", YES_NO, hazard="fumes")
def none_left_open(job: Job, this: Rule) -> Iterator[Finding]:
    """Every opening that something went through is used again, or closed."""
    for opening in job.plan.vehicle.old_openings:
        at = middle_of(job, opening)
        is_open = opening.use == "open"
        if opening.use in USES and not _is_laid(job, opening.use):
            yield this.finding(
                job,
                subject=opening.id,
                subject_name=opening.name,
                measured=None,
                band=Band(None, None, Whose.WORKSHOP, source=LEFT),
                title=capital(opening.name),
                sentence=f"It is kept for the {opening.use}, and none is laid yet.",
                marks=(Mark(at, at),),
            )
            continue
        wide, high = plate_mm(opening)
        words = (
            f"Nothing goes through it: close it with a plate of {q(wide)} by {q(high)}."
            if is_open
            else "It is closed."
            if opening.use == "closed"
            else f"It is used again, for the {opening.use}."
        )
        yield this.yes_no(
            job,
            subject=opening.id,
            subject_name=opening.name,
            answer=not is_open,
            wanted=True,
            source=LEFT,
            title=capital(opening.name),
            sentence=words,
            marks=(Mark(at, at),),
        )


def _is_laid(job: Job, use: str) -> bool:
    plan = job.plan
    return {
        "exhaust": plan.pipes.route("exhaust") is not None,
        "intake": plan.pipes.route("intake") is not None,
        "fuel": plan.fuel.line is not None,
        "duct": bool(plan.air.ducts),
        "hose": bool(plan.coolant.hoses),
        "cable": bool(plan.power.leads),
    }[use]


@rule("vehicle.old_gas", "Old gas appliance made dead", YES_NO, hazard="fire")
def gas_is_dead(job: Job, this: Rule) -> Iterator[Finding]:
    """Before any drilling: isolated, capped, and tested for leaks by a competent person."""
    gas = job.plan.vehicle.old_gas
    if not gas.there:
        return
    missing = [
        words
        for words, done in (
            ("its supply is not isolated", gas.isolated),
            ("its pipe is not capped", gas.capped),
            ("nobody has tested it for leaks", bool(gas.tested_by.strip() and gas.tested_on)),
        )
        if not done
    ]
    words = (
        f"{capital(gas.name)}: {', '.join(missing)}. Drill nothing before that is done, by a "
        "competent person."
        if missing
        else f"{capital(gas.name)} is isolated and capped, tested by {gas.tested_by.strip()} on "
        f"{gas.tested_on}."
    )
    yield this.yes_no(
        job,
        answer=not missing,
        wanted=True,
        source=GAS,
        sentence=words,
    )


@remedy_for("vehicle.old_opening")
def close_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """With a plate over it."""
    del job
    words = "Close it with a plate, bedded in sealant and riveted."
    yield Remedy(words, set_value(f"vehicle.old_openings.{finding.subject}.use", "closed"))
