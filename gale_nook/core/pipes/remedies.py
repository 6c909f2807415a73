"""Candidate cures for the findings of the runs, each with its size; they are tried before they are
offered.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.geometry.frames import Vec3, sub, unit
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import StartRun
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import BOTH, node_name, nodes_of, tube_of
from gale_nook.core.plan.pipes import RouteNode, Tube
from gale_nook.core.quantities.sentences import q

ROUND_UP_MM = 1.0  # a remedy is a whole millimetre that can be measured


def _index(job: Job, tube: Tube, node_id: str) -> int:
    return next((i for i, node in enumerate(nodes_of(job, tube)) if node.id == node_id), -1)


def place_of(tube: Tube, node: RouteNode) -> str:
    """Return the address of a node."""
    return f"pipes.{tube}.nodes.{node.id}"


def _moved(tube: Tube, node: RouteNode, by: Vec3) -> list[Change]:
    olds = (("x_mm", node.x_mm, by[0]), ("y_mm", node.y_mm, by[1]), ("z_mm", node.z_mm, by[2]))
    return [
        Change(address=f"{place_of(tube, node)}.{axis}", value=old + step)
        for axis, old, step in olds
        if step
    ]


def shift(tube: Tube, nodes: tuple[RouteNode, ...], by: Vec3) -> SetValues | None:
    """Return the command that moves some nodes by a step; None where nothing moves."""
    changes = [change for node in nodes for change in _moved(tube, node, by)]
    return SetValues(changes=tuple(changes)) if changes else None


@remedy_for("pipes.run")
def start_a_run(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A first proposal."""
    if job.plan.spot is None or chosen_mount(job) is None:
        return
    tube = tube_of(finding)
    towards = "out to the nearer side" if tube == "exhaust" else "away from the exhaust"
    yield Remedy(f"Start a run straight down and {towards}.", StartRun(tube=tube))


