"""Station *Log*: nights, fuel, service and faults, for the years after the build."""

from __future__ import annotations

from gale_nook.core.job import Job
from gale_nook.core.log.commands import COMMANDS
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    """Of how many nights something was taken over."""
    nights = job.plan.heat.learned.nights
    return f"{nights} nights" if nights else ""


LOG = Station("log", "Log", "-", commands=COMMANDS, number=_number)
