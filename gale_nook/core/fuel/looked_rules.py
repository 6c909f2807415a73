"""Whether somebody has looked at where the fuel line leads along, and where its own tank hangs."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.tank_pose import as_it_stands
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.vehicle.looked_findings import run_looked_at

HAND_MM = 40.0  # a hand's breadth round the line, for clips and tools; workshop assumption


@rule("fuel.looked_at", "Somebody has looked along the fuel line", YES_NO, run="fuel")
def looked_along(job: Job, this: Rule) -> Iterator[Finding]:
    """A line is not clear of what nobody has looked for."""
    run, mount = fuel_run(job), chosen_mount(job)
    if run is None or mount is None or mount.place == "engine-bay":
        return
    yield run_looked_at(job, this, run.geometry.centre_line, HAND_MM, ("line", "the fuel line"))


@rule("fuel.tank_looked_at", "Somebody has looked where the tank hangs", YES_NO)
def looked_at_tank(job: Job, this: Rule) -> Iterator[Finding]:
    """A tank of its own needs its room below."""
    fuel = job.plan.fuel
    tank = fuel.tank
    if tank is None or fuel.source != "tank-outside":
        return
    length, width, _ = tank.size_mm
    corners = [
        as_it_stands(tank, (tank.x_mm + dx, tank.y_mm + dy, tank.z_mm))
        for dx, dy in ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width), (0.0, 0.0))
    ]
    yield run_looked_at(job, this, corners, HAND_MM, ("tank", "the tank"))
