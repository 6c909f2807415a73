"""What the electrics take room for: their leads."""

from __future__ import annotations

from gale_nook.core.geometry.shapes import tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.power.leads import LeadRun, settled_runs

LEAD_MM = 8.0  # as thick as a lead is taken to be


@fact
def power_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of all leads."""
    return tuple(lead_body(job, run) for run in settled_runs(job))


def lead_body(job: Job, run: LeadRun) -> Body:
    """Return a lead as a body."""
    thing_id = f"power.{run.lead.id}"
    shape = tube_shape(run.geometry.centre_line, LEAD_MM)
    return body_of(job, "lead", shape, thing_id=thing_id, name=f"the {run.name}", owner=thing_id)
