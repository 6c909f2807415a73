"""Candidate cures for clamps and bulkhead fittings; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import proposed_clamps
from gale_nook.core.pipes.commands import AddFitting, PutFittings
from gale_nook.core.pipes.panels import PROUD_MM, crossing, panels
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import tube_of
from gale_nook.core.plan.pipes import Fitting
from gale_nook.core.quantities.sentences import q


@remedy_for("pipes.clamps")
def clamp_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A clamp at every end."""
    tube = tube_of(finding)
    clamps = proposed_clamps(job, tube)
    words = f"Clamp it at {len(clamps)} end{'' if len(clamps) == 1 else 's'}."
    yield Remedy(words, PutFittings(tube=tube, kind="clamp", fittings=clamps))


@remedy_for("pipes.bulkhead")
def into_its_panel(job: Job, finding: Finding) -> Iterator[Remedy]:
    """To where the pipe passes a panel; else off."""
    tube = tube_of(finding)
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    fitting = (
        next((f for f in route.fittings if f.id == finding.subject), None)
        if route is not None
        else None
    )
    if run is None or fitting is None:
        return
    for solid, _, shape in panels(job):
        where = crossing(run, shape)
        if where is not None:
            at = float(max(math.floor((where[0] + where[1] - fitting.length_mm) / 2), 0))
            address = f"pipes.{tube}.fittings.{fitting.id}.at_mm"
            yield Remedy(
                f"Move it to {q(at)} from the port, into {solid.name}.", set_value(address, at)
            )
    yield Remedy("Remove it.", RemoveItem(collection=f"pipes.{tube}.fittings", item_id=fitting.id))


@remedy_for("pipes.clearance")
def pass_through(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Through a panel that the pipe runs into, in a fitting."""
    tube = tube_of(finding)
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    shape = next((shape for solid, _, shape in panels(job) if solid.id == finding.subject), None)
    where = crossing(run, shape) if run is not None and shape is not None else None
    if route is None or where is None:
        return
    at = float(max(math.floor(where[0] - PROUD_MM), 0))
    length = float(math.ceil(where[1] - at + PROUD_MM))
    item = Fitting(
        id=fresh_id(route.fittings, "bulkhead"), kind="bulkhead", at_mm=at, length_mm=length
    )
    words = f"Pass it through {finding.subject_name} in a bulkhead fitting, {q(at)} from the port."
    yield Remedy(words, AddFitting(collection=f"pipes.{tube}.fittings", item=item))