@remedy_for("pipes.fall")
def lower_the_rest(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lower the far end of the straight and everything after it; else lift what comes before."""
    run, index = pipe_run(job, "exhaust"), _index(job, "exhaust", finding.subject)
    if run is None or index < 0 or finding.band.minimum is None:
        return
    straight = run.straights[index]
    level = math.hypot(straight.end[0] - straight.start[0], straight.end[1] - straight.start[1])
    wanted = level * math.tan(math.radians(finding.band.minimum))
    by = math.ceil(wanted - straight.drop_mm - 1e-9) * ROUND_UP_MM
    nodes = nodes_of(job, "exhaust")
    lowered = shift("exhaust", nodes[index:], (0.0, 0.0, -by))
    if lowered is not None:
        yield _lowered(finding.subject_name, by, lowered)
    lifted = shift("exhaust", nodes[:index], (0.0, 0.0, by))
    if lifted is not None:
        yield Remedy(f"Lift all before {finding.subject_name}'s far end by {q(by)}.", lifted)


@remedy_for("pipes.standing")
def drain_or_lower(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A drain hole at a bend; else the far end of a straight, and all after it, lower by the
    water's depth.
    """
    nodes = nodes_of(job, "exhaust")
    for number, node in enumerate(nodes[:-1], 1):
        if not node.drain:
            yield Remedy(
                f"Put a drain hole at bend {number}.",
                set_value(f"pipes.exhaust.nodes.{node.id}.drain", True),
            )
    for more in (2.0, 8.0):
        by = math.ceil(finding.measured or 0.0) + more
        for index in range(1, len(nodes)):
            lowered = shift("exhaust", nodes[index:], (0.0, 0.0, -by))
            if lowered is not None:
                yield _lowered(f"straight {index + 1}", by, lowered)


@remedy_for("pipes.parked", run="exhaust")
def steeper_or_drained(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lower the far end and all after it until it falls as parked; else a drain hole before it."""
    run, index = pipe_run(job, "exhaust"), _index(job, "exhaust", finding.subject)
    if run is None or index < 0 or finding.measured is None:
        return
    straight, nodes = run.straights[index], nodes_of(job, "exhaust")
    level = math.hypot(straight.end[0] - straight.start[0], straight.end[1] - straight.start[1])
    wanted = math.radians(straight.fall_deg - finding.measured)
    by = math.ceil(level * math.tan(wanted) - straight.drop_mm - 1e-9)
    for more in (by, by + 2, by + 5):
        lowered = shift("exhaust", nodes[index:], (0.0, 0.0, -float(more)))
        if lowered is not None:
            yield _lowered(finding.subject_name, float(more), lowered)
    if index > 0:
        node = nodes[index - 1]
        yield _drained(node_name(nodes, node), place_of("exhaust", node))


@remedy_for("pipes.low_point")
def drain_it(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """A drain hole at the low point."""
    place = f"pipes.{tube_of(finding)}.nodes.{finding.subject}"
    yield _drained(finding.subject_name, place)


def _drained(name: str, place: str) -> Remedy:
    return Remedy(f"Make a 3 mm drain hole at {name}.", set_value(f"{place}.drain", True))


@remedy_for("pipes.radius")
def widen(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """The sheet's least radius."""
    least = finding.band.minimum
    if least is not None:
        place = f"pipes.{tube_of(finding)}.nodes.{finding.subject}.radius_mm"
        yield Remedy(
            f"Open {finding.subject_name} to a radius of {q(least)}.", set_value(place, least)
        )


@remedy_for("pipes.bend_room")
@remedy_for("pipes.first_straight")
def tighten(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Smaller radii at both ends, as far as the sheet lets; the far end pushed on; else a corner
    less.
    """
    tube = tube_of(finding)
    index, nodes = _index(job, tube, finding.subject), nodes_of(job, tube)
    if index < 0:
        return
    ends = [nodes[i] for i in (index - 1, index) if 0 <= i < len(nodes) - 1]
    band = limit_band(job, f"{tube}_radius_mm")
    if ends and band is not None and band.minimum is not None:
        changes = tuple(
            Change(address=f"{place_of(tube, n)}.radius_mm", value=band.minimum) for n in ends
        )
        yield Remedy(
            f"Tighten the bends of {finding.subject_name} to {q(band.minimum)}.",
            SetValues(changes=changes),
        )
    yield from _pushed_on(job, tube, finding, index)
    for node in ends:
        yield _left_out(nodes, tube, node)


def _pushed_on(job: Job, tube: Tube, finding: Finding, index: int) -> Iterator[Remedy]:
    """The far end of a straight, and all after it, moved on along the straight by
    what is missing.
    """
    run, missing = pipe_run(job, tube), math.ceil(-(finding.margin or 0.0) - 1e-9)
    if run is None or missing <= 0:
        return
    towards = unit(sub(run.straights[index].end, run.straights[index].start))
    command = shift(
        tube,
        nodes_of(job, tube)[index:],
        (towards[0] * missing, towards[1] * missing, towards[2] * missing),
    )
    if command is not None:
        yield Remedy(
            f"Make {finding.subject_name} {q(float(missing))} longer, all after it moved along.",
            command,
        )


def _lowered(name: str, by_mm: float, command: Command) -> Remedy:
    return Remedy(f"Lower the far end of {name}, and all after it, by {q(by_mm)}.", command)


def _left_out(nodes: tuple[RouteNode, ...], tube: Tube, node: RouteNode) -> Remedy:
    return Remedy(f"Leave out the corner at {node_name(nodes, node)}.", _without(tube, node))


def _without(tube: Tube, node: RouteNode) -> RemoveItem:
    return RemoveItem(collection=f"pipes.{tube}.nodes", item_id=node.id)


@remedy_for("pipes.length")
@remedy_for("pipes.bends")
@remedy_for("pipes.pressure_loss")
def leave_out_a_corner(job: Job, finding: Finding) -> Iterator[Remedy]:
    """One corner less shortens the run and takes its bend out; a short run is lengthened at the
    mouth.
    """
    tube = tube_of(finding)
    nodes, run = nodes_of(job, tube), pipe_run(job, tube)
    if run is None:
        return
    if finding.unit == "mm" and finding.measured is not None:
        missing = (finding.band.minimum or 0.0) - finding.measured
        if missing > 0:
            yield from _longer(job, tube, missing)
            return
        surplus = math.ceil(finding.measured - (finding.band.maximum or finding.measured))
        command = _at_mouth(job, tube, -surplus)
        if command is not None:
            yield Remedy(f"Shorten the last straight by {q(surplus)}.", command)
    for node in nodes[:-1]:
        yield _left_out(nodes, tube, node)


def _longer(job: Job, tube: Tube, missing: float) -> Iterator[Remedy]:
    by = math.ceil(missing)
    command = _at_mouth(job, tube, by)
    if command is not None:
        yield Remedy(f"Lead the last straight {q(by)} farther.", command)


def _at_mouth(job: Job, tube: Tube, by: float) -> SetValues | None:
    """Move the mouth along its own direction by a length."""
    run, nodes = pipe_run(job, tube), nodes_of(job, tube)
    if run is None or not nodes:
        return None
    d = run.mouth_direction
    return shift(tube, nodes[-1:], (d[0] * by, d[1] * by, d[2] * by))


@remedy_for("pipes.ground")
@remedy_for("pipes.mouth_ground")
def lift_all(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lift the mouth, or the whole run after its first corner."""
    tube = tube_of(finding)
    nodes, by = nodes_of(job, tube), math.ceil(-(finding.margin or 0.0) - 1e-9)
    for moved, what in ((nodes[-1:], "the mouth"), (nodes, "the whole run")):
        command = shift(tube, moved, (0.0, 0.0, float(by)))
        if command is not None:
            yield Remedy(f"Lift {what} {q(by)}.", command)


@remedy_for("pipes.floor")
def lower_all(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lower the whole run."""
    tube = tube_of(finding)
    by = math.ceil(-(finding.margin or 0.0) - 1e-9)
    command = shift(tube, nodes_of(job, tube), (0.0, 0.0, -float(by)))
    if command is not None:
        yield Remedy(f"Lower the whole run {q(by)}.", command)


@remedy_for("pipes.clearance")
@remedy_for("pipes.tubes_apart")
def away_from_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Move the nearest corner, then pairs of corners, away from the neighbour."""
    if not finding.marks or finding.margin is None:
        return
    tube: Tube = "intake" if finding.runs == BOTH else tube_of(finding)
    start, nodes = finding.marks[0].start, nodes_of(job, tube)
    by = math.ceil(-finding.margin - 1e-9) + 1.0
    order = sorted(
        range(len(nodes)),
        key=lambda i: math.dist(start, (nodes[i].x_mm, nodes[i].y_mm, nodes[i].z_mm)),
    )
    steps: tuple[tuple[Vec3, str], ...] = (
        ((by, 0, 0), "rearward"),
        ((-by, 0, 0), "forward"),
        ((0, 0, -by), "down"),
        ((0, 0, by), "up"),
        ((0, by, 0), "to the right"),
        ((0, -by, 0), "to the left"),
    )
    for group in ([order[0]], order[:2], order[:3]):
        for step, towards in steps:
            chosen = tuple(nodes[i] for i in sorted(group))
            command: Command | None = shift(tube, chosen, step)
            if command is not None:
                names = " and ".join(node_name(nodes, node) for node in chosen)
                yield Remedy(f"Move {names} {q(by)} {towards}.", command)
