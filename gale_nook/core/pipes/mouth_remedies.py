"""Candidate cures for the findings of the mouths; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.geometry.frames import unit
from gale_nook.core.job import Job
from gale_nook.core.pipes.mouth_rules import nearest_edge
from gale_nook.core.pipes.remedies import shift
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import nodes_of
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.lean import lean_of


@remedy_for("pipes.mouth_edge")
def to_the_edge(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lead the mouth out to the nearest edge, keeping its fall."""
    run, nodes = pipe_run(job, "exhaust"), nodes_of(job, "exhaust")
    if run is None or finding.band.maximum is None:
        return
    inside, edge = nearest_edge(job, run.mouth)
    by = math.ceil(inside - finding.band.maximum - 1e-9) + job.plan.settings.tolerance_mm
    out = unit((edge[0] - run.mouth[0], edge[1] - run.mouth[1], 0.0))
    fall = (
        math.tan(math.radians(max(run.straights[-1].fall_deg, 0.0)))
        if run.straights[-1].fall_deg < 45
        else 0.0
    )
    command = shift("exhaust", nodes[-1:], (out[0] * by, out[1] * by, -fall * by))
    if command is not None:
        yield Remedy(f"Lead the mouth {q(by)} farther out.", command)


@remedy_for("pipes.overhang")
def draw_in(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Draw what stands out beside the vehicle back towards it, up the slope that it came down."""
    run = pipe_run(job, "exhaust")
    nodes = nodes_of(job, "exhaust")
    shell = job.plan.vehicle.shell
    if run is None or finding.margin is None:
        return
    by = math.ceil(-finding.margin - 1e-9)
    half, most = shell.outer_width_mm / 2, finding.band.maximum or 0.0
    beside = tuple(node for node in nodes if abs(node.y_mm) - half > most)
    behind = tuple(node for node in nodes if node.x_mm - shell.rear_x_mm > most)
    inward = -math.copysign(by, run.mouth[1])
    for moved, step in ((beside, (0.0, inward, 0.0)), (behind, (-float(by), 0.0, 0.0))):
        command = shift("exhaust", moved, step)
        if command is not None:
            yield Remedy(f"Draw it {q(by)} in.", command)


@remedy_for("pipes.mouth_forward", run="exhaust")
def turn_back(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Bring the mouth rearward until it points square out."""
    run, nodes = pipe_run(job, "exhaust"), nodes_of(job, "exhaust")
    if run is None or len(run.points) < 2:
        return
    by = math.ceil(run.points[-2][0] - run.mouth[0])
    command = shift("exhaust", nodes[-1:], (float(by), 0.0, 0.0))
    if command is not None:
        yield Remedy(f"Bring the mouth {q(by)} rearward, square to the side.", command)


@remedy_for("pipes.mouth_down", run="exhaust")
def point_down(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Lower the mouth to the height of the corner before it, and by the least fall."""
    run, nodes = pipe_run(job, "exhaust"), nodes_of(job, "exhaust")
    if run is None:
        return
    rise = run.mouth[2] - run.points[-2][2]
    by = math.ceil(rise + run.straights[-1].length_mm * math.tan(math.radians(3.0)))
    command = shift("exhaust", nodes[-1:], (0.0, 0.0, -float(by)))
    if command is not None:
        yield Remedy(f"Lower the mouth {q(by)}.", command)


@remedy_for("pipes.mouth_opening")
@remedy_for("pipes.mouth_part")
def along_the_side(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Move the mouth along the vehicle, away from it; the last corner goes with it if that clears
    better.
    """
    nodes, missing = nodes_of(job, "exhaust"), -(finding.margin or 0.0)
    for by in (math.ceil(missing / 10) * 10 * share for share in (1, 1.5, 2, 3, 5)):
        for sign, towards in ((1, "rearward"), (-1, "forward")):
            for moved in (nodes[-1:], nodes[-2:]):
                command = shift("exhaust", moved, (sign * by, 0.0, 0.0))
                if command is not None:
                    what = "mouth" if len(moved) == 1 else "mouth and the bend before it"
                    yield Remedy(f"Move the {what} {q(by)} {towards}.", command)


@remedy_for("pipes.mouths_apart")
@remedy_for("pipes.mouths_facing")
def breathe_elsewhere(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Move the combustion air's mouth away: rearward, forward, or across."""
    nodes = nodes_of(job, "intake")
    if not nodes:
        return
    missing = -(finding.margin or 0.0) if finding.unit == "mm" else 100.0
    shifts = (
        (1, 0, "rearward"),
        (0, 1, "to the right"),
        (0, -1, "to the left"),
        (-1, 0, "forward"),
    )
    for by in (math.ceil(missing / 10) * 10 * share for share in (1, 1.5, 2, 3)):
        for dx, dy, towards in shifts:
            command = shift("intake", nodes[-1:], (dx * by, dy * by, 0.0))
            if command is not None:
                yield Remedy(f"Move the combustion air's mouth {q(by)} {towards}.", command)


@remedy_for("pipes.mouth_forward", run="intake")
def breathe_rearward(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Turn the last straight of the combustion air square to the side, or rearward."""
    nodes, run = nodes_of(job, "intake"), pipe_run(job, "intake")
    if run is None:
        return
    ahead = math.ceil(run.points[-2][0] - run.mouth[0])
    for by, towards in ((float(ahead), "square to the side"), (2.0 * ahead, "to the rear")):
        command = shift("intake", nodes[-1:], (by, 0.0, 0.0))
        if command is not None:
            yield Remedy(f"Bring the combustion air's mouth {q(by)} rearward, {towards}.", command)


@remedy_for("pipes.mouth_down", run="intake")
@remedy_for("pipes.parked", run="intake")
def breathe_downward(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Lower the combustion air's mouth until its last straight falls, parked askew too."""
    nodes, run = nodes_of(job, "intake"), pipe_run(job, "intake")
    if run is None:
        return
    rise = run.mouth[2] - run.points[-2][2]
    fall = math.tan(math.radians(lean_of(job).most_deg + 0.5))
    by = math.ceil(rise + run.straights[-1].length_mm * fall)
    for moved, what in ((nodes[-1:], "the mouth"), (nodes[-2:], "the last two corners")):
        command = shift("intake", moved, (0.0, 0.0, -float(by)))
        if command is not None:
            yield Remedy(f"Lower {what} of the combustion air {q(by)}.", command)
