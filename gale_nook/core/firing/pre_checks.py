"""What is looked at before the heater is switched on, and again after its first long run, of what
this job has.
"""

from __future__ import annotations

from gale_nook.core.catalogue.firing import PreCheck
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.fuel import OWN_TANKS


@fact
def pre_checks(job: Job) -> tuple[PreCheck, ...]:
    """Return what is looked at before, in its order; none without a heater."""
    return _of_this_job(job, job.catalogue.firing.checks)


@fact
def rechecks(job: Job) -> tuple[PreCheck, ...]:
    """Return what is looked at again after the first long run; none without a heater."""
    return _of_this_job(job, job.catalogue.firing.rechecks)


def _of_this_job(job: Job, checks: tuple[PreCheck, ...]) -> tuple[PreCheck, ...]:
    if heater_sheet(job) is None:
        return ()
    holds = what_it_has(job)
    return tuple(check for check in checks if holds[check.when])


def what_it_has(job: Job) -> dict[str, bool]:
    """Return which of the things that data files ask for (`when`) a job has."""
    sheet, plan = heater_sheet(job), job.plan
    medium = sheet.medium if sheet is not None else plan.heater.medium
    exhaust = plan.pipes.exhaust
    return {
        "": True,
        "air": medium == "air",
        "coolant": medium == "coolant",
        "own-tank": plan.fuel.source in OWN_TANKS,
        "vehicle-tank": plan.fuel.source is not None and plan.fuel.source not in OWN_TANKS,
        "drain": exhaust is not None and any(node.drain for node in exhaust.nodes),
        "alarm": any(alarm.kind == "co" for alarm in plan.power.alarms),
        "cap": True,
    }
