"""Candidate cures for the findings of the exhaust run, each with its size; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.derived import Derived
from gale_nook.core.edits.commands import Change, Command, RemoveItem, SetValues, StartExhaust, set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.registry import Remedy, remedy_for, sheet_band
from gale_nook.core.geometry.frames import Vec3, unit
from gale_nook.core.pipes.mouth_rules import nearest_edge
from gale_nook.core.plan.stations import RouteNode
from gale_nook.core.quantities.said import q

ROUND_UP_MM = 1.0  # a remedy is a whole millimetre that can be measured


def _nodes(derived: Derived) -> tuple[RouteNode, ...]:
    route = derived.plan.pipes.exhaust
    return route.nodes if route is not None else ()


def _index(derived: Derived, node_id: str) -> int:
    return next((i for i, node in enumerate(_nodes(derived)) if node.id == node_id), -1)


def _moved(node: RouteNode, by: Vec3) -> list[Change]:
    place = f"pipes.exhaust.nodes.{node.id}"
    olds = (("x_mm", node.x_mm, by[0]), ("y_mm", node.y_mm, by[1]), ("z_mm", node.z_mm, by[2]))
    return [Change(address=f"{place}.{axis}", value=old + step) for axis, old, step in olds if step]


def _shift(nodes: tuple[RouteNode, ...], by: Vec3) -> SetValues | None:
    changes = [change for node in nodes for change in _moved(node, by)]
    return SetValues(changes=tuple(changes)) if changes else None


@remedy_for("pipes.run")
def start_a_run(derived: Derived, _finding: Finding) -> Iterator[Remedy]:
    """A first proposal."""
    if derived.plan.spot is not None and derived.mount is not None:
        yield Remedy("Start a run straight down and out to the nearer side.", StartExhaust())


@remedy_for("pipes.fall")
def lower_the_rest(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Lower the far end of the straight and everything after it; else lift what comes before."""
    run, index = derived.exhaust, _index(derived, finding.subject)
    if run is None or index < 0 or finding.band.minimum is None:
        return
    straight = run.straights[index]
    level = math.hypot(straight.end[0] - straight.start[0], straight.end[1] - straight.start[1])
    wanted = level * math.tan(math.radians(finding.band.minimum))
    by = math.ceil(wanted - straight.drop_mm - 1e-9) * ROUND_UP_MM
    lowered = _shift(_nodes(derived)[index:], (0.0, 0.0, -by))
    if lowered is not None:
        yield Remedy(f"Lower the far end of {finding.subject_name}, and all after it, by {q(by)}.", lowered)
    lifted = _shift(_nodes(derived)[:index], (0.0, 0.0, by))
    if lifted is not None:
        yield Remedy(f"Lift all before {finding.subject_name}'s far end by {q(by)}.", lifted)


