"""What a verdict rests on that nobody has measured: values that are still pencilled."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.quick_sheet import TYPICAL
from gale_nook.core.job import Job, fact

VEHICLE = "vehicle."
HEAT = "heat."
TYPICAL_LIMIT = "a typical limit: look it up in the heater's sheet"
PARTS, BESIDE = "solids:", "beside-the-heater"


def with_assumed(job: Job, finding: Finding) -> Finding:
    """Return a finding with what it rests on that is only assumed: places, sizes, and limits of a
    heater of one's own that are typical ones.
    """
    if finding.verdict is Verdict.UNKNOWN:
        return finding
    typical = (TYPICAL_LIMIT,) if finding.band.source == TYPICAL else ()
    if not job.plan.vehicle.pencilled and not typical:
        return finding
    assumed = (*typical, *_things(job, finding), *_pencilled_by_rule(job).get(finding.rule, ()))
    words = tuple(dict.fromkeys((*finding.assumed, *assumed)))
    return replace(finding, assumed=words) if words else finding


def _things(job: Job, finding: Finding) -> Iterator[str]:
    """The names of the pencilled parts that a finding is about."""
    for part_id, name in _pencilled_parts(job):
        if finding.names(part_id, name):
            yield name


@fact
def _pencilled_parts(job: Job) -> tuple[tuple[str, str], ...]:
    """(id, name) of every part of which something is pencilled."""
    start = f"{VEHICLE}solids."
    ids = {a.removeprefix(start).split(".")[0] for a in _pencilled(job) if a.startswith(start)}
    return tuple((solid.id, solid.name) for solid in job.plan.vehicle.solids if solid.id in ids)


@fact
def _pencilled_by_rule(job: Job) -> dict[str, tuple[str, ...]]:
    """What each rule rests on, beside the thing that it names, that is pencilled."""
    results: dict[str, tuple[str, ...]] = {}
    for entry in job.catalogue.rests_on:
        if any(_is_pencilled(job, value) for value in entry.values):
            for rule_id in entry.rules:
                results[rule_id] = (*results.get(rule_id, ()), entry.label)
    return results


def _is_pencilled(job: Job, value: str) -> bool:
    if value.startswith(PARTS):
        ids = {part_id for part_id, _ in _pencilled_parts(job)}
        wanted = value.removeprefix(PARTS)
        return any(_fits(job, s.kind, wanted) for s in job.plan.vehicle.solids if s.id in ids)
    address = value if value.startswith(HEAT) else f"{VEHICLE}{value}"
    return any(a == address or a.startswith(f"{address}.") for a in _pencilled(job))


def _fits(job: Job, kind: str, wanted: str) -> bool:
    """Whether a kind is the wanted one, or belongs where wanted."""
    if wanted == BESIDE:
        mount = chosen_mount(job)
        wanted = mount.place if mount is not None else "inside"
    return wanted in {kind, job.catalogue.solid_kinds[kind].where}


def _pencilled(job: Job) -> tuple[str, ...]:
    return job.plan.vehicle.pencilled
