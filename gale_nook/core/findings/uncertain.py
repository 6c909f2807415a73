"""What a verdict allows for, of parts whose place is not known exactly."""

from __future__ import annotations

from dataclasses import replace

from gale_nook.core.findings.finding import Finding
from gale_nook.core.job import Job, fact
from gale_nook.core.quantities.sentences import q


def with_uncertainty(job: Job, finding: Finding) -> Finding:
    """Return a finding that says by how much the parts that it names may be off. Their shapes are
    larger by that, so that its distance is the least that there may be.
    """
    uncertain = _uncertain(job)
    if not uncertain:
        return finding
    told = [
        f" The place of {name} is known to {q(by_mm)} only: the check allows for that."
        for part_id, name, by_mm in uncertain
        if finding.names(part_id, name)
    ]
    return replace(finding, sentence=finding.sentence + "".join(told)) if told else finding


@fact
def _uncertain(job: Job) -> tuple[tuple[str, str, float], ...]:
    """(id, name, uncertainty) of every part that has one."""
    solids = job.plan.vehicle.solids
    return tuple((s.id, s.name, s.uncertainty_mm) for s in solids if s.uncertainty_mm > 0)
