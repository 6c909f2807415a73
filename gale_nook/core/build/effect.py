"""What the measured values of what was built changed, finding by finding, against what was
planned.
"""

from __future__ import annotations

from gale_nook.core.apply import plan_of
from gale_nook.core.checking import checked
from gale_nook.core.edits import address as addresses
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.changes import Changed, changes
from gale_nook.core.job import Job


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
    """Return every finding whose verdict or margin the measured values changed, the worst first:
    before as planned, after as built.
    """
    if not job.plan.build.as_built:
        return ()
    return changes(checked(planned_job(job)).findings, checked(job).findings)
