"""Where air stays in the loop, and where coolant stays when it is drained.

Air rises by itself to a bleed or the header as long as its way there never leads down; what is left
over is a pocket. The same holds for coolant and drains, upside down.
"""

from __future__ import annotations

import heapq
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations, pairwise

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.graph import loop_graph
from gale_nook.core.loop.hoses import End, HoseRun, end_point, hose_runs, loop_parts
from gale_nook.core.plan.coolant import HEATER

CARRIED_MM = 15.0  # so far down the flow, or a tilt of the vehicle, carries a bubble along
Place = tuple[str, int]  # a hose and the number of a point on it; or an end, numbered -1
AIR, COOLANT = 1.0, -1.0


@dataclass(frozen=True, slots=True)
class Pocket:
    """A place that nothing leaves by itself.

    Attributes:
        hose: that it is on, or that leads to the end that it is at; at_mm: where along it.
        at: its highest place (its lowest, of coolant); height_mm: over the way out.
    """

    hose: HoseRun
    at_mm: float
    at: Vec3
    height_mm: float


@fact
def air_pockets(job: Job) -> tuple[Pocket, ...]:
    """Return where air stays in the heater's circuit, the highest pocket first."""
    return tuple(_pockets(job, {"bleed", "header"}, AIR))


@fact
def undrained(job: Job) -> tuple[Pocket, ...]:
    """Return where coolant of the heater's circuit stays with every drain open."""
    return tuple(_pockets(job, {"drain"}, COOLANT))


def _pockets(job: Job, kinds: set[str], sign: float) -> Iterator[Pocket]:
    runs = _own_runs(job)
    points, near = _points(job, runs)
    outs = [
        (part.id, name)
        for part, kind in loop_parts(job)
        if kind.kind in kinds
        for name in kind.ports
    ]
    level = {place: sign * at[2] for place, at in points.items()}
    reached = _reached(level, near, [_end_place(out) for out in outs])
    left = {
        place: level[place] - reached.get(place, float("-inf"))
        for place in points
        if level[place] - reached.get(place, float("-inf")) > CARRIED_MM
    }
    results = []
    for together in _connected(left, near):
        top = max(together, key=lambda place: (level[place], place[1] >= 0))
        found = _on_hose(runs, top)
        if found is not None:
            run, at_mm = found
            depth = min(left[top], abs(level[top] - min(level.values())))
            results.append(Pocket(run, at_mm, points[top], depth))
    yield from sorted(results, key=lambda pocket: (-pocket.height_mm, pocket.hose.hose.id))


def _own_runs(job: Job) -> list[HoseRun]:
    """The hoses of the heater's circuit: another one has its own header, on the engine."""
    graph = loop_graph(job)
    number = graph.heater_circuit()
    if number is None:
        return []
    own = {branch.id for branch in graph.circuit(number)}
    return [run for run in hose_runs(job) if run.hose.id in own]


def _end_place(end: End) -> Place:
    return (f"{end[0]}:{end[1]}", -1)


def _points(job: Job, runs: list[HoseRun]) -> tuple[dict[Place, Vec3], dict[Place, list[Place]]]:
    """Every point of the circuit, and what it is joined to: along hoses, and through parts."""
    points: dict[Place, Vec3] = {}
    near: dict[Place, list[Place]] = {}

    def join(one: Place, other: Place) -> None:
        near.setdefault(one, []).append(other)
        near.setdefault(other, []).append(one)

    ends: dict[str, list[Place]] = {}
    for run in runs:
        hose, line = run.hose, run.geometry.centre_line
        chain: list[Place] = [(hose.id, n) for n in range(len(line))]
        points |= dict(zip(chain, line, strict=True))
        for one, other in pairwise(chain):
            join(one, other)
        for end, place in (
            ((hose.from_part, hose.from_end), chain[0]),
            ((hose.to_part, hose.to_end), chain[-1]),
        ):
            at = end_point(job, end)
            if at is not None:
                points[_end_place(end)] = at
                join(place, _end_place(end))
                ends.setdefault(end[0], []).append(_end_place(end))
    for part, places in ends.items():
        if part == HEATER:
            continue  # air does not pass through its narrow ways by itself
        for one, other in combinations(places, 2):
            join(one, other)
    return points, near


def _reached(
    level: dict[Place, float], near: dict[Place, list[Place]], outs: list[Place]
) -> dict[Place, float]:
    """For each place the highest level that some way to an out never falls under."""
    best = {place: level[place] for place in outs if place in level}
    waiting = [(-height, place) for place, height in best.items()]
    heapq.heapify(waiting)
    while waiting:
        height, place = heapq.heappop(waiting)
        if -height < best[place]:
            continue
        for other in near.get(place, ()):
            through = min(best[place], level[other])
            if through > best.get(other, float("-inf")):
                best[other] = through
                heapq.heappush(waiting, (-through, other))
    return best


def _connected(left: dict[Place, float], near: dict[Place, list[Place]]) -> Iterator[list[Place]]:
    """The pockets: what is left over, each with what it is joined to of that."""
    waiting = set(left)
    while waiting:
        together, edge = [], [min(waiting)]
        waiting.discard(edge[0])
        while edge:
            place = edge.pop()
            together.append(place)
            for other in near.get(place, ()):
                if other in waiting:
                    waiting.discard(other)
                    edge.append(other)
        yield together


def _on_hose(runs: list[HoseRun], place: Place) -> tuple[HoseRun, float] | None:
    """The hose that a place is on, or at whose end it is, and where along it."""
    name, number = place
    for run in runs:
        hose = run.hose
        if number >= 0 and hose.id == name:
            return run, run.geometry.passed_mm[number]
        if number < 0 and f"{hose.from_part}:{hose.from_end}" == name:
            return run, 0.0
        if number < 0 and f"{hose.to_part}:{hose.to_end}" == name:
            return run, run.geometry.length_mm
    return None
