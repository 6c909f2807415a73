"""Station *Air*: where the warm air goes. Not started: the room is there, and what a heater's sheet
says of its fan.
"""

from __future__ import annotations

from gale_nook.core.job import Job
from gale_nook.core.station import Station


def _by_air(job: Job) -> bool:
    return job.plan.heater.medium == "air"


AIR = Station(
    "air",
    "Air",
    "7",
    "Here the warm air's ducts, outlets and way back will be laid out, and the usable output "
    "computed.",
    _by_air,
)
