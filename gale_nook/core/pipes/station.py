"""Station *Pipes*: exhaust and combustion air."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.job import Job
from gale_nook.core.pipes import (
    bench_rules,
    clearance_rules,
    fall_rules,
    fitting_remedies,
    fitting_rules,
    hole_heat_rules,
    inside_rules,
    looked_rules,
    mouth_remedies,
    mouth_rules,
    old_opening_rules,
    panel_remedies,
    panel_rules,
    remedies,
    rules,
    run_rules,
    spray_remedies,
    spray_rules,
    support_hole_rules,
    unit_rules,
    water_rules,
)
from gale_nook.core.pipes.bodies import pipe_bodies
from gale_nook.core.pipes.commands import COMMANDS
from gale_nook.core.pipes.report import pipe_lines, pipes_report
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.settle import settle
from gale_nook.core.pipes.together import PIPES_TOGETHER
from gale_nook.core.pipes.work import pipe_cuts, pipe_holes, pipe_parts, pipe_steps
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    run = pipe_run(job, "exhaust")
    return q(run.length_mm) if run is not None else ""


PIPES = Station(
    "pipes",
    "Pipes",
    "5",
    rules=(
        *rules_of(
            bench_rules,
            fall_rules,
            fitting_remedies,
            fitting_rules,
            mouth_remedies,
            mouth_rules,
            old_opening_rules,
            clearance_rules,
            hole_heat_rules,
            inside_rules,
            looked_rules,
            panel_rules,
            panel_remedies,
            remedies,
            run_rules,
            spray_rules,
            spray_remedies,
            support_hole_rules,
            unit_rules,
            water_rules,
            rules,
        ),
        PIPES_TOGETHER,
    ),
    commands=COMMANDS,
    number=_number,
    bodies=pipe_bodies,
    settle=settle,
    parts=pipe_parts,
    holes=pipe_holes,
    cuts=pipe_cuts,
    steps=pipe_steps,
    report=pipes_report,
    report_lines=pipe_lines,
)
