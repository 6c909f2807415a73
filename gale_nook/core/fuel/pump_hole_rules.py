"""Check of the hole that the pump's bracket hangs on, under the floor, and moving the pump along
where it would be drilled into something.
"""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.fixing_holes import FixingHole, fixing_findings, fixing_hole
from gale_nook.core.vehicle.floor import underside_at_mm

STEP_MM, FARTHEST_MM = 50.0, 500.0  # along the line, that the pump is moved by


def pump_hole(job: Job) -> FixingHole | None:
    """Return the hole for the pump's bracket; None without a pump, or where it is not under the
    floor.
    """
    run = fuel_run(job)
    at = run.pump_at if run is not None else None
    if at is None:
        return None
    underside = underside_at_mm(job, at[0], at[1])
    if at[2] > underside:
        return None
    return fixing_hole(job, "pump", "the pump's bracket", (at[0], at[1], underside))


@rule("fuel.pump_hole", "Hole for the pump's bracket", "mm", run="fuel")
def pump_hole_clear(job: Job, this: Rule) -> Iterator[Finding]:
    """Metal left to cables, pipes and tanks on both sides of the floor."""
    hole = pump_hole(job)
    if hole is not None:
        yield from fixing_findings(job, this, hole)


@remedy_for("fuel.pump_hole")
def move_the_pump(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Along the line, the nearest places first."""
    run, line = fuel_run(job), job.plan.fuel.line
    pump = next((p for p in line.parts if p.kind == "pump"), None) if line is not None else None
    if run is None or pump is None:
        return
    for step in range(1, int(FARTHEST_MM / STEP_MM) + 1):
        for at in (pump.at_mm - step * STEP_MM, pump.at_mm + step * STEP_MM):
            if 0 < at < run.length_mm:
                yield Remedy(
                    f"Hang the pump {q(round(at))} from the take-off instead.",
                    set_value(f"fuel.line.parts.{pump.id}.at_mm", at),
                )
