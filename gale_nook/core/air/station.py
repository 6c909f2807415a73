"""Station *Air*: ducts, outlets, the way back, and what of the heat arrives."""

from __future__ import annotations

from gale_nook.core.air import (
    flow_rules,
    heat_rules,
    hole_rules,
    noise_rules,
    old_opening_rules,
    outlet_remedies,
    remedies,
    return_remedies,
    return_rules,
    run_rules,
)
from gale_nook.core.air.bodies import air_bodies
from gale_nook.core.air.commands import COMMANDS
from gale_nook.core.air.report import air_lines, air_report
from gale_nook.core.air.together import AIR_TOGETHER
from gale_nook.core.air.work import air_cuts, air_holes, air_parts, air_steps
from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.findings.rule import rules_of
from gale_nook.core.fitted.usable import usable
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Station


def _by_air(job: Job) -> bool:
    return job.plan.heater.medium == "air" or ducted_convector(job) is not None


def _number(job: Job) -> str:
    found = usable(job)
    return q(round(found.usable_w), "w") if found is not None else ""


AIR = Station(
    "air",
    "Air",
    "7",
    shown=_by_air,
    rules=(
        *rules_of(
            flow_rules,
            run_rules,
            heat_rules,
            return_rules,
            hole_rules,
            noise_rules,
            old_opening_rules,
            outlet_remedies,
            remedies,
            return_remedies,
        ),
        AIR_TOGETHER,
    ),
    commands=COMMANDS,
    number=_number,
    bodies=air_bodies,
    parts=air_parts,
    holes=air_holes,
    cuts=air_cuts,
    steps=air_steps,
    report=air_report,
    report_lines=air_lines,
)
