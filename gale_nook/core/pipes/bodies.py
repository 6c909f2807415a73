"""What the burner's pipes take room for: each run with its lagging, silencer and filter."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.geometry.shapes import tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.pipes.covers import cover_segments
from gale_nook.core.pipes.inside import comes_in, shell_bodies
from gale_nook.core.pipes.panels import passed
from gale_nook.core.pipes.runs import pipe_run, through_body_mm
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.spot.placement import heater_port

AT_PORT_MM = 90.0  # so far a run is among the mount's other ports
THICK = {"silencer": "silencer", "filter": "air-filter"}


@fact
def pipe_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of exhaust and combustion air."""
    return (
        *_exhaust(job),
        *_intake(job),
        *_thick(job, "exhaust"),
        *_thick(job, "intake"),
        *_boxes(job),
    )


def _exhaust(job: Job) -> Iterator[Body]:
    run = pipe_run(job, "exhaust")
    if run is None:
        return
    through = frozenset(passed(job, "exhaust"))
    for segment in cover_segments(job):
        for kind, from_mm, to_mm in _cut(job, segment.from_mm, segment.to_mm, "exhaust"):
            for start, stop, shell in _in_sleeves(job, "exhaust", from_mm, to_mm):
                yield body_of(
                    job,
                    kind,
                    tube_shape(run.stretch(start, stop), segment.diameter_mm),
                    thing_id="pipes.exhaust",
                    owner="exhaust",
                    covered=segment.is_covered,
                    passes=through | shell | _in_own_box(job, "exhaust", stop),
                )


def _in_sleeves(
    job: Job, tube: Tube, from_mm: float, to_mm: float
) -> Iterator[tuple[float, float, frozenset[str]]]:
    """The pieces of a stretch; those in a sleeve through floor or wall pass these, where the job
    lets the pipe run inside.
    """
    route = job.plan.pipes.route(tube)
    if route is None or not comes_in(job, tube):
        yield from_mm, to_mm, frozenset()
        return
    shell = frozenset(body.id for body in shell_bodies(job))
    sleeves = [(f.at_mm, f.end_mm) for f in route.of_kind("bulkhead")]
    edges = {from_mm, to_mm}
    edges |= {mm for sleeve in sleeves for mm in sleeve if from_mm < mm < to_mm}
    for start, stop in pairwise(sorted(edges)):
        middle = (start + stop) / 2
        inside = any(low <= middle <= high for low, high in sleeves)
        yield start, stop, shell if inside else frozenset()


def _intake(job: Job) -> Iterator[Body]:
    run = pipe_run(job, "intake")
    if run is None:
        return
    through, diameter = frozenset(passed(job, "intake")), heater_port(job, "intake").diameter_mm
    for kind, start, stop in _cut(job, 0.0, run.passed_mm[-1], "intake"):
        for low, high, shell in _in_sleeves(job, "intake", start, stop):
            yield body_of(
                job,
                kind,
                tube_shape(run.stretch(low, high), diameter),
                thing_id="pipes.intake",
                owner="intake",
                passes=through | shell | _in_own_box(job, "intake", high),
            )


def _cut(job: Job, from_mm: float, to_mm: float, tube: Tube) -> Iterator[tuple[str, float, float]]:
    """What lies at the port, what in the heater's own box, and the rest."""
    edges = {from_mm, to_mm, AT_PORT_MM, through_body_mm(job, tube)}
    for start, stop in pairwise(sorted(mm for mm in edges if from_mm <= mm <= to_mm)):
        yield f"{tube}-at-port" if stop <= AT_PORT_MM else tube, start, stop


def _in_own_box(job: Job, tube: Tube, stop_mm: float) -> frozenset[str]:
    """The heater, for a piece of pipe that leaves it through the hole of its own box."""
    inside = stop_mm <= through_body_mm(job, tube) + 1e-6
    return frozenset({"spot.heater"}) if inside else frozenset()


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


def _boxes(job: Job) -> Iterator[Body]:
    """Boxes round what of the exhaust runs inside."""
    route, run = job.plan.pipes.exhaust, pipe_run(job, "exhaust")
    for fitting in route.of_kind("box") if route is not None and run is not None else ():
        wide = heater_port(job, "exhaust").diameter_mm + 2 * fitting.box_mm
        if run is None or fitting.at_mm >= run.length_mm or fitting.length_mm <= 0:
            continue
        shape = tube_shape(run.stretch(fitting.at_mm, min(fitting.end_mm, run.length_mm)), wide)
        thing_id = f"exhaust.{fitting.id}"
        yield body_of(job, "pipe-box", shape, thing_id=thing_id, owner="exhaust")


def _ends(
    run: RouteGeometry, from_mm: float, to_mm: float
) -> tuple[tuple[float, float, float], ...]:
    """A stiff thing lies straight between where it begins and where it ends."""
    return (run.point_at(from_mm), run.point_at(max(to_mm, from_mm)))
