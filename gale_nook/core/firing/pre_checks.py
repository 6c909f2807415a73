"""What is looked at before the heater is switched on, and again after its first long run, of what
this job has.
"""

from __future__ import annotations

from gale_nook.core.catalogue.firing import PreCheck
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact

OWN_TANKS = ("tank-outside", "tank-inside")


@fact
def pre_checks(job: Job) -> tuple[PreCheck, ...]:
    """Return what is looked at before, in its order; none without a heater."""
    return _of_this_job(job, job.catalogue.firing.checks)


@fact
def rechecks(job: Job) -> tuple[PreCheck, ...]:
    """Return what is looked at again after the first long run; none without a heater."""
    return _of_this_job(job, job.catalogue.firing.rechecks)


def _of_this_job(job: Job, checks: tuple[PreCheck, ...]) -> tuple[PreCheck, ...]:
    sheet, plan = heater_sheet(job), job.plan
    if sheet is None:
        return ()
    exhaust = plan.pipes.exhaust
    holds = {
        "": True,
        "air": sheet.medium == "air",
        "coolant": sheet.medium == "coolant",
        "own-tank": plan.fuel.source in OWN_TANKS,
        "vehicle-tank": plan.fuel.source is not None and plan.fuel.source not in OWN_TANKS,
        "drain": exhaust is not None and any(node.drain for node in exhaust.nodes),
        "alarm": any(alarm.kind == "co" for alarm in plan.power.alarms),
        "cap": True,
    }
    return tuple(check for check in checks if holds[check.when])
