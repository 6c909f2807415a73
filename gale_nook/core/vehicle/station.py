"""Station *Vehicle*: the survey that everything else is measured against."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.job import Job
from gale_nook.core.station import Station
from gale_nook.core.vehicle import moves_rules, old_rules, plausible, remedies, rules
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.commands import COMMANDS
from gale_nook.core.vehicle.several import SEVERAL
from gale_nook.core.vehicle.together import VEHICLE_TOGETHER
from gale_nook.core.vehicle.work import vehicle_parts, vehicle_steps


def _number(job: Job) -> str:
    return f"{len(job.plan.vehicle.solids)} parts"


VEHICLE = Station(
    "vehicle",
    "Vehicle",
    "1",
    rules=(*rules_of(rules, plausible, moves_rules, old_rules, remedies), VEHICLE_TOGETHER),
    commands=(*COMMANDS, *SEVERAL),
    number=_number,
    bodies=vehicle_bodies,
    parts=vehicle_parts,
    steps=vehicle_steps,
)
