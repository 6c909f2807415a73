"""What the burner's pipes take room for: each run with its lagging, silencer and filter."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.geometry.shapes import tube_shape
from gale_nook.core.job import Job, unpowered_fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.pipes.covers import cover_segments
from gale_nook.core.pipes.panels import passed
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.spot.placement import heater_port

AT_PORT_MM = 90.0  # so far a run is among the mount's other ports
THICK = {"silencer": "silencer", "filter": "air-filter"}


@unpowered_fact
def pipe_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of exhaust and combustion air."""
    return (*_exhaust(job), *_intake(job), *_thick(job, "exhaust"), *_thick(job, "intake"))


def _exhaust(job: Job) -> Iterator[Body]:
    run = pipe_run(job, "exhaust")
    if run is None:
        return
    through = frozenset(passed(job, "exhaust"))
    for segment in cover_segments(job):
        for kind, start, stop in _cut(segment.from_mm, segment.to_mm, "exhaust"):
            shape = tube_shape(run.stretch(start, stop), segment.diameter_mm)
            covered = segment.is_covered
            yield body_of(
                job,
                kind,
                shape,
                thing_id="pipes.exhaust",
                owner="exhaust",
                covered=covered,
                passes=through,
            )


def _intake(job: Job) -> Iterator[Body]:
    run = pipe_run(job, "intake")
    if run is None:
        return
    through, diameter = frozenset(passed(job, "intake")), heater_port(job, "intake").diameter_mm
    for kind, start, stop in _cut(0.0, run.passed_mm[-1], "intake"):
        shape = tube_shape(run.stretch(start, stop), diameter)
        yield body_of(job, kind, shape, thing_id="pipes.intake", owner="intake", passes=through)


def _cut(from_mm: float, to_mm: float, tube: Tube) -> Iterator[tuple[str, float, float]]:
    """What lies at the port, and the rest."""
    if from_mm < AT_PORT_MM:
        yield f"{tube}-at-port", from_mm, min(to_mm, AT_PORT_MM)
    if to_mm > AT_PORT_MM:
        yield tube, max(from_mm, AT_PORT_MM), to_mm


def _thick(job: Job, tube: Tube) -> Iterator[Body]:
    """Silencer or filter, thicker than the pipe."""
    route, run, works = job.plan.pipes.route(tube), pipe_run(job, tube), job.catalogue.pipe_physics
    if route is None or run is None:
        return
    for fitting in route.of_kind("silencer", "filter"):
        thick = works.silencer_mm if fitting.kind == "silencer" else works.air_filter_mm
        half = min(thick, fitting.length_mm) / 2
        ends = _ends(run, fitting.at_mm + half, fitting.end_mm - half)
        kind = THICK[fitting.kind]
        yield body_of(
            job, kind, tube_shape(ends, thick), thing_id=f"{tube}.{fitting.id}", owner=tube
        )


def _ends(
    run: RouteGeometry, from_mm: float, to_mm: float
) -> tuple[tuple[float, float, float], ...]:
    """A stiff thing lies straight between where it begins and where it ends."""
    return (run.point_at(from_mm), run.point_at(max(to_mm, from_mm)))
