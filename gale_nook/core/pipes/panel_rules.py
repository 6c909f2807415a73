"""Checks of what holds a burner pipe together and carries it through panels: clamps, bulkhead
fittings; and their cures.
"""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.shapes import separation
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import unclamped
from gale_nook.core.pipes.inside import is_allowed, passes_mm
from gale_nook.core.pipes.panels import fitting_shape, panels
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import tube_of, tube_words
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.quantities.sentences import q


def _in_shell(job: Job, tube: Tube, fitting: Fitting) -> bool:
    """Whether it carries a pipe that may run inside through floor or wall."""
    return is_allowed(job) and any(
        fitting.at_mm <= at <= fitting.end_mm for at in passes_mm(job, tube)
    )


@rule("pipes.clamps", "Clamps that the exhaust lacks", "count", hazard="fumes", run="exhaust")
@rule("pipes.clamps", "Clamps that the combustion air lacks", "count", run="intake")
def clamped(job: Job, this: Rule) -> Iterator[Finding]:
    """Every end that is pushed over another is clamped: port, joints, silencer or filter."""
    tube = tube_of(this)
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


@rule("pipes.bulkhead", "Bulkhead fittings of the exhaust in their panels", "mm", run="exhaust")
@rule("pipes.bulkhead", "Bulkhead grommets of the combustion air", "mm", run="intake")
def fittings_sit(job: Job, this: Rule) -> Iterator[Finding]:
    """A bulkhead fitting or grommet sits where the pipe passes a panel."""
    tube = tube_of(this)
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    for fitting in route.of_kind("bulkhead") if route is not None and run is not None else ():
        piece = fitting_shape(job, tube, fitting)
        if piece is None or run is None or _in_shell(job, tube, fitting):
            continue
        near = [(separation(piece, shape), solid.name) for solid, _, shape in panels(job)]
        result = min(near, key=lambda pair: pair[0].distance_mm, default=None)
        at = run.point_at(fitting.at_mm + fitting.length_mm / 2)
        band = Band(None, 0.0, Whose.GEOMETRY, "bulkhead", "where the pipe passes the panel")
        if result is None:
            words, gap = "There is no panel that the pipe could pass through.", run.length_mm
        else:
            gap = max(result[0].distance_mm, 0.0)
            words = (
                f"The bulkhead fitting sits in {result[1]}."
                if gap == 0
                else f"The bulkhead fitting is {q(gap)} from {result[1]}."
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
