"""What the measured values of what was built changed, finding by finding, against what was
planned.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.apply import plan_of
from gale_nook.core.checking import checked
from gale_nook.core.edits import address as addresses
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import SEVERITY, Finding
from gale_nook.core.job import Job

LEAST_CHANGE = 0.05  # of a margin, in its unit, that is told


@dataclass(frozen=True, slots=True)
class Changed:
    """A finding as it was planned and as it was built; None where there was none."""

    planned: Finding | None
    built: Finding | None

    @property
    def worse(self) -> bool:
        """Whether its verdict got worse."""
        if self.built is None or self.planned is None:
            return self.planned is None
        return SEVERITY[self.built.verdict] < SEVERITY[self.planned.verdict]


def planned_job(job: Job) -> Job:
    """Return the job with every measured value as it was planned."""
    data = job.plan.model_dump(mode="json")
    for value in job.plan.build.as_built:
        try:
            addresses.put(data, value.id, value.planned)
        except BadInput:
            continue  # it is no longer in the plan
    return job.with_plan(plan_of(data, job.given_catalogue))


def built_effect(job: Job) -> tuple[Changed, ...]:
    """Return every finding whose verdict or margin the measured values changed, the worst first."""
    if not job.plan.build.as_built:
        return ()
    now = {finding.key: finding for finding in checked(job).findings}
    then = {finding.key: finding for finding in checked(planned_job(job)).findings}
    changed = [
        Changed(then.get(key), now.get(key))
        for key in dict.fromkeys([*now, *then])
        if _differs(then.get(key), now.get(key))
    ]
    return tuple(sorted(changed, key=_worst_first))


def _differs(planned: Finding | None, built: Finding | None) -> bool:
    if planned is None or built is None:
        return True
    if planned.verdict is not built.verdict:
        return True
    if planned.margin is None or built.margin is None:
        return planned.margin is not built.margin
    return abs(planned.margin - built.margin) > LEAST_CHANGE


def _worst_first(changed: Changed) -> tuple[bool, int, float]:
    built = changed.built
    rank = SEVERITY[built.verdict] if built is not None else len(SEVERITY)
    margin = built.margin if built is not None and built.margin is not None else 0.0
    return (not changed.worse, rank, margin)