@remedy_for("pipes.parked")
def steeper_or_drained(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Lower the far end and all after it until it falls as parked; else a drain hole before it."""
    run, index = derived.exhaust, _index(derived, finding.subject)
    if run is None or index < 0 or finding.measured is None:
        return
    straight, nodes = run.straights[index], _nodes(derived)
    level = math.hypot(straight.end[0] - straight.start[0], straight.end[1] - straight.start[1])
    wanted = math.radians(straight.fall_deg - finding.measured)
    by = math.ceil(level * math.tan(wanted) - straight.drop_mm - 1e-9)
    for more in (by, by + 2, by + 5):
        lowered = _shift(nodes[index:], (0.0, 0.0, -float(more)))
        if lowered is not None:
            yield Remedy(
                f"Lower the far end of {finding.subject_name}, and all after it, by {q(float(more))}.", lowered
            )
    if index > 0:
        node = nodes[index - 1]
        yield Remedy(
            f"Make a 3 mm drain hole at {_name(nodes, node)}.", set_value(f"pipes.exhaust.nodes.{node.id}.drain", True)
        )


@remedy_for("pipes.low_point")
def drain_it(_derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """A drain hole at the low point."""
    yield Remedy(
        f"Make a 3 mm drain hole at {finding.subject_name}.",
        set_value(f"pipes.exhaust.nodes.{finding.subject}.drain", True),
    )


@remedy_for("pipes.radius")
def widen(_derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """The sheet's least radius."""
    least = finding.band.minimum
    if least is not None:
        yield Remedy(
            f"Open {finding.subject_name} to a radius of {q(least)}.",
            set_value(f"pipes.exhaust.nodes.{finding.subject}.radius_mm", least),
        )


@remedy_for("pipes.bend_room")
def tighten(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Smaller radii at both ends, as far as the sheet lets; else a corner less."""
    index, nodes = _index(derived, finding.subject), _nodes(derived)
    if index < 0:
        return
    ends = [nodes[i] for i in (index - 1, index) if 0 <= i < len(nodes) - 1]
    smallest = _smallest_radius_mm(derived)
    if ends and smallest is not None:
        changes = tuple(Change(address=f"pipes.exhaust.nodes.{n.id}.radius_mm", value=smallest) for n in ends)
        yield Remedy(f"Tighten the bends of {finding.subject_name} to {q(smallest)}.", SetValues(changes=changes))
    for node in ends:
        yield Remedy(f"Leave out the corner at {_name(nodes, node)}.", _without(node))


def _smallest_radius_mm(derived: Derived) -> float | None:
    band = sheet_band(derived, "exhaust_radius_mm")
    return band.minimum if band is not None else None


def _without(node: RouteNode) -> RemoveItem:
    return RemoveItem(collection="pipes.exhaust.nodes", item_id=node.id)


def _name(nodes: tuple[RouteNode, ...], node: RouteNode) -> str:
    return f"bend {nodes.index(node) + 1}"


@remedy_for("pipes.length")
@remedy_for("pipes.bends")
@remedy_for("pipes.back_pressure")
def leave_out_a_corner(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """One corner less shortens the run and takes its bend out; a short run is lengthened at the mouth."""
    nodes, run = _nodes(derived), derived.exhaust
    if run is None:
        return
    if finding.unit == "mm" and finding.margin is not None and finding.band.minimum is not None:
        missing = finding.band.minimum - run.length_mm
        if missing > 0:
            yield from _longer(derived, missing)
            return
        surplus = run.length_mm - (finding.band.maximum or run.length_mm)
        command = _at_mouth(derived, -math.ceil(surplus))
        if command is not None:
            yield Remedy(f"Shorten the last straight by {q(math.ceil(surplus))}.", command)
    for node in nodes[:-1]:
        yield Remedy(f"Leave out the corner at {_name(nodes, node)}.", _without(node))


def _longer(derived: Derived, missing: float) -> Iterator[Remedy]:
    by = math.ceil(missing)
    command = _at_mouth(derived, by)
    if command is not None:
        yield Remedy(f"Lead the last straight {q(by)} farther.", command)


def _at_mouth(derived: Derived, by: float) -> SetValues | None:
    """Move the mouth along its own direction by a length."""
    run, nodes = derived.exhaust, _nodes(derived)
    if run is None or not nodes:
        return None
    d = run.mouth_direction
    return _shift(nodes[-1:], (d[0] * by, d[1] * by, d[2] * by))


@remedy_for("pipes.mouth_edge")
def to_the_edge(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Lead the mouth out to the nearest edge, keeping its fall."""
    run, nodes = derived.exhaust, _nodes(derived)
    if run is None or finding.band.maximum is None:
        return
    inside, edge = nearest_edge(derived, run.mouth)
    by = math.ceil(inside - finding.band.maximum - 1e-9) + derived.plan.settings.tolerance_mm
    out = unit((edge[0] - run.mouth[0], edge[1] - run.mouth[1], 0.0))
    fall = math.tan(math.radians(max(run.straights[-1].fall_deg, 0.0))) if run.straights[-1].fall_deg < 45 else 0.0
    command = _shift(nodes[-1:], (out[0] * by, out[1] * by, -fall * by))
    if command is not None:
        yield Remedy(f"Lead the mouth {q(by)} farther out.", command)


@remedy_for("pipes.mouth_forward")
def turn_back(derived: Derived, _finding: Finding) -> Iterator[Remedy]:
    """Bring the mouth rearward until it points square out."""
    run, nodes = derived.exhaust, _nodes(derived)
    if run is None or len(run.points) < 2:
        return
    by = math.ceil(run.points[-2][0] - run.mouth[0])
    command = _shift(nodes[-1:], (float(by), 0.0, 0.0))
    if command is not None:
        yield Remedy(f"Bring the mouth {q(by)} rearward, square to the side.", command)


@remedy_for("pipes.mouth_down")
def point_down(derived: Derived, _finding: Finding) -> Iterator[Remedy]:
    """Lower the mouth to the height of the corner before it, and by the least fall."""
    run, nodes = derived.exhaust, _nodes(derived)
    if run is None:
        return
    rise = run.mouth[2] - run.points[-2][2]
    by = math.ceil(rise + run.straights[-1].length_mm * math.tan(math.radians(3.0)))
    command = _shift(nodes[-1:], (0.0, 0.0, -float(by)))
    if command is not None:
        yield Remedy(f"Lower the mouth {q(by)}.", command)


@remedy_for("pipes.mouth_opening")
def along_the_side(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Move the mouth along the vehicle, away from the opening; the last corner goes with it if that clears better."""
    nodes, missing = _nodes(derived), -(finding.margin or 0.0)
    for by in (math.ceil(missing / 10) * 10 * share for share in (1, 1.5, 2, 3, 5)):
        for sign, way in ((1, "rearward"), (-1, "forward")):
            for moved in (nodes[-1:], nodes[-2:]):
                command = _shift(moved, (sign * by, 0.0, 0.0))
                if command is not None:
                    what = "mouth" if len(moved) == 1 else "mouth and the bend before it"
                    yield Remedy(f"Move the {what} {q(by)} {way}.", command)


@remedy_for("pipes.ground")
@remedy_for("pipes.mouth_ground")
def lift_all(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Lift the mouth, or the whole run after its first corner."""
    by = math.ceil(-(finding.margin or 0.0) - 1e-9)
    for moved, what in ((_nodes(derived)[-1:], "the mouth"), (_nodes(derived), "the whole run")):
        command = _shift(moved, (0.0, 0.0, float(by)))
        if command is not None:
            yield Remedy(f"Lift {what} {q(by)}.", command)


@remedy_for("pipes.floor")
def lower_all(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Lower the whole run."""
    by = math.ceil(-(finding.margin or 0.0) - 1e-9)
    command = _shift(_nodes(derived), (0.0, 0.0, -float(by)))
    if command is not None:
        yield Remedy(f"Lower the whole run {q(by)}.", command)


@remedy_for("pipes.clearance")
def away_from_it(derived: Derived, finding: Finding) -> Iterator[Remedy]:
    """Move the nearest corner, then pairs of corners, away from the neighbour."""
    if not finding.marks or finding.margin is None:
        return
    start = finding.marks[0].start
    nodes = _nodes(derived)
    by = math.ceil(-finding.margin - 1e-9) + 1.0
    order = sorted(range(len(nodes)), key=lambda i: math.dist(start, (nodes[i].x_mm, nodes[i].y_mm, nodes[i].z_mm)))
    steps: tuple[tuple[Vec3, str], ...] = (
        ((by, 0, 0), "rearward"), ((-by, 0, 0), "forward"), ((0, 0, -by), "down"), ((0, 0, by), "up"),
    )  # fmt: skip
    for group in ([order[0]], order[:2], order[:3]):
        for step, way in steps:
            chosen = tuple(nodes[i] for i in sorted(group))
            command: Command | None = _shift(chosen, step)
            if command is not None:
                names = " and ".join("the mouth" if n is nodes[-1] else _name(nodes, n) for n in chosen)
                yield Remedy(f"Move {names} {q(by)} {way}.", command)
