"""Station *Power*: battery, cables, fuse, controller, alarms, nights."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.heater.work import unit_steps
from gale_nook.core.job import Job
from gale_nook.core.power import (
    body_rules,
    lead_rules,
    night_rules,
    old_opening_rules,
    place_rules,
    remedies,
    supply_rules,
    unit_rules,
)
from gale_nook.core.power.bodies import power_bodies
from gale_nook.core.power.commands import COMMANDS
from gale_nook.core.power.report import power_report, power_words
from gale_nook.core.power.supply import ladders
from gale_nook.core.power.together import POWER_TOGETHER
from gale_nook.core.power.work import power_cuts, power_holes, power_parts, power_steps
from gale_nook.core.station import Station, Step


def _number(job: Job) -> str:
    found = ladders(job).get("glow")
    return f"{found.heater_v:.1f} V at glow" if found is not None and not found.collapses else ""


def _steps(job: Job) -> Iterator[Step]:
    """What the electrics ask for, and at the end how several heaters are set up."""
    yield from power_steps(job)
    yield from unit_steps(job)


POWER = Station(
    "power",
    "Power",
    "8",
    rules=(
        *rules_of(
            supply_rules,
            lead_rules,
            night_rules,
            place_rules,
            old_opening_rules,
            body_rules,
            unit_rules,
            remedies,
        ),
        POWER_TOGETHER,
    ),
    bodies=power_bodies,
    commands=COMMANDS,
    number=_number,
    parts=power_parts,
    holes=power_holes,
    cuts=power_cuts,
    steps=_steps,
    report=power_report,
    report_lines=power_words,
)
