"""Station *Coolant*: the loop's parts and hoses, its flows and temperatures, what is filled in."""

from __future__ import annotations

from gale_nook.core.coolant import (
    fill_rules,
    hose_rules,
    loop_rules,
    noise_rules,
    old_opening_rules,
    remedies,
)
from gale_nook.core.coolant.bodies import coolant_bodies
from gale_nook.core.coolant.commands import COMMANDS
from gale_nook.core.coolant.report import coolant_report, coolant_words
from gale_nook.core.coolant.together import COOLANT_TOGETHER
from gale_nook.core.coolant.work import coolant_cuts, coolant_holes, coolant_parts, coolant_steps
from gale_nook.core.findings.rule import rules_of
from gale_nook.core.job import Job
from gale_nook.core.loop.state import loop_state
from gale_nook.core.station import Station


def _by_coolant(job: Job) -> bool:
    return job.plan.heater.medium == "coolant"


def _number(job: Job) -> str:
    state = loop_state(job) if job.plan.coolant.hoses else None
    return f"{state.output_w:.0f} W" if state is not None else ""


COOLANT = Station(
    "coolant",
    "Coolant",
    "7",
    shown=_by_coolant,
    rules=(
        *rules_of(hose_rules, loop_rules, fill_rules, noise_rules, old_opening_rules, remedies),
        COOLANT_TOGETHER,
    ),
    bodies=coolant_bodies,
    commands=COMMANDS,
    number=_number,
    parts=coolant_parts,
    cuts=coolant_cuts,
    holes=coolant_holes,
    steps=coolant_steps,
    report=coolant_report,
    report_lines=coolant_words,
)
