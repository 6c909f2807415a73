"""Station *Layouts*: what it brings to the core. What looks for layouts knows every station, and
stands above them all.
"""

from __future__ import annotations

from gale_nook.core.job import Job
from gale_nook.core.planner.commands import COMMANDS
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    wishes = job.plan.wishes
    count = len(wishes.parts) + len(wishes.areas) + len(wishes.pinned)
    return f"{count} wish{'' if count == 1 else 'es'}" if count else ""


PLANNER = Station("planner", "Layouts", "y", commands=COMMANDS, number=_number)
