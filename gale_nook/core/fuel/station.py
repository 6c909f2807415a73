"""Station *Fuel*: source, tank, line and pump."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.fuel import (
    drop_rules,
    filler,
    filler_remedies,
    flex,
    flex_remedies,
    looked_rules,
    old_opening_rules,
    part_rules,
    pump_hole_rules,
    remedies,
    rules,
    second_rules,
    tank_fit_rules,
    tank_rules,
)
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.fuel.commands import COMMANDS
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.report import fuel_report, fuel_words
from gale_nook.core.fuel.together import FUEL_TOGETHER
from gale_nook.core.fuel.work import fuel_holes, fuel_parts, fuel_steps
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    run = fuel_run(job)
    return q(round(run.length_mm)) if run is not None else ""


FUEL = Station(
    "fuel",
    "Fuel",
    "6",
    rules=(
        *rules_of(
            drop_rules,
            filler,
            filler_remedies,
            flex,
            flex_remedies,
            looked_rules,
            old_opening_rules,
            part_rules,
            pump_hole_rules,
            remedies,
            tank_fit_rules,
            tank_rules,
            rules,
            second_rules,
        ),
        FUEL_TOGETHER,
    ),
    commands=COMMANDS,
    number=_number,
    bodies=fuel_bodies,
    parts=fuel_parts,
    holes=fuel_holes,
    steps=fuel_steps,
    report=fuel_report,
    report_lines=fuel_words,
)
