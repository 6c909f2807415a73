"""Checks of what feeds a body that is set down, and of what sparks in a space with a name."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.rule import YES_NO, Remedy, Rule, remedy_for, rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.power import LeadPartKind
from gale_nook.core.power.leads import lead_run, settled_runs
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.kept_free import SPARKLESS, space_at

SPARKS: tuple[LeadPartKind, ...] = ("fuse", "joint")
STEP_MM = 50.0


@rule("power.own_battery", "Fed by its own battery", YES_NO)
def fed_by_its_own(job: Job, this: Rule) -> Iterator[Finding]:
    """What is unhitched or set down is left without what tows or carries it; and a cut in the
    after-run cooks the heater.
    """
    battery, moves = job.plan.power.battery, job.plan.vehicle.moves
    if battery is None or moves not in {"towed", "carried"}:
        return
    at = (battery.x_mm, battery.y_mm, battery.z_mm)
    own = battery.belongs == "body"
    other = "what tows it" if moves == "towed" else "its carrier"
    yield this.yes_no(
        job,
        answer=own,
        wanted=True,
        source="workshop rule 84: a body that is left standing feeds its own heater",
        sentence="It is fed by a battery of the body's own."
        if own
        else f"It is fed by a battery of {other}: left standing, it stops without its after-run.",
        marks=(Mark(at, at),),
    )


@remedy_for("power.own_battery")
def take_its_own(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A battery that stays with the body."""
    del job, finding
    yield Remedy(
        "Feed it from a battery of the body's own.", set_value("power.battery.belongs", "body")
    )


@rule("power.sparks", "Nothing that sparks beside petrol or gas", YES_NO, hazard="fire")
def sparkless(job: Job, this: Rule) -> Iterator[Finding]:
    """Fuses, joints, the controller and the battery stay out of spaces with petrol or gas."""
    for thing_id, name, at in _sparking(job):
        space = space_at(job, at, SPARKLESS)
        if space is None:
            continue
        yield this.yes_no(
            job,
            subject=thing_id,
            subject_name=name,
            answer=False,
            wanted=True,
            source="workshop rule 82: its vapour lights at a spark",
            title=f"{capital(name)} in {space.name}",
            sentence=f"{capital(name)} is in {space.name}: a spark lights its vapour.",
            marks=(Mark(at, at),),
        )


def _sparking(job: Job) -> Iterator[tuple[str, str, Vec3]]:
    power = job.plan.power
    for run in settled_runs(job):
        for part in run.lead.of_kind(*SPARKS):
            at = run.geometry.point_at(part.at_mm)
            yield f"{run.lead.id}.{part.id}", f"the {part.kind} of the {run.name}", at
    if power.battery is not None:
        at = (power.battery.x_mm, power.battery.y_mm, power.battery.z_mm)
        yield "battery", "the battery", at
    if power.controller is not None:
        at = (power.controller.x_mm, power.controller.y_mm, power.controller.z_mm)
        yield "controller", "the controller", at


@remedy_for("power.sparks")
def move_along(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Along its lead, to the nearest place that is out of such a space."""
    kind, _, part_id = finding.subject.partition(".")
    run = lead_run(job, kind) if part_id else None
    if run is None:
        return
    part = next((p for p in run.lead.parts if p.id == part_id), None)
    if part is None:
        return
    count = int(run.geometry.length_mm // STEP_MM)
    places = sorted((STEP_MM * n for n in range(count + 1)), key=lambda mm: abs(mm - part.at_mm))
    for at_mm in places:
        if space_at(job, run.geometry.point_at(at_mm), SPARKLESS) is None:
            yield Remedy(
                f"Move it along the lead to {q(at_mm)}.",
                set_value(f"power.leads.{kind}.parts.{part_id}.at_mm", at_mm),
            )
            return
