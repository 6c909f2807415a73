"""Checks of a burner pipe that goes out by an opening that was there: that it does, and what heat
the opening's edge bears.
"""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job
from gale_nook.core.pipes.gas import exhaust_gas
from gale_nook.core.pipes.panels import ring_mm
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import tube_of
from gale_nook.core.pipes.warmth import neighbour_c
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.old_openings import middle_of
from gale_nook.core.vehicle.old_use import Way, not_used, passage, uses_of

AT_PORT_MM = 150.0  # its port hangs in the opening


@rule("pipes.old_opening", "Exhaust through its old opening", "mm", hazard="fire", run="exhaust")
@rule("pipes.old_opening", "Combustion air through its old opening", "mm", run="intake")
def goes_through(job: Job, this: Rule) -> Iterator[Finding]:
    """Where an opening is said to be used for it, the pipe goes through, its sleeve round it."""
    tube = tube_of(this)
    way = _way(job, tube)
    if way is not None:
        band = Band(ring_mm(job, tube), None, Whose.WORKSHOP, "sleeve_mm", "room for the sleeve")
        yield from uses_of(job, this, tube, (way,), band)


@rule("pipes.old_edge", "Heat at an old opening's edge", "C", hazard="fire", run="exhaust")
def edge_bears(job: Job, this: Rule) -> Iterator[Finding]:
    """By what it is made of, at most output on a warm day; a sleeve is not counted on."""
    works = job.catalogue.pipe_physics
    gas, way = exhaust_gas(job, works.warm_day_c), _way(job, "exhaust")
    if gas is None or way is None:
        return
    for opening in job.plan.vehicle.old_openings:
        stuff = job.catalogue.solid_materials.get(opening.edge)
        if opening.use != "exhaust" or stuff is None or stuff.heat_c is None:
            continue
        at_mm, room = passage(job, opening, way)
        skin = gas.at(at_mm).skin_c
        celsius = neighbour_c(skin, way.outside_mm, max(room, 0.0), works.warm_day_c, works)
        at = middle_of(job, opening)
        yield this.finding(
            job,
            subject=opening.id,
            subject_name=opening.name,
            measured=celsius,
            band=Band(None, stuff.heat_c, Whose.WORKSHOP, "heat_c", stuff.source),
            title=f"Edge of {opening.name}",
            sentence=(
                f"Its edge of {stuff.label} gets up to {q(round(celsius), 'c')}, "
                f"{q(round(max(room, 0.0)))} from a skin of {q(round(skin), 'c')}."
            ),
            marks=(Mark(at, at),),
        )


def _way(job: Job, tube: Tube) -> Way | None:
    run = pipe_run(job, tube)
    if run is None:
        return None
    return Way("the pipe", run, heater_port(job, tube).diameter_mm, AT_PORT_MM)


@remedy_for("pipes.old_opening")
def leave_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Closed, where it is not where this goes."""
    del job
    yield from not_used(finding)
