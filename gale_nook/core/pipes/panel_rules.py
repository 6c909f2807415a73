"""Checks of what holds a burner pipe together and carries it through panels: clamps, bulkhead
fittings; and their cures.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.apply import fresh_id
from gale_nook.core.edits.commands import AddItem, PutFittings, RemoveItem, set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.registry import Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import proposed_clamps, unclamped
from gale_nook.core.pipes.panels import PROUD_MM, crossing, fitting_shape, panels
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import tube_of, tube_words
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.quantities.said import q
from gale_nook.core.vehicle.parts import gap_between


@rule("pipes.clamps", "Clamps of the exhaust", "count", hazard="fumes")
def exhaust_clamped(job: Job, this: Rule) -> Iterator[Finding]:
    """Every end that is pushed over another is clamped: port, joints, silencer."""
    yield from _clamped(job, this, "exhaust")


@rule("pipes.air_clamps", "Clamps of the combustion air", "count")
def air_clamped(job: Job, this: Rule) -> Iterator[Finding]:
    """The same for the pipe that the burner breathes through: port and filter."""
    yield from _clamped(job, this, "intake")


def _clamped(job: Job, this: Rule, tube: Tube) -> Iterator[Finding]:
    run = pipe_run(job, tube)
    if run is None:
        return
    missing = unclamped(job, tube)
    places = [run.point_at(connection.at_mm) for connection in missing]
    names = ", ".join(f"{connection.name} at {q(connection.at_mm)}" for connection in missing)
    yield this.finding(
        job,
        subject=tube,
        subject_name=tube_words(tube),
        measured=float(len(missing)),
        tolerance=0.0,
        band=Band(None, 0.0, Whose.WORKSHOP, "clamps", "workshop rule 22: every end is clamped"),
        sentence=f"No clamp holds {names}." if missing else "Every end is clamped.",
        marks=tuple(Mark(place, place) for place in places),
    )


@remedy_for("pipes.clamps")
@remedy_for("pipes.air_clamps")
def clamp_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A clamp at every end."""
    tube = tube_of(finding.rule)
    clamps = proposed_clamps(job, tube)
    words = f"Clamp it at {len(clamps)} end{'' if len(clamps) == 1 else 's'}."
    yield Remedy(words, PutFittings(tube=tube, kind="clamp", fittings=clamps))


@rule("pipes.bulkhead", "Bulkhead fittings of the exhaust in their panels", "mm")
def exhaust_fittings_sit(job: Job, this: Rule) -> Iterator[Finding]:
    """A bulkhead fitting sits where the pipe passes a panel."""
    yield from _sits(job, this, "exhaust")


@rule("pipes.air_bulkhead", "Bulkhead grommets of the combustion air in their panels", "mm")
def air_grommets_sit(job: Job, this: Rule) -> Iterator[Finding]:
    """The same for a grommet of the combustion air's pipe."""
    yield from _sits(job, this, "intake")


def _sits(job: Job, this: Rule, tube: Tube) -> Iterator[Finding]:
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    for fitting in route.of_kind("bulkhead") if route is not None and run is not None else ():
        piece = fitting_shape(job, tube, fitting)
        if piece is None or run is None:
            continue
        near = [(gap_between(job, piece, shape), solid.name) for solid, _, shape in panels(job)]
        found = min(near, key=lambda pair: pair[0].distance_mm, default=None)
        at = run.point_at(fitting.at_mm + fitting.length_mm / 2)
        band = Band(None, 0.0, Whose.GEOMETRY, "bulkhead", "where the pipe passes the panel")
        if found is None:
            words, gap = "There is no panel that the pipe could pass through.", run.length_mm
        else:
            gap = max(found[0].distance_mm, 0.0)
            words = (
                f"The bulkhead fitting sits in {found[1]}."
                if gap == 0
                else f"The bulkhead fitting is {q(gap)} from {found[1]}."
            )
        yield this.finding(
            job,
            subject=fitting.id,
            subject_name="bulkhead fitting",
            measured=gap,
            band=band,
            sentence=words,
            tolerance=0.0,
            marks=(Mark(at, at),) if gap else (),
        )


@remedy_for("pipes.bulkhead")
@remedy_for("pipes.air_bulkhead")
def into_its_panel(job: Job, finding: Finding) -> Iterator[Remedy]:
    """To where the pipe passes a panel; else off."""
    tube = tube_of(finding.rule)
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
    yield Remedy(
        "Take it off.", RemoveItem(collection=f"pipes.{tube}.fittings", item_id=fitting.id)
    )


@remedy_for("pipes.clearance")
@remedy_for("pipes.air_clearance")
def pass_through(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Through a panel that the pipe runs into, in a fitting."""
    tube = tube_of(finding.rule)
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
    yield Remedy(words, AddItem(collection=f"pipes.{tube}.fittings", item=item))
